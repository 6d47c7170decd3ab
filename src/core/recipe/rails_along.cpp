#include "geometry/pose.h"
#include "recipe/flatten.h"
#include "recipe/rails.h"

#include <array>

namespace rapt {
namespace {

constexpr double cornerCosine = 0.64; // 50 degrees
constexpr double overlapMm = 0.4;

Vec2 unit(Vec2 v) {
    const double size = length(v);
    return size == 0 ? Vec2{1, 0} : v * (1 / size);
}

Vec2 normalOf(Vec2 way) { return {-way.y, way.x}; }

/// Points at most `step` apart, so that the width is even on bends.
Polyline dense(const Polyline& line, double step) {
    Polyline out{line[0]};
    for (std::size_t i = 1; i < line.size(); ++i) {
        const double size = distance(line[i - 1], line[i]);
        const int n = std::clamp(static_cast<int>(std::ceil(size / step)), 1, 2000);
        for (int k = 1; k <= n; ++k)
            out.push_back(lerp(line[i - 1], line[i], static_cast<double>(k) / n));
    }
    return out;
}

/// Cut at sharp corners.
std::vector<Polyline> smoothPieces(const Polyline& line) {
    std::vector<Polyline> pieces{{line[0]}};
    for (std::size_t i = 1; i < line.size(); ++i) {
        pieces.back().push_back(line[i]);
        if (i + 1 == line.size()) break;
        const Vec2 in = unit(line[i] - line[i - 1]), out = unit(line[i + 1] - line[i]);
        if (dot(in, out) < cornerCosine) pieces.push_back({line[i]});
    }
    return pieces;
}

/// The line with its first `mm` taken away; a shorter line is left alone.
Polyline withoutStart(const Polyline& line, double mm) {
    double left = mm;
    for (std::size_t i = 1; i < line.size(); ++i) {
        const double size = distance(line[i - 1], line[i]);
        if (size > left) {
            Polyline rest{lerp(line[i - 1], line[i], left / size)};
            rest.insert(rest.end(), line.begin() + static_cast<std::ptrdiff_t>(i), line.end());
            return rest;
        }
        left -= size;
    }
    return line;
}

/// Signed curvature at a point of the line, over about half a width on both sides.
double curvatureAt(const Polyline& line, std::size_t i, double reach) {
    std::size_t a = i, b = i;
    double back = 0, ahead = 0;
    while (a > 0 && back < reach) back += distance(line[a - 1], line[a]), --a;
    while (b + 1 < line.size() && ahead < reach) ahead += distance(line[b], line[b + 1]), ++b;
    if (a == i || b == i) return 0;
    const Vec2 in = line[i] - line[a], out = line[b] - line[i];
    const double size = length(in) * length(out) * distance(line[a], line[b]);
    return size == 0 ? 0 : 2 * cross(in, out) / size;
}

Rails besides(const Polyline& line, double half) {
    Rails rails;
    for (std::size_t i = 0; i < line.size(); ++i) {
        const Vec2 before = line[i > 0 ? i - 1 : 0];
        const Vec2 after = line[i + 1 < line.size() ? i + 1 : i];
        const Vec2 n = normalOf(unit(after - before));
        const double k = curvatureAt(line, i, half);
        // The normal points to the inside of a bend with positive curvature.
        const double inner = std::abs(k) * half > 0.9 ? 0.9 / std::abs(k) : half;
        rails.left.push_back(line[i] + n * (k > 0 ? inner : half));
        rails.right.push_back(line[i] - n * (k < 0 ? inner : half));
    }
    return rails;
}

/// A half round end: the rails come together over half a width.
void addRoundEnd(Rails& rails, Vec2 tip, Vec2 way, double half, bool atStart) {
    Polyline left, right;
    constexpr int steps = 6;
    for (int k = 1; k <= steps; ++k) {
        const Turn t = turnOf(90.0 * k / steps);
        const double along = half * t.sine;
        const double across = std::max(0.15, half * t.cosine);
        left.push_back(tip + way * along + normalOf(way) * (atStart ? -across : across));
        right.push_back(tip + way * along - normalOf(way) * (atStart ? -across : across));
    }
    if (atStart) {
        rails.left.insert(rails.left.begin(), left.rbegin(), left.rend());
        rails.right.insert(rails.right.begin(), right.rbegin(), right.rend());
    } else {
        rails.left.insert(rails.left.end(), left.begin(), left.end());
        rails.right.insert(rails.right.end(), right.begin(), right.end());
    }
}

/// A satin begins and ends on its left rail: rails change names where that brings
/// the end of one column nearer to the start of the next.
void joinColumns(std::vector<Rails>& columns) {
    const std::size_t n = columns.size();
    if (n < 2) return;
    const auto start = [&](std::size_t i, bool swapped) {
        return swapped ? columns[i].right.front() : columns[i].left.front();
    };
    const auto end = [&](std::size_t i, bool swapped) {
        return swapped ? columns[i].right.back() : columns[i].left.back();
    };
    // Least total way, column by column, for both states of the last one.
    std::vector<std::array<double, 2>> cost(n, {0, 0});
    std::vector<std::array<bool, 2>> before(n, {false, false});
    for (std::size_t i = 1; i < n; ++i)
        for (const bool now : {false, true}) {
            const double plain = cost[i - 1][0] + distance(end(i - 1, false), start(i, now));
            const double swapped = cost[i - 1][1] + distance(end(i - 1, true), start(i, now));
            cost[i][now] = std::min(plain, swapped);
            before[i][now] = swapped < plain;
        }
    bool now = cost[n - 1][1] < cost[n - 1][0];
    for (std::size_t i = n; i-- > 0;) {
        const bool earlier = before[i][now];
        if (now) std::swap(columns[i].left, columns[i].right);
        now = earlier;
    }
}

} // namespace

std::vector<Rails> railsAlong(const Polyline& given, bool closed, double widthMm, ColumnEnd end) {
    Polyline line = withoutCrumbs(given);
    if (line.size() < 2 || widthMm <= 0) return {};
    if (closed) {
        line.push_back(line.front());
        line = withoutCrumbs(line);
    }
    const double half = widthMm / 2;
    std::vector<Polyline> pieces = smoothPieces(line);
    const std::size_t n = pieces.size();
    const auto wayOut = [](const Polyline& p) { return unit(p[p.size() - 1] - p[p.size() - 2]); };
    const auto wayIn = [](const Polyline& p) { return unit(p[0] - p[1]); };
    const bool cornerAtSeam =
        closed && n > 0 && dot(wayOut(pieces.back()), wayIn(pieces.front()) * -1) < cornerCosine;
    std::vector<Rails> columns;
    for (std::size_t i = 0; i < n; ++i) {
        Polyline piece = pieces[i];
        const bool first = i == 0, last = i + 1 == n;
        const bool startsAtCorner = !first || cornerAtSeam;
        const bool endsAtCorner = !last || cornerAtSeam;
        if (startsAtCorner) piece = withoutStart(piece, std::max(0.0, half - overlapMm));
        if (endsAtCorner || (last && !closed && end == ColumnEnd::square))
            piece.push_back(piece.back() + wayOut(piece) * half);
        if (first && !closed && end == ColumnEnd::square)
            piece.insert(piece.begin(), piece.front() + wayIn(piece) * half);
        const Polyline points = dense(piece, std::max(0.3, half / 4));
        Rails rails = besides(points, half);
        if (!closed && end == ColumnEnd::round) {
            if (first) addRoundEnd(rails, points.front(), wayIn(points), half, true);
            if (last) addRoundEnd(rails, points.back(), wayOut(points), half, false);
        }
        columns.push_back(std::move(rails));
    }
    joinColumns(columns);
    return columns;
}

} // namespace rapt
