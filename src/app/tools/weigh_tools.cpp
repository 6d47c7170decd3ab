#include "app/tools/weigh_tools.h"

#include "app/canvas/paint_kit.h"
#include "app/layers/stitch_layer.h"
#include "app/theme/theme.h"
#include "load/probe.h"

namespace rapt::app {
namespace {

constexpr double partingGripPx = 7;
constexpr int mostLines = 6;

} // namespace

void ProbeTool::paint(QPainter& painter) {
    const auto tr = [](const char* text) { return QObject::tr(text); };
    const Derived* derived = session.checked();
    const auto fabric = session.library.fabric(session.job().brief.fabric);
    if (!at || session.stage() != Stage::weigh || !derived || !fabric) return;
    const Cell cell = cellAt(at->mm);
    const bool before = session.weighing.parting() && derived->before &&
                        at->px.x() < partingPx(session, host.visible());
    const LoadMap* live = liveMap();
    const LoadMap& shown = before ? derived->before->load : live ? *live : derived->load();
    const StitchedJob& stitched = before ? derived->before->stitched : derived->stitched();
    const double layers = shown.layers(cell);
    const double hits = shown.hits(cell);
    if (layers <= 0 && hits <= 0) return;
    const LoadLimits limits = limitsOf(*fabric, session.job().cloth);
    const bool byLayers = session.weighing.kind() == LoadKind::layers;
    const double limit =
        (byLayers ? limits.maxLayers : limits.maxHits) * limits.factorAt(cell.centre());
    const double value = byLayers ? layers : hits;
    QStringList lines{byLayers ? tr("%1 layers").arg(value, 0, 'f', 1)
                               : tr("%1 hits per mm²").arg(value, 0, 'f', 1)};
    lines << tr("%1 takes %2").arg(QString::fromStdString(fabric->name)).arg(limit, 0, 'f', 1);
    // While the stitch-out is played the pieces are only partly there.
    const auto parts =
        session.playback.head() ? std::vector<Contribution>{} : contributionsAt(stitched, at->mm);
    for (const Contribution& c : parts) {
        const Piece* p = session.job().piece(c.piece);
        if (p && lines.size() < mostLines)
            lines << tr("%1: %2").arg(QString::fromStdString(p->name)).arg(c.layers, 0, 'f', 1);
    }
    const ViewMap& view = host.map();
    const double half = windowMm / 2 * view.scale;
    const QPointF centre = view.toPixels(cell.centre());
    painter.setPen(QPen(theme().ink, 1));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(QRectF(centre.x() - half, centre.y() - half, 2 * half, 2 * half));
    paintNote(painter, at->px + QPointF(18, 18), lines, host.visible(),
              value > limit ? theme().stop : theme().ink);
}

bool PartingTool::press(const Pointer& pointer) {
    const auto derived = session.derived();
    if (session.stage() != Stage::weigh || !session.weighing.parting() || !derived ||
        !derived->before)
        return false;
    if (std::abs(pointer.px.x() - partingPx(session, host.visible())) > partingGripPx) return false;
    before = session.weighing.parting();
    host.setCursorShape(Qt::SplitHCursor);
    return true;
}

void PartingTool::drag(const Pointer& pointer) {
    const QRectF inside = host.visible();
    session.weighing.setParting(
        std::clamp((pointer.px.x() - inside.left()) / inside.width(), 0.02, 0.98));
}

} // namespace rapt::app
