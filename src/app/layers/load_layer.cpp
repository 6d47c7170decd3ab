#include "app/layers/load_layer.h"

#include <QtConcurrent>

namespace rapt::app {
namespace {

constexpr double roomMm = 10; ///< round everything that is sewn
/// So many records are added while a person waits; more of them in the background.
constexpr Playhead quickRecords = 5'000;

} // namespace

LoadLayer::LoadLayer(Session& s) : session(s) {
    connect(&session.derivation, &Derivation::ready, this, [this](Phase phase) {
        if (phase == Phase::weight) takeLoad();
    });
    connect(&session, &Session::viewChanged, this, &LoadLayer::takeLoad);
    connect(&session, &Session::stageChanged, this, &LoadLayer::draw);
    connect(&session.playback, &PlaybackState::changed, this, &LoadLayer::keepUp);
    connect(&building, &QFutureWatcherBase::finished, this, [this] {
        live = building.result();
        keepUp(); // others may be wanted meanwhile
    });
    connect(&drawing, &QFutureWatcherBase::finished, this, [this] {
        overlay = drawing.result();
        draw(); // it may be stale already
        emit changed();
    });
}

void LoadLayer::takeLoad() {
    live.reset();
    stale = true;
    ++version;
    dragged.reset(); // what was let go lies where it was dragged to
    live.reset();
    keepUp();
    draw();
    emit changed();
}

/// In the background, and only while the map is shown: large maps take a while to draw.
void LoadLayer::draw() {
    const auto derived = session.derived();
    const auto fabric = session.library.fabric(session.job().brief.fabric);
    if (!stale || !isShown() || drawing.isRunning()) return;
    if (!derived || !derived->weighed || !fabric) return;
    stale = false;
    drawing.setFuture(QtConcurrent::run([weighed = derived->weighed, kind = session.weighing.kind(),
                                         limits = limitsOf(*fabric, session.job().cloth)] {
        auto drawn = std::make_shared<LoadOverlay>();
        drawn->set(weighed->load, kind, limits);
        return std::shared_ptr<const LoadOverlay>(std::move(drawn));
    }));
}

void LoadLayer::Live::addUpTo(Playhead end) {
    load.add(of->list, done, end);
    done = end;
    const LoadMap& map = load.map();
    overlay.renew(map, load.changedTiles());
}

/// In the background, with room for the whole cloth and for everything that lies beside it; what is
/// shown stays until it is there.
void LoadLayer::build(const Derived& derived, Playhead end) {
    const auto fabric = session.library.fabric(session.job().brief.fabric);
    if (!fabric || building.isRunning()) return;
    Box area = session.job().cloth.box();
    for (const PieceSpan& span : derived.stitched().spans) area.add(span.extents);
    building.setFuture(QtConcurrent::run([of = derived.sewn, end, version = version,
                                          area = area.grown(roomMm), kind = session.weighing.kind(),
                                          limits = limitsOf(*fabric, session.job().cloth)] {
        auto made = std::make_shared<Live>(area);
        made->of = of;
        made->version = version;
        made->overlay.begin(area, kind, limits);
        made->addUpTo(end);
        return made;
    }));
}

void LoadLayer::follow(const std::optional<Affine>& change) {
    // A drag may end because the stage changed: it is forgotten all the same.
    dragged = isShown() ? change : std::nullopt;
    if (!dragged) live.reset();
    if (isShown()) keepUp();
}

/// The live map shows what is dragged, or what is sewn up to the playhead. Forward only what is new
/// is added.
void LoadLayer::keepUp() {
    const Derived* derived = session.checked();
    const auto head = session.playback.head();
    if (!dragged && !head) live.reset();
    if (derived && (dragged || head)) {
        const Playhead all = derived->sewn->list.stitches.size();
        const Playhead end = dragged ? all : std::min(*head, all);
        if (!live || live->version != version || live->of != derived->sewn || live->done > end ||
            end - live->done > quickRecords)
            return build(*derived, end);
        if (dragged)
            move(*dragged);
        else
            live->addUpTo(end);
    }
    emit changed();
}

/// Only the tiles that are left and come to are new.
void LoadLayer::move(const Affine& change) {
    const Affine held = session.copyMapOfSelection();
    const Affine now = held.then(change).then(held.inverse());
    for (const PieceSpan& span : live->of->spans)
        if (session.selection.contains(span.source)) {
            const Affine toFirst = span.fromFirst.inverse();
            live->load.move(live->of->list, span.first, span.last,
                            toFirst.then(live->change).then(span.fromFirst),
                            toFirst.then(now).then(span.fromFirst));
        }
    live->change = now;
    const LoadMap& map = live->load.map();
    live->overlay.renew(map, live->load.changedTiles());
}

void LoadLayer::paint(QPainter& painter, const Canvas& canvas) {
    if (live)
        live->overlay.paint(painter, canvas.map);
    else if (overlay)
        overlay->paint(painter, canvas.map);
}

} // namespace rapt::app
