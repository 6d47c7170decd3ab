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
    artwork.paint(painter, view, session.job());
    paintZones(painter, view, session.job().cloth);
    paintGuides(painter, view, session.job().cloth);
    if (scanned) painter.setOpacity(0.72);
    tiles.paint(painter, view, visible, devicePixelRatioF());
    painter.setOpacity(1);
    paintDatumLines(painter, view, visible);
    if (stage == Stage::weigh && live)
        live->overlay.paint(painter, view);
    else if (stage == Stage::weigh && load)
        load->paint(painter, view);
    paintBefore(painter);
    if (stage == Stage::divide || stage == Stage::registration || stage == Stage::stitchOut)
        paintHoopings(painter, view, session);
    if (stage == Stage::registration) paintRegistration(painter, view, session);
    if (stage == Stage::compose) paintField(painter);
    paintSelection(painter);
    if (stage == Stage::compose || session.tool() == Tool::drawPath) paintTool(painter);
    paintNeedle(painter);
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
    if (!editsHere() || session.tool() != Tool::select) return;
    paintCopies(painter);
    if (session.selection().size() == 1 && frameBox) {
        if (const Piece* p = session.job().piece(session.selection()[0])) {
            Pose pose = drag == Drag::handle ? poseNow : p->pose;
            Affine copy = session.copyMapOfSelection();
            if (drag == Drag::move) copy = copy.then(dragChange());
            paintFrame(painter, pose, copy, p->locked);
        }
        return;
    }
    if (!session.checked()) return;
    painter.setPen(QPen(theme().tide, 1.4, Qt::DashLine));
    painter.setBrush(Qt::NoBrush);
    const Vec2 by = drag == Drag::move ? movedBy : Vec2{};
    for (const PieceSpan& span : session.checked()->stitched.spans)
        if (session.isSelected(span.source) && span.copy == session.selectedCopy())
            painter.drawRect(
                view.toPixels(span.extents).translated(by.x * view.scale, by.y * view.scale));
}

