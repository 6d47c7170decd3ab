#pragma once
// The cloth at true scale: the centre of the window.

#include "app/cloth/artwork_picture.h"
#include "app/cloth/load_overlay.h"
#include "app/cloth/piece_frame.h"
#include "app/cloth/stitch_tiles.h"
#include "app/document/session.h"
#include "load/live_load.h"
#include "place/clearance.h"
#include "place/snapping.h"

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
    /// What is sewn uppermost under a pixel; null if there is nothing.
    const PieceSpan* spanAt(QPointF px) const;
    /// The points placed so far by a drawing tool, cloth frame.
    const std::vector<Vec2>& drawnPoints() const { return drawn; }
    /// The map that follows a drag or the playhead; null while there is none.
    const LoadMap* liveMap() const { return live ? &live->load.map() : nullptr; }
    /// Words about what is dragged, as they stand beside the pointer.
    QStringList dragWords() const;

    QSize minimumSizeHint() const override { return {360, 260}; }

signals:
    /// A design was dropped from the shelf.
    void designDropped(const QString& path, Vec2 at);
    void pointerMoved(Vec2 mm);
    void pointerLeft();
    void zoomed();

protected:
    bool event(QEvent* event) override;
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;

private:
    enum class Drag { none, pan, box, move, handle, node, letter, parting };
    enum class LetterGrip { none, place, turn, size };

    void refresh();
    void takeDerived();
    void drawLoad();
    void updateFrame();
    void setOrigin(QPointF origin);
    QRect clothRect() const;

    // cloth_paint.cpp
    void paintSelection(QPainter& painter);
    void paintFrame(QPainter& painter, const Pose& pose, const Affine& copy, bool locked);
    void paintGhost(QPainter& painter);
    void paintDragLabel(QPainter& painter);
    void paintProbe(QPainter& painter);
    void paintBefore(QPainter& painter);
    void paintNeedle(QPainter& painter);

    // cloth_live.cpp
    void beginLive();
    void followDrag();
    void followPlayhead();
    void endLive();
    bool beginParting(QPointF px);
    double partingPx() const;
    void paintGap(QPainter& painter);
    void paintField(QPainter& painter);
    void paintCopies(QPainter& painter);

    // cloth_input.cpp
    bool beginHandleDrag(QPointF px);
    void beginMove(QPointF px);
    void makeGhost();
    void dragTo(QPointF px, Qt::KeyboardModifiers modifiers);
    void finishDrag();
    void selectInBox();
    void cancelDrag();
    bool editsHere() const;
    void measureDrag();
    Affine dragChange() const;

    // cloth_draw.cpp
    bool pressWithTool(QPointF px, Qt::MouseButton button);
    bool keyWithTool(const QKeyEvent& event);
    void finishDrawing();
    void paintTool(QPainter& painter);
    void paintNodes(QPainter& painter);
    void dragNode(QPointF px);
    void dropNode();
    /// A point of the one selected shape piece.
    struct Node {
        std::size_t part = 0, line = 0, point = 0;
    };
    std::optional<Node> nodeAt(QPointF px) const;
    std::optional<Node> segmentAt(QPointF px) const;
    const Shape* editedShape(const Piece** piece = nullptr) const;
    void changeShape(const QString& name, const std::function<void(Shape&)>& change);

    // cloth_letter.cpp
    void pressWithLetters(QPointF px);
    bool keyWithLetters(const QKeyEvent& event);
    void typeText(const std::string& text);
    void changeText(std::size_t from, std::size_t to, const std::string& text);
    void nudgeLetter(const QKeyEvent& event);
    void dropLetter();
    LetterChange draggedLetter() const;
    const PlacedLetter* cursorLetter() const;
    /// From the selected words' frame to the cloth frame.
    Affine wordsMap() const;
    void paintLetters(QPainter& painter);
    void paintLetterFrame(QPainter& painter, const Lettering& words, const PlacedLetter& letter,
                          const Affine& map);
    void paintColumns(QPainter& painter, const Lettering& words, const StitchedLettering& set,
                      const Affine& map);

    Session& session;
    ViewMap view;
    bool fitted = false; ///< the view follows the cloth's size until the person zooms
    StitchTiles tiles;
    std::shared_ptr<const LoadOverlay> load;
    QFutureWatcher<std::shared_ptr<const LoadOverlay>> loadWatcher;
    bool loadStale = true;   ///< it is drawn when it is looked at
    StitchTiles beforeTiles; ///< of the job before mending, while both are compared
    std::shared_ptr<const LoadOverlay> beforeLoad;
    /// The load that grows with the playhead or follows what is dragged.
    struct Live {
        explicit Live(const Box& area) : load(area) {}
        LiveLoad load;
        LoadOverlay overlay;
        std::shared_ptr<const CheckedJob> of;
        Affine change;     ///< of what is dragged, so far
        Playhead done = 0; ///< of the playhead
    };
    std::unique_ptr<Live> live;
    QPointF pointer{-1, -1};

    Drag drag = Drag::none;
    QPointF dragStart, dragNow;
    Handle heldHandle;
    std::string draggedPiece;
    Pose poseAtStart, poseNow; ///< of the piece whose handle is dragged
    Vec2 movedBy;
    bool dragMoved = false;
    std::shared_ptr<const Derived> draggedOver; ///< what `clearance` measures in
    std::unique_ptr<const Clearance> clearance; ///< of what is dragged
    std::vector<SnapLine> catchLines;
    Snap caught;
    std::optional<Gap> gap;
    std::optional<double> fieldGap;
    std::vector<Vec2> drawn;
    std::optional<Node> heldNode;
    Vec2 nodeNow; ///< where the held point is dragged to, cloth frame
    LetterGrip heldGrip = LetterGrip::none;
    std::optional<Vec2> newWordsAt; ///< where typing will begin new words, cloth frame
    QImage ghost;
    Box ghostArea;
    std::vector<Affine> ghostPlaces; ///< of the copies, from copy 1
    ArtworkPicture artwork;
    std::optional<Box> frameBox; ///< of the one selected piece, before its scale
};

} // namespace rapt::app
