#pragma once
// Drawing point by point: runs, satins by two rails, fills, and paths for words.

#include "app/canvas/tool.h"
#include "app/document/session.h"

namespace rapt::app {

/// Lines that grow by clicks; Enter or a double click ends one.
class PointByPointTool : public Tool {
public:
    PointByPointTool(ToolHost& h, Session& s) : Tool(h), session(s) {}

    bool press(const Pointer& pointer) override;
    bool doubleClick(const Pointer& pointer) override;
    void hover(const Pointer& pointer) override { next = pointer.mm; }
    void leave() override { next.reset(); }
    bool key(const QKeyEvent& event) override;
    void putDown() override;
    void paint(QPainter& painter) override;
    Qt::CursorShape cursor() const override { return Qt::CrossCursor; }

    /// The points placed so far, cloth frame.
    const std::vector<Vec2>& points() const { return placed; }

protected:
    /// Makes something of the points if they suffice; true takes them away.
    virtual bool finish(const std::vector<Vec2>& points) = 0;
    virtual void paintLine(QPainter& painter, const std::vector<Vec2>& points) const;

    Session& session;

private:
    void end();

    std::vector<Vec2> placed;
    std::optional<Vec2> next; ///< where the pointer is
};

class DrawTool : public PointByPointTool {
public:
    using PointByPointTool::PointByPointTool;

protected:
    bool finish(const std::vector<Vec2>& points) override;
    void paintLine(QPainter& painter, const std::vector<Vec2>& points) const override;
};

/// A path for whoever asked for one.
class PathTool : public PointByPointTool {
public:
    using PointByPointTool::PointByPointTool;

protected:
    bool finish(const std::vector<Vec2>& points) override;
};

} // namespace rapt::app
