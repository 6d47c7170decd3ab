#include "letter/columns/row_line.h"

#include <algorithm>

namespace rapt {

RowCutter::RowCutter(const Contours& contours) {
    for (const Polyline& line : contours)
        for (std::size_t i = 0; i < line.size(); ++i)
            edges.push_back({line[i], line[(i + 1) % line.size()]});
}

std::vector<Stretch> RowCutter::inside(Vec2 middle, Vec2 direction) const {
    std::vector<double> cuts;
    for (const Edge& e : edges) {
        const double a = cross(direction, e.a - middle), b = cross(direction, e.b - middle);
        if ((a > 0) == (b > 0)) continue;
        cuts.push_back(dot(lerp(e.a, e.b, a / (a - b)) - middle, direction));
    }
    std::sort(cuts.begin(), cuts.end());
    std::vector<Stretch> result;
    for (std::size_t i = 0; i + 1 < cuts.size(); i += 2) result.push_back({cuts[i], cuts[i + 1]});
    return result;
}

std::vector<Stretch> without(const std::vector<Stretch>& from, const std::vector<Stretch>& taken) {
    std::vector<Stretch> result;
    for (Stretch s : from) {
        for (const Stretch& t : taken) {
            if (t.to <= s.from || t.from >= s.to) continue;
            if (t.from > s.from) result.push_back({s.from, t.from});
            s.from = t.to;
        }
        if (s.from < s.to) result.push_back(s);
    }
    return result;
}

} // namespace rapt
