#include "letter/columns/columns.h"

#include "letter/columns/leftover.h"
#include "letter/columns/respace.h"
#include "letter/columns/stroke_rows.h"
#include "letter/columns/widen.h"

#include <algorithm>

namespace rapt {
namespace {

constexpr double speckMm2 = 0.02;
/// Where a column butts against another it goes on this far below it.
constexpr double buttOverlapMm = 0.4;
/// A part not much longer than wide, whose axis is short, is a dot.
constexpr double dotAxisShare = 0.75;

bool isDot(const Contours& part, const std::vector<Stroke>& strokes) {
    if (part.size() > 1) return false;
    const Box box = boundsOf(part);
    double axis = 0;
    for (const Stroke& s : strokes) axis += s.length();
    return strokes.size() <= 1 && axis < dotAxisShare * std::min(box.width(), box.height()) &&
           std::max(box.width(), box.height()) < 1.8 * std::min(box.width(), box.height());
}

class PartMaker {
public:
    PartMaker(const Contours& o, const ColumnOptions& opt, int first)
        : outline(o), options(opt), firstIndex(first), cutter(o) {}

    std::vector<Column> make() {
        const std::vector<Stroke> strokes = strokesOf(axisOf(outline, options.capHeightMm));
        if (strokes.empty() || isDot(outline, strokes)) {
            columns.push_back(uprightRows(outline, options.pitchMm));
        } else {
            for (const Stroke& stroke : strokes) addStroke(stroke);
            coverLeftovers(outline, columns, options.pitchMm);
        }
        std::erase_if(columns, [](const Column& c) { return c.rungs.size() < 2; });
        for (Column& c : columns) respace(c, options.pitchMm, options.mostDenser);
        widenThinStrokes(columns, cutter, boundsOf(outline));
        for (Column& c : columns) keepFromCrossing(c.rungs);
        for (std::size_t i = 0; i < columns.size(); ++i)
            columns[i].filled = changeOf(firstIndex + static_cast<int>(i)).fill;
        return std::move(columns);
    }

private:
    ColumnChange changeOf(int index) const {
        for (const ColumnChange& c : options.changes)
            if (c.column == index) return c;
        return {index, 0, false};
    }
    void addStroke(const Stroke& stroke) {
        const int index = firstIndex + static_cast<int>(columns.size());
        RowRequest request{&stroke,         &cutter,
                           &covered,        &barred,
                           options.pitchMm, std::clamp(changeOf(index).turnDeg, -60.0, 60.0)};
        for (Column& column : rowsAcross(request)) {
            for (Polyline& line : regionOf(column)) region.push_back(std::move(line));
            columns.push_back(std::move(column));
        }
        region = unitedNonZero(region);
        covered = RowCutter(region);
        barred = RowCutter(offsetContours(region, -buttOverlapMm));
    }

    const Contours& outline;
    const ColumnOptions& options;
    int firstIndex;
    RowCutter cutter, covered, barred;
    Contours region;
    std::vector<Column> columns;
};

} // namespace

Contours regionOf(const Column& column) {
    Polyline strip;
    for (const Rung& r : column.rungs) strip.push_back(r.left);
    for (auto r = column.rungs.rbegin(); r != column.rungs.rend(); ++r) strip.push_back(r->right);
    // All the same way round, so that neighbours unite.
    double area = 0;
    for (std::size_t i = 0; i < strip.size(); ++i)
        area += cross(strip[i], strip[(i + 1) % strip.size()]);
    if (area < 0) std::reverse(strip.begin(), strip.end());
    return unitedNonZero({strip});
}

std::vector<LetterPart> columnsOf(const Contours& glyph, const ColumnOptions& options) {
    std::vector<LetterPart> parts;
    int index = 0;
    for (Contours& outline : componentsOf(unitedNonZero(glyph))) {
        if (areaOf(outline) < speckMm2) continue;
        LetterPart part;
        part.columns = PartMaker(outline, options, index).make();
        part.outline = std::move(outline);
        index += static_cast<int>(part.columns.size());
        parts.push_back(std::move(part));
    }
    return parts;
}

} // namespace rapt
