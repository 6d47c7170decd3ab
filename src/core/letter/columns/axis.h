#pragma once
// The axis (medial axis) of one connected part of a letter: the middle line of its strokes, with
// the distance to the outline. Approximated by the Voronoi diagram of points on the outline
// (Brandt & Algazi 1992, "Continuous skeleton computation by Voronoi diagram"). Millimetres.

#include "geometry/polygon.h"

#include <vector>

namespace rapt {

/// A point on the axis: as far from the outline on both sides.
struct AxisPoint {
    Vec2 at;
    double radius = 0;       ///< distance to the outline
    int left = 0, right = 0; ///< samples that it lies between
};

/// A place where strokes meet.
struct AxisNode {
    Vec2 at;
    double radius = 0; ///< of the largest disc there
};

/// A stretch of axis between two ends; `from` and `to` are nodes, or -1 for a free end. A closed
/// ring without any meeting has neither and its first point repeats as its last.
struct AxisBranch {
    std::vector<AxisPoint> points;
    int from = -1;
    int to = -1;
    bool closed = false;
};

/// Points along the outline, contour after contour.
struct OutlineSamples {
    std::vector<Vec2> points;
    std::vector<int> contour; ///< of each sample
    std::vector<int> first;   ///< first sample of each contour; one more at the end

    /// The sample after i, around its contour.
    int next(int i) const;
    /// The sample before i, around its contour.
    int previous(int i) const;
    /// How much the outline turns (radians, 0 to π) within `reachMm` before and after a sample.
    double turnAt(int i, double reachMm) const;
};

/// The middle axis of an outline.
struct Axis {
    OutlineSamples samples;
    std::vector<AxisNode> nodes;
    std::vector<AxisBranch> branches;
};

/// Samples every `stepMm` or nearer, and every corner of the contours.
OutlineSamples sampleOutline(const Contours& part, double stepMm);

/// The axis of one part (an outer contour and its holes), with the twigs into corners cut away.
/// `capHeightMm` sets what counts as a twig. Empty for parts too small to have one.
Axis axisOf(const Contours& part, double capHeightMm);

} // namespace rapt
