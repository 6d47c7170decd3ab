#include "app/cloth/thread_raster.h"

#include "thread/measures.h"

#include <QPainter>
#include <cmath>

namespace rapt::app {
namespace {

constexpr std::size_t chunkRecords = 256;
// Thread thinner than this (in pixels) is drawn by stepping, thicker thread by the painter.
constexpr double painterFromPx = 2.4;
// The stepped drawing is made this many times larger and averaged down.
constexpr int oversampling = 2;

struct Shades {
    QColor dark, base, light;
};

QColor shaded(Rgb c, double factor) {
    const auto part = [&](int v) { return std::clamp(static_cast<int>(v * factor), 0, 255); };
    return QColor(part(c.r), part(c.g), part(c.b));
}

/// Thread shines most where it runs across the light: 0.82 to 1.12 of its colour.
double sheen(Vec2 way, double size) {
    const double across = std::abs(way.x * 0.8 - way.y * 0.6) / size;
    return 0.82 + 0.30 * across;
}

/// Calls visit(from, to, thread) for every stitch of the chunks that touch the area.
template<class Visit>
void eachStitch(const StitchIndex& index, const Box& area, const std::stop_token& stop,
                Visit visit) {
    for (const StitchIndex::Chunk& chunk : index.chunks) {
        if (stop.stop_requested()) return;
        if (!chunk.box.overlaps(area)) continue;
        const Stitch* needle = chunk.needle;
        bool sewing = chunk.sewing;
        for (std::size_t i = chunk.first; i < chunk.last; ++i) {
            const Stitch& s = index.list.stitches[i];
            if (s.op == Op::stitch && sewing && needle) visit(*needle, s);
            sewing = sewing || s.op == Op::stitch;
            if (s.op == Op::stitch || s.op == Op::jump) needle = &s;
        }
    }
}

/// Thin thread: solid pixels stepped along each stitch on a larger picture.
class StepDrawing {
public:
    StepDrawing(const StitchIndex& i, const Box& a, double pxPerMm)
        : index(i), area(a), scale(pxPerMm * oversampling),
          picture(static_cast<int>(std::lround(a.width() * scale)),
                  static_cast<int>(std::lround(a.height() * scale)),
                  QImage::Format_ARGB32_Premultiplied) {
        picture.fill(Qt::transparent);
        pixels = reinterpret_cast<QRgb*>(picture.bits());
        for (const Thread& t : index.list.threads)
            for (int level = 0; level < levels; ++level)
                colours[t.index][level] =
                    shaded(t.color, 0.82 + 0.30 * level / (levels - 1)).rgba();
        const auto widths = widthTable(index.list);
        for (std::size_t t = 0; t < 256; ++t)
            wide[t] = static_cast<int>(std::ceil(widths[t] * scale * 1.25));
    }

    QImage run(const std::stop_token& stop) {
        eachStitch(index, area, stop,
                   [&](const Stitch& from, const Stitch& to) { draw(from, to); });
        const QSize size(picture.width() / oversampling, picture.height() / oversampling);
        return picture.scaled(size, Qt::IgnoreAspectRatio, Qt::SmoothTransformation);
    }

private:
    static constexpr int levels = 8;

    void draw(const Stitch& from, const Stitch& to) {
        const Vec2 a = (from.at() - Vec2{area.minX, area.minY}) * scale;
        const Vec2 b = (to.at() - Vec2{area.minX, area.minY}) * scale;
        const Vec2 way = b - a;
        const double size = length(way);
        if (size == 0) return;
        const int level = static_cast<int>((sheen(way, size) - 0.82) / 0.30 * (levels - 1) + 0.5);
        const QRgb colour = colours[to.thread][level];
        const bool flat = std::abs(way.x) >= std::abs(way.y);
        const int steps = std::max(1, static_cast<int>(std::max(std::abs(way.x), std::abs(way.y))));
        // A little wider than life, so that rounding leaves no pin holes between rows.
        const int before = (std::max(1, wide[to.thread]) - 1) / 2;
        const int after = std::max(1, wide[to.thread]) / 2;
        // Fixed-point steps: a long division once a stitch, additions for each pixel.
        const double dx = way.x / steps, dy = way.y / steps;
        double x = a.x, y = a.y;
        for (int k = 0; k <= steps; ++k, x += dx, y += dy) {
            const int px = static_cast<int>(std::floor(x));
            const int py = static_cast<int>(std::floor(y));
            for (int o = -before; o <= after; ++o)
                put(flat ? px : px + o, flat ? py + o : py, colour);
        }
    }

