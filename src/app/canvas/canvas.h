#pragma once
// A surface at true scale that pans, zooms, hands gestures to tools and paints layers in order. It
// knows nothing of what they show.

#include "app/canvas/layer.h"
#include "app/canvas/tool.h"

#include <QWidget>
#include <memory>
#include <vector>

namespace rapt::app {

class Canvas : public QWidget, protected ToolHost {
    Q_OBJECT
public:
    explicit Canvas(QWidget* parent = nullptr);

    const ViewMap& map() const override { return view; }
    void zoomToFit();
    void zoomBy(double factor, QPointF about);
    void zoomIn() { zoomBy(1.25, QRectF(rect()).center()); }
    void zoomOut() { zoomBy(0.8, QRectF(rect()).center()); }
    /// Brings a place (cloth frame) to the middle, near enough to see threads.
    void showPlace(Vec2 at);
    /// Words about the gesture that goes on, as they stand beside the pointer.
    QStringList gestureWords() const { return held && moved ? held->words() : QStringList(); }

    QSize minimumSizeHint() const override { return {360, 260}; }

signals:
    void pointerMoved(Vec2 mm);
    void pointerLeft();
    void zoomed();
    /// A right click without a drag.
    void contextAsked(QPointF px);

protected:
    /// What is seen at once after zoomToFit, cloth frame.
    virtual Box boxToFit() const = 0;
    /// The tool in hand.
    virtual Tool& tool() const = 0;
    /// Tools that are asked before the one in hand.
    virtual std::vector<Tool*> toolsBefore() const { return {}; }
    /// On top of everything, without clipping.
    virtual void paintEdges(QPainter&, QPointF) {}
    virtual QColor surround() const = 0;

    void addLayer(Layer* layer);
    bool layersAreSettled() const;
    /// The area that is not covered by the rulers.
    void setEdges(int left, int top) { edges = {left, top}; }
    /// Gives up the gesture that goes on; nothing has happened then.
    void cancelGesture();
    bool fits() const { return fitted; }
    QPointF pointer() const { return pointerPx; }

    // ToolHost
    QRect visible() const override { return rect().adjusted(edges.x(), edges.y(), 0, 0); }
    qreal pixelRatio() const override { return devicePixelRatioF(); }
    void redraw() override { update(); }
    void setCursorShape(std::optional<Qt::CursorShape> shape) override;

    bool event(QEvent* event) override;
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void inputMethodEvent(QInputMethodEvent* event) override;
    QVariant inputMethodQuery(Qt::InputMethodQuery query) const override;
    void leaveEvent(QEvent* event) override;

private:
    Pointer pointerOf(const QMouseEvent& event) const;
    void setOrigin(QPointF origin);

    ViewMap view;
    Labels labels; ///< of the last picture
    QPoint edges{0, 0};
    bool fitted = false; ///< the view follows the box to fit until the person zooms
    std::vector<Layer*> layers;
    Tool* held = nullptr; ///< whose gesture goes on
    bool panning = false;
    bool moved = false;
    QPointF pressedPx, lastPx, pointerPx{-1, -1};
};

} // namespace rapt::app
