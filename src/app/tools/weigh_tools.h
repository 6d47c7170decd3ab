#pragma once
// Looking at the load: a probe under the pointer, and the parting between before and after.

#include "app/canvas/tool.h"
#include "app/document/session.h"

namespace rapt::app {

/// Says what lies under the pointer; takes no gesture.
class ProbeTool : public Tool {
public:
    /// `live` gives the map that follows a drag or the playhead, or null.
    ProbeTool(ToolHost& h, Session& s, std::function<const LoadMap*()> live)
        : Tool(h), session(s), liveMap(std::move(live)) {}

    bool press(const Pointer&) override {
        at.reset();
        return false;
    }
    void hover(const Pointer& pointer) override { at = pointer; }
    void leave() override { at.reset(); }
    void paint(QPainter& painter) override;

private:
    Session& session;
    std::function<const LoadMap*()> liveMap;
    std::optional<Pointer> at;
};

/// Drags the line between the job before it was mended and as it is.
class PartingTool : public Tool {
public:
    PartingTool(ToolHost& h, Session& s) : Tool(h), session(s) {}

    bool press(const Pointer& pointer) override;
    void drag(const Pointer& pointer) override;
    void cancel() override { session.weighing.setParting(before); }

private:
    Session& session;
    std::optional<double> before;
};

} // namespace rapt::app
