#include "letter/columns/axis_graph.h"

#include <algorithm>
#include <boost/polygon/voronoi.hpp>
#include <map>
#include <numeric>

namespace rapt {
namespace {

/// Samples become whole numbers for the exact predicates of the diagram.
constexpr double unitsPerMm_ = 10'000;
/// A twig that stands out less than this against the cut at its foot only reaches into a corner.
constexpr double leastProtrusion = 0.62;

using VoronoiPoint = boost::polygon::point_data<std::int32_t>;

bool neighbours(const OutlineSamples& s, int a, int b) { return s.next(a) == b || s.next(b) == a; }

/// A serif: two arms, opposite each other and across the stem, that together are at most this many
/// times as wide as the stem. The stem's own rows cover it.
constexpr double serifReach = 3.0;   ///< of one arm, in half widths of the stem
constexpr double serifReachMm = 3.4; ///< farther rows would be split
constexpr double acrossCosine = 0.5, oppositeCosine = -0.6;

} // namespace

AxisGraph::AxisGraph(const Contours& part, const OutlineSamples& given) : samples(given) {
    std::vector<VoronoiPoint> points;
    for (const Vec2& p : samples.points)
        points.emplace_back(static_cast<std::int32_t>(std::lround(p.x * unitsPerMm_)),
                            static_cast<std::int32_t>(std::lround(p.y * unitsPerMm_)));
    boost::polygon::voronoi_diagram<double> diagram;
    boost::polygon::construct_voronoi(points.begin(), points.end(), &diagram);

    std::vector<char> inside;
    for (const auto& v : diagram.vertices()) {
        at.push_back({v.x() / unitsPerMm_, v.y() / unitsPerMm_});
        inside.push_back(contains(part, at.back()));
        const auto sample = v.incident_edge()->cell()->source_index();
        radius.push_back(distance(at.back(), samples.points[sample]));
    }
    incident.resize(at.size());
    for (const auto& e : diagram.edges()) {
        if (!e.is_finite() || &e > e.twin()) continue;
        const int a = static_cast<int>(e.vertex0() - diagram.vertices().data());
        const int b = static_cast<int>(e.vertex1() - diagram.vertices().data());
        if (a == b || !inside[static_cast<std::size_t>(a)] || !inside[static_cast<std::size_t>(b)])
            continue;
        const int left = static_cast<int>(e.cell()->source_index());
        const int right = static_cast<int>(e.twin()->cell()->source_index());
        if (neighbours(samples, left, right)) continue;
        incident[static_cast<std::size_t>(a)].push_back(static_cast<int>(edges.size()));
        incident[static_cast<std::size_t>(b)].push_back(static_cast<int>(edges.size()));
        edges.push_back({a, b, left, right, true});
    }
}

int AxisGraph::degree(int vertex) const {
    const auto& own = incident[static_cast<std::size_t>(vertex)];
    return static_cast<int>(std::count_if(own.begin(), own.end(), [this](int e) {
        return edges[static_cast<std::size_t>(e)].alive;
    }));
}

std::vector<GraphChain> AxisGraph::chains() const {
    std::vector<GraphChain> result;
    std::vector<char> used(edges.size(), 0);
    const auto walk = [&](int vertex, int edge) {
        GraphChain chain;
        chain.vertices.push_back(vertex);
        while (edge >= 0) {
            used[static_cast<std::size_t>(edge)] = 1;
            chain.edges.push_back(edge);
            const GraphEdge& e = edges[static_cast<std::size_t>(edge)];
            vertex = e.a == vertex ? e.b : e.a;
            chain.vertices.push_back(vertex);
            edge = -1;
            if (degree(vertex) != 2) break;
            for (const int n : incident[static_cast<std::size_t>(vertex)])
                if (edges[static_cast<std::size_t>(n)].alive && !used[static_cast<std::size_t>(n)])
                    edge = n;
        }
        return chain;
    };
    for (int v = 0; v < static_cast<int>(at.size()); ++v) {
        const int d = degree(v);
        if (d == 0 || d == 2) continue;
        for (const int e : incident[static_cast<std::size_t>(v)])
            if (edges[static_cast<std::size_t>(e)].alive && !used[static_cast<std::size_t>(e)])
                result.push_back(walk(v, e));
    }
    // What is left are rings without a meeting.
    for (int e = 0; e < static_cast<int>(edges.size()); ++e) {
        if (!edges[static_cast<std::size_t>(e)].alive || used[static_cast<std::size_t>(e)])
            continue;
        result.push_back(walk(edges[static_cast<std::size_t>(e)].a, e));
        result.back().closed = true;
    }
    return result;
}

double AxisGraph::lengthOfChain(const GraphChain& chain) const {
    double sum = 0;
    for (std::size_t i = 1; i < chain.vertices.size(); ++i)
        sum += distance(at[static_cast<std::size_t>(chain.vertices[i - 1])],
                        at[static_cast<std::size_t>(chain.vertices[i])]);
    return sum;
}

/// How far the outline that runs round the tip strays from the line between two samples.
double AxisGraph::protrusion(int left, int right, Vec2 tip, int tipSample) const {
    const Vec2 a = samples.points[static_cast<std::size_t>(left)];
    const Vec2 b = samples.points[static_cast<std::size_t>(right)];
    const double width = distance(a, b);
    if (width == 0) return 0;
    if (samples.contour[static_cast<std::size_t>(left)] !=
        samples.contour[static_cast<std::size_t>(right)])
        return std::abs(cross(b - a, tip - a)) / width;
    // The arc of the outline that runs round the tip.
    const auto onArc = [&](int from, int to, int sample) {
        for (int i = from; i != to; i = samples.next(i))
            if (i == sample) return true;
        return false;
    };
    const bool forward = onArc(left, right, tipSample);
    double most = 0;
    for (int i = forward ? left : right, to = forward ? right : left; i != to; i = samples.next(i))
        most = std::max(
            most, std::abs(cross(b - a, samples.points[static_cast<std::size_t>(i)] - a)) / width);
    return most;
}

bool AxisGraph::isTwig(const GraphChain& chain, double shortMm) const {
    if (chain.closed || chain.edges.empty()) return false;
    const bool fromLeaf = degree(chain.vertices.front()) == 1;
    const bool toLeaf = degree(chain.vertices.back()) == 1;
    if (fromLeaf == toLeaf) return false;
    const GraphEdge& foot =
        edges[static_cast<std::size_t>(fromLeaf ? chain.edges.back() : chain.edges.front())];
    const int tip = fromLeaf ? chain.vertices.front() : chain.vertices.back();
    const int base = fromLeaf ? chain.vertices.back() : chain.vertices.front();
    const double cutMm = distance(samples.points[static_cast<std::size_t>(foot.left)],
                                  samples.points[static_cast<std::size_t>(foot.right)]);
    const GraphEdge& last =
        edges[static_cast<std::size_t>(fromLeaf ? chain.edges.front() : chain.edges.back())];
    int tipSample = last.left;
    if (tipSample == foot.left || tipSample == foot.right) tipSample = last.right;
    const double out =
        protrusion(foot.left, foot.right, at[static_cast<std::size_t>(tip)], tipSample);
    // What really sticks out of the disc at the foot.
    const double beyond = lengthOfChain(chain) + radius[static_cast<std::size_t>(tip)] -
                          radius[static_cast<std::size_t>(base)];
    return out < leastProtrusion * cutMm || beyond < shortMm;
}

void AxisGraph::cut(const GraphChain& chain) {
    for (const int e : chain.edges) edges[static_cast<std::size_t>(e)].alive = false;
}

Vec2 AxisGraph::wayOut(const GraphChain& chain, int node) const {
    const bool fromStart = chain.vertices.front() == node;
    const Vec2 start = at[static_cast<std::size_t>(node)];
    const double far = 2 * radius[static_cast<std::size_t>(node)];
    Vec2 end = start;
    for (std::size_t i = 0; i < chain.vertices.size(); ++i) {
        const int v = chain.vertices[fromStart ? i : chain.vertices.size() - 1 - i];
        end = at[static_cast<std::size_t>(v)];
        if (distance(start, end) > far) break;
    }
    const double size = distance(start, end);
    return size > 0 ? (end - start) * (1 / size) : Vec2{};
}

double AxisGraph::reachOf(const GraphChain& arm, int node) const {
    const int tip = arm.vertices.front() == node ? arm.vertices.back() : arm.vertices.front();
    return distance(at[static_cast<std::size_t>(tip)], at[static_cast<std::size_t>(node)]) +
           radius[static_cast<std::size_t>(tip)];
}

bool AxisGraph::isSerif(const GraphChain& a, const GraphChain& b, const GraphChain& stem,
                        int node) const {
    const Vec2 outA = wayOut(a, node), outB = wayOut(b, node), up = wayOut(stem, node);
    if (dot(outA, outB) > oppositeCosine) return false;
    if (std::abs(dot(outA, up)) > acrossCosine || std::abs(dot(outB, up)) > acrossCosine)
        return false;
    std::vector<double> radii;
    for (const int v : stem.vertices) radii.push_back(radius[static_cast<std::size_t>(v)]);
    std::nth_element(radii.begin(), radii.begin() + static_cast<std::ptrdiff_t>(radii.size() / 2),
                     radii.end());
    const double half = radii[radii.size() / 2];
    const double reach = std::max(reachOf(a, node), reachOf(b, node));
    return reach < std::min(serifReachMm, serifReach * half) && lengthOfChain(stem) > 1.5 * reach;
}

void AxisGraph::pruneSerifs() {
    const auto all = chains();
    std::map<int, std::vector<const GraphChain*>> byNode;
    for (const GraphChain& chain : all) {
        if (chain.closed) continue;
        byNode[chain.vertices.front()].push_back(&chain);
        if (chain.vertices.back() != chain.vertices.front())
            byNode[chain.vertices.back()].push_back(&chain);
    }
    for (const auto& [node, own] : byNode) {
        if (own.size() != 3 || degree(node) != 3) continue;
        const auto isArm = [&](const GraphChain* c) {
            return degree(c->vertices.front()) == 1 || degree(c->vertices.back()) == 1;
        };
        for (int stem = 0; stem < 3; ++stem) {
            const GraphChain* a = own[static_cast<std::size_t>((stem + 1) % 3)];
            const GraphChain* b = own[static_cast<std::size_t>((stem + 2) % 3)];
            if (!isArm(a) || !isArm(b) ||
                !isSerif(*a, *b, *own[static_cast<std::size_t>(stem)], node))
                continue;
            cut(*a);
            cut(*b);
            break;
        }
    }
}

void AxisGraph::prune(double shortMm) {
    for (bool changed = true; changed;) {
        changed = false;
        const auto all = chains();
        std::map<int, std::vector<const GraphChain*>> twigs; // by foot
        for (const GraphChain& chain : all)
            if (isTwig(chain, shortMm))
                twigs[degree(chain.vertices.front()) == 1 ? chain.vertices.back()
                                                          : chain.vertices.front()]
                    .push_back(&chain);
        for (auto& [foot, own] : twigs) {
            // Of a star of twigs alone the two longest stay: they are its axis.
            if (static_cast<int>(own.size()) == degree(foot)) {
                std::sort(own.begin(), own.end(), [this](auto* a, auto* b) {
                    return lengthOfChain(*a) < lengthOfChain(*b);
                });
                own.resize(own.size() - 2);
            }
            for (const GraphChain* chain : own) cut(*chain);
            changed = changed || !own.empty();
        }
    }
}

} // namespace rapt
