// What a person does on the cloth with mouse and keys.

#include "app/cloth/cloth_view.h"

#include "app/cloth/cloth_ground.h"
#include "app/shelf/shelf_model.h"
#include "job/stitching.h"

#include <QDropEvent>
#include <QMimeData>
#include <QMouseEvent>
#include <QWheelEvent>
#include <algorithm>

namespace rapt::app {
namespace {

constexpr double gripPx = 9;
constexpr double startDragPx = 3;
constexpr double catchPx = 7;

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
    if (pressWithTool(px, event->button())) return;
    if (event->button() != Qt::LeftButton) return;
    if (beginParting(px)) return;
    if (editsHere() && beginHandleDrag(px)) return;
    const PieceSpan* span = spanAt(px);
    const std::string id = span ? span->source : std::string();
    const int copy = span ? span->copy : 1;
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
        session.selectSingly(std::move(ids));
    } else if (event->modifiers() & Qt::AltModifier) {
        session.selectSingly({id}, copy);
    } else if (!session.isSelected(id)) {
        session.select({id}, copy);
    } else {
        session.selectSingly(session.selection(), copy);
    }
    if (editsHere() && session.isSelected(id)) beginMove(px);
}

bool ClothView::beginHandleDrag(QPointF px) {
    if (session.selection().size() != 1 || !frameBox) return false;
    const Piece* piece = session.job().piece(session.selection()[0]);
    if (!piece) return false;
    if (piece->locked) return false;
    const double lift = handleLiftPx / view.scale;
    const Affine copy = session.copyMapOfSelection();
    for (const Handle& h : handles()) {
        const QPointF p = view.toPixels(copy(handlePlace(h, *frameBox, piece->pose, lift)));
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

/// A picture of what is dragged, at the present zoom, and what it may come near to.
void ClothView::makeGhost() {
    std::vector<const Piece*> pieces;
    for (const Piece& p : session.job().pieces)
        if (session.isSelected(p.id) && !p.hidden) pieces.push_back(&p);
    ghost = QImage();
    ghostPlaces.clear();
    gap.reset();
    fieldGap.reset();
    caught = {};
    const auto stitched = stitchPieces(pieces, Affine{});
    const CheckedJob* checked = session.checked();
    if (!stitched || !checked) return;
    ghostArea = {};
    for (const PieceSpan& span : stitched->spans) ghostArea.add(span.extents);
    if (ghostArea.empty()) return;
    for (const PieceSpan& span : checked->stitched.spans)
        if (!session.selection().empty() && span.source == session.selection()[0] && !span.outline)
            ghostPlaces.push_back(span.fromFirst);
    ghostArea = ghostArea.grown(1);
    const double side = std::max(ghostArea.width(), ghostArea.height());
    const double scale = std::min(view.scale * devicePixelRatioF(), 2000 / side);
    ghost = drawThread(StitchIndex(stitched->list), ghostArea, scale);
    draggedOver = session.derived();
    clearance = std::make_unique<const Clearance>(checked->stitched, session.selection());
    std::vector<std::pair<std::string, Box>> others;
    for (const PieceSpan& span : checked->stitched.spans)
        if (!session.isSelected(span.source) && !span.outline)
            if (const Piece* p = session.job().piece(span.source))
                others.emplace_back(p->name, span.extents);
    const auto field = session.field();
    catchLines = snapLines(session.job().cloth.box(),
                           field ? std::optional<Box>(field->box()) : std::nullopt, others);
}

/// What the drag makes of the cloth frame, for the copy that is held.
Affine ClothView::dragChange() const {
    if (drag == Drag::move) return {1, 0, 0, 1, movedBy.x, movedBy.y};
    const Affine copy = session.copyMapOfSelection();
    const Affine change = poseAtStart.affine().inverse().then(poseNow.affine());
    return copy.inverse().then(change).then(copy);
}

void ClothView::measureDrag() {
    gap.reset();
    fieldGap.reset();
    if (!clearance) return;
    const Affine change = dragChange();
    gap = clearance->nearest(change, 200);
    if (const auto field = session.field())
        fieldGap = clearance->insideField(change, field->hoop, field->at);
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
    if ((drag == Drag::move || drag == Drag::handle) && dragMoved) followDrag();
    if (drag == Drag::parting)
        session.setParting(
            std::clamp((px.x() - clothRect().left()) / clothRect().width(), 0.02, 0.98));
    if (drag == Drag::node) dragNode(px);
    emit pointerMoved(view.toMm(px));
    update();
}

void ClothView::dragTo(QPointF px, Qt::KeyboardModifiers modifiers) {
    if (drag == Drag::handle) {
        const Affine back = session.copyMapOfSelection().inverse();
        const Vec2 from = back(view.toMm(dragStart));
        const Vec2 to = back(view.toMm(px));
        const bool shift = modifiers & Qt::ShiftModifier;
        poseNow = draggedPose(heldHandle, *frameBox, poseAtStart, from, to, shift, shift);
        if (dragMoved) measureDrag();
        return;
    }
    const Vec2 from = view.toMm(dragStart);
    const Vec2 to = view.toMm(px);
    // Tenths of a millimetre: what people can read they can also reach.
    const auto tenth = [](double v) { return std::round(v * 10) / 10; };
    movedBy = {tenth(to.x - from.x), tenth(to.y - from.y)};
    const bool straight = modifiers & Qt::ShiftModifier;
    if (straight) (std::abs(movedBy.x) >= std::abs(movedBy.y) ? movedBy.y : movedBy.x) = 0;
    caught = {};
    const Box box = session.selectionBox();
    if (session.catchesLines() && !(modifiers & Qt::AltModifier) && !box.empty() && dragMoved) {
        const Box moved{box.minX + movedBy.x, box.minY + movedBy.y, box.maxX + movedBy.x,
                        box.maxY + movedBy.y};
        caught = snapTo(catchLines, moved, catchPx / view.scale);
        if (straight && movedBy.x == 0) caught.by.x = 0, caught.upright = nullptr;
        if (straight && movedBy.y == 0) caught.by.y = 0, caught.level = nullptr;
        movedBy = movedBy + caught.by;
    }
    if (dragMoved) measureDrag();
}

void ClothView::mouseReleaseEvent(QMouseEvent*) {
    if (drag != Drag::none) finishDrag();
}

void ClothView::finishDrag() {
    const Drag was = drag;
    drag = Drag::none;
    unsetCursor();
    ghost = QImage();
    clearance.reset();
    draggedOver.reset();
    if (was == Drag::box && dragMoved) selectInBox();
    // A piece that moved keeps the map that followed it until the new one is there.
    if (was != Drag::move || !dragMoved) {
        endLive();
        followPlayhead();
    }
    if (was == Drag::move && dragMoved && !(movedBy == Vec2{}))
        session.document.apply(session.moveSelection(movedBy));
    if (was == Drag::node) dropNode();
    if (was == Drag::letter) dropLetter();
    if (was == Drag::handle && dragMoved)
        session.document.apply(
            setPose(draggedPiece, poseNow, heldHandle.turns ? "Turn" : "Resize"));
    movedBy = {};
    update();
}

void ClothView::cancelDrag() {
    drag = Drag::none;
    ghost = QImage();
    clearance.reset();
    draggedOver.reset();
    endLive();
    followPlayhead();
    heldNode.reset();
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
        if (!span.extents.empty() && box.overlaps(span.extents) &&
            std::find(ids.begin(), ids.end(), span.source) == ids.end())
            ids.push_back(span.source);
    session.select(std::move(ids));
}

void ClothView::wheelEvent(QWheelEvent* event) {
    const double steps = event->angleDelta().y() / 120.0;
    if (steps != 0) zoomBy(std::pow(1.2, steps), event->position());
    event->accept();
}

void ClothView::keyPressEvent(QKeyEvent* event) {
    if (keyWithTool(*event)) return;
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
    session.document.apply(session.moveSelection(way * step), "nudge");
}

void ClothView::leaveEvent(QEvent*) {
    pointer = {-1, -1};
    emit pointerLeft();
    update();
}

void ClothView::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasFormat(shelfMimeType)) event->acceptProposedAction();
}

void ClothView::dropEvent(QDropEvent* event) {
    event->acceptProposedAction();
    emit designDropped(QString::fromUtf8(event->mimeData()->data(shelfMimeType)),
                       view.toMm(event->position()));
}

} // namespace rapt::app
