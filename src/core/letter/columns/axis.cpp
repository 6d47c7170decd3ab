#include "letter/columns/axis.h"

#include "letter/columns/axis_graph.h"

#include <algorithm>
#include <map>

namespace rapt {
namespace {

constexpr double shortestTwigMm = 0.8;
constexpr double shortestTwigShare = 0.06; ///< of the cap height

/// Meetings whose link is shorter than half the width there are one.
class NodeMerger {
public:
    explicit NodeMerger(const AxisGraph& g) : graph(g) {}

    int rootOf(int vertex) {
        if (!parent.contains(vertex)) parent[vertex] = vertex;
        while (parent[vertex] != vertex) vertex = parent[vertex];
        return vertex;
    }
    bool tooShort(const GraphChain& chain, double length) {
        const int a = chain.vertices.front(), b = chain.vertices.back();
        if (graph.degree(a) < 3 || graph.degree(b) < 3 || rootOf(a) == rootOf(b)) return false;
        const double r = (graph.radius[static_cast<std::size_t>(a)] +
                          graph.radius[static_cast<std::size_t>(b)]) /
                         2;
        return length < r;
    }
    void join(int a, int b) { parent[rootOf(a)] = rootOf(b); }

private:
    const AxisGraph& graph;
    std::map<int, int> parent;
};

double chainLength(const AxisGraph& graph, const GraphChain& chain) {
    double sum = 0;
    for (std::size_t i = 1; i < chain.vertices.size(); ++i)
        sum += distance(graph.at[static_cast<std::size_t>(chain.vertices[i - 1])],
                        graph.at[static_cast<std::size_t>(chain.vertices[i])]);
    return sum;
}

AxisBranch branchOf(const AxisGraph& graph, const GraphChain& chain) {
    AxisBranch branch;
    branch.closed = chain.closed;
    for (std::size_t i = 0; i < chain.vertices.size(); ++i) {
        const int edge = chain.edges[std::min(i, chain.edges.size() - 1)];
        const GraphEdge& e = graph.edges[static_cast<std::size_t>(edge)];
        const auto v = static_cast<std::size_t>(chain.vertices[i]);
        AxisPoint p{graph.at[v], graph.radius[v], e.left, e.right};
        // The samples seen from the direction of walking.
        const Vec2 ahead = graph.at[static_cast<std::size_t>(
                               chain.vertices[std::min(i + 1, chain.vertices.size() - 1)])] -
                           graph.at[static_cast<std::size_t>(
                               chain.vertices[std::min(i, chain.vertices.size() - 2)])];
        const Vec2 toLeft = graph.samples.points[static_cast<std::size_t>(e.left)] - p.at;
        if (cross(ahead, toLeft) > 0) std::swap(p.left, p.right);
        branch.points.push_back(p);
    }
    return branch;
}

} // namespace

Axis axisOf(const Contours& part, double capHeightMm) {
    Axis axis;
    axis.samples = sampleOutline(part, std::clamp(0.006 * capHeightMm, 0.05, 0.16));
    if (axis.samples.points.size() < 3) return axis;
    AxisGraph graph(part, axis.samples);
    graph.prune(std::min(shortestTwigMm, shortestTwigShare * capHeightMm));
    graph.pruneSerifs();

    const auto chains = graph.chains();
    NodeMerger merger(graph);
    std::vector<char> swallowed(chains.size(), 0);
    for (std::size_t i = 0; i < chains.size(); ++i)
        if (!chains[i].closed && merger.tooShort(chains[i], chainLength(graph, chains[i]))) {
            merger.join(chains[i].vertices.front(), chains[i].vertices.back());
            swallowed[i] = 1;
        }
    std::map<int, int> nodeOfRoot;
    std::map<int, int> membersOfNode;
    const auto nodeAt = [&](int vertex) {
        if (graph.degree(vertex) < 3) return -1;
        const int root = merger.rootOf(vertex);
        const auto [it, isNew] = nodeOfRoot.try_emplace(root, static_cast<int>(axis.nodes.size()));
        if (isNew) axis.nodes.push_back({});
        return it->second;
    };
    std::map<int, std::vector<int>> members;
    for (std::size_t i = 0; i < chains.size(); ++i) {
        for (const int v : {chains[i].vertices.front(), chains[i].vertices.back()})
            if (const int n = nodeAt(v); n >= 0) {
                auto& m = members[n];
                if (std::find(m.begin(), m.end(), v) == m.end()) m.push_back(v);
            }
        if (swallowed[i]) continue;
        AxisBranch branch = branchOf(graph, chains[i]);
        if (!branch.closed) {
            branch.from = nodeAt(chains[i].vertices.front());
            branch.to = nodeAt(chains[i].vertices.back());
        }
        axis.branches.push_back(std::move(branch));
    }
    for (const auto& [n, vertices] : members) {
        AxisNode& node = axis.nodes[static_cast<std::size_t>(n)];
        for (const int v : vertices) {
            node.at = node.at + graph.at[static_cast<std::size_t>(v)] *
                                    (1.0 / static_cast<double>(vertices.size()));
            node.radius = std::max(node.radius, graph.radius[static_cast<std::size_t>(v)]);
        }
    }
    return axis;
}

} // namespace rapt
