#include "letter/columns/branch_end.h"

#include <algorithm>

namespace rapt {
namespace {

/// Within this share of the node's disc the axis is bent by the meeting.
constexpr double bentShare = 0.95;
/// The direction is fitted over the next 1.1 widths (0.4 to 1.5 widths from the meeting).
constexpr double fitWidths = 1.1;

double medianRadius(const std::vector<AxisPoint>& points) {
    std::vector<double> radii;
    for (const AxisPoint& p : points) radii.push_back(p.radius);
    std::nth_element(radii.begin(), radii.begin() + static_cast<std::ptrdiff_t>(radii.size() / 2),
                     radii.end());
    return radii[radii.size() / 2];
}

} // namespace

BranchEnd branchEnd(const AxisBranch& branch, bool atTo, const AxisNode& node, bool meets) {
    const std::size_t n = branch.points.size();
    const auto point = [&](std::size_t k) -> const AxisPoint& {
        return branch.points[atTo ? n - 1 - k : k];
    };
    double total = 0;
    for (std::size_t k = 1; k < n; ++k) total += distance(point(k - 1).at, point(k).at);
    BranchEnd end;
    end.halfWidth = medianRadius(branch.points);
    std::size_t k = 0;
    double gone = 0;
    const double bent = meets ? std::min(bentShare * node.radius, 0.45 * total) : 0;
    while (k + 1 < n && gone < bent && (distance(point(k).at, node.at) < bentShare * node.radius)) {
        gone += distance(point(k).at, point(k + 1).at);
        ++k;
    }
    end.keepFrom = atTo ? n - 1 - k : k;
    end.at = point(k).at;
    double fitted = 0;
    std::size_t far = k;
    while (far + 1 < n && fitted < fitWidths * 2 * end.halfWidth) {
        fitted += distance(point(far).at, point(far + 1).at);
        ++far;
    }
    Vec2 out = point(far).at - end.at;
    if (fitted < 0.3 * end.halfWidth && meets) out = point(n - 1).at - node.at;
    const double size = length(out);
    end.out = size > 0 ? out * (1 / size) : Vec2{1, 0};
    return end;
}

} // namespace rapt
