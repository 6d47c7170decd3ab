#include "record/stitch_out.h"

#include <algorithm>
#include <chrono>
#include <cstdio>
#include <fmt/format.h>

namespace rapt {

const std::vector<std::string>& outcomes() {
    static const std::vector<std::string> list{"good", "mended", "spoilt"};
    return list;
}

const std::vector<Cause>& causes() {
    static const std::vector<Cause> list{
        {"thread-break", "the thread broke", true},
        {"needle-break", "a needle broke", true},
        {"stiff", "stiff or bullet-hard stitching", true},
        {"puckered", "the cloth puckered", true},
        {"torn", "the cloth tore or was cut through", true},
        {"join", "a join shows", false},
        {"misplaced", "it lies in the wrong place", false},
        {"slipped", "the cloth slipped in the hoop", false},
        {"misspelt", "a word is misspelt", false},
        {"wrong-thread", "a wrong thread was on", false},
        {"bobbin", "the bobbin shows or ran out", false},
        {"machine", "the machine failed", false},
        {"other", "something else", false},
    };
    return list;
}

bool mayBeOfLoad(const std::string& cause) {
    const auto& all = causes();
    const auto it =
        std::find_if(all.begin(), all.end(), [&](const Cause& c) { return c.id == cause; });
    return it == all.end() ? cause.empty() : it->ofLoad;
}

bool isDate(const std::string& text) {
    int y = 0, used = 0;
    unsigned m = 0, d = 0;
    if (text.size() != 10 || text[4] != '-' || text[7] != '-') return false;
    for (const std::size_t i : {0u, 1u, 2u, 3u, 5u, 6u, 8u, 9u})
        if (text[i] < '0' || text[i] > '9') return false;
    if (std::sscanf(text.c_str(), "%4d-%2u-%2u%n", &y, &m, &d, &used) != 3 || used != 10)
        return false;
    return std::chrono::year_month_day(std::chrono::year(y), std::chrono::month(m),
                                       std::chrono::day(d))
        .ok();
}

std::optional<std::string> problemOf(const StitchOut& r) {
    if (r.job.empty()) return "the job has no name";
    if (!isDate(r.date)) return fmt::format("the date '{}' is no day as YYYY-MM-DD", r.date);
    const auto& known = outcomes();
    if (!r.outcome.empty() && std::find(known.begin(), known.end(), r.outcome) == known.end())
        return fmt::format("the outcome '{}' is unknown; it is good, mended or spoilt", r.outcome);
    if (!r.cause.empty() && std::none_of(causes().begin(), causes().end(),
                                         [&](const Cause& c) { return c.id == r.cause; }))
        return fmt::format("the cause '{}' is unknown", r.cause);
    for (const double gap : r.gapsMm)
        if (!(gap >= 0 && gap < 1000)) return fmt::format("a join gap of {:g} mm cannot be", gap);
    for (const auto& seconds : {r.secondsEstimated, r.secondsTaken, r.labourMinutes})
        if (seconds && *seconds < 0) return "a time below 0 cannot be";
    if (r.currency.size() > 8)
        return fmt::format("the currency '{}' must be a short sign such as EUR", r.currency);
    for (const auto& money : {r.cost, r.price})
        if (money && *money < 0) return "an amount of money below 0 cannot be";
    return std::nullopt;
}

} // namespace rapt