void ClothView::paintFrame(QPainter& painter, const Pose& pose, const Affine& copy, bool locked) {
    const double lift = handleLiftPx / view.scale;
    const auto place = [&](const Handle& h, double off) {
        return view.toPixels(copy(handlePlace(h, *frameBox, pose, off)));
    };
    QPolygonF frame;
    for (const Handle& h : handles())
        if (h.isCorner()) frame << place(h, lift);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme().panel, 3));
    painter.drawPolygon(frame);
    painter.setPen(QPen(theme().tide, 1.4, locked ? Qt::DotLine : Qt::SolidLine));
    painter.drawPolygon(frame);
    if (locked) return;
    for (const Handle& h : handles()) {
        const QPointF p = place(h, lift);
        if (h.turns) {
            painter.setPen(QPen(theme().tide, 1.2));
            painter.drawLine(place({0, -1}, 0), p);
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

/// The copies that follow what is selected, each with its number.
void ClothView::paintCopies(QPainter& painter) {
    const CheckedJob* checked = session.checked();
    if (!checked || session.selection().empty()) return;
    const Repeat* repeat = session.job().repeatOf(session.selection()[0]);
    if (!repeat || drag != Drag::none) return;
    painter.setBrush(Qt::NoBrush);
    painter.setFont(faceOf(11));
    for (const PieceSpan& span : checked->stitched.spans) {
        if (span.source != session.selection()[0] || span.outline) continue;
        const QRectF box = view.toPixels(span.extents);
        painter.setPen(QPen(theme().tide, 1, Qt::DotLine));
        painter.drawRect(box);
        if (box.width() < 14 || repeat->copies() > 400) continue;
        const QString number = QString::number(span.copy);
        const QRectF label(box.topLeft() - QPointF(1, 15),
                           QSizeF(QFontMetricsF(painter.font()).horizontalAdvance(number) + 6, 14));
        painter.fillRect(label, theme().panel);
        painter.setPen(theme().ink);
        painter.drawText(label, Qt::AlignCenter, number);
    }
}

/// The field that pieces are fitted to, as a thin line, while something is chosen or dragged.
void ClothView::paintField(QPainter& painter) {
    const auto field = session.field();
    if (!field || session.selection().empty()) return;
    QColor line = theme().ink2;
    line.setAlpha(150);
    painter.setPen(QPen(line, 1, Qt::DashDotDotLine));
    painter.setBrush(Qt::NoBrush);
    const QRectF box = view.toPixels(field->box());
    if (field->hoop.shape == Hoop::Shape::oval)
        painter.drawEllipse(box);
    else
        painter.drawRect(box);
    painter.setFont(faceOf(11));
    const QString words = tr("field %1").arg(QString::fromStdString(field->hoop.name));
    QRectF label = QFontMetricsF(painter.font()).boundingRect(words).adjusted(-4, -1, 4, 1);
    label.moveBottomLeft(box.bottomLeft() + QPointF(1, -1));
    QColor paper = theme().panel;
    paper.setAlpha(210);
    painter.fillRect(label, paper);
    painter.setPen(theme().ink2);
    painter.drawText(label, Qt::AlignCenter, words);
}

void ClothView::paintGhost(QPainter& painter) {
    if (ghost.isNull() || !dragMoved) return;
    painter.save();
    painter.setOpacity(0.85);
    // Of hundreds of copies nobody sees the smoothing, and everybody the waiting.
    painter.setRenderHint(QPainter::SmoothPixmapTransform, ghostPlaces.size() <= 24);
    const Affine held = session.copyMapOfSelection();
    const Affine original = held.then(dragChange()).then(held.inverse());
    const QRectF area(ghostArea.minX, ghostArea.minY, ghostArea.width(), ghostArea.height());
    const std::vector<Affine> here{Affine{}};
    for (const Affine& place : ghostPlaces.empty() ? here : ghostPlaces) {
        const Affine change = original.then(place);
        const QTransform mm(change.a, change.c, change.b, change.d, change.tx, change.ty);
        painter.setTransform(mm * QTransform::fromScale(view.scale, view.scale) *
                             QTransform::fromTranslate(view.origin.x(), view.origin.y()));
        painter.drawImage(area, ghost);
    }
    painter.restore();
    paintGap(painter);
}

/// The line between the two nearest threads, and the lines that were caught.
void ClothView::paintGap(QPainter& painter) {
    painter.setPen(QPen(theme().kite, 1.2, Qt::DashLine));
    if (caught.upright) {
        const double x = view.toPixels(Vec2{caught.upright->at, 0}).x();
        painter.drawLine(QPointF(x, 0), QPointF(x, height()));
    }
    if (caught.level) {
        const double y = view.toPixels(Vec2{0, caught.level->at}).y();
        painter.drawLine(QPointF(0, y), QPointF(width(), y));
    }
    if (!gap) return;
    const QPointF a = view.toPixels(gap->from), b = view.toPixels(gap->to);
    for (const QPen& pen : {QPen(theme().panel, 4), QPen(theme().ink, 1.6)}) {
        painter.setPen(pen);
        painter.drawLine(a, b);
    }
    painter.setBrush(theme().ink);
    painter.drawEllipse(a, 2.5, 2.5);
    painter.drawEllipse(b, 2.5, 2.5);
}

QStringList ClothView::dragWords() const {
    QStringList words;
    const auto addLoad = [&] {
        if (session.stage() == Stage::weigh && live && drag == Drag::move)
            words << tr("%1 layers at most").arg(live->load.map().summary().peakLayers, 0, 'f', 1);
    };
    if (drag == Drag::move) {
        words
            << tr("moved %1, %2").arg(session.lengthText(movedBy.x), session.lengthText(movedBy.y));
        const Vec2 middle = session.selectionBox().centre() + movedBy;
        words << tr("middle at %1, %2")
                     .arg(session.lengthText(middle.x), session.lengthText(middle.y));
    } else if (drag == Drag::handle && frameBox && heldHandle.turns) {
        words << tr("turned to %1°").arg(QString::number(poseNow.rotationDeg, 'f', 1));
    } else if (drag == Drag::handle && frameBox) {
        const double width = std::abs(poseNow.scaleX) * frameBox->width();
        const double height = std::abs(poseNow.scaleY) * frameBox->height();
        words << tr("%1 × %2, %3 %")
                     .arg(session.lengthText(width), session.lengthText(height))
                     .arg(100 * poseNow.meanScale(), 0, 'f', 0);
    } else {
        return words;
    }
    addLoad();
    for (const SnapLine* line : {caught.upright, caught.level})
        if (line) words << tr("on %1").arg(QString::fromStdString(line->what));
    if (gap) {
        const Piece* piece = session.job().piece(gap->piece);
        const QString name = piece ? QString::fromStdString(piece->name) : QString();
        words << (gap->mm > 0 ? tr("%1 to %2").arg(session.lengthText(gap->mm), name)
                              : tr("overlaps %1").arg(name));
    }
    if (fieldGap)
        words << (*fieldGap >= 0 ? tr("%1 to the field's edge").arg(session.lengthText(*fieldGap))
                                 : tr("%1 out of the field").arg(session.lengthText(-*fieldGap)));
    return words;
}

void ClothView::paintDragLabel(QPainter& painter) {
    const QStringList words = dragWords();
    if (!words.isEmpty() && dragMoved)
        paintNote(painter, dragNow + QPointF(18, 18), words, clothRect(), theme().ink);
}

void ClothView::paintProbe(QPainter& painter) {
    const CheckedJob* checked = session.checked();
    const auto fabric = session.library.fabric(session.job().brief.fabric);
    if (!checked || !fabric || !clothRect().contains(pointer.toPoint())) return;
    const Vec2 at = view.toMm(pointer);
    const Cell cell = cellAt(at);
    const auto derived = session.derived();
    const bool before = session.parting() && derived->before && pointer.x() < partingPx();
    const LoadMap& shown = before ? derived->before->load : live ? live->load.map() : checked->load;
    const StitchedJob& stitched = before ? derived->before->stitched : checked->stitched;
    const double layers = shown.layers(cell);
    const double hits = shown.hits(cell);
    if (layers <= 0 && hits <= 0) return;
    const LoadLimits limits = limitsOf(*fabric, session.job().cloth);
    const bool byLayers = session.loadKind() == LoadKind::layers;
    const double limit = (byLayers ? limits.maxLayers : limits.maxHits) * limits.factorAt(at);
    const double value = byLayers ? layers : hits;
    QStringList lines{byLayers ? tr("%1 layers").arg(value, 0, 'f', 1)
                               : tr("%1 hits per mm²").arg(value, 0, 'f', 1)};
    lines << tr("%1 takes %2").arg(QString::fromStdString(fabric->name)).arg(limit, 0, 'f', 1);
    // While the stitch-out is played the pieces are only partly there.
    const auto parts =
        session.playhead() ? std::vector<Contribution>{} : contributionsAt(stitched, at);
    for (const Contribution& c : parts) {
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
