#include "app/tools/register_tools.h"

#include "app/canvas/paint_kit.h"
#include "app/theme/theme.h"
#include "recipe/drawn.h"

#include <QPainterPath>

namespace rapt::app {
namespace {

constexpr double steadyMm = 0.15; ///< what a hand trembles
constexpr double loupeRadiusPx = 54, loupeMm = 6;

} // namespace

bool FreehandTool::press(const Pointer& pointer) {
    line = {pointer.mm};
    return true;
}

void FreehandTool::drag(const Pointer& pointer) {
    line.push_back(pointer.mm);
    host.redraw();
}

void FreehandTool::release(const Pointer&) {
    const Polyline steady = steadied(std::exchange(line, {}), steadyMm);
    const double width = session.registering.satinWidthMm;
    auto part = drawnAlong(steady, width, session.threads.drawing.thread);
    host.redraw();
    if (!part) return;
    Vec2 middle;
    Piece piece;
    piece.content = ShapeContent{std::make_shared<const Shape>(centred(std::move(*part), middle))};
    piece.name = width > 0 ? "Drawn vein, satin" : "Drawn vein";
    piece.id = unusedId(session.job(), piece.name);
    piece.pose.x = middle.x;
    piece.pose.y = middle.y;
    const std::string id = piece.id;
    Edit edit = session.addDrawn(std::move(piece));
    edit.name = "Draw on the scan";
    host.apply(edit);
    session.selection.chooseSingly({id});
}

bool FreehandTool::key(const QKeyEvent& event) {
    if (event.key() != Qt::Key_Escape) return false;
    session.setTool(ToolKind::select);
    return true;
}

void FreehandTool::paint(QPainter& painter) {
    QPolygonF px;
    for (const Vec2& p : line) px << host.map().toPixels(p);
    const double width = session.registering.satinWidthMm * host.map().scale;
    paintHalo(painter, px, theme().kite, std::max(1.6, width));
}

bool RegionTool::press(const Pointer& pointer) {
    session.registering.askRegion(pointer.mm);
    return true;
}

bool RegionTool::key(const QKeyEvent& event) {
    if (event.key() != Qt::Key_Escape) return false;
    session.setTool(ToolKind::select);
    return true;
}

Affine NeedleTool::toCloth() const { return fieldToCloth(session.job(), session.hooping() + 1); }

bool NeedleTool::press(const Pointer& pointer) {
    if (session.hooping() < 0) return false;
    session.registering.setPointer(toCloth().inverse()(pointer.mm));
    return true;
}

bool NeedleTool::key(const QKeyEvent& event) {
    if (session.hooping() < 0) return false;
    Vec2 way;
    switch (event.key()) {
    case Qt::Key_Left:
        way.x = -1;
        break;
    case Qt::Key_Right:
        way.x = 1;
        break;
    case Qt::Key_Up:
        way.y = -1;
        break;
    case Qt::Key_Down:
        way.y = 1;
        break;
    case Qt::Key_Return:
    case Qt::Key_Enter:
        session.registering.takePointer();
        return true;
    case Qt::Key_Escape:
        session.setTool(ToolKind::select);
        return true;
    default:
        return false;
    }
    const double step = event.modifiers() & Qt::ShiftModifier ? 10
                        : event.modifiers() & Qt::AltModifier ? 0.1
                                                              : 1;
    const Vec2 at = session.registering.pointer().value_or(Vec2{}) + way * step;
    session.registering.setPointer(at);
    return true;
}

void NeedleTool::paint(QPainter& painter) {
    const auto at = session.registering.pointer();
    if (!at || session.hooping() < 0) return;
    const QPointF px = host.map().toPixels(toCloth()(*at));
    painter.setBrush(Qt::NoBrush);
    for (const auto& [colour, width] : {std::pair{theme().panel, 4.0}, {theme().kite, 1.8}}) {
        painter.setPen(QPen(colour, width));
        painter.drawLine(px - QPointF(14, 0), px + QPointF(14, 0));
        painter.drawLine(px - QPointF(0, 14), px + QPointF(0, 14));
        painter.drawEllipse(px, 4, 4);
    }
    paintLoupe(painter, px, *at);
}

void NeedleTool::paintLoupe(QPainter& painter, QPointF at, Vec2 inField) {
    const auto* scan = session.scan();
    if (!scan) return;
    const Hooping& h = session.job().hoopings[static_cast<std::size_t>(session.hooping())];
    const Vec2 inFrame = h.pose.affine().then(h.frame.affine().inverse())(inField);
    const QPointF middle = at + QPointF(loupeRadiusPx + 26, -loupeRadiusPx - 10);
    QPainterPath circle;
    circle.addEllipse(middle, loupeRadiusPx, loupeRadiusPx);
    painter.save();
    painter.setClipPath(circle);
    painter.fillPath(circle, theme().panel);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    const Vec2 px = scan->flat->map.toPixels(inFrame);
    const double reach = loupeMm * scan->flat->map.pxPerMm;
    painter.drawImage(QRectF(middle - QPointF(loupeRadiusPx, loupeRadiusPx),
                             QSizeF(2 * loupeRadiusPx, 2 * loupeRadiusPx)),
                      scan->image, QRectF(px.x - reach, px.y - reach, 2 * reach, 2 * reach));
    painter.setPen(QPen(theme().kite, 1));
    painter.drawLine(middle - QPointF(loupeRadiusPx, 0), middle + QPointF(loupeRadiusPx, 0));
    painter.drawLine(middle - QPointF(0, loupeRadiusPx), middle + QPointF(0, loupeRadiusPx));
    painter.restore();
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme().ink, 1.4));
    painter.drawPath(circle);
}

QStringList NeedleTool::words() const {
    const auto at = session.registering.pointer();
    if (!at) return {QObject::tr("Click, or use the arrow keys")};
    return {QObject::tr("Needle at x %1, y %2 mm").arg(at->x, 0, 'f', 1).arg(at->y, 0, 'f', 1),
            QObject::tr("Return takes it")};
}

} // namespace rapt::app
