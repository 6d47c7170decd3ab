// How the cloth view paints: ground, threads, overlays of the stage, selection, rulers.

#include "app/cloth/cloth_view.h"

#include "app/cloth/cloth_ground.h"
#include "app/cloth/hooping_overlay.h"
#include "app/theme/theme.h"
#include "load/probe.h"

#include <QPaintEvent>
#include <fmt/format.h>

namespace rapt::app {
namespace {

constexpr double handlePx = 4.5;

/// A small label on paper ground, kept inside the view.
void paintNote(QPainter& painter, QPointF at, const QStringList& lines, const QRect& inside,
               const QColor& first) {
    const QFont bold = faceOf(13, true);
    const QFont plain = faceOf(12);
    double width = 0;
    for (int i = 0; i < lines.size(); ++i)
        width = std::max(width, QFontMetricsF(i == 0 ? bold : plain).horizontalAdvance(lines[i]));
    QRectF box(at, QSizeF(width + 22, 12 + 18.0 * static_cast<double>(lines.size())));
    if (box.right() > inside.right() - 6) box.moveRight(at.x() - 28);
    if (box.bottom() > inside.bottom() - 6) box.moveBottom(at.y() - 28);
    if (box.left() < inside.left() + 6) box.moveLeft(inside.left() + 6);
    if (box.top() < inside.top() + 6) box.moveTop(inside.top() + 6);
    painter.setPen(QPen(theme().ink, 1));
    painter.setBrush(theme().panel);
    painter.drawRoundedRect(box, 6, 6);
    for (int i = 0; i < lines.size(); ++i) {
        painter.setFont(i == 0 ? bold : plain);
        painter.setPen(i == 0 ? first : theme().ink);
        painter.drawText(QRectF(box.left() + 11, box.top() + 6 + 18.0 * i, width + 2, 18),
                         Qt::AlignVCenter | Qt::AlignLeft, lines[i]);
    }
}

} // namespace

void ClothView::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), theme().dark ? theme().paper.darker(110) : theme().paper.darker(108));
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setClipRect(clothRect());
    const QRect visible = clothRect();
    paintCloth(painter, view, session.job().cloth, visible);
    const Stage stage = session.stage();
    const bool scanned = stage == Stage::registration && session.scan();
    if (scanned) paintScan(painter, view, session);
    paintThickZones(painter, view, session.job().cloth);
    if (scanned) painter.setOpacity(0.72);
    tiles.paint(painter, view, visible, devicePixelRatioF());
    painter.setOpacity(1);
    paintDatumLines(painter, view, visible);
    if (stage == Stage::weigh && load) load->paint(painter, view);
    if (stage == Stage::divide || stage == Stage::registration || stage == Stage::stitchOut)
        paintHoopings(painter, view, session);
    if (stage == Stage::registration) paintRegistration(painter, view, session);
    paintSelection(painter);
    if (stage == Stage::weigh && drag == Drag::none) paintProbe(painter);
    if (drag != Drag::none) paintDragLabel(painter);
    painter.setClipping(false);
    paintRulers(painter, view, size(), session.unit(), pointer);
    if (hasFocus()) {
        painter.setPen(QPen(theme().tide, 1));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(rect().adjusted(0, 0, -1, -1));
    }
}

void ClothView::paintSelection(QPainter& painter) {
    if (drag == Drag::box) {
        QColor tide = theme().tide;
        painter.setPen(QPen(tide, 1, Qt::DashLine));
        tide.setAlpha(30);
        painter.setBrush(tide);
        painter.drawRect(QRectF(dragStart, dragNow).normalized());
    }
    if (drag == Drag::move || drag == Drag::handle) paintGhost(painter);
    if (!editsHere()) return;
    if (session.selection().size() == 1 && frameBox) {
        if (const Piece* p = session.job().piece(session.selection()[0])) {
            Pose pose = drag == Drag::handle ? poseNow : p->pose;
            if (drag == Drag::move) {
                pose.x += movedBy.x;
                pose.y += movedBy.y;
            }
            paintFrame(painter, pose);
        }
        return;
    }
    if (!session.checked()) return;
    painter.setPen(QPen(theme().tide, 1.4, Qt::DashLine));
    painter.setBrush(Qt::NoBrush);
    const Vec2 by = drag == Drag::move ? movedBy : Vec2{};
    for (const PieceSpan& span : session.checked()->stitched.spans)
        if (session.isSelected(span.id))
            painter.drawRect(
                view.toPixels(span.extents).translated(by.x * view.scale, by.y * view.scale));
}

