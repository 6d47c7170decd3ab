#include "letter/columns/stroke.h"

#include "letter/columns/branch_end.h"

#include <algorithm>
#include <numbers>

namespace rapt {
namespace {

constexpr double degrees = std::numbers::pi / 180;
/// Branches go on into each other if they turn less than this and are of like width.
constexpr double mostTurn = 50 * degrees;
constexpr double mostWidthRatio = 2.4;
/// A stroke is broken where its axis and its inner outline both turn more than this.
constexpr double cornerAxisTurn = 58 * degrees;
constexpr double cornerOutlineTurn = 65 * degrees;

/// A stroke's last stretch after a corner is a flag if it reaches at most so many half widths.
constexpr double flagReach = 2.9;
/// A free end that turns more than this within a width is a hook.
constexpr double hookTurn = 42 * degrees;

double angleBetween(Vec2 a, Vec2 b) { return std::abs(std::atan2(cross(a, b), dot(a, b))); }

struct EndRef {
    int branch = 0;
    bool atTo = false;
};

/// Who goes on into whom at each node.
class Pairing {
public:
    explicit Pairing(const Axis& a)
        : axis(a), ends(a.nodes.size()), partner(a.branches.size() * 2, -1) {
        for (int b = 0; b < static_cast<int>(axis.branches.size()); ++b) {
            const AxisBranch& branch = axis.branches[static_cast<std::size_t>(b)];
            for (const bool atTo : {false, true}) {
                const int node = atTo ? branch.to : branch.from;
                const AxisNode none{};
                all.push_back(branchEnd(
                    branch, atTo, node >= 0 ? axis.nodes[static_cast<std::size_t>(node)] : none,
                    node >= 0));
                if (node >= 0) ends[static_cast<std::size_t>(node)].push_back(2 * b + atTo);
            }
        }
        for (const auto& own : ends) pairUp(own);
    }

    const BranchEnd& end(int ref) const { return all[static_cast<std::size_t>(ref)]; }
    int partnerOf(int ref) const { return partner[static_cast<std::size_t>(ref)]; }
    const std::vector<int>& endsAt(int node) const { return ends[static_cast<std::size_t>(node)]; }

private:
    void pairUp(const std::vector<int>& own) {
        struct Candidate {
            double cost;
            int a, b;
        };
        std::vector<Candidate> candidates;
        for (std::size_t i = 0; i < own.size(); ++i)
            for (std::size_t j = i + 1; j < own.size(); ++j) {
                const BranchEnd& a = end(own[i]);
                const BranchEnd& b = end(own[j]);
                const double turn = angleBetween(a.out, b.out * -1);
                const double ratio = std::max(a.halfWidth, b.halfWidth) /
                                     std::max(1e-6, std::min(a.halfWidth, b.halfWidth));
                if (turn < mostTurn && ratio < mostWidthRatio)
                    candidates.push_back({turn + 0.35 * (ratio - 1), own[i], own[j]});
            }
        std::sort(candidates.begin(), candidates.end(),
                  [](const Candidate& a, const Candidate& b) { return a.cost < b.cost; });
        for (const Candidate& c : candidates)
            if (partnerOf(c.a) < 0 && partnerOf(c.b) < 0) {
                partner[static_cast<std::size_t>(c.a)] = c.b;
                partner[static_cast<std::size_t>(c.b)] = c.a;
            }
    }

    const Axis& axis;
    std::vector<BranchEnd> all;         // two for each branch
    std::vector<std::vector<int>> ends; // by node
    std::vector<int> partner;
};

/// Puts the branches of one stroke together.
class StrokeBuilder {
public:
    StrokeBuilder(const Axis& a, const Pairing& p) : axis(a), pairs(p) {}

