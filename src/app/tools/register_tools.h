#pragma once
// What the mouse does on a scan: lines drawn by hand, regions grown from a click, and the needle's
// pointer.

#include "app/canvas/tool.h"
#include "app/document/session.h"

namespace rapt::app {

/// A line drawn with the button held becomes a run or a satin.
class FreehandTool : public Tool {
public:
    FreehandTool(ToolHost& h, Session& s) : Tool(h), session(s) {}
    bool press(const Pointer& pointer) override;
    void drag(const Pointer& pointer) override;
    void release(const Pointer& pointer) override;
    void cancel() override { line.clear(); }
    bool key(const QKeyEvent& event) override;
    void paint(QPainter& painter) override;
    Qt::CursorShape cursor() const override { return Qt::CrossCursor; }

private:
    Session& session;
    Polyline line; ///< cloth frame
};

/// A click asks for the region of one colour round it; whoever listens grows it.
class RegionTool : public Tool {
public:
    RegionTool(ToolHost& h, Session& s) : Tool(h), session(s) {}
    bool press(const Pointer& pointer) override;
    bool key(const QKeyEvent& event) override;
    Qt::CursorShape cursor() const override { return Qt::CrossCursor; }

private:
    Session& session;
};

/// The machine's pointer: a click sends it, arrow keys jog it (0.1 mm with Alt, 10 mm with Shift),
/// Return takes where it stands. A loupe shows the scan below it.
class NeedleTool : public Tool {
public:
    NeedleTool(ToolHost& h, Session& s) : Tool(h), session(s) {}
    bool press(const Pointer& pointer) override;
    bool key(const QKeyEvent& event) override;
    void paint(QPainter& painter) override;
    QStringList words() const override;
    Qt::CursorShape cursor() const override { return Qt::CrossCursor; }

private:
    Affine toCloth() const;
    void paintLoupe(QPainter& painter, QPointF at, Vec2 inField);

    Session& session;
};

} // namespace rapt::app
