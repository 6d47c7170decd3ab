#pragma once
// The whole stitch-out as a time line: one segment a thread run, as wide as the time it takes.

#include "app/document/session.h"
#include "app/window/transport.h"

#include <QWidget>

namespace rapt::app {

/// A segment can be dragged to change the sewing order of its piece; a click selects the piece.
/// Arrow keys walk along the segments, Ctrl with arrows moves the piece. The playhead is dragged
/// along the minutes below, or above the segments; its keys are the transport's.
class ThreadLine : public QWidget {
    Q_OBJECT
public:
    explicit ThreadLine(Session& session, QWidget* parent = nullptr);
    QSize sizeHint() const override { return {600, 150}; }

    /// Where a run is drawn; empty for one that does not exist.
    QRectF segmentRect(std::size_t run) const;
    /// Where the playhead's grip is.
    QPointF playheadGrip() const;
    Transport& transport() { return *player; }

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool event(QEvent* event) override;

private:
    const TimeLine* time() const;
    double xOf(double seconds) const;
    int runAt(QPointF px) const;
    void selectRun(int run);
    /// Puts the dragged piece where the pointer is.
    void dropAt(QPointF px);
    void moveSelected(int by);
    void paintSegments(QPainter& painter, const TimeLine& line);
    void paintScale(QPainter& painter, const TimeLine& line, const std::vector<QRectF>& taken);
    /// Gives where words stand.
    std::vector<QRectF> paintBreaks(QPainter& painter, const TimeLine& line);
    void paintPlayhead(QPainter& painter);
    void scrubTo(double px);

    Session& session;
    Transport* player;
    bool scrubbing = false;
    int pressedRun = -1;
    int current = 0;
    bool dragging = false;
    QPointF dragNow;
};

} // namespace rapt::app