    /// Walks from an end that nothing goes on into, or round a ring of branches.
    Stroke walk(int startRef, std::vector<char>& used) {
        stroke = {};
        int ref = startRef;
        stroke.startsAtMeeting = nodeOf(ref) >= 0;
        if (stroke.startsAtMeeting) stretchTo(ref, true);
        for (;;) {
            used[static_cast<std::size_t>(ref / 2)] = 1;
            appendBranch(ref);
            const int leaving = ref ^ 1;
            const int next = pairs.partnerOf(leaving);
            if (next < 0) {
                stroke.endsAtMeeting = nodeOf(leaving) >= 0;
                if (stroke.endsAtMeeting) stretchTo(leaving, false);
                break;
            }
            addMeeting(leaving, next);
            if (used[static_cast<std::size_t>(next / 2)]) {
                stroke.closed = true;
                stroke.points.push_back(stroke.points.front());
                break;
            }
            ref = next;
        }
        return std::move(stroke);
    }

private:
    int nodeOf(int ref) const {
        const AxisBranch& b = axis.branches[static_cast<std::size_t>(ref / 2)];
        return ref % 2 ? b.to : b.from;
    }
    void push(AxisPoint p) {
        if (!stroke.points.empty() && distance(stroke.points.back().at, p.at) < 1e-6) return;
        stroke.points.push_back(p);
    }
    void appendBranch(int ref) {
        const AxisBranch& b = axis.branches[static_cast<std::size_t>(ref / 2)];
        const BranchEnd& from = pairs.end(ref & ~1);
        const BranchEnd& to = pairs.end(ref | 1);
        std::vector<AxisPoint> kept(b.points.begin() + static_cast<std::ptrdiff_t>(from.keepFrom),
                                    b.points.begin() + static_cast<std::ptrdiff_t>(to.keepFrom) +
                                        1);
        if (ref % 2) {
            std::reverse(kept.begin(), kept.end());
            for (AxisPoint& p : kept) std::swap(p.left, p.right);
        }
        for (const AxisPoint& p : kept) push(p);
    }
    /// On straight to the foot of the node, so that rows beyond keep the stroke's direction.
    void stretchTo(int ref, bool atStart) {
        const BranchEnd& end = pairs.end(ref);
        const AxisNode& node = axis.nodes[static_cast<std::size_t>(nodeOf(ref))];
        const double gap = std::max(0.0, dot(node.at - end.at, end.out * -1));
        const AxisPoint foot{end.at + end.out * -gap, end.halfWidth, -1, -1};
        push(foot);
        StrokeMeeting meeting{
            atStart ? 0 : stroke.length(), node.radius, false, false, nodeOf(ref), false};
        for (const int other : pairs.endsAt(nodeOf(ref)))
            if (other != ref) noteSide(meeting, end.out * (atStart ? 1 : -1), pairs.end(other).out);
        stroke.meetings.push_back(meeting);
    }
    void addMeeting(int leaving, int next) {
        const int n = nodeOf(leaving);
        const Vec2 along = pairs.end(next).out - pairs.end(leaving).out;
        const double gap = distance(pairs.end(leaving).at, pairs.end(next).at);
        StrokeMeeting meeting{stroke.length() + gap / 2,
                              axis.nodes[static_cast<std::size_t>(n)].radius,
                              false,
                              false,
                              n,
                              true};
        for (const int other : pairs.endsAt(n))
            if (other != leaving && other != next) noteSide(meeting, along, pairs.end(other).out);
        stroke.meetings.push_back(meeting);
    }
    static void noteSide(StrokeMeeting& meeting, Vec2 along, Vec2 out) {
        const double turn = std::atan2(cross(along, out), dot(along, out));
        if (std::abs(turn) < 12 * degrees || std::abs(turn) > 168 * degrees) return;
        (turn > 0 ? meeting.right : meeting.left) = true;
    }

    const Axis& axis;
    const Pairing& pairs;
    Stroke stroke;
};

std::vector<double> lengthsAlong(const std::vector<AxisPoint>& points) {
    std::vector<double> along{0};
    for (std::size_t i = 1; i < points.size(); ++i)
        along.push_back(along.back() + distance(points[i - 1].at, points[i].at));
    return along;
}

Vec2 placeAt(const std::vector<AxisPoint>& points, const std::vector<double>& along, double s) {
    const auto it = std::upper_bound(along.begin() + 1, along.end() - 1, s);
    const auto k = static_cast<std::size_t>(it - along.begin());
    const double size = along[k] - along[k - 1];
    return lerp(points[k - 1].at, points[k].at, size == 0 ? 0 : (s - along[k - 1]) / size);
}

/// A place where the stroke is better broken in two: its index, or none.
struct Corner {
    std::size_t index;
    double turn; ///< signed, positive to the right
};

class CornerFinder {
public:
    CornerFinder(const Stroke& s, const OutlineSamples& o)
        : stroke(s), outline(o), along(lengthsAlong(s.points)), half(s.halfWidth()) {}

