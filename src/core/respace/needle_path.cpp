#include "respace/laying.h"

namespace rapt {
namespace {

// Nearer than this two needle points are one.
constexpr double sameMm = 1e-4;

} // namespace

void NeedlePath::push(Vec2 p, bool firm, std::uint32_t record) {
    if (begun) {
        const double size = distance(last, p);
        const int parts = static_cast<int>(std::ceil(size / options.longestMm - 1e-9));
        const Vec2 from = last;
        for (int k = 1; k < parts; ++k)
            points.push_back(lerp(from, p, static_cast<double>(k) / parts));
    }
    records.resize(points.size(), laidAfresh);
    points.push_back(p);
    records.push_back(record);
    last = p;
    begun = true;
    lastFirm = firm;
}

void NeedlePath::drop() {
    points.pop_back();
    records.pop_back();
}

void NeedlePath::fix(Vec2 p) {
    if (begun && distance(last, p) < sameMm) {
        lastFirm = true;
        return;
    }
    if (begun && !lastFirm && distance(last, p) < options.shortestMm) {
        drop();
        // The point before may be as near; then that stitch is short, but nothing is lost.
        if (!points.empty()) last = points.back();
    }
    push(p, true);
}

void NeedlePath::add(Vec2 p) {
    if (!begun || distance(last, p) >= options.shortestMm) push(p, false);
}

void NeedlePath::addNear(Vec2 p) {
    if (!begun || distance(last, p) >= sameMm) push(p, false);
}

void NeedlePath::moveTo(Vec2 p) {
    if (points.empty() || distance(last, p) >= options.shortestMm) return push(p, true);
    drop();
    begun = !points.empty();
    if (begun) last = points.back();
    push(p, true);
}

void NeedlePath::addSame(Vec2 p, std::uint32_t record) { push(p, true, record); }

} // namespace rapt
