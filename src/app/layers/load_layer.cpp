#include "app/layers/load_layer.h"

#include <QtConcurrent>

namespace rapt::app {
namespace {

constexpr double roomMm = 10; ///< round everything that is sewn

} // namespace

LoadLayer::LoadLayer(Session& s) : session(s) {
    connect(&session.derivation, &Derivation::ready, this, [this](Phase phase) {
        if (phase == Phase::weight) takeLoad();
    });
    connect(&session, &Session::viewChanged, this, &LoadLayer::takeLoad);
    connect(&session, &Session::stageChanged, this, &LoadLayer::draw);
    connect(&session.playback, &PlaybackState::changed, this, &LoadLayer::followPlayhead);
    connect(&drawing, &QFutureWatcherBase::finished, this, [this] {
        overlay = drawing.result();
        draw(); // it may be stale already
        emit changed();
    });
}

void LoadLayer::takeLoad() {
    live.reset();
    stale = true;
    followPlayhead();
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

/// Room for the whole cloth and for everything that lies beside it.
void LoadLayer::beginLive() {
    live.reset();
    const Derived* derived = session.checked();
    const auto fabric = session.library.fabric(session.job().brief.fabric);
    if (!derived || !fabric) return;
    Box area = session.job().cloth.box();
    for (const PieceSpan& span : derived->stitched().spans) area.add(span.extents);
    live = std::make_unique<Live>(area.grown(roomMm));
    live->of = derived->sewn;
    live->overlay.begin(area.grown(roomMm), session.weighing.kind(),
                        limitsOf(*fabric, session.job().cloth));
}

/// Only the tiles that are left and come to are new.
void LoadLayer::follow(const std::optional<Affine>& change) {
    if (!isShown()) return;
    if (!change) {
        live.reset();
        return followPlayhead();
    }
    if (!live) {
        beginLive();
        if (!live) return;
        const StitchList& list = live->of->list;
        live->load.add(list, 0, list.stitches.size());
    }
    const Affine held = session.copyMapOfSelection();
    const Affine now = held.then(*change).then(held.inverse());
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

/// Load up to the playhead. Forward only what is new is added.
void LoadLayer::followPlayhead() {
    const auto place = session.playback.head();
    const Derived* derived = session.checked();
    if (!place) {
        live.reset();
    } else if (derived) {
        if (!live || live->done > *place || live->of != derived->sewn) beginLive();
        if (!live) return;
        const StitchList& list = live->of->list;
        const Playhead end = std::min(*place, list.stitches.size());
        live->load.add(list, live->done, end);
        live->done = end;
        const LoadMap& map = live->load.map();
        live->overlay.renew(map, live->load.changedTiles());
    }
    emit changed();
}

void LoadLayer::paint(QPainter& painter, const Canvas& canvas) {
    if (live)
        live->overlay.paint(painter, canvas.map);
    else if (overlay)
        overlay->paint(painter, canvas.map);
}

} // namespace rapt::app
