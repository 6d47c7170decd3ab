#include "app/tools/choose_tool.h"

#include "app/canvas/paint_kit.h"
#include "app/theme/theme.h"
#include "place/hit.h"
#include "place/sizing.h"

namespace rapt::app {
namespace {

constexpr double handlePx = 4.5;

/// Tenths of a millimetre: what people can read they can also reach.
double tenth(double v) { return std::round(v * 10) / 10; }

} // namespace

/// Pieces can be placed in every stage but those that look at a finished plan.
bool ChooseTool::editsHere() const {
    return session.stage() == Stage::compose || session.stage() == Stage::weigh ||
           session.stage() == Stage::brief || session.stage() == Stage::registration;
}

std::optional<Box> ChooseTool::frame() const {
    if (isSeveral()) {
        const Box box = session.selectionBox();
        return box.empty() ? std::nullopt : std::optional(box);
    }
    if (session.selection.ids().size() != 1) return std::nullopt;
    const Piece* p = session.job().piece(session.selection.ids()[0]);
    const auto* stitches = p ? session.stitchesOf(*p) : nullptr;
    return stitches ? unscaledBox(*p, stitches->extents) : std::nullopt;
}

bool ChooseTool::isSeveral() const { return session.selection.ids().size() > 1; }

Pose ChooseTool::framePose() const {
    const Piece* p = session.selection.single();
    return p ? p->pose : Pose{};
}

Affine ChooseTool::frameCopy() const {
    return isSeveral() ? Affine{} : session.copyMapOfSelection();
}

bool ChooseTool::isLocked() const {
    const auto& ids = session.selection.ids();
    return std::any_of(ids.begin(), ids.end(), [&](const std::string& id) {
        const Piece* p = session.job().piece(id);
        return p && p->locked;
    });
}

/// Several pieces keep their proportions.
bool ChooseTool::isOffered(const Handle& h) const {
    return !isSeveral() || h.isCorner() || h.turns;
}

bool ChooseTool::press(const Pointer& pointer) {
    from = now = pointer;
    moved = false;
    movedBy = {};
    if (editsHere() && pressHandle(pointer)) return true;
    const auto hit = host.hitAt(pointer.px);
    if (hit) {
        pressPiece(pointer, *hit);
    } else {
        if (!(pointer.modifiers & (Qt::ShiftModifier | Qt::ControlModifier)))
            session.selection.choose({});
        gesture = Gesture::box;
    }
    return gesture != Gesture::none;
}

bool ChooseTool::pressHandle(const Pointer& pointer) {
    const auto box = frame();
    if (!box || isLocked()) return false;
    const Pose pose = framePose();
    const double lift = handleLiftPx / host.map().scale;
    const Affine copy = frameCopy();
    for (const Handle& h : handles()) {
        if (!isOffered(h)) continue;
        const QPointF p = host.map().toPixels(copy(handlePlace(h, *box, pose, lift)));
        if (QLineF(p, pointer.px).length() > gripReachPx) continue;
        gesture = Gesture::handle;
        handle = h;
        handleBox = *box;
        poseAtStart = poseNow = pose;
        pieceDrag = std::make_unique<PieceDrag>(session, host);
        return true;
    }
    return false;
}

void ChooseTool::pressPiece(const Pointer& pointer, const Hit& hit) {
    if (pointer.modifiers & (Qt::ShiftModifier | Qt::ControlModifier)) {
        std::vector<std::string> ids = session.selection.ids();
        const auto it = std::find(ids.begin(), ids.end(), hit.piece);
        if (it == ids.end())
            ids.push_back(hit.piece);
        else
            ids.erase(it);
        session.selection.chooseSingly(std::move(ids));
    } else if (pointer.modifiers & Qt::AltModifier) {
        session.selection.chooseSingly({hit.piece}, hit.copy);
    } else if (!session.selection.contains(hit.piece)) {
        session.selection.choose({hit.piece}, hit.copy);
    } else {
        session.selection.chooseSingly(session.selection.ids(), hit.copy);
    }
    if (!editsHere() || !session.selection.contains(hit.piece)) return;
    gesture = Gesture::move;
    pieceDrag = std::make_unique<PieceDrag>(session, host);
}

Affine ChooseTool::change() const {
    if (gesture == Gesture::move) return {1, 0, 0, 1, movedBy.x, movedBy.y};
    const Affine copy = frameCopy();
    const Affine own = poseAtStart.affine().inverse().then(poseNow.affine());
    return copy.inverse().then(own).then(copy);
}

void ChooseTool::drag(const Pointer& pointer) {
    now = pointer;
    moved = true;
    if (gesture == Gesture::box) return host.redraw();
    if (gesture == Gesture::handle) {
        const Affine back = frameCopy().inverse();
        const bool shift = pointer.modifiers & Qt::ShiftModifier;
        poseNow = draggedPose(handle, handleBox, poseAtStart, back(from.mm), back(pointer.mm),
                              shift && !isSeveral(), shift);
    } else {
        dragMove(pointer);
    }
    pieceDrag->measure(change());
    // A size that changes is laid afresh when it is let go.
    if (gesture == Gesture::move || handle.turns) host.follow(change());
    host.redraw();
}

void ChooseTool::dragMove(const Pointer& pointer) {
    movedBy = {tenth(pointer.mm.x - from.mm.x), tenth(pointer.mm.y - from.mm.y)};
    const bool straight = pointer.modifiers & Qt::ShiftModifier;
    if (straight) (std::abs(movedBy.x) >= std::abs(movedBy.y) ? movedBy.y : movedBy.x) = 0;
    pieceDrag->catchNothing();
    const Box box = session.selectionBox();
    if (!session.catchesLines() || (pointer.modifiers & Qt::AltModifier) || box.empty()) return;
    const Box there{box.minX + movedBy.x, box.minY + movedBy.y, box.maxX + movedBy.x,
                    box.maxY + movedBy.y};
    movedBy = movedBy +
              pieceDrag->catchLines(there, straight && movedBy.x == 0, straight && movedBy.y == 0);
}

void ChooseTool::end() {
    gesture = Gesture::none;
    moved = false;
    movedBy = {};
    pieceDrag.reset();
}

void ChooseTool::release(const Pointer& pointer) {
    const Gesture was = std::exchange(gesture, Gesture::none);
    const bool dragged = moved;
    const Vec2 by = movedBy;
    end();
    if (was == Gesture::box && dragged) {
        const Derived* derived = session.checked();
        if (!derived) return;
        const Box box = host.map().toMm(QRectF(from.px, pointer.px).normalized());
        std::vector<std::string> ids = session.selection.ids();
        for (const std::string& id : piecesIn(derived->stitched(), box))
            if (std::find(ids.begin(), ids.end(), id) == ids.end()) ids.push_back(id);
        return session.selection.choose(std::move(ids));
    }
    if (was == Gesture::move && dragged && !(by == Vec2{})) {
        // The map that followed stays until the new one is there.
        host.apply(session.moveSelection(by));
    } else {
        host.follow(std::nullopt);
        if (was == Gesture::handle && dragged) applyFrame();
    }
}

/// What the frame was made into, for the piece or for all of them as one.
void ChooseTool::applyFrame() {
    const auto& ids = session.selection.ids();
    const char* name = handle.turns ? "Turn" : "Resize";
    if (!isSeveral()) return host.apply(setPose(ids[0], poseNow, name));
    if (handle.turns) return host.apply(turnPieces(ids, poseNow.rotationDeg, handleBox.centre()));
    const double k = poseNow.scaleX;
    if (k == 1) return;
    host.apply(scalePieces(ids, k, Vec2{poseNow.x, poseNow.y} * (1 / (1 - k)), name));
}

void ChooseTool::cancel() {
    if (gesture == Gesture::none) return;
    end();
    host.follow(std::nullopt);
}

bool ChooseTool::doubleClick(const Pointer& pointer) {
    const auto hit = host.hitAt(pointer.px);
    return hit && session.selection.openTowards(hit->piece, hit->copy);
}

bool ChooseTool::key(const QKeyEvent& event) {
    if (event.key() == Qt::Key_Escape) {
        session.selection.close();
        return true;
    }
    Vec2 way;
    if (event.key() == Qt::Key_Left) way = {-1, 0};
    if (event.key() == Qt::Key_Right) way = {1, 0};
    if (event.key() == Qt::Key_Up) way = {0, -1};
    if (event.key() == Qt::Key_Down) way = {0, 1};
    if (way == Vec2{} || !editsHere() || session.selection.ids().empty()) return false;
    const double step = event.modifiers() & Qt::ShiftModifier ? 10
                        : event.modifiers() & Qt::AltModifier ? 0.1
                                                              : 1;
    host.apply(session.moveSelection(way * step), "nudge");
    return true;
}

QStringList ChooseTool::words() const {
    const auto tr = [](const char* text) { return QObject::tr(text); };
    QStringList words;
    if (gesture == Gesture::move) {
        words
            << tr("moved %1, %2").arg(session.lengthText(movedBy.x), session.lengthText(movedBy.y));
        const Vec2 middle = session.selectionBox().centre() + movedBy;
        words << tr("middle at %1, %2")
                     .arg(session.lengthText(middle.x), session.lengthText(middle.y));
        if (const auto peak = followedPeak ? followedPeak() : std::nullopt)
            words << tr("%1 layers at most").arg(*peak, 0, 'f', 1);
    } else if (gesture == Gesture::handle && handle.turns) {
        words << tr("turned to %1°").arg(QString::number(poseNow.rotationDeg, 'f', 1));
    } else if (gesture == Gesture::handle) {
        words << tr("%1 × %2, %3 %")
                     .arg(session.lengthText(std::abs(poseNow.scaleX) * handleBox.width()),
                          session.lengthText(std::abs(poseNow.scaleY) * handleBox.height()))
                     .arg(100 * poseNow.meanScale(), 0, 'f', 0);
    } else {
        return words;
    }
    return words + pieceDrag->words();
}

void ChooseTool::paint(QPainter& painter) {
    if (gesture == Gesture::box && moved) {
        QColor tide = theme().tide;
        painter.setPen(QPen(tide, 1, Qt::DashLine));
        tide.setAlpha(30);
        painter.setBrush(tide);
        painter.drawRect(QRectF(from.px, now.px).normalized());
    }
    if (pieceDrag && moved) pieceDrag->paint(painter, change());
    if (editsHere()) paintSelection(painter);
}

void ChooseTool::paintSelection(QPainter& painter) const {
    paintCopies(painter);
    const bool moving = gesture == Gesture::move;
    if (const auto box = gesture == Gesture::handle ? std::optional(handleBox) : frame()) {
        Affine copy = frameCopy();
        if (moving) copy = copy.then(change());
        paintFrame(painter, *box, gesture == Gesture::handle ? poseNow : framePose(), copy,
                   isLocked());
        if (!isSeveral()) return;
    }
    const Derived* derived = session.checked();
    if (!derived) return;
    QColor thin = theme().tide;
    thin.setAlpha(110);
    painter.setPen(QPen(thin, 1, Qt::DotLine));
    painter.setBrush(Qt::NoBrush);
    const Vec2 by = moving ? movedBy : Vec2{};
    const ViewMap& view = host.map();
    for (const PieceSpan& span : derived->stitched().spans)
        if (session.selection.contains(span.source) && span.copy == session.selection.copy())
            painter.drawRect(
                view.toPixels(span.extents).translated(by.x * view.scale, by.y * view.scale));
}

void ChooseTool::paintFrame(QPainter& painter, const Box& box, const Pose& pose, const Affine& copy,
                            bool locked) const {
    const ViewMap& view = host.map();
    const double lift = handleLiftPx / view.scale;
    const auto place = [&](const Handle& h, double off) {
        return view.toPixels(copy(handlePlace(h, box, pose, off)));
    };
    QPolygonF outline;
    for (const Handle& h : handles())
        if (h.isCorner()) outline << place(h, lift);
    outline << outline.front();
    paintHalo(painter, outline, theme().tide, 1.4, locked ? Qt::DotLine : Qt::SolidLine);
    if (locked) return;
    for (const Handle& h : handles()) {
        if (!isOffered(h)) continue;
        const QPointF p = place(h, lift);
        if (!h.turns) {
            paintSquareGrip(painter, p, handlePx, theme().kite);
            continue;
        }
        painter.setPen(QPen(theme().tide, 1.2));
        painter.drawLine(place({0, -1}, 0), p);
        paintRoundGrip(painter, p, handlePx + 1, theme().kite);
    }
}

/// The copies that follow what is selected, each with its number.
void ChooseTool::paintCopies(QPainter& painter) const {
    const Derived* derived = session.checked();
    if (!derived || session.selection.ids().empty() || gesture != Gesture::none) return;
    const Repeat* repeat = session.job().repeatOf(session.selection.ids()[0]);
    if (!repeat) return;
    painter.setBrush(Qt::NoBrush);
    painter.setFont(faceOf(11));
    for (const PieceSpan& span : derived->stitched().spans) {
        if (span.source != session.selection.ids()[0] || span.outline) continue;
        const QRectF box = host.map().toPixels(span.extents);
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

} // namespace rapt::app
