#pragma once
// All labels of one picture of the cloth: placed together, so that none covers another.

#include <QColor>
#include <QPainter>
#include <QRectF>
#include <QString>

#include <optional>
#include <vector>

namespace rapt::app {

/// Words that belong to a place.
struct Label {
    QPointF at;      ///< the place, pixels
    QPointF topLeft; ///< where the words would stand if they were alone
    QString text;
    QColor ground, ink;
    int rank = 1; ///< lower ones are placed first
};

/// Collects while the layers paint, places once they have. Interface thread.
class Labels {
public:
    void add(Label label) { wanted.push_back(std::move(label)); }
    /// Nothing may be written there: marks, what is pointed at.
    void keepFree(const QRectF& box) { taken.push_back(box); }
    /// Better not written there, such as on what is sewn.
    void avoid(const QRectF& box) { crowded.push_back(box); }

    /// Each beside its place, or farther off with a hair line to it. What finds no room at all is
    /// only told of while its place is pointed at.
    void paint(QPainter& painter, const QRect& inside, QPointF pointer);
    /// Where the words of the last picture stand, in the order of their ranks.
    const std::vector<QRectF>& boxes() const { return placed; }

private:
    std::optional<QRectF> roomFor(const Label& label, const QSizeF& size,
                                  const QRect& inside) const;

    std::vector<Label> wanted;
    std::vector<QRectF> taken, crowded, placed;
};

} // namespace rapt::app
