// Drawing on the cloth: runs, satins by two rails and fills, point by point, and their points moved
// afterwards.

#include "app/cloth/cloth_view.h"
#include "app/theme/theme.h"
#include "geometry/polygon.h"

#include <QMouseEvent>

namespace rapt::app {
namespace {

constexpr double nodePx = 4;
constexpr double grabPx = 9;
// Shapes with more points than this came from elsewhere; nobody moves them one by one.
constexpr std::size_t mostNodes = 1500;

std::size_t pointsOf(const Shape& shape) {
    std::size_t n = 0;
    for (const ShapePart& part : shape.parts)
        for (const Polyline& line : part.lines) n += line.size();
    return n;
}

std::size_t leastPoints(const ShapePart& part) { return part.kind == StitchKind::fill ? 3 : 2; }

/// The part that a tool makes of the points; nothing if there are too few.
std::optional<ShapePart> partOf(Tool tool, const std::vector<Vec2>& points,
                                const Session::DrawSettings& settings) {
    ShapePart part;
    part.thread = settings.thread;
    part.smooth = settings.smooth;
    part.stitchLengthMm = 2.5;
    if (tool == Tool::drawSatin) {
        if (points.size() < 4) return std::nullopt;
        part.kind = StitchKind::satin;
        part.paired = true;
        part.lines.resize(2);
        for (std::size_t i = 0; i + 1 < points.size(); i += 2) {
            part.lines[0].push_back(points[i]);
            part.lines[1].push_back(points[i + 1]);
        }
        return part;
    }
    part.kind = tool == Tool::drawFill ? StitchKind::fill : StitchKind::run;
    part.lines = {points};
    if (part.kind == StitchKind::fill) part.stitchLengthMm = 3;
    if (points.size() < leastPoints(part)) return std::nullopt;
    return part;
}

} // namespace

bool ClothView::pressWithTool(QPointF px, Qt::MouseButton button) {
    const Tool tool = session.tool();
    const bool here = session.stage() == Stage::compose || tool == Tool::drawPath;
    if (tool == Tool::select || !here || button != Qt::LeftButton) return false;
    if (tool == Tool::letter) {
        pressWithLetters(px);
        return true;
    }
    if (tool != Tool::editPoints) {
        drawn.push_back(view.toMm(px));
        update();
        return true;
    }
    heldNode = nodeAt(px);
    if (heldNode) {
        drag = Drag::node;
        nodeNow = view.toMm(px);
        update();
        return true;
    }
    const PieceSpan* span = spanAt(px);
    if (span && !session.isSelected(span->source)) session.selectSingly({span->source});
    update();
    return true;
}

void ClothView::mouseDoubleClickEvent(QMouseEvent* event) {
    const Tool tool = session.tool();
    if (tool == Tool::letter) return;
    if (tool != Tool::select && tool != Tool::editPoints) {
        finishDrawing(); // the press before it placed the last point
        return;
    }
    const auto at = tool == Tool::editPoints ? segmentAt(event->position()) : std::nullopt;
    const Piece* piece = nullptr;
    if (!at || !editedShape(&piece)) {
        mousePressEvent(event);
        return;
    }
    const Vec2 place = piece->pose.affine().inverse()(view.toMm(event->position()));
    changeShape(tr("Add a point"), [at, place](Shape& shape) {
        ShapePart& part = shape.parts[at->part];
        const auto insertAt = [&](Polyline& line, Vec2 p) {
            line.insert(line.begin() + static_cast<std::ptrdiff_t>(at->point) + 1, p);
        };
        if (part.paired) {
            Polyline& other = part.lines[1 - at->line];
            insertAt(other, lerp(other[at->point], other[at->point + 1], 0.5));
        }
        insertAt(part.lines[at->line], place);
    });
}

bool ClothView::keyWithTool(const QKeyEvent& event) {
    const Tool tool = session.tool();
    const int key = event.key();
    if (tool == Tool::select) return false;
    if (tool == Tool::letter) return keyWithLetters(event);
    const bool drawing = tool != Tool::editPoints;
    if (key == Qt::Key_Escape) {
        if (drawing && !drawn.empty())
            drawn.clear();
        else
            session.setTool(Tool::select);
        update();
        return true;
    }
    if (drawing && (key == Qt::Key_Return || key == Qt::Key_Enter)) {
        finishDrawing();
        return true;
    }
    if (drawing && key == Qt::Key_Backspace) {
        if (!drawn.empty()) drawn.pop_back();
        update();
        return true;
    }
    if (!drawing && key == Qt::Key_Backspace && heldNode) {
        const Node node = *heldNode;
        heldNode.reset();
        changeShape(tr("Remove a point"), [node](Shape& shape) {
            ShapePart& part = shape.parts[node.part];
            if (part.lines[node.line].size() <= leastPoints(part)) return;
            for (std::size_t l = 0; l < part.lines.size(); ++l)
                if (l == node.line || part.paired)
                    part.lines[l].erase(part.lines[l].begin() +
                                        static_cast<std::ptrdiff_t>(node.point));
        });
        return true;
    }
    return false;
}

void ClothView::finishDrawing() {
    if (session.tool() == Tool::drawPath) {
        if (drawn.size() < 2) return;
        const Polyline path = std::move(drawn);
        drawn.clear();
        session.finishPath(path);
        return;
    }
    auto part = partOf(session.tool(), drawn, session.drawing);
    if (!part) return;
    const Vec2 centre = boundsOf(part->lines).centre();
    for (Polyline& line : part->lines)
        for (Vec2& p : line) p = p - centre;
    Piece piece;
    piece.name = tr(session.tool() == Tool::drawRun     ? "Drawn run"
                    : session.tool() == Tool::drawSatin ? "Drawn satin"
                                                        : "Drawn fill")
                     .toStdString();
    piece.id = unusedId(session.job(), piece.name);
    piece.pose.x = centre.x;
    piece.pose.y = centre.y;
    Shape shape;
    shape.parts.push_back(std::move(*part));
    piece.content = ShapeContent{std::make_shared<const Shape>(std::move(shape))};
    const std::string id = piece.id;
    drawn.clear();
    Edit edit = addPiece(std::move(piece));
    edit.name = "Draw";
    session.document.apply(edit);
    session.selectSingly({id});
    update();
}

const Shape* ClothView::editedShape(const Piece** piece) const {
    if (session.selection().size() != 1) return nullptr;
    const Piece* p = session.job().piece(session.selection()[0]);
    const auto* content = p ? std::get_if<ShapeContent>(&p->content) : nullptr;
    if (!content || p->locked || pointsOf(*content->shape) > mostNodes) return nullptr;
    if (piece) *piece = p;
    return content->shape.get();
}

void ClothView::changeShape(const QString& name, const std::function<void(Shape&)>& change) {
    const Piece* piece = nullptr;
    const Shape* shape = editedShape(&piece);
    if (!shape) return;
    Shape changed = *shape;
    change(changed);
    Edit edit =
        replaceContent(piece->id, ShapeContent{std::make_shared<const Shape>(std::move(changed))});
    edit.name = name.toStdString();
    session.document.apply(edit);
}

std::optional<ClothView::Node> ClothView::nodeAt(QPointF px) const {
    const Piece* piece = nullptr;
    const Shape* shape = editedShape(&piece);
    if (!shape) return std::nullopt;
    const Affine map = piece->pose.affine();
    std::optional<Node> best;
    double least = grabPx;
    for (std::size_t p = 0; p < shape->parts.size(); ++p)
        for (std::size_t l = 0; l < shape->parts[p].lines.size(); ++l)
            for (std::size_t i = 0; i < shape->parts[p].lines[l].size(); ++i) {
                const QPointF at = view.toPixels(map(shape->parts[p].lines[l][i]));
                const double d = QLineF(at, px).length();
                if (d > least) continue;
                least = d;
                best = Node{p, l, i};
            }
    return best;
}

std::optional<ClothView::Node> ClothView::segmentAt(QPointF px) const {
    const Piece* piece = nullptr;
    const Shape* shape = editedShape(&piece);
    if (!shape) return std::nullopt;
    const Vec2 at = piece->pose.affine().inverse()(view.toMm(px));
    std::optional<Node> best;
    double least = std::numeric_limits<double>::infinity();
    for (std::size_t p = 0; p < shape->parts.size(); ++p)
        for (std::size_t l = 0; l < shape->parts[p].lines.size(); ++l) {
            const Polyline& line = shape->parts[p].lines[l];
            const bool closed = shape->parts[p].kind == StitchKind::fill;
            for (std::size_t i = 0; i + (closed ? 0 : 1) < line.size(); ++i) {
                const double d = distanceToSegment(at, line[i], line[(i + 1) % line.size()]);
                if (d >= least) continue;
                least = d;
                best = Node{p, l, i};
            }
        }
    return best;
}

void ClothView::dragNode(QPointF px) {
    nodeNow = view.toMm(px);
    update();
}

void ClothView::dropNode() {
    const Piece* piece = nullptr;
    if (!heldNode || !dragMoved || !editedShape(&piece)) return;
    const Vec2 place = piece->pose.affine().inverse()(nodeNow);
    changeShape(tr("Move a point"), [node = *heldNode, place](Shape& shape) {
        shape.parts[node.part].lines[node.line][node.point] = place;
    });
}

/// What is being drawn: the points so far, the line to the pointer, and for a satin its ladder.
void ClothView::paintTool(QPainter& painter) {
    const Tool tool = session.tool();
    if (tool == Tool::select) return;
    if (tool == Tool::letter) {
        paintLetters(painter);
        return;
    }
    if (tool == Tool::editPoints) {
        paintNodes(painter);
        return;
    }
    std::vector<Vec2> points = drawn;
    if (clothRect().contains(pointer.toPoint())) points.push_back(view.toMm(pointer));
    const QPen halo(theme().panel, 3.4), ink(theme().kite, 1.6);
    const auto strokeLine = [&](const QPolygonF& line) {
        for (const QPen& pen : {halo, ink}) {
            painter.setPen(pen);
            painter.drawPolyline(line);
        }
    };
    painter.setBrush(Qt::NoBrush);
    if (tool == Tool::drawSatin) {
        QPolygonF rails[2];
        for (std::size_t i = 0; i < points.size(); ++i) rails[i % 2] << view.toPixels(points[i]);
        for (std::size_t i = 0; i + 1 < points.size(); i += 2) {
            painter.setPen(QPen(theme().tide, 1));
            painter.drawLine(view.toPixels(points[i]), view.toPixels(points[i + 1]));
        }
        strokeLine(rails[0]);
        strokeLine(rails[1]);
    } else {
        QPolygonF line;
        for (const Vec2& p : points) line << view.toPixels(p);
        if (tool == Tool::drawFill && points.size() > 2) line << line.front();
        strokeLine(line);
    }
    painter.setPen(QPen(theme().panel, 1.2));
    painter.setBrush(theme().kite);
    for (const Vec2& p : drawn) painter.drawEllipse(view.toPixels(p), nodePx, nodePx);
}

void ClothView::paintNodes(QPainter& painter) {
    const Piece* piece = nullptr;
    const Shape* shape = editedShape(&piece);
    if (!shape) return;
    const Affine map = piece->pose.affine();
    for (std::size_t p = 0; p < shape->parts.size(); ++p) {
        const ShapePart& part = shape->parts[p];
        std::vector<QPolygonF> lines(part.lines.size());
        for (std::size_t l = 0; l < part.lines.size(); ++l)
            for (std::size_t i = 0; i < part.lines[l].size(); ++i) {
                const bool held = heldNode && drag == Drag::node && heldNode->part == p &&
                                  heldNode->line == l && heldNode->point == i;
                lines[l] << view.toPixels(held ? nodeNow : map(part.lines[l][i]));
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
        painter.setPen(QPen(theme().panel, 1.2));
        for (std::size_t l = 0; l < lines.size(); ++l)
            for (int i = 0; i < lines[l].size(); ++i) {
                const bool chosen = heldNode && heldNode->part == p && heldNode->line == l &&
                                    heldNode->point == static_cast<std::size_t>(i);
                painter.setBrush(chosen ? theme().tide : theme().kite);
                painter.drawRect(
                    QRectF(lines[l][i] - QPointF(nodePx, nodePx), QSizeF(2 * nodePx, 2 * nodePx)));
            }
    }
}

} // namespace rapt::app