    std::vector<Corner> corners() const {
        std::vector<Corner> found;
        for (std::size_t i = 1; i + 1 < stroke.points.size(); ++i) {
            const double turn = axisTurn(along[i]);
            if (std::abs(turn) < cornerAxisTurn || !innerOutlineTurns(i, turn > 0)) continue;
            if (!found.empty() && along[i] - along[found.back().index] < 3 * half) {
                if (std::abs(turn) > std::abs(found.back().turn)) found.back() = {i, turn};
            } else {
                found.push_back({i, turn});
            }
        }
        return found;
    }

private:
    /// Between the directions over 0.4 to 1.5 widths before and after.
    double axisTurn(double s) const {
        const double total = along.back(), width = 2 * half;
        const double near = 0.4 * width, far = 1.5 * width;
        if (s - near < 0.35 * width || total - s - near < 0.35 * width) return 0;
        const Vec2 in = placeAt(stroke.points, along, s - near) -
                        placeAt(stroke.points, along, std::max(0.0, s - far));
        const Vec2 out = placeAt(stroke.points, along, std::min(total, s + far)) -
                         placeAt(stroke.points, along, s + near);
        return std::atan2(cross(in, out), dot(in, out));
    }
    bool innerOutlineTurns(std::size_t i, bool toRight) const {
        const int sample = toRight ? stroke.points[i].right : stroke.points[i].left;
        return sample >= 0 && outline.turnAt(sample, 0.17 * half) > cornerOutlineTurn;
    }

