// Load maps that follow what happens: a piece that is dragged, the playhead, the parting between
// before and after.

#include "app/cloth/cloth_ground.h"
#include "app/cloth/cloth_view.h"
#include "app/theme/theme.h"

namespace rapt::app {
namespace {

constexpr double partingGripPx = 7;

} // namespace

/// Room for the whole cloth and for everything that lies beside it.
void ClothView::beginLive() {
    const auto derived = session.derived();
    const auto fabric = session.library.fabric(session.job().brief.fabric);
    if (!derived || !derived->checked || !fabric) return endLive();
    Box area = session.job().cloth.box();
    for (const PieceSpan& span : derived->checked->stitched.spans) area.add(span.extents);
    live = std::make_unique<Live>(area.grown(10));
    live->of = derived->checked;
    live->overlay.begin(area.grown(10), session.loadKind(), limitsOf(*fabric, session.job().cloth));
}

void ClothView::endLive() { live.reset(); }

/// The map with what is dragged where it is now; only the tiles that it left and came to are new.
void ClothView::followDrag() {
    if (session.stage() != Stage::weigh) return;
    // A size that changes is laid afresh when it is let go.
    if (drag == Drag::handle && !heldHandle.turns) return;
    if (!live) {
        beginLive();
        if (!live) return;
        const StitchList& list = live->of->stitched.list;
        live->load.add(list, 0, list.stitches.size());
    }
    const Affine held = session.copyMapOfSelection();
    const Affine now = held.then(dragChange()).then(held.inverse());
    for (const PieceSpan& span : live->of->stitched.spans)
        if (session.isSelected(span.source)) {
            const Affine toFirst = span.fromFirst.inverse();
            live->load.move(live->of->stitched.list, span.first, span.last,
                            toFirst.then(live->change).then(span.fromFirst),
                            toFirst.then(now).then(span.fromFirst));
        }
    live->change = now;
    const LoadMap& map = live->load.map();
    live->overlay.renew(map, live->load.changedTiles());
}

/// Threads and load up to the playhead. Forward only what is new is added.
void ClothView::followPlayhead() {
    const auto place = session.playhead();
    tiles.setEnd(place.value_or(SIZE_MAX));
    if (!place) {
        if (drag == Drag::none) endLive();
        update();
        return;
    }
    const auto derived = session.derived();
    if (!live || live->done > *place || !derived || live->of != derived->checked) beginLive();
    if (live) {
        const StitchList& list = live->of->stitched.list;
        const Playhead end = std::min(*place, list.stitches.size());
        live->load.add(list, live->done, end);
        live->done = end;
        const LoadMap& map = live->load.map();
        live->overlay.renew(map, live->load.changedTiles());
    }
    update();
}

double ClothView::partingPx() const {
    const QRect inside = clothRect();
    return inside.left() + session.parting().value_or(0.5) * inside.width();
}

bool ClothView::beginParting(QPointF px) {
    const auto derived = session.derived();
    if (session.stage() != Stage::weigh || !session.parting() || !derived || !derived->before)
        return false;
    if (std::abs(px.x() - partingPx()) > partingGripPx) return false;
    drag = Drag::parting;
    setCursor(Qt::SplitHCursor);
    return true;
}

/// To the left of the parting the job as it was before anything was mended.
void ClothView::paintBefore(QPainter& painter) {
    const auto derived = session.derived();
    if (session.stage() != Stage::weigh || !session.parting() || !derived || !derived->before)
        return;
    const QRect inside = clothRect();
    const double x = partingPx();
    const QRect left(inside.left(), inside.top(), static_cast<int>(x) - inside.left(),
                     inside.height());
    painter.save();
    painter.setClipRect(left);
    paintCloth(painter, view, session.job().cloth, left);
    paintZones(painter, view, session.job().cloth);
    beforeTiles.paint(painter, view, left, devicePixelRatioF());
    paintDatumLines(painter, view, left);
    if (beforeLoad) beforeLoad->paint(painter, view);
    painter.restore();
    painter.setPen(QPen(theme().panel, 5));
    painter.drawLine(QPointF(x, inside.top()), QPointF(x, inside.bottom()));
    painter.setPen(QPen(theme().kite, 2));
    painter.drawLine(QPointF(x, inside.top()), QPointF(x, inside.bottom()));
    painter.setBrush(theme().kite);
    painter.setPen(QPen(theme().panel, 1.5));
    painter.drawEllipse(QPointF(x, inside.center().y()), 7, 7);
    painter.setFont(faceOf(12, true));
    const auto label = [&](const QString& words, double at, bool right) {
        QRectF box = QFontMetricsF(painter.font()).boundingRect(words).adjusted(-8, -4, 8, 4);
        box.moveTop(inside.top() + 8);
        right ? box.moveRight(at) : box.moveLeft(at);
        painter.setPen(QPen(theme().rule, 1));
        painter.setBrush(theme().panel);
        painter.drawRoundedRect(box, 5, 5);
        painter.setPen(theme().ink);
        painter.drawText(box, Qt::AlignCenter, words);
    };
    label(tr("before: %1 layers").arg(derived->before->load.summary().peakLayers, 0, 'f', 1),
          x - 10, true);
    if (derived->checked)
        label(tr("as it is: %1").arg(derived->checked->load.summary().peakLayers, 0, 'f', 1),
              x + 10, false);
}

/// Where the needle is while the stitch-out is played.
void ClothView::paintNeedle(QPainter& painter) {
    const CheckedJob* checked = session.checked();
    const auto place = session.playhead();
    if (!checked || !place || *place == 0) return;
    const auto& stitches = checked->stitched.list.stitches;
    for (std::size_t i = std::min(*place, stitches.size()); i-- > 0;) {
        if (stitches[i].op != Op::stitch && stitches[i].op != Op::jump) continue;
        const QPointF at = view.toPixels(stitches[i].at());
        painter.setPen(QPen(theme().panel, 4));
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(at, 7, 7);
        painter.setPen(QPen(theme().kite, 2));
        painter.drawEllipse(at, 7, 7);
        painter.drawLine(at - QPointF(0, 3), at + QPointF(0, 3));
        painter.drawLine(at - QPointF(3, 0), at + QPointF(3, 0));
        return;
    }
}

} // namespace rapt::app
