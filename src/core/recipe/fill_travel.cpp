// Ways inside a fill: from row to row without leaving the shape.

#include "recipe/fill_rows.h"

namespace rapt {
namespace {

// Ways keep this far from the ends of rows where there is room, so that nothing peeps out.
constexpr double insetMm = 0.5;

constexpr double travelStitchMm = 2.5;
constexpr double leastBendMm = 0.6;

struct Window {
    double left, right;
};

/// What two neighbouring rows share, without its margins.
Window between(const FillRows& rows, int a, int b) {
    Window w{std::max(rows[a].left, rows[b].left), std::min(rows[a].right, rows[b].right)};
    if (w.left > w.right) w.left = w.right = (w.left + w.right) / 2; // side by side in a tip
    const double margin = std::min(insetMm, std::max(0.0, (w.right - w.left) / 2 - 0.05));
    return {w.left + margin, w.right - margin};
}

/// Walks through rows that follow each other in one direction.
class Corridor {
public:
    Corridor(const FillRows& r, const std::vector<int>& w) : rows(r), way(w) {}

    /// From `eye` in row `start` to `goal` in row `end`: a cone of sight is narrowed row by row,
    /// and where it closes the way bends. Between two rows the way keeps to what both share.
    void goStraight(std::size_t start, std::size_t end, Vec2 from, Vec2 goal, Polyline& bends) {
        eye = from;
        low = -1e18;
        high = 1e18;
        for (std::size_t k = start + 1; k <= end; ++k) {
            const Window w = between(rows, way[k - 1], way[k]);
            const double before = rows.y(rows[way[k - 1]].row);
            const double y = rows.y(rows[way[k]].row);
            if (!narrow(w, before)) bendAlong(before, w, bends);
            if (!narrow(w, y)) bendAlong(before, w, bends), narrow(w, y);
        }
        const double drop = std::abs(goal.y - eye.y);
        const double x = std::clamp(goal.x, eye.x + low * drop, eye.x + high * drop);
        if (x != goal.x) bends.push_back({x, goal.y});
        bends.push_back(goal);
    }

private:
    /// Lets only those lines of sight pass that cross a level inside the window; false, and nothing
    /// changed, if there are none.
    bool narrow(Window w, double y) {
        const double drop = std::abs(y - eye.y);
        if (drop < 1e-9) return eye.x >= w.left - 1e-9 && eye.x <= w.right + 1e-9;
        const double left = std::max(low, (w.left - eye.x) / drop);
        const double right = std::min(high, (w.right - eye.x) / drop);
        if (left > right) return false;
        low = left;
        high = right;
        return true;
    }

    /// Bends on a row: as far as could be seen, then along the row into the window.
    void bendAlong(double y, Window w, Polyline& bends) {
        const double drop = std::abs(y - eye.y);
        const double x = drop < 1e-9 ? eye.x
                                     : std::clamp((w.left + w.right) / 2, eye.x + low * drop,
                                                  eye.x + high * drop);
        if (drop >= 1e-9) bends.push_back({x, y});
        eye = {std::clamp(x, w.left, w.right), y};
        if (eye.x != x) bends.push_back(eye);
        low = -1e18;
        high = 1e18;
    }

    Vec2 eye;
    double low = -1e18, high = 1e18; ///< slopes that are still in sight
    const FillRows& rows;
    const std::vector<int>& way;
};

} // namespace

Polyline wayInside(const FillRows& rows, const std::vector<int>& way, Vec2 eye, Vec2 goal) {
    Polyline bends;
    if (way.size() < 2) return {goal};
    Corridor corridor(rows, way);
    const auto down = [&](std::size_t k) { return rows[way[k + 1]].row > rows[way[k]].row; };
    for (std::size_t start = 0; start + 1 < way.size();) {
        std::size_t end = start + 1;
        while (end + 1 < way.size() && down(end) == down(start)) ++end;
        if (end + 1 == way.size()) {
            corridor.goStraight(start, end, eye, goal, bends);
            break;
        }
        // The way turns back (round the end of a hole): along the turning row from one window to
        // the other.
        const Window in = between(rows, way[end - 1], way[end]);
        const Window leave = between(rows, way[end], way[end + 1]);
        const double y = rows.y(rows[way[end]].row);
        const double x = std::clamp((leave.left + leave.right) / 2, in.left, in.right);
        corridor.goStraight(start, end, eye, {x, y}, bends);
        eye = {std::clamp(x, leave.left, leave.right), y};
        bends.push_back(eye);
        start = end;
    }
    return bends;
}

namespace {

void stitchTo(Vec2 p, Polyline& out) {
    const Vec2 from = out.back();
    const double size = distance(from, p);
    if (size < 1e-6) return;
    const int parts = static_cast<int>(std::ceil(size / travelStitchMm));
    for (int k = 1; k <= parts; ++k) out.push_back(lerp(from, p, static_cast<double>(k) / parts));
}

/// Neighbouring intervals from one to another, by the fewest rows (breadth first).
std::vector<int> wayBetween(const FillRows& rows, int from, int to) {
    std::vector<int> cameFrom(rows.intervals.size(), -2);
    const auto seen = [&](int i) -> int& { return cameFrom[static_cast<std::size_t>(i)]; };
    std::vector<int> open{to};
    seen(to) = -1;
    for (std::size_t k = 0; k < open.size() && seen(from) == -2; ++k) {
        const int at = open[k];
        for (const auto* next : {&rows[at].above, &rows[at].below})
            for (const int n : *next)
                if (seen(n) == -2) {
                    seen(n) = at;
                    open.push_back(n);
                }
    }
    std::vector<int> way;
    if (seen(from) == -2) return way;
    for (int at = from; at != -1; at = seen(at)) way.push_back(at);
    return way;
}

} // namespace

void appendTravel(const FillRows& rows, const std::vector<int>& way, Vec2 goal, Polyline& out) {
    const Polyline bends = wayInside(rows, way, out.back(), goal);
    for (std::size_t k = 0; k < bends.size(); ++k)
        // Bends that lie close together would only make short stitches.
        if (k + 1 == bends.size() || (distance(out.back(), bends[k]) >= leastBendMm &&
                                      distance(bends[k], bends.back()) >= leastBendMm))
            stitchTo(bends[k], out);
}

bool travelInside(const FillRows& rows, int toInterval, Vec2 goal, Polyline& out) {
    const int from = rows.nearest(out.back());
    if (from < 0 || toInterval < 0) return false;
    const std::vector<int> way = wayBetween(rows, from, toInterval);
    if (way.empty()) return false;
    // Onto the row first: the way is reckoned from row to row.
    stitchTo({std::clamp(out.back().x, rows[from].left, rows[from].right), rows.y(rows[from].row)},
             out);
    const double x = std::clamp(goal.x, rows[toInterval].left, rows[toInterval].right);
    appendTravel(rows, way, {x, rows.y(rows[toInterval].row)}, out);
    stitchTo(goal, out);
    return true;
}

} // namespace rapt
