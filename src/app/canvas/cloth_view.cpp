#include "app/canvas/cloth_view.h"

#include "app/layers/cloth_ground.h"
#include "app/layers/ground_layers.h"
#include "app/layers/load_layer.h"
#include "app/layers/plan_layers.h"
#include "app/layers/stitch_layer.h"
#include "app/shelf/shelf_model.h"
#include "app/theme/theme.h"
#include "app/tools/choose_tool.h"
#include "app/tools/draw_tool.h"
#include "app/tools/frame_tool.h"
#include "app/tools/letter_tool.h"
#include "app/tools/points_tool.h"
#include "app/tools/register_tools.h"
#include "app/tools/weigh_tools.h"
#include "place/hit.h"

#include <QDropEvent>
#include <QMimeData>

namespace rapt::app {
namespace {

/// How near to a thread a click must come: 5 pixels, but never under 0.6 mm.
constexpr double hitPx = 5, hitMm = 0.6;

} // namespace

ClothView::ClothView(Session& s, QWidget* parent) : Canvas(parent), session(s) {
    setAccessibleName(tr("Cloth"));
    setAcceptDrops(true);
    setEdges(rulerPx, rulerPx);
    addLayers();
    ToolHost& host = *this;
    chooseTool = std::make_unique<ChooseTool>(host, session);
    chooseTool->followedPeak = [this]() -> std::optional<double> {
        const LoadMap* map = session.stage() == Stage::weigh ? liveMap() : nullptr;
        return map ? std::optional(map->summary().peakLayers) : std::nullopt;
    };
    drawTool = std::make_unique<DrawTool>(host, session);
    pathTool = std::make_unique<PathTool>(host, session);
    pointsTool = std::make_unique<PointsTool>(host, session);
    letterTool = std::make_unique<LetterTool>(host, session);
    partingTool = std::make_unique<PartingTool>(host, session);
    probeTool = std::make_unique<ProbeTool>(host, session, [this] { return liveMap(); });
    frameTool = std::make_unique<FrameTool>(host, session);
    freehandTool = std::make_unique<FreehandTool>(host, session);
    regionTool = std::make_unique<RegionTool>(host, session);
    needleTool = std::make_unique<NeedleTool>(host, session);
    inHand = chooseTool.get();
    listen();
}

ClothView::~ClothView() = default;

/// In the order in which they are painted.
void ClothView::addLayers() {
    addLayer(new GroundLayer(session));
    addLayer(new ScanLayer(session));
    addLayer(new ArtworkLayer(session));
    addLayer(new StitchLayer(session));
    addLayer(load = new LoadLayer(session));
    addLayer(new ComparisonLayer(session));
    addLayer(new HoopingsLayer(session));
    addLayer(new SeenPointsLayer(session));
    addLayer(new FieldLayer(session));
    addLayer(new ColumnsLayer(session));
    addLayer(new NeedleLayer(session));
}

void ClothView::listen() {
    const auto redraw = qOverload<>(&QWidget::update);
    // What a gesture began with is no longer there: undo, a remedy, another stage.
    connect(&session.document, &Document::changed, this, [this] {
        cancelGesture();
        update();
    });
    connect(&session, &Session::stageChanged, this, [this] {
        cancelGesture();
        takeTool();
        fits() ? zoomToFit() : update();
    });
    connect(&session, &Session::toolChanged, this, [this] {
        cancelGesture();
        takeTool();
        update();
    });
    connect(&session.dividing, &DivideState::viewChanged, this, redraw);
    connect(&session.registering, &RegisterState::changed, this, redraw);
    connect(&session.selection, &Selection::changed, this, redraw);
    connect(&session.letters, &LetterState::cursorChanged, this, redraw);
    connect(&session, &Session::chosenReady, this, redraw);
    connect(&session, &Session::viewChanged, this, redraw);
    connect(&session.weighing, &WeighState::partingChanged, this, redraw);
    connect(&session.derivation, &Derivation::ready, this, redraw);
    connect(&session, &Session::placeAsked, this, &ClothView::showPlace);
}

void ClothView::takeTool() {
    Tool* now = &tool();
    if (now == inHand) return;
    inHand->putDown();
    inHand = now;
    setCursorShape({});
}

Box ClothView::boxToFit() const {
    Box box = session.job().cloth.box();
    const Stage stage = session.stage();
    if (stage == Stage::divide || stage == Stage::registration || stage == Stage::stitchOut)
        for (const Hooping& h : session.job().hoopings)
            if (const auto hoop = session.library.hoop(h.hoop))
                for (const Vec2& corner : hoop->outer().corners())
                    box.add(h.frame.affine()(corner));
    return box;
}

Tool& ClothView::tool() const {
    if (session.stage() == Stage::divide) return *frameTool;
    switch (session.tool()) {
    case ToolKind::select:
        return *chooseTool;
    case ToolKind::drawRun:
    case ToolKind::drawSatin:
    case ToolKind::drawFill:
        return *drawTool;
    case ToolKind::editPoints:
        return *pointsTool;
    case ToolKind::letter:
        return *letterTool;
    case ToolKind::drawPath:
        return *pathTool;
    case ToolKind::freehand:
        return *freehandTool;
    case ToolKind::region:
        return *regionTool;
    case ToolKind::needle:
        return *needleTool;
    }
    return *chooseTool;
}

std::vector<Tool*> ClothView::toolsBefore() const { return {partingTool.get(), probeTool.get()}; }

const std::vector<Vec2>& ClothView::drawnPoints() const {
    return session.tool() == ToolKind::drawPath ? pathTool->points() : drawTool->points();
}

const LoadMap* ClothView::liveMap() const { return load->liveMap(); }

const PieceSpan* ClothView::spanAt(QPointF px) const {
    const auto derived = session.derived();
    if (!derived || !derived->sewn) return nullptr;
    return rapt::spanAt(*derived->sewn, map().toMm(px), std::max(hitMm, hitPx / map().scale));
}

std::optional<Hit> ClothView::hitAt(QPointF px) const {
    const PieceSpan* span = spanAt(px);
    return span ? std::optional(Hit{span->source, span->copy}) : std::nullopt;
}

void ClothView::apply(const Edit& edit, const QString& mergeKey) {
    session.document.apply(edit, mergeKey);
}

void ClothView::follow(const std::optional<Affine>& change) { load->follow(change); }

QColor ClothView::surround() const {
    return theme().dark ? theme().paper.darker(110) : theme().paper.darker(108);
}

void ClothView::paintEdges(QPainter& painter, QPointF pointer) {
    paintRulers(painter, map(), size(), session.unit(), pointer);
}

void ClothView::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasFormat(shelfMimeType)) event->acceptProposedAction();
}

void ClothView::dropEvent(QDropEvent* event) {
    event->acceptProposedAction();
    emit designDropped(QString::fromUtf8(event->mimeData()->data(shelfMimeType)),
                       map().toMm(event->position()));
}

} // namespace rapt::app
