#include "app/cloth/cloth_view.h"

#include "app/cloth/cloth_ground.h"
#include "geometry/polygon.h"
#include "thread/measures.h"

#include <QtConcurrent>

namespace rapt::app {
namespace {

constexpr double leastScale = 0.05, mostScale = 120; // pixels per mm
constexpr double marginPx = 28;
constexpr double placeScale = 6;

} // namespace

ClothView::ClothView(Session& s, QWidget* parent) : QWidget(parent), session(s) {
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Cloth"));
    setAttribute(Qt::WA_OpaquePaintEvent);
    setAcceptDrops(true);
    connect(&session.document, &Document::changed, this, &ClothView::refresh);
    connect(&session.derivation, &Derivation::ready, this, &ClothView::takeDerived);
    connect(&session, &Session::selectionChanged, this, &ClothView::refresh);
    connect(&session, &Session::stageChanged, this, [this] {
        drawLoad();
        fitted ? zoomToFit() : update();
    });
    connect(&loadWatcher, &QFutureWatcherBase::finished, this, [this] {
        load = loadWatcher.result();
        drawLoad(); // it may be stale already
        update();
    });
    connect(&session, &Session::hoopingChanged, this, qOverload<>(&QWidget::update));
    connect(&session, &Session::letterCursorChanged, this, [this] { update(); });
    connect(&session, &Session::toolChanged, this, [this] {
        drawn.clear();
        heldNode.reset();
        setCursor(session.tool() == Tool::select ? Qt::ArrowCursor : Qt::CrossCursor);
        update();
    });
    connect(&session, &Session::viewChanged, this, &ClothView::takeDerived);
    connect(&session, &Session::placeAsked, this, &ClothView::showPlace);
    connect(&tiles, &StitchTiles::tileReady, this, qOverload<>(&QWidget::update));
    connect(&beforeTiles, &StitchTiles::tileReady, this, qOverload<>(&QWidget::update));
    connect(&session, &Session::playheadChanged, this, &ClothView::followPlayhead);
    connect(&session, &Session::partingChanged, this, [this] {
        takeDerived();
        update();
    });
}

QRect ClothView::clothRect() const { return rect().adjusted(rulerPx, rulerPx, 0, 0); }

void ClothView::setOrigin(QPointF origin) {
    // Whole pixels, so that tiles and overlays lie exactly on each other.
    view.origin = {std::round(origin.x()), std::round(origin.y())};
    emit zoomed();
    update();
}

void ClothView::zoomToFit() {
    Box box = session.job().cloth.box();
    const Stage stage = session.stage();
    if (stage == Stage::divide || stage == Stage::registration || stage == Stage::stitchOut)
        for (const Hooping& h : session.job().hoopings)
            if (const auto hoop = session.library.hoop(h.hoop))
                box.add(
                    Box::centredAt({h.pose.x, h.pose.y}, hoop->outerWidthMm, hoop->outerHeightMm));
    const QRectF r = QRectF(clothRect()).adjusted(marginPx, marginPx, -marginPx, -marginPx);
    if (r.width() < 10 || r.height() < 10) return;
    view.scale = std::clamp(std::min(r.width() / box.width(), r.height() / box.height()),
                            leastScale, mostScale);
    const Vec2 c = box.centre();
    setOrigin(r.center() - QPointF(c.x, c.y) * view.scale);
    fitted = true;
}

void ClothView::zoomBy(double factor, QPointF about) {
    const Vec2 fixed = view.toMm(about);
    view.scale = std::clamp(view.scale * factor, leastScale, mostScale);
    setOrigin(about - QPointF(fixed.x, fixed.y) * view.scale);
    fitted = false;
}

void ClothView::showPlace(Vec2 at) {
    view.scale = std::max(view.scale, placeScale);
    setOrigin(QRectF(clothRect()).center() - QPointF(at.x, at.y) * view.scale);
    fitted = false;
}

void ClothView::resizeEvent(QResizeEvent*) {
    if (fitted || view.origin.isNull()) zoomToFit();
}

void ClothView::refresh() {
    updateFrame();
    update();
}

void ClothView::takeDerived() {
    const auto derived = session.derived();
    if (!derived || !derived->checked) {
        load.reset();
        update();
        return;
    }
    // The list lives as long as the derived value that it is a part of.
    tiles.setStitches({derived->checked, &derived->checked->stitched.list});
    endLive();
    beforeLoad.reset();
    if (session.parting() && derived->before) {
        beforeTiles.setStitches({derived->before, &derived->before->stitched.list});
        if (const auto fabric = session.library.fabric(session.job().brief.fabric)) {
            auto overlay = std::make_shared<LoadOverlay>();
            overlay->set(derived->before->load, session.loadKind(),
                         limitsOf(*fabric, session.job().cloth));
            beforeLoad = std::move(overlay);
        }
    }
    followPlayhead();
    loadStale = true;
    drawLoad();
    update();
}

/// In the background, and only while the map is shown: large maps take a while to draw.
void ClothView::drawLoad() {
    const auto derived = session.derived();
    const auto fabric = session.library.fabric(session.job().brief.fabric);
    if (!loadStale || session.stage() != Stage::weigh || loadWatcher.isRunning()) return;
    if (!derived || !derived->checked || !fabric) return;
    loadStale = false;
    loadWatcher.setFuture(QtConcurrent::run([checked = derived->checked, kind = session.loadKind(),
                                             limits = limitsOf(*fabric, session.job().cloth)] {
        auto overlay = std::make_shared<LoadOverlay>();
        overlay->set(checked->load, kind, limits);
        return std::shared_ptr<const LoadOverlay>(std::move(overlay));
    }));
}

void ClothView::updateFrame() {
    frameBox.reset();
    if (session.selection().size() != 1) return;
    if (const Piece* p = session.job().piece(session.selection()[0])) frameBox = unscaledBox(*p);
}

const PieceSpan* ClothView::spanAt(QPointF px) const {
    const CheckedJob* checked = session.checked();
    if (!checked) return nullptr;
    const Vec2 at = view.toMm(px);
    const double reach = std::max(0.6, 5 / view.scale);
    const StitchedJob& job = checked->stitched;
    for (auto span = job.spans.rbegin(); span != job.spans.rend(); ++span) {
        if (!span->extents.grown(reach).contains(at)) continue;
        const Stitch* needle = nullptr;
        for (std::size_t i = span->first; i < span->last; ++i) {
            const Stitch& s = job.list.stitches[i];
            if (s.op == Op::stitch && needle &&
                distanceToSegment(at, needle->at(), s.at()) <= reach)
                return &*span;
            if (s.op == Op::stitch || s.op == Op::jump) needle = &s;
        }
    }
    return nullptr;
}

} // namespace rapt::app
