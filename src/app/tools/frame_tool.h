#pragma once
// Frames dragged on the cloth, and the points of cuts.

#include "app/canvas/tool.h"
#include "app/document/session.h"

namespace rapt::app {

/// In Divide: a frame is held at its ring or its label, a cut at its points. While a frame is
/// dragged the words say what it reaches, what it loses, and why it may not stand there.
class FrameTool : public Tool {
public:
    FrameTool(ToolHost& h, Session& s) : Tool(h), session(s) {}

    bool press(const Pointer& pointer) override;
    void drag(const Pointer& pointer) override;
    void release(const Pointer& pointer) override;
    void cancel() override;
    bool doubleClick(const Pointer& pointer) override;
    bool key(const QKeyEvent& event) override;
    void hover(const Pointer& pointer) override;
    void paint(QPainter& painter) override;
    QStringList words() const override { return said; }

    /// The points of a cut that are worth dragging, few where the path is long.
    static std::vector<std::size_t> gripsOf(const Cut& cut);

private:
    struct CutPoint {
        std::size_t cut, point;
    };
    /// Index of the hooping whose ring is at a place.
    std::optional<int> ringAt(Vec2 mm) const;
    std::optional<CutPoint> cutPointAt(QPointF px) const;
    void look();
    void lookAlongCut();
    Hooping moved(const Hooping& h) const;

    Session& session;
    std::optional<int> held;         ///< hooping whose clamping is dragged
    std::optional<CutPoint> cutHeld; ///< or a cut's point
    Vec2 from, by;
    double turn = 0;
    QStringList said;
    bool allowed = true;
};

} // namespace rapt::app
