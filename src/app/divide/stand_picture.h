#pragma once
// A small picture of the chosen hooping as it lies at the machine.

#include "app/document/session.h"

#include <QWidget>

namespace rapt::app {

/// How frame and cloth lie before a person who stands at the machine.
class StandPicture : public QWidget {
    Q_OBJECT
public:
    explicit StandPicture(Session& s, QWidget* parent = nullptr);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    void paintFrame(QPainter& painter, const Hooping& h, const Hoop& hoop) const;
    void paintFarEdge(QPainter& painter, const Hooping& h, const Hoop& hoop) const;
    QString wordsFor(const Hooping& h, const Hoop& hoop) const;
    /// Pixels for a millimetre.
    double scaleOf(const Hoop& hoop) const;

    Session& session;
};

} // namespace rapt::app
