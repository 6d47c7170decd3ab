#include "app/tools/points_tool.h"

#include "app/canvas/paint_kit.h"
#include "app/theme/theme.h"
#include "geometry/polygon.h"
#include "recipe/drawn.h"

namespace rapt::app {
namespace {

constexpr double nodePx = 4;
// Shapes with more points than this came from elsewhere; nobody moves them one by one.
constexpr std::size_t mostNodes = 1500;

std::size_t pointsOf(const Shape& shape) {
    std::size_t n = 0;
    for (const ShapePart& part : shape.parts)
        for (const Polyline& line : part.lines) n += line.size();
    return n;
}

void insertAfter(Polyline& line, std::size_t point, Vec2 p) {
    line.insert(line.begin() + static_cast<std::ptrdiff_t>(point) + 1, p);
}

} // namespace

const Shape* PointsTool::shape(const Piece** piece) const {
    if (session.selection.ids().size() != 1) return nullptr;
    const Piece* p = session.job().piece(session.selection.ids()[0]);
    const auto* content = p ? std::get_if<ShapeContent>(&p->content) : nullptr;
    if (!content || p->locked || pointsOf(*content->shape) > mostNodes) return nullptr;
    if (piece) *piece = p;
    return content->shape.get();
}

void PointsTool::change(const char* name, const std::function<void(Shape&)>& changeShape) {
    const Piece* piece = nullptr;
    const Shape* old = shape(&piece);
    if (!old) return;
    Shape changed = *old;
    changeShape(changed);
    Edit edit =
        replaceContent(piece->id, ShapeContent{std::make_shared<const Shape>(std::move(changed))});
    edit.name = name;
    host.apply(edit);
}

bool PointsTool::press(const Pointer& pointer) {
    chosen = nodeAt(pointer.px);
    if (chosen) return true;
    const auto hit = host.hitAt(pointer.px);
    if (hit && !session.selection.contains(hit->piece))
        session.selection.chooseSingly({hit->piece});
    return false;
}

void PointsTool::drag(const Pointer& pointer) {
    draggedTo = pointer.mm;
    host.redraw();
}

void PointsTool::release(const Pointer&) {
    const auto to = std::exchange(draggedTo, std::nullopt);
    const Piece* piece = nullptr;
    if (!chosen || !to || !shape(&piece)) return;
    const Vec2 place = piece->pose.affine().inverse()(*to);
    change("Move a point", [node = *chosen, place](Shape& s) {
        s.parts[node.part].lines[node.line][node.point] = place;
    });
}

void PointsTool::cancel() { draggedTo.reset(); }

void PointsTool::putDown() {
    draggedTo.reset();
    chosen.reset();
}

bool PointsTool::doubleClick(const Pointer& pointer) {
    const Piece* piece = nullptr;
    const auto at = segmentAt(pointer.mm);
    if (!at || !shape(&piece)) return false;
    const Vec2 place = piece->pose.affine().inverse()(pointer.mm);
    change("Add a point", [at, place](Shape& s) {
        ShapePart& part = s.parts[at->part];
        if (part.paired) {
            Polyline& other = part.lines[1 - at->line];
            insertAfter(other, at->point, lerp(other[at->point], other[at->point + 1], 0.5));
        }
        insertAfter(part.lines[at->line], at->point, place);
    });
    return true;
}

bool PointsTool::key(const QKeyEvent& event) {
    if (event.key() == Qt::Key_Escape) {
        session.setTool(ToolKind::select);
        return true;
    }
    if (event.key() != Qt::Key_Backspace || !chosen) return false;
    const Node node = *std::exchange(chosen, std::nullopt);
    change("Remove a point", [node](Shape& s) {
        ShapePart& part = s.parts[node.part];
        if (part.lines[node.line].size() <= leastPoints(part)) return;
        for (std::size_t l = 0; l < part.lines.size(); ++l)
            if (l == node.line || part.paired)
                part.lines[l].erase(part.lines[l].begin() +
                                    static_cast<std::ptrdiff_t>(node.point));
    });
    return true;
}

std::optional<PointsTool::Node> PointsTool::nodeAt(QPointF px) const {
    const Piece* piece = nullptr;
    const Shape* s = shape(&piece);
    if (!s) return std::nullopt;
    const Affine map = piece->pose.affine();
    std::optional<Node> best;
    double least = gripReachPx;
    for (std::size_t p = 0; p < s->parts.size(); ++p)
        for (std::size_t l = 0; l < s->parts[p].lines.size(); ++l)
            for (std::size_t i = 0; i < s->parts[p].lines[l].size(); ++i) {
                const QPointF at = host.map().toPixels(map(s->parts[p].lines[l][i]));
                const double d = QLineF(at, px).length();
                if (d > least) continue;
                least = d;
                best = Node{p, l, i};
            }
    return best;
}

std::optional<PointsTool::Node> PointsTool::segmentAt(Vec2 mm) const {
    const Piece* piece = nullptr;
    const Shape* s = shape(&piece);
    if (!s) return std::nullopt;
    const Vec2 at = piece->pose.affine().inverse()(mm);
    std::optional<Node> best;
    double least = std::numeric_limits<double>::infinity();
    for (std::size_t p = 0; p < s->parts.size(); ++p)
        for (std::size_t l = 0; l < s->parts[p].lines.size(); ++l) {
            const Polyline& line = s->parts[p].lines[l];
            const bool closed = s->parts[p].kind == StitchKind::fill;
            for (std::size_t i = 0; i + (closed ? 0 : 1) < line.size(); ++i) {
                const double d = distanceToSegment(at, line[i], line[(i + 1) % line.size()]);
                if (d >= least) continue;
                least = d;
                best = Node{p, l, i};
            }
        }
    return best;
}

void PointsTool::paint(QPainter& painter) {
    const Piece* piece = nullptr;
    const Shape* s = shape(&piece);
    if (!s) return;
    const Affine map = piece->pose.affine();
    for (std::size_t p = 0; p < s->parts.size(); ++p) {
        const ShapePart& part = s->parts[p];
        std::vector<QPolygonF> lines(part.lines.size());
        for (std::size_t l = 0; l < part.lines.size(); ++l)
            for (std::size_t i = 0; i < part.lines[l].size(); ++i) {
                const bool held = draggedTo && chosen == Node{p, l, i};
                lines[l] << host.map().toPixels(held ? *draggedTo : map(part.lines[l][i]));
            }
        painter.setBrush(Qt::NoBrush);
        if (part.paired && lines.size() == 2)
            for (int i = 0; i < std::min(lines[0].size(), lines[1].size()); ++i) {
                painter.setPen(QPen(theme().tide, 1));
                painter.drawLine(lines[0][i], lines[1][i]);
            }
        for (QPolygonF& line : lines) {
            painter.setPen(QPen(theme().ink, 1, Qt::DashLine));
            part.kind == StitchKind::fill ? painter.drawPolygon(line) : painter.drawPolyline(line);
        }
        for (std::size_t l = 0; l < lines.size(); ++l)
            for (int i = 0; i < lines[l].size(); ++i)
                paintSquareGrip(painter, lines[l][i], nodePx,
                                chosen == Node{p, l, static_cast<std::size_t>(i)} ? theme().tide
                                                                                  : theme().kite);
    }
}

} // namespace rapt::app
