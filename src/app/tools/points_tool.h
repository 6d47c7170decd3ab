#pragma once
// Points of one drawn piece, moved, added and taken away.

#include "app/canvas/tool.h"
#include "app/document/session.h"

namespace rapt::app {

class PointsTool : public Tool {
public:
    PointsTool(ToolHost& h, Session& s) : Tool(h), session(s) {}

    bool press(const Pointer& pointer) override;
    void drag(const Pointer& pointer) override;
    void release(const Pointer& pointer) override;
    void cancel() override;
    bool doubleClick(const Pointer& pointer) override;
    bool key(const QKeyEvent& event) override;
    void putDown() override;
    void paint(QPainter& painter) override;
    Qt::CursorShape cursor() const override { return Qt::CrossCursor; }

private:
    /// A point of the one selected shape piece.
    struct Node {
        std::size_t part = 0, line = 0, point = 0;
        friend bool operator==(const Node&, const Node&) = default;
    };
    std::optional<Node> nodeAt(QPointF px) const;
    std::optional<Node> segmentAt(Vec2 mm) const;
    const Shape* shape(const Piece** piece = nullptr) const;
    void change(const char* name, const std::function<void(Shape&)>& change);

    Session& session;
    std::optional<Node> chosen;
    std::optional<Vec2> draggedTo; ///< where the chosen point is dragged to, cloth frame
};

} // namespace rapt::app
