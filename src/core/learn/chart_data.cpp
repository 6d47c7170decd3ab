#include "learn/chart_data.h"

#include "base/csv.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <map>

namespace rapt {
namespace {

constexpr double binLayers = 0.2;

/// Bars of middle values with the number of cases.
std::vector<ChartRow> medians(std::map<std::string, std::vector<double>> groups) {
    std::vector<ChartRow> rows;
    for (auto& [name, values] : groups) {
        std::sort(values.begin(), values.end());
        rows.push_back({name, values[values.size() / 2], static_cast<double>(values.size())});
    }
    return rows;
}

ChartData joins(const std::vector<StitchOut>& records) {
    ChartData d{"Measured gaps at joins, by method",
                "Method",
                "Median gap, mm",
                {"Method", "Median, mm", "Gaps"}};
    std::map<std::string, std::vector<double>> groups;
    for (const StitchOut& r : records)
        for (const double g : r.gapsMm)
            groups[r.method.empty() ? "not said" : r.method].push_back(g);
    d.rows = medians(std::move(groups));
    return d;
}

ChartData breaks(const std::vector<StitchOut>& records, const Fabric& fabric) {
    ChartData d{fabric.name + ": trouble against load",
                "Peak load, layers",
                "With trouble, %",
                {"Layers", "With trouble, %", "Stitch-outs"}};
    std::map<int, std::pair<int, int>> bins; // trouble, all
    for (const StitchOut& r : records) {
        if (r.fabric != fabric.id || !r.peakLayers || r.outcome.empty()) continue;
        const bool bad = r.outcome != "good";
        if (bad && !mayBeOfLoad(r.cause)) continue;
        auto& bin = bins[static_cast<int>(*r.peakLayers / binLayers)];
        bin.first += bad;
        ++bin.second;
    }
    d.most = 100;
    if (bins.empty()) return d;
    const int first = bins.begin()->first, last = bins.rbegin()->first;
    for (int k = first; k <= last; ++k) {
        const auto& [bad, all] = bins[k];
        d.rows.push_back({fmt::format("{:.1f}", (k + 0.5) * binLayers),
                          all > 0 ? 100.0 * bad / all : 0, static_cast<double>(all)});
    }
    d.line = fabric.maxLayers / binLayers - first - 0.5;
    d.lineName = fmt::format("limit {:.1f} layers", fabric.maxLayers);
    return d;
}

ChartData estimates(const std::vector<StitchOut>& records) {
    ChartData d{"Time taken against the estimate",
                "Estimated, min",
                "Taken, min",
                {"Job", "Estimated, min", "Taken, min"}};
    d.points = true;
    for (const StitchOut& r : records)
        if (r.secondsEstimated && r.secondsTaken)
            d.rows.push_back({r.job, *r.secondsEstimated / 60, *r.secondsTaken / 60});
    return d;
}

ChartData thread(const std::vector<StitchOut>& records) {
    ChartData d{"Thread used by month", "Month", "Metres", {"Month", "Metres", "Stitch-outs"}};
    d.wide = true;
    std::map<std::string, std::pair<double, double>> months;
    for (const StitchOut& r : records) {
        auto& month = months[r.date.substr(0, 7)];
        for (const ThreadUsed& t : r.threads) month.first += t.lengthM;
        ++month.second;
    }
    for (const auto& [name, sums] : months) d.rows.push_back({name, sums.first, sums.second});
    if (d.rows.size() > 12) d.rows.erase(d.rows.begin(), d.rows.end() - 12);
    return d;
}

std::string wordsOf(const std::string& cause) {
    for (const Cause& c : causes())
        if (c.id == cause) return c.words;
    return "not said";
}

ChartData spoilt(const std::vector<StitchOut>& records) {
    ChartData d{"Mended or spoilt, by cause",
                "Cause",
                "Stitch-outs",
                {"Cause", "Stitch-outs", "of them spoilt"}};
    d.wide = true;
    std::map<std::string, std::pair<int, int>> counts;
    for (const StitchOut& r : records) {
        if (r.outcome != "mended" && r.outcome != "spoilt") continue;
        auto& c = counts[wordsOf(r.cause)];
        ++c.first;
        c.second += r.outcome == "spoilt";
    }
    for (const auto& [name, c] : counts)
        d.rows.push_back({name, static_cast<double>(c.first), static_cast<double>(c.second)});
    std::stable_sort(d.rows.begin(), d.rows.end(),
                     [](const ChartRow& a, const ChartRow& b) { return a.value > b.value; });
    return d;
}

} // namespace

ChartData chartOf(ChartKind kind, const std::vector<StitchOut>& records, const Fabric& fabric) {
    switch (kind) {
    case ChartKind::joins:
        return joins(records);
    case ChartKind::breaks:
        return breaks(records, fabric);
    case ChartKind::estimates:
        return estimates(records);
    case ChartKind::thread:
        return thread(records);
    case ChartKind::spoilt:
        break;
    }
    return spoilt(records);
}

std::string chartCsv(const ChartData& data) {
    std::string text;
    for (std::size_t i = 0; i < data.heads.size(); ++i)
        text += (i ? "," : "") + quotedCsvField(data.heads[i]);
    text += '\n';
    for (const ChartRow& r : data.rows)
        text += fmt::format("{},{:.4g},{:.4g}\n", quotedCsvField(r.name), r.value, r.second);
    return text;
}

} // namespace rapt
