#pragma once
// Choosing pieces, and moving, turning and sizing what is chosen.

#include "app/tools/piece_drag.h"
#include "app/tools/piece_frame.h"

namespace rapt::app {

class ChooseTool : public Tool {
public:
    ChooseTool(ToolHost& h, Session& s) : Tool(h), session(s) {}

    bool press(const Pointer& pointer) override;
    void drag(const Pointer& pointer) override;
    void release(const Pointer& pointer) override;
    void cancel() override;
    bool key(const QKeyEvent& event) override;
    void paint(QPainter& painter) override;
    QStringList words() const override;

    /// What of the load follows the drag is said here (layers at most); set by who knows it.
    std::function<std::optional<double>()> followedPeak;

    /// Opens a group: the piece that was clicked alone; Escape takes the whole group again.
    bool doubleClick(const Pointer& pointer) override;

private:
    enum class Gesture { none, box, move, handle };

    bool editsHere() const;
    bool pressHandle(const Pointer& pointer);
    void pressPiece(const Pointer& pointer, const Hit& hit);
    void dragMove(const Pointer& pointer);
    void end();
    /// What the gesture makes of the cloth frame, for the copy that is held.
    Affine change() const;
    /// Of the one selected piece, before its scale; of several that round all of them.
    std::optional<Box> frame() const;
    bool isSeveral() const;
    Pose framePose() const;
    Affine frameCopy() const;
    bool isLocked() const;
    bool isOffered(const Handle& handle) const;
    void applyFrame();
    void paintSelection(QPainter& painter) const;
    void paintFrame(QPainter& painter, const Box& box, const Pose& pose, const Affine& copy,
                    bool locked) const;
    void paintCopies(QPainter& painter) const;

    Session& session;
    Gesture gesture = Gesture::none;
    bool moved = false;
    Pointer from, now;
    Handle handle;
    Box handleBox;
    Pose poseAtStart, poseNow; ///< of the frame whose handle is dragged
    Vec2 movedBy;
    std::unique_ptr<PieceDrag> pieceDrag;
};

} // namespace rapt::app