void ClothView::paintFrame(QPainter& painter, const Pose& pose) {
    const double lift = handleLiftPx / view.scale;
    QPolygonF frame;
    for (const Handle& h : handles())
        if (h.isCorner()) frame << view.toPixels(handlePlace(h, *frameBox, pose, lift));
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme().panel, 3));
    painter.drawPolygon(frame);
    painter.setPen(QPen(theme().tide, 1.4));
    painter.drawPolygon(frame);
    for (const Handle& h : handles()) {
        const QPointF p = view.toPixels(handlePlace(h, *frameBox, pose, lift));
        if (h.turns) {
            const QPointF edge = view.toPixels(handlePlace({0, -1}, *frameBox, pose, 0));
            painter.setPen(QPen(theme().tide, 1.2));
            painter.drawLine(edge, p);
        }
        painter.setPen(QPen(theme().panel, 1.5));
        painter.setBrush(theme().kite);
        if (h.turns)
            painter.drawEllipse(p, handlePx + 1, handlePx + 1);
        else
            painter.drawRect(
                QRectF(p.x() - handlePx, p.y() - handlePx, 2 * handlePx, 2 * handlePx));
    }
}

void ClothView::paintGhost(QPainter& painter) {
    if (ghost.isNull() || !dragMoved) return;
    painter.save();
    painter.setOpacity(0.85);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    Affine change{1, 0, 0, 1, movedBy.x, movedBy.y};
    if (drag == Drag::handle) change = poseAtStart.affine().inverse().then(poseNow.affine());
    const QTransform mm(change.a, change.c, change.b, change.d, change.tx, change.ty);
    painter.setTransform(mm * QTransform::fromScale(view.scale, view.scale) *
                         QTransform::fromTranslate(view.origin.x(), view.origin.y()));
    painter.drawImage(QRectF(ghostArea.minX, ghostArea.minY, ghostArea.width(), ghostArea.height()),
                      ghost);
    painter.restore();
}

QString ClothView::dragText() const {
    if (drag == Drag::move)
        return tr("moved %1, %2").arg(session.lengthText(movedBy.x), session.lengthText(movedBy.y));
    if (drag != Drag::handle || !frameBox) return {};
    if (heldHandle.turns)
        return tr("turned to %1°").arg(QString::number(poseNow.rotationDeg, 'f', 1));
    const double width = std::abs(poseNow.scaleX) * frameBox->width();
    const double height = std::abs(poseNow.scaleY) * frameBox->height();
    return tr("%1 × %2, %3 %")
        .arg(session.lengthText(width), session.lengthText(height))
        .arg(100 * std::sqrt(std::abs(poseNow.scaleX * poseNow.scaleY)), 0, 'f', 0);
}

void ClothView::paintDragLabel(QPainter& painter) {
    const QString text = dragText();
    if (!text.isEmpty() && dragMoved)
        paintNote(painter, dragNow + QPointF(18, 18), {text}, clothRect(), theme().ink);
}

void ClothView::paintProbe(QPainter& painter) {
    const CheckedJob* checked = session.checked();
    const auto fabric = session.library.fabric(session.job().brief.fabric);
    if (!checked || !fabric || !clothRect().contains(pointer.toPoint())) return;
    const Vec2 at = view.toMm(pointer);
    const Cell cell = cellAt(at);
    const double layers = checked->load.layers(cell);
    const double hits = checked->load.hits(cell);
    if (layers <= 0 && hits <= 0) return;
    const LoadLimits limits = limitsOf(*fabric, session.job().cloth);
    const bool byLayers = session.loadKind() == LoadKind::layers;
    const double limit = (byLayers ? limits.maxLayers : limits.maxHits) * limits.factorAt(at);
    const double value = byLayers ? layers : hits;
    QStringList lines{byLayers ? tr("%1 layers").arg(value, 0, 'f', 1)
                               : tr("%1 hits per mm²").arg(value, 0, 'f', 1)};
    lines << tr("%1 takes %2").arg(QString::fromStdString(fabric->name)).arg(limit, 0, 'f', 1);
    for (const Contribution& c : contributionsAt(checked->stitched, at)) {
        const Piece* p = session.job().piece(c.piece);
        if (p && lines.size() < 6)
            lines << tr("%1: %2").arg(QString::fromStdString(p->name)).arg(c.layers, 0, 'f', 1);
    }
    const double half = windowMm / 2 * view.scale;
    const QPointF centre = view.toPixels(cell.centre());
    painter.setPen(QPen(theme().ink, 1));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(QRectF(centre.x() - half, centre.y() - half, 2 * half, 2 * half));
    paintNote(painter, pointer + QPointF(18, 18), lines, clothRect(),
              value > limit ? theme().stop : theme().ink);
}

} // namespace rapt::app
