#include "thread/ties.h"

#include "thread/sequences.h"

namespace rapt {
namespace {

// A tie turns back on itself within this reach of the end, by stitches no longer than that.
constexpr double tieReachMm = 1.1;

/// A point along the thread from its end, and never beyond it: at the foot of a letter that would
/// be outside.
template<class Iterator>
Vec2 heldPoint(Iterator begin, Iterator end) {
    const Vec2 from = *begin;
    if (end - begin < 2) return from + Vec2{tieStitchMm, 0};
    for (auto to = begin + 1; to != end && to != begin + 4; ++to)
        if (const double size = distance(from, *to); size >= shortStitchMm)
            return from + (*to - from) * std::min(1.0, tieStitchMm / size);
    return *(begin + 1);
}

/// Two stitches back and forth at the very end.
template<class Iterator>
bool isTied(Iterator begin, Iterator end) {
    if (end - begin < 4) return false;
    int turns = 0;
    for (auto p = begin + 1; p + 1 != end && p != begin + 5; ++p) {
        if (distance(*begin, *p) > tieReachMm) break;
        turns += dot(*p - *(p - 1), *(p + 1) - *p) < 0;
    }
    return turns >= 2;
}

Polyline pointsOf(const StitchList& list, const Sequence& s) {
    Polyline points;
    for (std::size_t i = s.first; i < s.last; ++i) points.push_back(list.stitches[i].at());
    return points;
}

/// True if at least two further penetrations of its sequence lie near an end.
template<class Iterator>
bool holds(Iterator begin, Iterator end) {
    constexpr double heldWithinMm = 1.5;
    int near = 0;
    for (auto p = begin + 1; p != end && near < 2 && distance(*begin, *p) <= heldWithinMm; ++p)
        ++near;
    return near >= 2;
}

/// Records at which a thread begins or ends in a list.
std::vector<bool> endsOf(const StitchList& list) {
    std::vector<bool> ends(list.stitches.size(), false);
    for (const Sequence& s : sequencesOf(list)) {
        if (s.cutBefore) ends[s.first] = true;
        if (s.cutAfter) ends[s.last - 1] = true;
    }
    return ends;
}

} // namespace

std::array<Vec2, 2> tieBefore(const Polyline& points) {
    return {points.front(), heldPoint(points.begin(), points.end())};
}

std::array<Vec2, 2> tieAfter(const Polyline& points) {
    return {heldPoint(points.rbegin(), points.rend()), points.back()};
}

namespace {

/// Ties the ends that `asked(record)` names and that are not tied.
template<class Asked>
TracedList tied(const TracedList& list, Asked asked) {
    TracedList result = tracedLike(list);
    result.origins.inheritGone(list.origins);
    std::size_t record = 0;
    const auto copy = [&](std::size_t to) {
        for (; record < to; ++record) {
            result.stitches.push_back(list.stitches[record]);
            result.origins.copy(list.origins, record);
        }
    };
    for (const Sequence& s : sequencesOf(list)) {
        copy(s.first);
        Polyline points = pointsOf(list, s);
        if (s.ledInFrom) points.insert(points.begin(), *s.ledInFrom);
        const std::uint8_t thread = list.stitches[s.first].thread;
        const auto make = [&](Vec2 p, NewRecord why) {
            result.make(stitchAt(Op::stitch, p, thread), why);
        };
        if (s.cutBefore && asked(s.first) && !isTied(points.begin(), points.end())) {
            for (const Vec2 p : tieBefore(points)) make(p, NewRecord::tie);
            if (s.ledInFrom) make(*s.ledInFrom, NewRecord::cutEnd);
        }
        copy(s.last);
        if (s.cutAfter && asked(s.last - 1) && !isTied(points.rbegin(), points.rend()))
            for (const Vec2 p : tieAfter(points)) make(p, NewRecord::tie);
    }
    copy(list.stitches.size());
    return result;
}

} // namespace

TracedList tieEnds(const StitchList& list) {
    return tied(tracedWhole(list), [](std::size_t) { return true; });
}

TracedList tieMadeEnds(const StitchList& input, const TracedList& made) {
    const std::vector<bool> known = endsOf(input);
    return tied(made, [&](std::size_t record) {
        const auto from = made.origins.at(record);
        return !from || !known[*from];
    });
}

std::optional<std::size_t> untiedEnd(const StitchList& input, const TracedList& made) {
    const std::vector<bool> known = endsOf(input);
    const auto isKnown = [&](std::size_t record) {
        const auto from = made.origins.at(record);
        return from && known[*from];
    };
    for (const Sequence& s : sequencesOf(made)) {
        const Polyline points = pointsOf(made, s);
        if (s.cutBefore && !isKnown(s.first) && !holds(points.begin(), points.end()))
            return s.first;
        if (s.cutAfter && !isKnown(s.last - 1) && !holds(points.rbegin(), points.rend()))
            return s.last - 1;
    }
    return std::nullopt;
}

} // namespace rapt