    const Stroke& stroke;
    const OutlineSamples& outline;
    std::vector<double> along;
    double half;
};

/// The stretch of a stroke between two of its points, with the meetings that lie on it.
Stroke stretchOf(const Stroke& stroke, std::size_t from, std::size_t to,
                 const std::vector<double>& along) {
    Stroke part;
    part.points.assign(stroke.points.begin() + static_cast<std::ptrdiff_t>(from),
                       stroke.points.begin() + static_cast<std::ptrdiff_t>(to) + 1);
    for (StrokeMeeting m : stroke.meetings)
        if (m.at >= along[from] - 1e-9 && m.at <= along[to] + 1e-9) {
            m.at -= along[from];
            part.meetings.push_back(m);
        }
    return part;
}

/// Takes the bent end of a broken stroke off and goes on straight to the corner.
void straighten(Stroke& part, bool atStart, double radius, bool otherOnRight,
                bool otherStays = true) {
    if (atStart) std::reverse(part.points.begin(), part.points.end());
    const std::vector<double> along = lengthsAlong(part.points);
    const Vec2 corner = part.points.back().at;
    const double total = along.back();
    const double keep = std::max(0.5 * total, total - 1.0 * radius);
    const double from = std::max(0.0, keep - 2.0 * radius);
    const Vec2 a = placeAt(part.points, along, from), b = placeAt(part.points, along, keep);
    while (part.points.size() > 2 && along[part.points.size() - 1] > keep) part.points.pop_back();
    const Vec2 dir = length(b - a) > 0 ? (b - a) * (1 / length(b - a)) : Vec2{};
    const Vec2 last = part.points.back().at;
    part.points.push_back(
        {last + dir * std::max(0.05, dot(corner - last, dir)), part.points.back().radius, -1, -1});
    const double newTotal = part.length();
    if (atStart) {
        std::reverse(part.points.begin(), part.points.end());
        for (StrokeMeeting& m : part.meetings) m.at += newTotal - total;
    }
    if (!otherStays) return;
    part.meetings.push_back(
        {atStart ? 0 : newTotal, radius, !otherOnRight, otherOnRight, -1, false});
    (atStart ? part.startsAtMeeting : part.endsAtMeeting) = true;
}

std::vector<Stroke> brokenAtCorners(Stroke stroke, const OutlineSamples& outline) {
    if (stroke.points.size() < 4) return {stroke};
    std::vector<Corner> corners = CornerFinder(stroke, outline).corners();
    std::vector<double> along = lengthsAlong(stroke.points);
    if (stroke.closed && !corners.empty()) {
        // A ring is opened at its first corner, and that corner then ends both sides.
        const auto at = static_cast<std::ptrdiff_t>(corners[0].index);
        const double cut = along[corners[0].index], total = along.back();
        stroke.points.pop_back();
        std::rotate(stroke.points.begin(), stroke.points.begin() + at, stroke.points.end());
        stroke.points.push_back(stroke.points.front());
        for (StrokeMeeting& m : stroke.meetings) m.at += m.at < cut ? total - cut : -cut;
        stroke.closed = false;
        const Corner first = corners[0];
        for (Corner& c : corners) c.index -= first.index;
        along = lengthsAlong(stroke.points);
        corners.erase(corners.begin());
        std::vector<Stroke> parts;
        std::size_t from = 0;
        Corner before = first;
        corners.push_back({stroke.points.size() - 1, first.turn});
        for (const Corner& c : corners) {
            Stroke part = stretchOf(stroke, from, c.index, along);
            straighten(part, true, stroke.points[from].radius, before.turn > 0);
            straighten(part, false, stroke.points[c.index].radius, c.turn > 0);
            parts.push_back(std::move(part));
            from = c.index;
            before = c;
        }
        return parts;
    }
    if (corners.empty()) return {stroke};
    // Where the open stroke is cut, its ends included.
    std::vector<std::size_t> cuts{0};
    for (const Corner& c : corners) cuts.push_back(c.index);
    cuts.push_back(stroke.points.size() - 1);
    // A short flag at a free end is covered by the rows of the stroke that it stands on.
    const auto isFlag = [&](std::size_t k, std::size_t on, bool freeEnd) {
        if (!freeEnd) return false;
        const Stroke flag = stretchOf(stroke, cuts[k], cuts[k + 1], along);
        const Stroke stem = stretchOf(stroke, cuts[on], cuts[on + 1], along);
        return flag.length() + flag.points.front().radius < flagReach * stem.halfWidth() &&
               stem.length() > 1.5 * flag.length();
    };
    const std::size_t last = corners.size();
    const bool dropFirst = isFlag(0, 1, !stroke.startsAtMeeting);
    const bool dropLast =
        isFlag(last, last - 1, !stroke.endsAtMeeting) && !(dropFirst && last == 1);
    std::vector<Stroke> parts;
    for (std::size_t k = dropFirst ? 1 : 0; k + (dropLast ? 1 : 0) <= last; ++k) {
        Stroke part = stretchOf(stroke, cuts[k], cuts[k + 1], along);
        if (k == 0) part.startsAtMeeting = stroke.startsAtMeeting;
        if (k == last) part.endsAtMeeting = stroke.endsAtMeeting;
        if (k > 0)
            straighten(part, true, stroke.points[cuts[k]].radius, corners[k - 1].turn > 0,
                       !(dropFirst && k == 1));
        if (k < last)
            straighten(part, false, stroke.points[cuts[k + 1]].radius, corners[k].turn > 0,
                       !(dropLast && k + 1 == last));
        parts.push_back(std::move(part));
    }
    return parts;
}

/// True if `a` runs through a meeting where `b` ends.
bool goesBefore(const Stroke& a, const Stroke& b) {
    for (const StrokeMeeting& m : a.meetings)
        for (const StrokeMeeting& n : b.meetings)
            if (m.node >= 0 && m.node == n.node && m.through && !n.through) return true;
    return false;
}

/// Those that run through before those that end there, else the larger first.
std::vector<Stroke> inOrder(std::vector<Stroke> strokes) {
    std::stable_sort(strokes.begin(), strokes.end(), [](const Stroke& a, const Stroke& b) {
        return a.length() * a.halfWidth() > b.length() * b.halfWidth();
    });
    std::vector<Stroke> ordered;
    while (!strokes.empty()) {
        std::size_t next = 0;
        for (std::size_t i = 0; i < strokes.size(); ++i)
            if (std::none_of(strokes.begin(), strokes.end(),
                             [&](const Stroke& s) { return goesBefore(s, strokes[i]); })) {
                next = i;
                break;
            }
        ordered.push_back(std::move(strokes[next]));
        strokes.erase(strokes.begin() + static_cast<std::ptrdiff_t>(next));
    }
    return ordered;
}

/// Takes a hook off a free end: a short last bit that turns away sharply. The rows of the stroke,
/// which then goes on straight, cover it.
void unhook(Stroke& stroke, bool atStart) {
    auto& points = stroke.points;
    if (atStart) std::reverse(points.begin(), points.end());
    const std::vector<double> along = lengthsAlong(points);
    const double total = along.back(), half = stroke.halfWidth();
    if (total > 6 * half) {
        const Vec2 in = placeAt(points, along, total - flagReach * half) -
                        placeAt(points, along, total - (flagReach + 1.6) * half);
        double cut = total;
        for (double s = total - flagReach * half; s < total - 0.6 * half; s += 0.2 * half) {
            const Vec2 before = placeAt(points, along, s) - placeAt(points, along, s - 0.8 * half);
            const Vec2 after = placeAt(points, along, std::min(total, s + 1.6 * half)) -
                               placeAt(points, along, std::min(total, s + 0.8 * half));
            if (angleBetween(before, after) > hookTurn && length(after) > 0.3 * half) {
                cut = s;
                break;
            }
        }
        if (cut < total && length(in) > 0) {
            const Vec2 dir = in * (1 / length(in));
            const Vec2 foot = placeAt(points, along, cut);
            const double radius = points.back().radius;
            while (points.size() > 2 && along[points.size() - 1] > cut) points.pop_back();
            points.push_back({foot + dir * 0.05, std::max(radius, half), -1, -1});
            if (atStart)
                for (StrokeMeeting& m : stroke.meetings) m.at += stroke.length() - total;
        }
    }
    if (atStart) std::reverse(points.begin(), points.end());
}

} // namespace

double Stroke::length() const {
    double sum = 0;
    for (std::size_t i = 1; i < points.size(); ++i) sum += distance(points[i - 1].at, points[i].at);
    return sum;
}

double Stroke::halfWidth() const {
    std::vector<double> radii;
    for (const AxisPoint& p : points)
        if (p.left >= 0) radii.push_back(p.radius);
    if (radii.empty()) return points.empty() ? 0 : points.front().radius;
    std::nth_element(radii.begin(), radii.begin() + static_cast<std::ptrdiff_t>(radii.size() / 2),
                     radii.end());
    return radii[radii.size() / 2];
}

std::vector<Stroke> strokesOf(const Axis& axis) {
    const Pairing pairs(axis);
    StrokeBuilder builder(axis, pairs);
    std::vector<char> used(axis.branches.size(), 0);
    std::vector<Stroke> whole;
    const int refs = static_cast<int>(axis.branches.size()) * 2;
    for (int ref = 0; ref < refs; ++ref) {
        const auto b = static_cast<std::size_t>(ref / 2);
        if (used[b]) continue;
        if (axis.branches[b].closed) {
            used[b] = 1;
            Stroke ring;
            ring.points = axis.branches[b].points;
            ring.closed = true;
            whole.push_back(std::move(ring));
        } else if (pairs.partnerOf(ref) < 0) {
            whole.push_back(builder.walk(ref, used));
        }
    }
    // What is left are rings of several branches.
    for (int ref = 0; ref < refs; ref += 2)
        if (!used[static_cast<std::size_t>(ref / 2)]) whole.push_back(builder.walk(ref, used));

    std::vector<Stroke> strokes;
    for (Stroke& stroke : whole)
        for (Stroke& part : brokenAtCorners(std::move(stroke), axis.samples))
            if (part.points.size() > 1) strokes.push_back(std::move(part));
    for (Stroke& stroke : strokes) {
        if (stroke.closed) continue;
        if (!stroke.startsAtMeeting) unhook(stroke, true);
        if (!stroke.endsAtMeeting) unhook(stroke, false);
    }
    return inOrder(std::move(strokes));
}

} // namespace rapt
