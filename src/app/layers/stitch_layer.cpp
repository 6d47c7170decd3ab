#include "app/layers/stitch_layer.h"
#include "app/stitchout/sewing_state.h"

#include "app/canvas/paint_kit.h"
#include "app/layers/cloth_ground.h"
#include "app/layers/load_overlay.h"
#include "app/layers/register_overlay.h"
#include "app/theme/theme.h"
#include "registration/correction.h"

namespace rapt::app {
namespace {

/// What later hoopings sew, while stepping through.
constexpr double later = 0.28;

} // namespace

double partingPx(const Session& session, const QRect& visible) {
    return visible.left() + session.weighing.parting().value_or(0.5) * visible.width();
}

StitchLayer::StitchLayer(Session& s) : session(s) {
    connect(&session.derivation, &Derivation::ready, this, [this](Phase phase) {
        if (phase == Phase::stitches) takeStitches();
    });
    connect(&session.playback, &PlaybackState::changed, this, [this] {
        tiles.setEnd(session.playback.head().value_or(SIZE_MAX));
        emit changed();
    });
    connect(&tiles, &StitchTiles::tileReady, this, &Layer::changed);
    connect(&sewnTiles, &StitchTiles::tileReady, this, &Layer::changed);
    connect(&runTiles, &StitchTiles::tileReady, this, &Layer::changed);
    connect(&session.sewing, &SewingState::changed, this, &Layer::changed);
    connect(&session.sewing, &SewingState::advanced, this, &Layer::changed);
}

void StitchLayer::takeStitches() {
    const auto derived = session.derived();
    if (!derived || derived->sewn == shown) return;
    shown = derived->sewn;
    // The list lives as long as the derived value that it is a part of.
    if (shown) tiles.setStitches({shown, &shown->list});
    emit changed();
}

void StitchLayer::paint(QPainter& painter, const Canvas& canvas) {
    const bool stepping =
        session.stage() == Stage::divide && session.dividing.isStepping() && session.hooping() >= 0;
    const MachineRun* run = shownRun();
    if (session.stage() == Stage::registration && session.scan())
        painter.setOpacity(stitchesShown(session.registering.fade()));
    if (stepping || run) painter.setOpacity(later);
    tiles.paint(painter, canvas.map, canvas.visible, canvas.pixelRatio);
    painter.setOpacity(1);
    if (stepping || run) {
        takeSewn(static_cast<std::size_t>(run ? run->record().hooping - 1 : session.hooping() + 1));
        sewnTiles.paint(painter, canvas.map, canvas.visible, canvas.pixelRatio);
    }
    if (run) paintRun(painter, canvas, *run);
    paintDatumLines(painter, canvas.map, canvas.visible);
}

/// What the first hoopings sew, on the cloth.
void StitchLayer::takeSewn(std::size_t hoopings) {
    const auto derived = session.derived();
    if (!derived || !derived->planned) return;
    if (sewnOf == derived->planned && sewnUpTo == hoopings) return;
    sewnOf = derived->planned;
    sewnUpTo = hoopings;
    const auto n = std::min(hoopings, sewnOf->lists.size());
    sewnTiles.setStitches(
        std::make_shared<const StitchList>(sewnOnCloth(session.job().hoopings, sewnOf->lists, n)));
}

/// A run of the open job that has begun.
const MachineRun* StitchLayer::shownRun() const {
    if (session.stage() != Stage::stitchOut) return nullptr;
    for (const MachineRun* run : session.sewing.machines())
        if (run->task() && (run->record().sewn > 0 || run->pointer()) &&
            run->record().jobId == session.job().identity.text)
            return run;
    return nullptr;
}

void StitchLayer::takeRun(const MachineRun& run) {
    if (runOf != run.task()->list) {
        runOf = run.task()->list;
        runTiles.setStitches(
            std::make_shared<const StitchList>(moved(*runOf, run.task()->toCloth)));
    }
    runTiles.setEnd(run.task()->points->record(run.record().sewn - 1) + 1);
}

namespace {

/// The machine's needle or its pointer.
void paintCross(QPainter& painter, QPointF at) {
    painter.setBrush(Qt::NoBrush);
    for (const QPen& pen : {QPen(theme().panel, 5), QPen(theme().kite, 2)}) {
        painter.setPen(pen);
        painter.drawEllipse(at, 9, 9);
        painter.drawLine(at - QPointF(16, 0), at - QPointF(9, 0));
        painter.drawLine(at + QPointF(9, 0), at + QPointF(16, 0));
        painter.drawLine(at - QPointF(0, 16), at - QPointF(0, 9));
        painter.drawLine(at + QPointF(0, 9), at + QPointF(0, 16));
    }
}

} // namespace

/// What is sewn as thread, and where the needle is.
void StitchLayer::paintRun(QPainter& painter, const Canvas& canvas, const MachineRun& run) {
    if (run.needle()) {
        takeRun(run);
        runTiles.paint(painter, canvas.map, canvas.visible, canvas.pixelRatio);
    }
    const auto at = run.pointer() ? run.pointer() : run.needle();
    if (at && (run.pointer() || !run.record().finished))
        paintCross(painter, canvas.map.toPixels(run.task()->toCloth(*at)));
}

ComparisonLayer::ComparisonLayer(Session& s) : session(s) {
    connect(&session.derivation, &Derivation::ready, this, [this](Phase phase) {
        if (phase == Phase::comparison) takeBefore();
    });
    connect(&session.weighing, &WeighState::partingChanged, this, &ComparisonLayer::takeBefore);
    connect(&session, &Session::viewChanged, this, &ComparisonLayer::takeBefore);
    connect(&tiles, &StitchTiles::tileReady, this, &Layer::changed);
}

bool ComparisonLayer::isShown() const {
    const auto derived = session.derived();
    return session.stage() == Stage::weigh && session.weighing.parting() && derived &&
           derived->before;
}

void ComparisonLayer::takeBefore() {
    overlay.reset();
    const auto derived = session.derived();
    const auto fabric = session.library.fabric(session.job().brief.fabric);
    if (session.weighing.parting() && derived && derived->before) {
        tiles.setStitches({derived->before, &derived->before->stitched.list});
        if (fabric) {
            auto drawn = std::make_shared<LoadOverlay>();
            drawn->set(derived->before->load, session.weighing.kind(),
                       limitsOf(*fabric, session.job().cloth));
            overlay = std::move(drawn);
        }
    }
    emit changed();
}

void ComparisonLayer::paint(QPainter& painter, const Canvas& canvas) {
    const auto derived = session.derived();
    const QRect& inside = canvas.visible;
    const double x = partingPx(session, inside);
    const QRect left(inside.left(), inside.top(), static_cast<int>(x) - inside.left(),
                     inside.height());
    painter.save();
    painter.setClipRect(left);
    paintCloth(painter, canvas.map, session.job().cloth, left);
    paintZones(painter, canvas.map, session.job().cloth);
    tiles.paint(painter, canvas.map, left, canvas.pixelRatio);
    paintDatumLines(painter, canvas.map, left);
    if (overlay) overlay->paint(painter, canvas.map);
    painter.restore();
    paintHalo(painter, QPolygonF({{x, double(inside.top())}, {x, double(inside.bottom())}}),
              theme().kite, 2);
    paintRoundGrip(painter, QPointF(x, inside.center().y()), 7, theme().kite);
    const QString before =
        tr("before: %1 layers").arg(derived->before->load.summary().peakLayers, 0, 'f', 1);
    const double wide = QFontMetricsF(faceOf(12, true)).horizontalAdvance(before);
    paintLabel(painter, QPointF(x - 18 - wide, inside.top() + 12), before, theme().panel,
               theme().ink);
    if (derived->isWhole())
        paintLabel(painter, QPointF(x + 18, inside.top() + 12),
                   tr("as it is: %1").arg(derived->load().summary().peakLayers, 0, 'f', 1),
                   theme().panel, theme().ink);
}

} // namespace rapt::app