    void put(int x, int y, QRgb colour) {
        if (static_cast<unsigned>(x) < static_cast<unsigned>(picture.width()) &&
            static_cast<unsigned>(y) < static_cast<unsigned>(picture.height()))
            pixels[y * picture.width() + x] = colour;
    }

    const StitchIndex& index;
    Box area;
    double scale;
    QImage picture;
    QRgb* pixels = nullptr;
    QRgb colours[256][levels] = {};
    int wide[256] = {};
};

Shades shadesOf(const Thread& t) {
    return {shaded(t.color, 0.62), shaded(t.color, 0.94), shaded(t.color, 1.22)};
}

/// Thick thread: a dark edge, the body, and a light streak.
QImage paintThread(const StitchIndex& index, const Box& area, double scale,
                   const std::stop_token& stop) {
    QImage picture(static_cast<int>(std::lround(area.width() * scale)),
                   static_cast<int>(std::lround(area.height() * scale)),
                   QImage::Format_ARGB32_Premultiplied);
    picture.fill(Qt::transparent);
    QPainter painter(&picture);
    painter.setRenderHint(QPainter::Antialiasing);
    const auto widths = widthTable(index.list);
    std::array<Shades, 256> shades;
    for (const Thread& t : index.list.threads) shades[t.index] = shadesOf(t);
    eachStitch(index, area, stop, [&](const Stitch& from, const Stitch& to) {
        const Vec2 a = (from.at() - Vec2{area.minX, area.minY}) * scale;
        const Vec2 b = (to.at() - Vec2{area.minX, area.minY}) * scale;
        const double size = distance(a, b);
        if (size == 0) return;
        const double width = static_cast<double>(widths[to.thread]) * scale;
        const Shades& s = shades[to.thread];
        const QLineF line(a.x, a.y, b.x, b.y);
        painter.setPen(QPen(s.dark, width, Qt::SolidLine, Qt::RoundCap));
        painter.drawLine(line);
        painter.setPen(QPen(s.base, width * 0.72, Qt::SolidLine, Qt::RoundCap));
        painter.drawLine(line);
        const QPointF lift(-0.12 * width, -0.14 * width);
        const QLineF streak(line.pointAt(0.12) + lift, line.pointAt(0.88) + lift);
        painter.setPen(QPen(s.light, width * 0.22, Qt::SolidLine, Qt::RoundCap));
        painter.drawLine(streak);
    });
    return picture;
}

} // namespace

StitchIndex::StitchIndex(const StitchList& l) : list(l) {
    const Stitch* needle = nullptr;
    bool sewing = false; // the first stitch of a list lays no thread
    for (std::size_t first = 0; first < list.stitches.size(); first += chunkRecords) {
        Chunk chunk{first,
                    std::min(first + chunkRecords, list.stitches.size()),
                    sewing ? needle : nullptr,
                    sewing,
                    {}};
        for (std::size_t i = chunk.first; i < chunk.last; ++i) {
            const Stitch& s = list.stitches[i];
            if (s.op == Op::stitch) {
                if (needle) chunk.box.add(needle->at());
                chunk.box.add(s.at());
                sewing = true;
            }
            if (s.op == Op::stitch || s.op == Op::jump) needle = &s;
        }
        if (!chunk.box.empty()) {
            chunk.box = chunk.box.grown(0.5);
            chunks.push_back(chunk);
        }
    }
}

QImage drawThread(const StitchIndex& index, const Box& area, double pxPerMm, std::stop_token stop) {
    double widest = 0;
    for (const Thread& t : index.list.threads) widest = std::max(widest, apparentWidthMm(t.weight));
    if (widest * pxPerMm >= painterFromPx) return paintThread(index, area, pxPerMm, stop);
    return StepDrawing(index, area, pxPerMm).run(stop);
}

} // namespace rapt::app
