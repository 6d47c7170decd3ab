// Fabrics that a person changed.

#include "library/learnt.h"
#include "library/library.h"
#include "library/records.h"

#include <fmt/format.h>

namespace rapt {
using nlohmann::json;
namespace {

json fabricJson(const Fabric& x) {
    json j{{"id", x.id},
           {"name", x.name},
           {"max_layers", x.maxLayers},
           {"max_hits_per_mm2", x.maxHits},
           {"thickness_mm", x.thicknessMm},
           {"pull_mm", x.pullMm},
           {"usual_stretch_percent", x.usualStretchPercent},
           {"least_letter_mm", x.leastLetterMm},
           {"least_column_mm", x.leastColumnMm},
           {"most_column_mm", x.mostColumnMm},
           {"tuck_mm", x.tuckMm},
           {"stabilizer", x.stabilizer},
           {"topper", x.topper},
           {"needle", x.needle},
           {"top_speed_spm", x.topSpeed},
           {"stitch_outs", x.stitchOuts},
           {"source", x.source}};
    if (x.stabilizerLayers != 1) j["stabilizer_layers"] = x.stabilizerLayers;
    if (x.maxLineHits) j["max_line_hits_per_mm"] = *x.maxLineHits;
    return j;
}

} // namespace

std::string sourceOf(const Fabric& fabric) {
    if (fabric.stitchOuts > 0)
        return fmt::format("learnt from {} stitch-out{}", fabric.stitchOuts,
                           fabric.stitchOuts == 1 ? "" : "s");
    return fabric.source.empty() ? "house value" : fabric.source;
}

std::vector<std::string> problemsOf(const Fabric& x) {
    std::vector<std::string> problems;
    const auto within = [&](const char* what, double value, double low, double high) {
        if (!(value >= low && value <= high))
            problems.push_back(fmt::format("{} is {:g}; it must be between {:g} and {:g}", what,
                                           value, low, high));
    };
    if (x.id.empty()) problems.push_back("the fabric has no id");
    if (x.name.empty()) problems.push_back("the fabric has no name");
    within("most layers", x.maxLayers, 0.5, 20);
    within("most hits per mm²", x.maxHits, 0.5, 100);
    within("thickness in mm", x.thicknessMm, 0.01, 50);
    within("pull in mm", x.pullMm, 0, 2);
    within("least letter height in mm", x.leastLetterMm, 1, 100);
    within("least column width in mm", x.leastColumnMm, 0.2, 20);
    within("most column width in mm", x.mostColumnMm, x.leastColumnMm, 50);
    within("tuck in mm", x.tuckMm, 0, 10);
    within("top speed in stitches per minute", x.topSpeed, 50, 5000);
    if (x.maxLineHits) within("most needle points per mm of a line", *x.maxLineHits, 0.1, 100);
    return problems;
}

Status saveUserFabric(const Fabric& typed, const std::string& userFolder) {
    Fabric fabric = typed;
    if (const Status settled = settleLearnt(fabric, userFolder); !settled) return settled;
    std::vector<const char*> obsolete;
    if (!fabric.maxLineHits) obsolete.push_back("max_line_hits_per_mm");
    return saveRecord(userFolder, "fabrics", fabricJson(fabric), obsolete);
}

} // namespace rapt
