#include "app/tools/draw_tool.h"

#include "app/canvas/paint_kit.h"
#include "app/theme/theme.h"
#include "geometry/polygon.h"
#include "recipe/drawn.h"

namespace rapt::app {
namespace {

constexpr double nodePx = 4;

StitchKind kindOf(ToolKind tool) {
    return tool == ToolKind::drawSatin  ? StitchKind::satin
           : tool == ToolKind::drawFill ? StitchKind::fill
                                        : StitchKind::run;
}

} // namespace

bool PointByPointTool::press(const Pointer& pointer) {
    placed.push_back(pointer.mm);
    next = pointer.mm;
    return true;
}

bool PointByPointTool::doubleClick(const Pointer&) {
    end(); // the press before it placed the last point
    return true;
}

void PointByPointTool::end() {
    const std::vector<Vec2> points = placed;
    if (finish(points)) placed.clear();
}

void PointByPointTool::putDown() { placed.clear(); }

bool PointByPointTool::key(const QKeyEvent& event) {
    switch (event.key()) {
    case Qt::Key_Escape:
        if (placed.empty())
            session.setTool(ToolKind::select);
        else
            placed.clear();
        return true;
    case Qt::Key_Return:
    case Qt::Key_Enter:
        end();
        return true;
    case Qt::Key_Backspace:
        if (!placed.empty()) placed.pop_back();
        return true;
    default:
        return false;
    }
}

void PointByPointTool::paint(QPainter& painter) {
    std::vector<Vec2> points = placed;
    if (next) points.push_back(*next);
    paintLine(painter, points);
    for (const Vec2& p : placed)
        paintRoundGrip(painter, host.map().toPixels(p), nodePx, theme().kite);
}

void PointByPointTool::paintLine(QPainter& painter, const std::vector<Vec2>& points) const {
    QPolygonF line;
    for (const Vec2& p : points) line << host.map().toPixels(p);
    paintHalo(painter, line, theme().kite, 1.6);
}

/// For a satin its ladder, for a fill the way back to its start.
void DrawTool::paintLine(QPainter& painter, const std::vector<Vec2>& points) const {
    if (session.tool() != ToolKind::drawSatin) {
        std::vector<Vec2> line = points;
        if (session.tool() == ToolKind::drawFill && points.size() > 2)
            line.push_back(points.front());
        return PointByPointTool::paintLine(painter, line);
    }
    std::vector<Vec2> rails[2];
    for (std::size_t i = 0; i < points.size(); ++i) rails[i % 2].push_back(points[i]);
    painter.setPen(QPen(theme().tide, 1));
    for (std::size_t i = 0; i + 1 < points.size(); i += 2)
        painter.drawLine(host.map().toPixels(points[i]), host.map().toPixels(points[i + 1]));
    for (const auto& rail : rails) PointByPointTool::paintLine(painter, rail);
}

bool DrawTool::finish(const std::vector<Vec2>& points) {
    const StitchKind kind = kindOf(session.tool());
    auto part =
        drawnPart(kind, points, session.threads.drawing.thread, session.threads.drawing.smooth);
    if (!part) return false;
    const Vec2 centre = boundsOf(part->lines).centre();
    for (Polyline& line : part->lines)
        for (Vec2& p : line) p = p - centre;
    Piece piece;
    piece.name = kind == StitchKind::run     ? "Drawn run"
                 : kind == StitchKind::satin ? "Drawn satin"
                                             : "Drawn fill";
    piece.id = unusedId(session.job(), piece.name);
    piece.pose.x = centre.x;
    piece.pose.y = centre.y;
    Shape shape;
    shape.parts.push_back(std::move(*part));
    piece.content = ShapeContent{std::make_shared<const Shape>(std::move(shape))};
    const std::string id = piece.id;
    Edit edit = session.addDrawn(std::move(piece));
    edit.name = "Draw";
    host.apply(edit);
    session.selection.chooseSingly({id});
    return true;
}

bool PathTool::finish(const std::vector<Vec2>& points) {
    if (points.size() < 2) return false;
    session.finishPath(points);
    return true;
}

} // namespace rapt::app
