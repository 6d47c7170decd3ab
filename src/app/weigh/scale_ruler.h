#pragma once
// The range of sizes that a design bears with its stitches kept, and where it is now.

#include "load/safe_range.h"

#include <QWidget>

namespace rapt::app {

class ScaleRuler : public QWidget {
    Q_OBJECT
public:
    explicit ScaleRuler(QWidget* parent = nullptr);
    QSize sizeHint() const override { return {280, 64}; }

    /// `afresh`: the spacing is kept, so the range holds only for the other choice.
    void show(const SafeRange& range, double present, bool afresh);
    const SafeRange& range() const { return shown; }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    double xOf(double scale) const;

    SafeRange shown;
    double present = 1;
    bool afresh = true;
};

} // namespace rapt::app
