#include "letter/thread_cover.h"

namespace rapt {

ThreadCover::ThreadCover(const Box& area, double reachMm) : reachPx(reachMm * pxPerMm) {
    const Box room = area.grown(2 * reachMm);
    origin = {room.minX, room.minY};
    tilesAcross = static_cast<int>(room.width() * pxPerMm) / tileSide + 1;
    tilesDown = static_cast<int>(room.height() * pxPerMm) / tileSide + 1;
    directory.assign(static_cast<std::size_t>(tilesAcross) * static_cast<std::size_t>(tilesDown),
                     -1);
}

std::uint16_t& ThreadCover::countAt(int x, int y) {
    std::int32_t& index = directory[static_cast<std::size_t>(y / tileSide * tilesAcross) +
                                    static_cast<std::size_t>(x / tileSide)];
    if (index < 0) {
        index = static_cast<std::int32_t>(tiles.size());
        tiles.emplace_back();
    }
    return tiles[static_cast<std::size_t>(index)].counts[(y % tileSide) * tileSide + x % tileSide];
}

/// The pixels whose middle lies within reach of the segment, row by row.
template<class Visit>
void ThreadCover::eachPixel(Vec2 a, Vec2 b, Visit visit) {
    const Vec2 p = (a - origin) * pxPerMm, q = (b - origin) * pxPerMm, d = q - p;
    const double reach = reachPx;
    const double size2 = dot(d, d), size = std::sqrt(size2);
    const int width = tilesAcross * tileSide, height = tilesDown * tileSide;
    const int top = std::max(0, static_cast<int>(std::min(p.y, q.y) - reach));
    const int bottom = std::min(height - 1, static_cast<int>(std::max(p.y, q.y) + reach));
    for (int y = top; y <= bottom; ++y) {
        const double py = y + 0.5 - p.y;
        // Where the row runs inside the endless strip, between the ends grown by the reach.
        double from = std::min(p.x, q.x) - reach, to = std::max(p.x, q.x) + reach;
        if (std::abs(d.y) > 1e-9) {
            const double middle = p.x + py * d.x / d.y, half = reach * size / std::abs(d.y);
            from = std::max(from, middle - half);
            to = std::min(to, middle + half);
        }
        const int last = std::min(width - 1, static_cast<int>(std::floor(to)));
        for (int x = std::max(0, static_cast<int>(std::floor(from))); x <= last; ++x) {
            const Vec2 r{x + 0.5 - p.x, py};
            const double t = size2 > 0 ? std::clamp(dot(r, d) / size2, 0.0, 1.0) : 0;
            const Vec2 off = r - d * t;
            if (dot(off, off) <= reach * reach) visit(countAt(x, y));
        }
    }
}

void ThreadCover::add(Vec2 a, Vec2 b) {
    eachPixel(a, b, [](std::uint16_t& count) { ++count; });
}

double ThreadCover::remove(Vec2 a, Vec2 b, int least) {
    int bared = 0;
    eachPixel(a, b, [&](std::uint16_t& count) { bared += --count < least; });
    return bared / (pxPerMm * pxPerMm);
}

} // namespace rapt
