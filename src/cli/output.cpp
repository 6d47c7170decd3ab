#include "cli/output.h"

#include <fmt/format.h>

namespace rapt::cli {
using nlohmann::ordered_json;

ordered_json pointJson(Vec2 p) { return ordered_json::array({p.x, p.y}); }

ordered_json pointJson(const std::optional<Vec2>& p) {
    return p ? pointJson(*p) : ordered_json(nullptr);
}

ordered_json orNull(const std::optional<double>& value) {
    return value ? ordered_json(*value) : ordered_json(nullptr);
}

ordered_json boxJson(const Box& b) {
    if (b.empty()) return {{"x", 0}, {"y", 0}, {"width", 0}, {"height", 0}};
    return {{"x", b.minX}, {"y", b.minY}, {"width", b.width()}, {"height", b.height()}};
}

static std::string remedyText(const Remedy& r) { return r.label + ": " + r.effect; }

ordered_json findingsJson(const std::vector<Finding>& findings) {
    ordered_json list = ordered_json::array();
    for (const Finding& f : findings) {
        ordered_json j{{"severity", nameOf(f.severity)}, {"kind", f.kind}};
        j["at"] = pointJson(f.at);
        j["value"] = orNull(f.value);
        j["limit"] = orNull(f.limit);
        j["text"] = f.text;
        j["cause"] = f.cause;
        j["pieces"] = f.pieces;
        j["count"] = f.count;
        j["excess"] = orNull(f.excess);
        j["excess_total"] = orNull(f.excessTotal);
        j["remedy"] = f.remedy() ? ordered_json(remedyText(*f.remedy())) : ordered_json(nullptr);
        j["remedies"] = ordered_json::array();
        for (const Remedy& r : f.remedies)
            j["remedies"].push_back({{"text", remedyText(r)},
                                     {"value_before", orNull(r.valueBefore)},
                                     {"value_after", orNull(r.valueAfter)}});
        j["ways_out"] = ordered_json::array();
        for (const Remedy& r : f.remedies) j["ways_out"].push_back(remedyText(r));
        if (f.remedies.empty() && !f.advice.empty()) j["ways_out"].push_back(f.advice);
        list.push_back(std::move(j));
    }
    return list;
}

void addMeasures(ordered_json& json, const Measures& m) {
    json["stitches"] = m.stitches;
    json["jumps"] = m.jumps;
    json["trims"] = m.trims;
    json["stops"] = m.stops;
    json["thread_changes"] = m.threadChanges;
    json["threads"] = ordered_json::array();
    for (const ThreadUse& u : m.threads)
        json["threads"].push_back({{"index", u.thread.index},
                                   {"color", formatRgb(u.thread.color)},
                                   {"weight", u.thread.weight},
                                   {"name", u.thread.name},
                                   {"stitches", u.stitches},
                                   {"length_mm", u.lengthMm}});
    json["extents_mm"] = boxJson(m.extents);
}

std::string measuresText(const std::string& title, const Measures& m) {
    std::string text = fmt::format(
        "{}\n  {:.1f} × {:.1f} mm, {} stitches, {} jumps, {} trims, {} thread changes\n", title,
        m.extents.width(), m.extents.height(), m.stitches, m.jumps, m.trims, m.threadChanges);
    for (const ThreadUse& u : m.threads)
        text += fmt::format("  {:>3}  {}  {:g} wt  {:<18} {:>7} stitches  {:>8.2f} m\n",
                            u.thread.index, formatRgb(u.thread.color), u.thread.weight,
                            u.thread.name, u.stitches, u.lengthMm / 1000);
    return text;
}

std::string findingsText(const std::vector<Finding>& findings) {
    if (findings.empty()) return "No findings.\n";
    std::string text;
    for (const ToldFinding& told : toldTogether(findings)) {
        const Finding& f = findings[told.worst];
        text += fmt::format("{:<8} {}", nameOf(f.severity), f.text);
        if (f.at) text += fmt::format(", at x {:.1f}, y {:.1f} mm", f.at->x, f.at->y);
        text += "\n";
        for (const std::size_t i : told.also)
            text += fmt::format("         {}\n", alsoText(f, findings[i]));
        if (const std::string why = f.why(); !why.empty())
            text += fmt::format("         {}\n", why);
        const char* head = "Remedy";
        for (const Remedy& r : f.remedies) {
            text += fmt::format("         {}: {} ({})\n", head, r.label, r.effect);
            head = "Or";
        }
        if (f.remediesOpen) text += "         Remedies were not looked for\n";
    }
    return text;
}

} // namespace rapt::cli
