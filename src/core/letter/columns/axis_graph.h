#pragma once
// The raw axis as a graph of Voronoi vertices, while twigs are cut from it. Internal to axis.cpp.

#include "letter/columns/axis.h"

namespace rapt {

/// A branch of the axis between two vertices.
struct GraphEdge {
    int a = 0, b = 0;        ///< vertices
    int left = 0, right = 0; ///< samples on both sides
    bool alive = true;
};

/// A run of edges between two vertices that are not plain passages.
struct GraphChain {
    std::vector<int> edges;
    std::vector<int> vertices; ///< one more than edges
    bool closed = false;
};

/// The middle axis as a graph.
class AxisGraph {
public:
    /// The inner Voronoi edges of the samples.
    AxisGraph(const Contours& part, const OutlineSamples& samples);

    /// Branches joined where only two meet.
    std::vector<GraphChain> chains() const;
    /// How many branches meet in a vertex.
    int degree(int vertex) const;
    /// Cuts away twigs until none is left: those that stand out little against their foot, or are
    /// shorter than `shortMm`. Twigs of one foot go in the same round.
    void prune(double shortMm);
    /// Cuts away the arms of serifs at the ends of stems.
    void pruneSerifs();

    const OutlineSamples& samples;
    std::vector<Vec2> at;
    std::vector<double> radius;
    std::vector<GraphEdge> edges;

private:
    bool isTwig(const GraphChain& chain, double shortMm) const;
    double protrusion(int left, int right, Vec2 tip, int tipSample) const;
    double lengthOfChain(const GraphChain& chain) const;
    void cut(const GraphChain& chain);
    Vec2 wayOut(const GraphChain& chain, int node) const;
    double reachOf(const GraphChain& arm, int node) const;
    bool isSerif(const GraphChain& a, const GraphChain& b, const GraphChain& stem, int node) const;

    std::vector<std::vector<int>> incident; ///< edges of each vertex, dead ones too
};

} // namespace rapt
