// What a person does on the cloth with mouse and keys.

#include "app/cloth/cloth_view.h"

#include "app/cloth/cloth_ground.h"
#include "job/stitching.h"

#include <QMouseEvent>
#include <QWheelEvent>
#include <algorithm>

namespace rapt::app {
namespace {

constexpr double gripPx = 9;
constexpr double startDragPx = 3;

} // namespace

/// Pieces can be placed in every stage but those that look at a finished plan.
bool ClothView::editsHere() const {
    return session.stage() == Stage::compose || session.stage() == Stage::weigh ||
           session.stage() == Stage::brief;
}

void ClothView::mousePressEvent(QMouseEvent* event) {
    setFocus();
    const QPointF px = event->position();
    dragStart = dragNow = px;
    dragMoved = false;
    if (event->button() == Qt::MiddleButton || event->button() == Qt::RightButton) {
        drag = Drag::pan;
        setCursor(Qt::ClosedHandCursor);
        return;
    }
    if (event->button() != Qt::LeftButton) return;
    if (editsHere() && beginHandleDrag(px)) return;
    const std::string id = pieceAt(px);
    const bool add = event->modifiers() & (Qt::ShiftModifier | Qt::ControlModifier);
    if (id.empty()) {
        if (!add) session.select({});
        drag = Drag::box;
        return;
    }
    if (add) {
        std::vector<std::string> ids = session.selection();
        const auto it = std::find(ids.begin(), ids.end(), id);
        if (it == ids.end())
            ids.push_back(id);
        else
            ids.erase(it);
        session.select(std::move(ids));
    } else if (!session.isSelected(id)) {
        session.select({id});
    }
    if (editsHere() && session.isSelected(id)) beginMove(px);
}

bool ClothView::beginHandleDrag(QPointF px) {
    if (session.selection().size() != 1 || !frameBox) return false;
    const Piece* piece = session.job().piece(session.selection()[0]);
    if (!piece) return false;
    const double lift = handleLiftPx / view.scale;
    for (const Handle& h : handles()) {
        const QPointF p = view.toPixels(handlePlace(h, *frameBox, piece->pose, lift));
        if (QLineF(p, px).length() > gripPx) continue;
        drag = Drag::handle;
        heldHandle = h;
        draggedPiece = piece->id;
        poseAtStart = poseNow = piece->pose;
        makeGhost();
        return true;
    }
    return false;
}

void ClothView::beginMove(QPointF) {
    drag = Drag::move;
    movedBy = {};
    makeGhost();
}

/// A picture of what is dragged, at the present zoom.
void ClothView::makeGhost() {
    std::vector<const Piece*> pieces;
    for (const Piece& p : session.job().pieces)
        if (session.isSelected(p.id)) pieces.push_back(&p);
    ghost = QImage();
    const auto stitched = stitchPieces(pieces, Affine{});
    if (!stitched) return;
    ghostArea = {};
    for (const PieceSpan& span : stitched->spans) ghostArea.add(span.extents);
    if (ghostArea.empty()) return;
    ghostArea = ghostArea.grown(1);
    const double side = std::max(ghostArea.width(), ghostArea.height());
    const double scale = std::min(view.scale * devicePixelRatioF(), 2000 / side);
    ghost = drawThread(StitchIndex(stitched->list), ghostArea, scale);
}

void ClothView::mouseMoveEvent(QMouseEvent* event) {
    const QPointF px = event->position();
    if (drag == Drag::pan) {
        setOrigin(view.origin + px - dragNow);
        fitted = false;
    }
    dragNow = pointer = px;
    if (drag != Drag::none && QLineF(dragStart, px).length() > startDragPx) dragMoved = true;
    if (drag == Drag::move || drag == Drag::handle) dragTo(px, event->modifiers());
    emit pointerMoved(view.toMm(px));
    update();
}

void ClothView::dragTo(QPointF px, Qt::KeyboardModifiers modifiers) {
    const Vec2 from = view.toMm(dragStart);
    const Vec2 to = view.toMm(px);
    if (drag == Drag::handle) {
        const bool shift = modifiers & Qt::ShiftModifier;
        poseNow = draggedPose(heldHandle, *frameBox, poseAtStart, from, to, shift, shift);
        return;
    }
    // Tenths of a millimetre: what people can read they can also reach.
    const auto tenth = [](double v) { return std::round(v * 10) / 10; };
    movedBy = {tenth(to.x - from.x), tenth(to.y - from.y)};
    if (modifiers & Qt::ShiftModifier)
        (std::abs(movedBy.x) >= std::abs(movedBy.y) ? movedBy.y : movedBy.x) = 0;
}

void ClothView::mouseReleaseEvent(QMouseEvent*) {
    if (drag != Drag::none) finishDrag();
}

void ClothView::finishDrag() {
    const Drag was = drag;
    drag = Drag::none;
    unsetCursor();
    ghost = QImage();
    if (was == Drag::box && dragMoved) selectInBox();
    if (was == Drag::move && dragMoved && !(movedBy == Vec2{}))
        session.document.apply(movePieces(session.selection(), movedBy));
    if (was == Drag::handle && dragMoved)
        session.document.apply(
            setPose(draggedPiece, poseNow, heldHandle.turns ? "Turn" : "Resize"));
    movedBy = {};
    update();
}

void ClothView::cancelDrag() {
    drag = Drag::none;
    ghost = QImage();
    movedBy = {};
    unsetCursor();
    update();
}

void ClothView::selectInBox() {
    const CheckedJob* checked = session.checked();
    if (!checked) return;
    const Box box = view.toMm(QRectF(dragStart, dragNow).normalized());
    std::vector<std::string> ids = session.selection();
    for (const PieceSpan& span : checked->stitched.spans)
        if (!span.extents.empty() && box.overlaps(span.extents) && !session.isSelected(span.id))
            ids.push_back(span.id);
    session.select(std::move(ids));
}

void ClothView::wheelEvent(QWheelEvent* event) {
    const double steps = event->angleDelta().y() / 120.0;
    if (steps != 0) zoomBy(std::pow(1.2, steps), event->position());
    event->accept();
}

void ClothView::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape) {
        if (drag != Drag::none)
            cancelDrag();
        else
            session.select({});
        return;
    }
    Vec2 way;
    if (event->key() == Qt::Key_Left) way = {-1, 0};
    if (event->key() == Qt::Key_Right) way = {1, 0};
    if (event->key() == Qt::Key_Up) way = {0, -1};
    if (event->key() == Qt::Key_Down) way = {0, 1};
    if (way == Vec2{} || !editsHere() || session.selection().empty()) {
        QWidget::keyPressEvent(event);
        return;
    }
    const double step = event->modifiers() & Qt::ShiftModifier ? 10
                        : event->modifiers() & Qt::AltModifier ? 0.1
                                                               : 1;
    session.document.apply(movePieces(session.selection(), way * step), "nudge");
}

void ClothView::leaveEvent(QEvent*) {
    pointer = {-1, -1};
    emit pointerLeft();
    update();
}

} // namespace rapt::app
