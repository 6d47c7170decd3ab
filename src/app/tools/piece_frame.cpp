#include "app/tools/piece_frame.h"

#include "job/stitching.h"
#include "thread/measures.h"

#include <numbers>

namespace rapt::app {
namespace {

constexpr double leastFactor = 0.02;

Vec2 framePoint(const Handle& h, const Box& b) {
    return {b.centre().x + h.x * b.width() / 2, b.centre().y + h.y * b.height() / 2};
}

double angleDeg(Vec2 v) { return std::atan2(v.y, v.x) * 180 / std::numbers::pi; }

Pose turned(const Box& box, const Pose& start, Vec2 from, Vec2 to, bool steps) {
    const Vec2 centre = start.affine()(box.centre());
    double turn = angleDeg(to - centre) - angleDeg(from - centre);
    if (steps) turn = std::round((start.rotationDeg + turn) / 15) * 15 - start.rotationDeg;
    Pose pose = start;
    pose.rotationDeg = normalizedDegrees(start.rotationDeg + turn);
    const Vec2 now = pose.affine()(box.centre());
    pose.x += centre.x - now.x;
    pose.y += centre.y - now.y;
    return pose;
}

/// Never through zero: a drag past the opposite side stops there.
double limited(double scale, double start) {
    const double least = std::abs(start) * leastFactor;
    return start > 0 ? std::max(scale, least) : std::min(scale, -least);
}

} // namespace

const std::array<Handle, 9>& handles() {
    static const std::array<Handle, 9> all{
        {{-1, -1}, {0, -1}, {1, -1}, {1, 0}, {1, 1}, {0, 1}, {-1, 1}, {-1, 0}, {0, -1, true}}};
    return all;
}

std::optional<Box> unscaledBox(const Piece& piece, const Box& scaled) {
    if (scaled.empty()) return std::nullopt;
    Box box;
    box.add(Vec2{scaled.minX / piece.pose.scaleX, scaled.minY / piece.pose.scaleY});
    box.add(Vec2{scaled.maxX / piece.pose.scaleX, scaled.maxY / piece.pose.scaleY});
    return box;
}

Vec2 handlePlace(const Handle& handle, const Box& unscaled, const Pose& pose, double liftMm) {
    const Vec2 p = pose.affine()(framePoint(handle, unscaled));
    if (!handle.turns) return p;
    const Vec2 centre = pose.affine()(unscaled.centre());
    const double size = distance(centre, p);
    return size == 0 ? p : p + (p - centre) * (liftMm / size);
}

Pose draggedPose(const Handle& handle, const Box& unscaled, const Pose& start, Vec2 from, Vec2 to,
                 bool free, bool steps) {
    if (handle.turns) return turned(unscaled, start, from, to, steps);
    const Vec2 held = framePoint(handle, unscaled);
    const Vec2 opposite = framePoint({-handle.x, -handle.y}, unscaled);
    const Vec2 anchor = start.affine()(opposite);
    // What the scale must make of the frame's diagonal, in the piece's own directions.
    Pose unit = start;
    unit.x = unit.y = 0;
    unit.scaleX = unit.scaleY = 1;
    const Vec2 grip = start.affine()(held) - from; // the drag starts a little off the handle
    const Vec2 wanted = unit.affine().inverse()(to + grip - anchor);
    const Vec2 span = held - opposite;
    Pose pose = start;
    if (handle.isCorner() && !free) {
        const Vec2 now{span.x * start.scaleX, span.y * start.scaleY};
        const double k = std::max(leastFactor, dot(wanted, now) / dot(now, now));
        pose.scaleX *= k;
        pose.scaleY *= k;
    } else {
        if (handle.x != 0 && span.x != 0) pose.scaleX = limited(wanted.x / span.x, start.scaleX);
        if (handle.y != 0 && span.y != 0) pose.scaleY = limited(wanted.y / span.y, start.scaleY);
    }
    const Vec2 moved = pose.affine()(opposite);
    pose.x += anchor.x - moved.x;
    pose.y += anchor.y - moved.y;
    return pose;
}

} // namespace rapt::app
