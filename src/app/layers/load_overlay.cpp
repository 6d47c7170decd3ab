#include "app/layers/load_overlay.h"

#include "app/theme/theme.h"

namespace rapt::app {
namespace {

/// Below half the limit nothing is coloured: only what matters is shown.
QRgb stepColour(double ratio) {
    static const QRgb light = qPremultiply(qRgba(0xf6, 0xdf, 0x9a, 150));
    static const QRgb near = qPremultiply(qRgba(0xf0, 0xa6, 0x3c, 200));
    static const QRgb over = qPremultiply(qRgba(0xc5, 0x40, 0x2c, 230));
    if (ratio < 0.55) return qRgba(0, 0, 0, 0);
    return ratio < 0.8 ? light : ratio <= 1.0 ? near : over;
}

} // namespace

void LoadOverlay::set(const LoadMap& map, LoadKind k, const LoadLimits& l) {
    Box whole;
    for (const LoadMap::Tile& t : map.tiles()) {
        const double x = t.first.i * cellMm;
        const double y = t.first.j * cellMm;
        whole.add(Box{x, y, x + LoadMap::tileCells * cellMm, y + LoadMap::tileCells * cellMm});
    }
    begin(whole, k, l);
    for (const LoadMap::Tile& t : map.tiles()) drawTile(map, t.first);
}

void LoadOverlay::begin(const Box& whole, LoadKind k, const LoadLimits& l) {
    kind = k;
    limits = l;
    contours.clear();
    image = QImage();
    area = {};
    if (whole.empty()) return;
    const Cell low = cellAt({whole.minX + cellMm / 2, whole.minY + cellMm / 2});
    const Cell high = cellAt({whole.maxX - cellMm / 2, whole.maxY - cellMm / 2});
    firstCell = low;
    area = {low.i * cellMm, low.j * cellMm, (high.i + 1) * cellMm, (high.j + 1) * cellMm};
    image = QImage(high.i + 1 - low.i, high.j + 1 - low.j, QImage::Format_ARGB32_Premultiplied);
    image.fill(Qt::transparent);
}

void LoadOverlay::renew(const LoadMap& map, const std::vector<Cell>& tiles) {
    for (const Cell& first : tiles) drawTile(map, first);
}

void LoadOverlay::drawTile(const LoadMap& map, Cell first) {
    if (image.isNull()) return;
    const double limit = kind == LoadKind::layers ? limits.maxLayers : limits.maxHits;
    const auto ratioAt = [&](int i, int j) {
        const Cell c{i, j};
        const double value = kind == LoadKind::layers ? map.layers(c) : map.hits(c);
        return limits.zones.empty() ? value / limit : value / (limit * limits.factorAt(c.centre()));
    };
    std::vector<QLineF> lines;
    for (int k = 0; k < LoadMap::tileCells * LoadMap::tileCells; ++k) {
        const int i = first.i + k % LoadMap::tileCells;
        const int j = first.j + k / LoadMap::tileCells;
        const int px = i - firstCell.i, py = j - firstCell.j;
        if (px < 0 || py < 0 || px >= image.width() || py >= image.height()) continue;
        const double ratio = ratioAt(i, j);
        reinterpret_cast<QRgb*>(image.scanLine(py))[px] = stepColour(ratio);
        if (ratio <= 1) continue;
        const double x = i * cellMm, y = j * cellMm;
        if (ratioAt(i - 1, j) <= 1) lines.emplace_back(x, y, x, y + cellMm);
        if (ratioAt(i + 1, j) <= 1) lines.emplace_back(x + cellMm, y, x + cellMm, y + cellMm);
        if (ratioAt(i, j - 1) <= 1) lines.emplace_back(x, y, x + cellMm, y);
        if (ratioAt(i, j + 1) <= 1) lines.emplace_back(x, y + cellMm, x + cellMm, y + cellMm);
    }
    contours[{first.i, first.j}] = std::move(lines);
}

void LoadOverlay::paint(QPainter& painter, const ViewMap& view) const {
    if (image.isNull()) return;
    painter.save();
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    painter.drawImage(view.toPixels(area), image);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(Qt::NoPen);
    // Dark, light, dark: readable on every thread colour. The edges of cells are upright or level:
    // filled boxes are drawn far sooner than that many strokes.
    std::vector<QRectF> edges;
    for (const auto& [colour, width] :
         {std::pair{QColor("#1d2a33"), 4.0}, std::pair{QColor("#fbf9f4"), 1.6}}) {
        edges.clear();
        for (const auto& [tile, part] : contours)
            for (const QLineF& l : part) {
                const QRectF bare(view.toPixels(Vec2{l.x1(), l.y1()}),
                                  view.toPixels(Vec2{l.x2(), l.y2()}));
                edges.push_back(bare.adjusted(-width / 2, -width / 2, width / 2, width / 2));
            }
        painter.setBrush(colour);
        painter.drawRects(edges.data(), static_cast<int>(edges.size()));
    }
    painter.restore();
}

} // namespace rapt::app
