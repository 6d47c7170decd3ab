#include "app/raster/thread_raster.h"

#include "thread/measures.h"

#include <QPainter>
#include <cmath>

namespace rapt::app {
namespace {

constexpr std::size_t chunkRecords = 256;
// Thread thinner than this (in pixels) is drawn by stepping, thicker thread by the painter.
constexpr double painterFromPx = 9;
// The stepped drawing is made this many times larger and averaged down.
constexpr int oversampling = 2;

struct Shades {
    QColor dark, base, light;
};

QColor shaded(Rgb c, double factor) {
    const auto part = [&](int v) { return std::clamp(static_cast<int>(v * factor), 0, 255); };
    return QColor(part(c.r), part(c.g), part(c.b));
}

constexpr double leastSheen = 0.82, sheenRange = 0.30;

/// Thread shines most where it runs across the light; a factor on its colour.
double sheen(Vec2 way, double size) {
    const double across = std::abs(way.x * 0.8 - way.y * 0.6) / size;
    return leastSheen + sheenRange * across;
}

/// Calls visit(from, to, thread) for every stitch before `end` of the chunks that touch the area.
template<class Visit>
void eachStitch(const StitchIndex& index, const Box& area, std::size_t end,
                const std::stop_token& stop, Visit visit) {
    for (const StitchIndex::Chunk& chunk : index.chunks) {
        if (stop.stop_requested() || chunk.first >= end) return;
        if (!chunk.box.overlaps(area)) continue;
        const Stitch* needle = chunk.needle;
        bool sewing = chunk.sewing;
        for (std::size_t i = chunk.first; i < std::min(chunk.last, end); ++i) {
            const Stitch& s = index.list.stitches[i];
            if (s.op == Op::stitch && sewing && needle) visit(*needle, s);
            sewing = sewing || s.op == Op::stitch;
            if (s.op == Op::stitch || s.op == Op::jump) needle = &s;
        }
    }
}

/// Thin thread: pixels stepped along each stitch on a larger picture, darker at the thread's edges
/// and lighter along its upper side.
class StepDrawing {
public:
    StepDrawing(const StitchIndex& i, const Box& a, std::size_t last, double pxPerMm)
        : index(i), area(a), end(last), scale(pxPerMm * oversampling),
          picture(static_cast<int>(std::lround(a.width() * scale)),
                  static_cast<int>(std::lround(a.height() * scale)),
                  QImage::Format_ARGB32_Premultiplied) {
        picture.fill(Qt::transparent);
        pixels = reinterpret_cast<QRgb*>(picture.bits());
        constexpr double bandFactors[] = {0.66, 1.0, 1.16};
        for (const Thread& t : index.list.threads)
            for (int level = 0; level < levels; ++level)
                for (int band = 0; band < 3; ++band)
                    colours[t.index][level][band] =
                        shaded(t.color,
                               (leastSheen + sheenRange * level / (levels - 1)) * bandFactors[band])
                            .rgba();
        const auto widths = widthTable(index.list);
        for (std::size_t t = 0; t < 256; ++t) widthPx[t] = static_cast<double>(widths[t]) * scale;
    }

    QImage run(const std::stop_token& stop) {
        eachStitch(index, area, end, stop,
                   [&](const Stitch& from, const Stitch& to) { draw(from, to); });
        const QSize size(picture.width() / oversampling, picture.height() / oversampling);
        return picture.scaled(size, Qt::IgnoreAspectRatio, Qt::SmoothTransformation);
    }

private:
    static constexpr int levels = 8;
    static constexpr int fixedBits = 16;
    enum Band { edge, body, streak };

    void draw(const Stitch& from, const Stitch& to) {
        const Vec2 a = (from.at() - Vec2{area.minX, area.minY}) * scale;
        const Vec2 b = (to.at() - Vec2{area.minX, area.minY}) * scale;
        const Vec2 way = b - a;
        const double size = length(way);
        if (size == 0) return;
        const int level =
            static_cast<int>((sheen(way, size) - leastSheen) / sheenRange * (levels - 1) + 0.5);
        const QRgb* shade = colours[to.thread][level];
        const bool flat = std::abs(way.x) >= std::abs(way.y);
        const double major = std::max(std::abs(way.x), std::abs(way.y));
        const int steps = std::max(1, static_cast<int>(std::ceil(major)));
        // Measured along an axis a slanting thread is wider; rounded up, so that rows that touch
        // leave no pin holes.
        const int wide =
            std::max(1, static_cast<int>(std::ceil(widthPx[to.thread] * size / major)));
        const std::int64_t one = std::int64_t{1} << fixedBits;
        std::int64_t x = std::llround(a.x * static_cast<double>(one));
        std::int64_t y = std::llround(a.y * static_cast<double>(one));
        const std::int64_t dx = std::llround(way.x / steps * static_cast<double>(one));
        const std::int64_t dy = std::llround(way.y / steps * static_cast<double>(one));
        for (int k = 0; k <= steps; ++k, x += dx, y += dy) {
            const int px = static_cast<int>(x >> fixedBits) - (flat ? 0 : (wide - 1) / 2);
            const int py = static_cast<int>(y >> fixedBits) - (flat ? (wide - 1) / 2 : 0);
            for (int o = 0; o < wide; ++o)
                put(flat ? px : px + o, flat ? py + o : py, shade[bandOf(o, wide)]);
        }
    }

    static Band bandOf(int offset, int wide) {
        if (wide < 4) return body;
        if (offset == 0 || offset == wide - 1) return edge;
        return offset * 5 >= wide && offset * 5 <= 2 * wide ? streak : body;
    }

    void put(int x, int y, QRgb colour) {
        if (static_cast<unsigned>(x) < static_cast<unsigned>(picture.width()) &&
            static_cast<unsigned>(y) < static_cast<unsigned>(picture.height()))
            pixels[y * picture.width() + x] = colour;
    }

    const StitchIndex& index;
    Box area;
    std::size_t end;
    double scale;
    QImage picture;
    QRgb* pixels = nullptr;
    QRgb colours[256][levels][3] = {};
    double widthPx[256] = {};
};

Shades shadesOf(const Thread& t) {
    return {shaded(t.color, 0.62), shaded(t.color, 0.94), shaded(t.color, 1.22)};
}

/// Thick thread: a dark edge, the body, and a light streak.
QImage paintThread(const StitchIndex& index, const Box& area, std::size_t end, double scale,
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
    eachStitch(index, area, end, stop, [&](const Stitch& from, const Stitch& to) {
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

QImage drawThread(const StitchIndex& index, const Box& area, double pxPerMm, std::stop_token stop,
                  std::size_t end) {
    double widest = 0;
    for (const Thread& t : index.list.threads) widest = std::max(widest, apparentWidthMm(t.weight));
    if (widest * pxPerMm >= painterFromPx) return paintThread(index, area, end, pxPerMm, stop);
    return StepDrawing(index, area, end, pxPerMm).run(stop);
}

QImage threadPicture(const StitchList& list, int side) {
    const Box box = extentsOf(list);
    if (box.empty()) return {};
    const double longer = std::max({box.width(), box.height(), 1.0});
    return drawThread(StitchIndex(list), box.grown(longer * 0.02), side / (longer * 1.04));
}

} // namespace rapt::app
