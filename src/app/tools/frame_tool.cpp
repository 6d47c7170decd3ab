#include "app/tools/frame_tool.h"

#include "app/canvas/paint_kit.h"
#include "app/layers/hooping_overlay.h"
#include "app/theme/theme.h"
#include "divide/cutting.h"
#include "divide/frames.h"
#include "divide/ring.h"
#include "job/hooping_name.h"

namespace rapt::app {
namespace {

constexpr double snapMm = 0.5;
constexpr std::size_t mostGrips = 14;

} // namespace

std::vector<std::size_t> FrameTool::gripsOf(const Cut& cut) {
    std::vector<std::size_t> grips;
    const std::size_t step = std::max<std::size_t>(1, cut.path.size() / mostGrips);
    for (std::size_t i = 0; i < cut.path.size(); i += step) grips.push_back(i);
    if (!grips.empty() && grips.back() + 1 != cut.path.size()) grips.push_back(cut.path.size() - 1);
    return grips;
}

std::optional<int> FrameTool::ringAt(Vec2 mm) const {
    const auto& hoopings = session.job().hoopings;
    const int n = static_cast<int>(hoopings.size());
    // The chosen one lies on top.
    for (int k = 0; k < n; ++k) {
        const int i = (session.hooping() + k) % n;
        const Hooping& h = hoopings[static_cast<std::size_t>(i)];
        const auto hoop = session.library.hoop(h.hoop);
        if (!hoop) continue;
        const RingShape ring = ringOf(*hoop);
        const Vec2 p = h.frame.affine().inverse()(mm);
        if (ring.outer.contains(p) && !ring.opening.contains(p)) return i;
    }
    return std::nullopt;
}

std::optional<FrameTool::CutPoint> FrameTool::cutPointAt(QPointF px) const {
    const auto& cuts = session.job().cuts;
    for (std::size_t c = 0; c < cuts.size(); ++c)
        for (const std::size_t i : gripsOf(cuts[c]))
            if (QLineF(host.map().toPixels(cuts[c].path[i]), px).length() <= gripReachPx)
                return CutPoint{c, i};
    return std::nullopt;
}

bool FrameTool::press(const Pointer& pointer) {
    if (session.stage() != Stage::divide) return false;
    by = {};
    turn = 0;
    from = pointer.mm;
    cutHeld = cutPointAt(pointer.px);
    if (cutHeld) return true;
    held = ringAt(pointer.mm);
    if (!held) {
        // A click on a piece chooses the hooping that sews it.
        const auto hit = host.hitAt(pointer.px);
        const auto& hoopings = session.job().hoopings;
        for (std::size_t i = 0; hit && i < hoopings.size(); ++i)
            for (const std::string& id : hoopings[i].pieces)
                if (const Piece* p = session.job().piece(id); p && p->id == hit->piece)
                    session.setHooping(static_cast<int>(i));
        return false;
    }
    session.setHooping(*held);
    look();
    return true;
}

void FrameTool::drag(const Pointer& pointer) {
    const Vec2 d = pointer.mm - from;
    by = {std::round(d.x / snapMm) * snapMm, std::round(d.y / snapMm) * snapMm};
    if (held) look();
    if (cutHeld) lookAlongCut();
    host.redraw();
}

/// What a dragged cut runs through.
void FrameTool::lookAlongCut() {
    said.clear();
    const auto derived = session.derived();
    if (!derived || !derived->sewn) return;
    Cut cut = session.job().cuts[cutHeld->cut];
    cut.path[cutHeld->point] = cut.path[cutHeld->point] + by;
    const double size = lengthOf(cut.path);
    const std::size_t threads = threadsAcross(*derived->sewn, cut);
    said << QObject::tr("Cuts through %L1 threads").arg(threads);
    said << QObject::tr("%1 a centimetre; a gap has none")
                .arg(10.0 * static_cast<double>(threads) / std::max(1.0, size), 0, 'f', 1);
}

Hooping FrameTool::moved(const Hooping& h) const { return movedHooping(h, by, turn); }

/// What the dragged frame reaches, and what it loses.
void FrameTool::look() {
    said.clear();
    allowed = true;
    const auto derived = session.derived();
    const auto& hoopings = session.job().hoopings;
    const Hooping& chosen = hoopings[static_cast<std::size_t>(*held)];
    const auto hoop = session.library.hoop(chosen.hoop);
    if (!hoop || !derived || !derived->planned || derived->hoopings().size() != hoopings.size())
        return;
    const Vec2 at{chosen.frame.x + by.x, chosen.frame.y + by.y};
    QStringList lost;
    double worst = 0;
    for (std::size_t i = 0; i < hoopings.size(); ++i) {
        const Hooping& h = hoopings[i];
        if (h.clamping != chosen.clamping) continue;
        // Its stitching, as the field would see it after the move.
        const Box& e = derived->hoopings()[i].extents;
        if (e.empty()) continue;
        const Affine change = h.pose.affine().then(moved(h).pose.affine().inverse());
        Box seen;
        for (const Vec2& corner : e.corners()) seen.add(change(corner));
        const double over =
            std::max({-hoop->widthMm / 2 - seen.minX, seen.maxX - hoop->widthMm / 2,
                      -hoop->heightMm / 2 - seen.minY, seen.maxY - hoop->heightMm / 2});
        if (over <= 0.001) continue;
        worst = std::max(worst, over);
        for (const std::string& id : h.pieces)
            if (const Piece* p = session.job().piece(id))
                if (const QString name = QString::fromStdString(p->name); !lost.contains(name))
                    lost << name;
    }
    said << QObject::tr("%1 at %2, %3")
                .arg(QString::fromStdString(
                    sentence(hoopingsOf(session.job().hoopings, chosen.clamping))))
                .arg(session.lengthText(at.x), session.lengthText(at.y));
    if (lost.isEmpty()) {
        said << QObject::tr("reaches all that it sews");
    } else {
        allowed = false;
        said << QObject::tr("%1 would stick out by %2")
                    .arg(lost.mid(0, 3).join(", "), session.lengthText(worst));
    }
}

void FrameTool::release(const Pointer&) {
    const auto hooping = std::exchange(held, std::nullopt);
    const auto cut = std::exchange(cutHeld, std::nullopt);
    said.clear();
    if (by == Vec2{}) return host.redraw();
    if (cut) {
        host.apply({"Move a cut", [cut = *cut, d = by](Job job) {
                        if (cut.cut < job.cuts.size() && cut.point < job.cuts[cut.cut].path.size())
                            job.cuts[cut.cut].path[cut.point] =
                                job.cuts[cut.cut].path[cut.point] + d;
                        return job;
                    }});
        return;
    }
    if (!hooping) return;
    const int clamping = session.job().hoopings[static_cast<std::size_t>(*hooping)].clamping;
    host.apply(moveClamping(clamping, by, 0, session.library));
}

void FrameTool::cancel() {
    held.reset();
    cutHeld.reset();
    by = {};
    said.clear();
}

/// A double click on a ring pins the clamping, or lets it go.
bool FrameTool::doubleClick(const Pointer& pointer) {
    if (session.stage() != Stage::divide) return false;
    const auto at = ringAt(pointer.mm);
    if (!at) return false;
    const Hooping& h = session.job().hoopings[static_cast<std::size_t>(*at)];
    host.apply(pinClamping(h.clamping, !h.pinned));
    return true;
}

/// R turns the chosen clamping to the next turn of its frame; arrows move it by 1 mm.
bool FrameTool::key(const QKeyEvent& event) {
    if (session.stage() != Stage::divide || session.hooping() < 0) return false;
    const Hooping& h = session.job().hoopings[static_cast<std::size_t>(session.hooping())];
    const double step = event.modifiers() & Qt::ShiftModifier ? 10 : 1;
    Vec2 d;
    switch (event.key()) {
    case Qt::Key_Left:
        d.x = -step;
        break;
    case Qt::Key_Right:
        d.x = step;
        break;
    case Qt::Key_Up:
        d.y = -step;
        break;
    case Qt::Key_Down:
        d.y = step;
        break;
    case Qt::Key_R: {
        const auto hoop = session.library.hoop(h.hoop);
        if (!hoop || hoop->turns.size() < 2) return true;
        std::size_t next = 0;
        for (std::size_t i = 0; i < hoop->turns.size(); ++i)
            if (std::abs(std::remainder(hoop->turns[i] - h.frame.rotationDeg, 360)) < 1e-6)
                next = (i + 1) % hoop->turns.size();
        host.apply(
            moveClamping(h.clamping, {}, hoop->turns[next] - h.frame.rotationDeg, session.library));
        return true;
    }
    default:
        return false;
    }
    host.apply(moveClamping(h.clamping, d, 0, session.library), "nudge frame");
    return true;
}

void FrameTool::hover(const Pointer& pointer) {
    if (session.stage() != Stage::divide) return;
    host.setCursorShape(cutPointAt(pointer.px) ? std::optional(Qt::SizeAllCursor)
                        : ringAt(pointer.mm)   ? std::optional(Qt::OpenHandCursor)
                                               : std::nullopt);
}

void FrameTool::paint(QPainter& painter) {
    if (session.stage() != Stage::divide) return;
    const Job& job = session.job();
    for (std::size_t c = 0; c < job.cuts.size(); ++c) {
        QPolygonF line;
        for (std::size_t i = 0; i < job.cuts[c].path.size(); ++i) {
            const bool moves = cutHeld && cutHeld->cut == c && cutHeld->point == i;
            line << host.map().toPixels(job.cuts[c].path[i] + (moves ? by : Vec2{}));
        }
        paintHalo(painter, line, theme().stop, 2, Qt::DashLine);
        for (const std::size_t i : gripsOf(job.cuts[c]))
            paintRoundGrip(painter, line[static_cast<qsizetype>(i)], 4, theme().stop);
    }
    if (!held || by == Vec2{}) return;
    for (const Hooping& h : job.hoopings)
        if (h.clamping == job.hoopings[static_cast<std::size_t>(*held)].clamping)
            if (const auto hoop = session.library.hoop(h.hoop))
                paintFieldOutline(painter, host.map(), moved(h), *hoop,
                                  allowed ? theme().tide : theme().stop);
}

} // namespace rapt::app
