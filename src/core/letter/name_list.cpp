#include "letter/name_list.h"

#include "base/csv.h"
#include "base/file_io.h"
#include "base/text.h"
#include "letter/faces.h"
#include "letter/setting.h"
#include "letter/spelling.h"

#include <algorithm>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <map>

namespace rapt {
namespace {

constexpr std::size_t mostNames = 5000;

std::string lower(std::string text) {
    std::transform(text.begin(), text.end(), text.begin(),
                   [](unsigned char c) { return std::tolower(c); });
    return text;
}

/// How wide a name is at a cap height: so much a mm of it, and its tracking, which stays.
struct NameWidth {
    double perMm = 0, fixedMm = 0;
    double at(double capMm) const { return perMm * capMm + fixedMm; }
    /// The cap height at which it fills some room.
    double capFor(double roomMm) const { return perMm > 0 ? (roomMm - fixedMm) / perMm : 0; }
};

/// Measured at two heights; of no width if it cannot be set.
NameWidth widthOf(const std::string& name, Lettering look, const Face& face, bool joined) {
    look.text = name;
    look.line = {};
    look.letters.clear();
    const auto width = [&](double capMm) {
        look.capHeightMm = capMm;
        const auto setting = setLettering(look, face, joined);
        return setting ? setting->widthMm : 0;
    };
    const double low = width(10), high = width(20);
    return {(high - low) / 10, 2 * low - high};
}

} // namespace

Result<std::vector<std::string>> namesOf(const std::string& text, const std::string& file) {
    if (!isPlainUtf8(text)) return badInput("is not valid UTF-8 text", {}, file);
    std::vector<std::string> names, fields;
    std::size_t column = 0;
    int number = 0;
    bool first = true;
    for (const std::string_view line : linesOf(text)) {
        ++number;
        if (trimmed(line).empty()) continue;
        if (!splitCsvRecord(line, fields))
            return badInput("has a quote that is not closed", fmt::format("line {}", number), file);
        if (std::exchange(first, false)) {
            const auto head = std::find_if(fields.begin(), fields.end(), [](const std::string& f) {
                return lower(std::string(trimmed(f))) == "name";
            });
            if (head != fields.end()) {
                column = static_cast<std::size_t>(head - fields.begin());
                continue;
            }
        }
        const std::string name =
            column < fields.size() ? std::string(trimmed(fields[column])) : std::string();
        if (name.empty())
            return badInput("has no name in its column", fmt::format("line {}", number), file);
        names.push_back(name);
        if (names.size() > mostNames)
            return badInput(fmt::format("has more than {} names", mostNames), {}, file);
    }
    if (names.empty()) return badInput("has no names", {}, file);
    return names;
}

Result<NameListPlan> planNames(const std::vector<std::string>& names, const Lettering& look,
                               double roomMm, double leastCapMm, NameSizing sizing) {
    const auto face = openFace(look.face);
    if (!face) return face.error();
    const bool joined = isJoined(look.face);
    std::map<std::string, int> seen;
    for (const std::string& n : names) ++seen[lower(n)];
    NameListPlan plan;
    double common = look.capHeightMm, widest = 0;
    const double mostCap = std::max(leastCapMm, look.capHeightMm);
    std::vector<NameWidth> widths;
    for (const std::string& n : names) {
        const ShapedLine shaped = (*face)->shape(n);
        NamedLettering row{n, look.capHeightMm, 0, {}, true};
        if (!shaped.missing.empty()) {
            row.doubts.push_back(
                fmt::format("the face does not have {}", fmt::join(shaped.missing, " ")));
            row.usable = false;
        }
        if (seen[lower(n)] > 1)
            row.doubts.push_back(fmt::format("stands {} times in the list", seen[lower(n)]));
        widths.push_back(row.usable ? widthOf(n, look, **face, joined) : NameWidth{});
        const NameWidth& own = widths.back();
        if (own.perMm > 0) common = std::min(common, own.capFor(roomMm));
        if (own.at(mostCap) > widest) {
            widest = own.at(mostCap);
            plan.longest = n;
        }
        plan.names.push_back(std::move(row));
    }
    for (const auto& [a, b] : spelledTwoWays(names)) {
        plan.names[a].doubts.push_back(fmt::format("spelt otherwise below: {}", names[b]));
        plan.names[b].doubts.push_back(fmt::format("spelt otherwise above: {}", names[a]));
    }
    common = std::clamp(common, leastCapMm, mostCap);
    for (std::size_t i = 0; i < plan.names.size(); ++i) {
        NamedLettering& row = plan.names[i];
        if (widths[i].perMm <= 0) continue;
        row.capHeightMm = sizing == NameSizing::longestDecides
                              ? common
                              : std::clamp(widths[i].capFor(roomMm), leastCapMm, mostCap);
        row.widthMm = widths[i].at(row.capHeightMm);
        if (row.widthMm > roomMm + 1e-6)
            row.doubts.push_back(fmt::format("too long: {:.1f} mm at the least legible height of "
                                             "{:.1f} mm, the room is {:.1f} mm",
                                             row.widthMm, leastCapMm, roomMm));
    }
    plan.doubtful =
        static_cast<int>(std::count_if(plan.names.begin(), plan.names.end(),
                                       [](const NamedLettering& n) { return !n.doubts.empty(); }));
    return plan;
}

} // namespace rapt
