#pragma once
// The cloth at true scale: the centre of the window.

#include "app/cloth/load_overlay.h"
#include "app/cloth/piece_frame.h"
#include "app/cloth/stitch_tiles.h"
#include "app/document/session.h"

#include <QFutureWatcher>
#include <QWidget>
#include <memory>
#include <optional>

namespace rapt::app {

class ClothView : public QWidget {
    Q_OBJECT
public:
    explicit ClothView(Session& session, QWidget* parent = nullptr);

    const ViewMap& map() const { return view; }
    void zoomToFit();
    void zoomBy(double factor, QPointF about);
    void zoomIn() { zoomBy(1.25, QRectF(rect()).center()); }
    void zoomOut() { zoomBy(0.8, QRectF(rect()).center()); }
    /// Brings a place (cloth frame) to the middle, near enough to see threads.
    void showPlace(Vec2 at);
    /// True when everything visible is drawn as it should be.
    bool isSettled() const {
        return session.isCurrent() && tiles.isSettled() && !loadWatcher.isRunning();
    }
    /// The piece under a pixel, uppermost first; empty if there is none.
    std::string pieceAt(QPointF px) const;

    QSize minimumSizeHint() const override { return {360, 260}; }

signals:
    void pointerMoved(Vec2 mm);
    void pointerLeft();
    void zoomed();

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void leaveEvent(QEvent* event) override;

private:
    enum class Drag { none, pan, box, move, handle };

    void refresh();
    void takeDerived();
    void drawLoad();
    void updateFrame();
    void setOrigin(QPointF origin);
    QRect clothRect() const;

    // cloth_paint.cpp
    void paintSelection(QPainter& painter);
    void paintFrame(QPainter& painter, const Pose& pose);
    void paintGhost(QPainter& painter);
    void paintDragLabel(QPainter& painter);
    void paintProbe(QPainter& painter);
    QString dragText() const;

    // cloth_input.cpp
    bool beginHandleDrag(QPointF px);
    void beginMove(QPointF px);
    void makeGhost();
    void dragTo(QPointF px, Qt::KeyboardModifiers modifiers);
    void finishDrag();
    void selectInBox();
    void cancelDrag();
    bool editsHere() const;

    Session& session;
    ViewMap view;
    bool fitted = false; ///< the view follows the cloth's size until the person zooms
    StitchTiles tiles;
    std::shared_ptr<const LoadOverlay> load;
    QFutureWatcher<std::shared_ptr<const LoadOverlay>> loadWatcher;
    bool loadStale = true; ///< it is drawn when it is looked at
    QPointF pointer{-1, -1};

    Drag drag = Drag::none;
    QPointF dragStart, dragNow;
    Handle heldHandle;
    std::string draggedPiece;
    Pose poseAtStart, poseNow; ///< of the piece whose handle is dragged
    Vec2 movedBy;
    bool dragMoved = false;
    QImage ghost;
    Box ghostArea;
    std::optional<Box> frameBox; ///< of the one selected piece, before its scale
};

} // namespace rapt::app
