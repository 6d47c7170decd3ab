#include "app/cloth/load_overlay.h"

#include "app/theme/theme.h"

namespace rapt::app {
namespace {

/// Below half the limit nothing is coloured: only what matters is shown.
QRgb stepColour(double ratio) {
    if (ratio < 0.55) return qRgba(0, 0, 0, 0);
    const auto premultiplied = [](QColor c, int alpha) {
        c.setAlpha(alpha);
        return qPremultiply(c.rgba());
    };
    if (ratio < 0.8) return premultiplied(QColor("#f6df9a"), 150);
    if (ratio <= 1.0) return premultiplied(QColor("#f0a63c"), 200);
    return premultiplied(QColor("#c5402c"), 230);
}

} // namespace

void LoadOverlay::set(const LoadMap& map, LoadKind kind, const LoadLimits& limits) {
    image = QImage();
    contour.clear();
    area = {};
    for (const LoadMap::Tile& t : map.tiles()) {
        const double x = t.first.i * cellMm;
        const double y = t.first.j * cellMm;
        area.add(Box{x, y, x + LoadMap::tileCells * cellMm, y + LoadMap::tileCells * cellMm});
    }
    if (area.empty()) return;
    const int wide = static_cast<int>(std::lround(area.width() / cellMm));
    const int high = static_cast<int>(std::lround(area.height() / cellMm));
    const Cell first = cellAt({area.minX + cellMm / 2, area.minY + cellMm / 2});
    image = QImage(wide, high, QImage::Format_ARGB32_Premultiplied);
    image.fill(Qt::transparent);
    const double limit = kind == LoadKind::layers ? limits.maxLayers : limits.maxHits;
    const auto ratioAt = [&](int i, int j) {
        const Cell c{i, j};
        return (kind == LoadKind::layers ? map.layers(c) : map.hits(c)) /
               (limit * limits.factorAt(c.centre()));
    };
    for (const LoadMap::Tile& t : map.tiles())
        for (int k = 0; k < LoadMap::tileCells * LoadMap::tileCells; ++k) {
            const int i = t.first.i + k % LoadMap::tileCells;
            const int j = t.first.j + k / LoadMap::tileCells;
            const double ratio = ratioAt(i, j);
            image.setPixel(i - first.i, j - first.j, stepColour(ratio));
            if (ratio <= 1) continue;
            const double x = i * cellMm, y = j * cellMm;
            if (ratioAt(i - 1, j) <= 1) contour.emplace_back(x, y, x, y + cellMm);
            if (ratioAt(i + 1, j) <= 1) contour.emplace_back(x + cellMm, y, x + cellMm, y + cellMm);
            if (ratioAt(i, j - 1) <= 1) contour.emplace_back(x, y, x + cellMm, y);
            if (ratioAt(i, j + 1) <= 1) contour.emplace_back(x, y + cellMm, x + cellMm, y + cellMm);
        }
}

void LoadOverlay::paint(QPainter& painter, const ViewMap& view) const {
    if (image.isNull()) return;
    painter.save();
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    painter.drawImage(view.toPixels(area), image);
    painter.setRenderHint(QPainter::Antialiasing);
    std::vector<QLineF> lines;
    for (const QLineF& l : contour)
        lines.emplace_back(view.toPixels(Vec2{l.x1(), l.y1()}),
                           view.toPixels(Vec2{l.x2(), l.y2()}));
    // Dark, light, dark: readable on every thread colour.
    for (const auto& [colour, width] :
         {std::pair{QColor("#1d2a33"), 4.0}, std::pair{QColor("#fbf9f4"), 1.6}}) {
        painter.setPen(QPen(colour, width, Qt::SolidLine, Qt::RoundCap));
        painter.drawLines(lines.data(), static_cast<int>(lines.size()));
    }
    painter.restore();
}

} // namespace rapt::app
