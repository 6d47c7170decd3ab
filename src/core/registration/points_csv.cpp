#include "registration/points_csv.h"

#include "base/csv.h"
#include "base/file_io.h"

#include <array>
#include <charconv>
#include <fmt/format.h>

namespace rapt {
namespace {

constexpr std::size_t maxFileBytes = 4'000'000;
constexpr std::size_t maxPoints = 10'000;
constexpr double farMm = 1e6;

} // namespace

Result<std::vector<PointPair>> parsePointsCsv(const std::string& text, const std::string& file) {
    const std::vector<std::string> columns{"name", "plan_x", "plan_y", "seen_x", "seen_y"};
    std::vector<PointPair> points;
    std::vector<std::string> fields;
    bool columnsSeen = false;
    std::size_t number = 0;
    for (const std::string_view line : linesOf(text)) {
        ++number;
        const auto refuse = [&](std::string reason) {
            return badInput(std::move(reason), fmt::format("line {}", number), file);
        };
        if (line.empty()) continue;
        if (!isPlainUtf8(line)) return refuse("is not valid UTF-8");
        if (!splitCsvRecord(line, fields)) return refuse("the quotes of this record are wrong");
        if (!columnsSeen) {
            if (fields != columns)
                return refuse("expected the column line 'name,plan_x,plan_y,seen_x,seen_y'");
            columnsSeen = true;
            continue;
        }
        if (fields.size() != columns.size())
            return refuse(fmt::format("a record has 5 fields, this has {}", fields.size()));
        std::array<double, 4> v{};
        for (std::size_t i = 0; i < v.size(); ++i) {
            const std::string& f = fields[i + 1];
            const auto r = std::from_chars(f.data(), f.data() + f.size(), v[i]);
            if (r.ec != std::errc() || r.ptr != f.data() + f.size() || !(std::abs(v[i]) <= farMm))
                return refuse(
                    fmt::format("{} '{}' is not a number of millimetres", columns[i + 1], f));
        }
        for (const PointPair& p : points)
            if (!p.name.empty() && p.name == fields[0])
                return refuse(fmt::format("the name '{}' is used twice", fields[0]));
        points.push_back({fields[0], {v[0], v[1]}, {v[2], v[3]}});
        if (points.size() > maxPoints) return refuse("more than 10,000 points");
    }
    if (!columnsSeen)
        return badInput("holds no column line 'name,plan_x,plan_y,seen_x,seen_y'", "line 1", file);
    return points;
}

Result<std::vector<PointPair>> readPointsFile(const std::string& path) {
    const Result<std::string> text = readWholeFile(path, maxFileBytes);
    if (!text) return text.error();
    return parsePointsCsv(*text, path);
}

} // namespace rapt
