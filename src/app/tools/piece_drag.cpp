#include "app/tools/piece_drag.h"

#include "app/raster/thread_raster.h"
#include "app/theme/theme.h"
#include "job/span_list.h"

namespace rapt::app {
namespace {

constexpr double catchPx = 7;
constexpr double farthestGapMm = 200;
// Of hundreds of copies nobody sees the smoothing, and everybody the waiting.
constexpr std::size_t mostSmoothed = 24;
constexpr double largestGhostPx = 2000;

} // namespace

PieceDrag::PieceDrag(const Session& s, const ToolHost& h) : session(s), host(h) {
    const auto derived = session.derived();
    if (!derived || !derived->sewn) return;
    over = derived->sewn;
    makeGhost();
    clearance = std::make_unique<const Clearance>(*over, session.selection.ids());
    std::vector<std::pair<std::string, Box>> others;
    for (const PieceSpan& span : over->spans)
        if (!session.selection.contains(span.source) && !span.outline)
            if (const Piece* p = session.job().piece(span.source))
                others.emplace_back(p->name, span.extents);
    const auto field = session.field();
    lines = snapLines(session.job().cloth.box(),
                      field ? std::optional<Box>(field->box()) : std::nullopt, others);
}

/// A picture of the first copies of what is dragged, from what is sewn already.
void PieceDrag::makeGhost() {
    StitchList list;
    list.threads = over->list.threads;
    for (const PieceSpan& span : over->spans) {
        if (span.outline || !session.selection.contains(span.source)) continue;
        if (span.source == session.selection.ids()[0]) places.push_back(span.fromFirst);
        if (span.copy != 1) continue;
        const StitchList own = listOf(*over, span);
        list.stitches.insert(list.stitches.end(), own.stitches.begin(), own.stitches.end());
        ghostArea.add(span.extents);
    }
    if (ghostArea.empty()) return;
    ghostArea = ghostArea.grown(1);
    const double side = std::max(ghostArea.width(), ghostArea.height());
    const double scale = std::min(host.map().scale * host.pixelRatio(), largestGhostPx / side);
    ghost = drawThread(StitchIndex(list), ghostArea, scale);
}

void PieceDrag::measure(const Affine& change) {
    gap.reset();
    fieldGap.reset();
    if (!clearance) return;
    gap = clearance->nearest(change, farthestGapMm);
    if (const auto field = session.field())
        fieldGap = clearance->insideField(change, field->hoop, field->pose);
}

Vec2 PieceDrag::catchLines(const Box& moved, bool keepX, bool keepY) {
    caught = snapTo(lines, moved, catchPx / host.map().scale);
    if (keepX) caught.by.x = 0, caught.upright = nullptr;
    if (keepY) caught.by.y = 0, caught.level = nullptr;
    return caught.by;
}

void PieceDrag::paint(QPainter& painter, const Affine& change) const {
    if (ghost.isNull()) return;
    painter.save();
    painter.setOpacity(0.85);
    painter.setRenderHint(QPainter::SmoothPixmapTransform, places.size() <= mostSmoothed);
    const Affine held = session.copyMapOfSelection();
    const Affine original = held.then(change).then(held.inverse());
    const QRectF area(ghostArea.minX, ghostArea.minY, ghostArea.width(), ghostArea.height());
    const ViewMap& view = host.map();
    const std::vector<Affine> here{Affine{}};
    for (const Affine& place : places.empty() ? here : places) {
        const Affine all = original.then(place);
        painter.setTransform(QTransform(all.a, all.c, all.b, all.d, all.tx, all.ty) *
                             QTransform::fromScale(view.scale, view.scale) *
                             QTransform::fromTranslate(view.origin.x(), view.origin.y()));
        painter.drawImage(area, ghost);
    }
    painter.restore();
    paintGap(painter);
}

/// The line between the two nearest threads, and the lines that were caught.
void PieceDrag::paintGap(QPainter& painter) const {
    const ViewMap& view = host.map();
    const QRectF all = host.visible();
    painter.setPen(QPen(theme().kite, 1.2, Qt::DashLine));
    if (caught.upright) {
        const double x = view.toPixels(Vec2{caught.upright->at, 0}).x();
        painter.drawLine(QPointF(x, all.top()), QPointF(x, all.bottom()));
    }
    if (caught.level) {
        const double y = view.toPixels(Vec2{0, caught.level->at}).y();
        painter.drawLine(QPointF(all.left(), y), QPointF(all.right(), y));
    }
    if (!gap) return;
    const QPointF a = view.toPixels(gap->from), b = view.toPixels(gap->to);
    for (const QPen& pen : {QPen(theme().panel, 4), QPen(theme().ink, 1.6)}) {
        painter.setPen(pen);
        painter.drawLine(a, b);
    }
    painter.setBrush(theme().ink);
    painter.drawEllipse(a, 2.5, 2.5);
    painter.drawEllipse(b, 2.5, 2.5);
}

QStringList PieceDrag::words() const {
    const auto tr = [](const char* text) { return QObject::tr(text); };
    QStringList words;
    for (const SnapLine* line : {caught.upright, caught.level})
        if (line) words << tr("on %1").arg(QString::fromStdString(line->what));
    if (gap) {
        const Piece* piece = session.job().piece(gap->piece);
        const QString name = piece ? QString::fromStdString(piece->name) : QString();
        words << (gap->mm > 0 ? tr("%1 to %2").arg(session.lengthText(gap->mm), name)
                              : tr("overlaps %1").arg(name));
    }
    if (fieldGap)
        words << (*fieldGap >= 0 ? tr("%1 to the field's edge").arg(session.lengthText(*fieldGap))
                                 : tr("%1 out of the field").arg(session.lengthText(-*fieldGap)));
    return words;
}

} // namespace rapt::app
