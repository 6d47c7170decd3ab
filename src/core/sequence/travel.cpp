#include "sequence/travel.h"

namespace rapt {
namespace {

constexpr int mostRounds = 30;

double travelOf(Vec2 from, const std::vector<Stop>& stops, const std::vector<std::size_t>& order) {
    double sum = 0;
    for (const std::size_t k : order) {
        sum += distance(from, stops[k].in);
        from = stops[k].out;
    }
    return sum;
}

std::vector<std::size_t> nearestNext(Vec2 from, const std::vector<Stop>& stops) {
    std::vector<std::size_t> order;
    std::vector<bool> seen(stops.size(), false);
    while (order.size() < stops.size()) {
        std::size_t best = stops.size();
        for (std::size_t k = 0; k < stops.size(); ++k)
            if (!seen[k] && (best == stops.size() ||
                             distance(from, stops[k].in) < distance(from, stops[best].in)))
                best = k;
        seen[best] = true;
        order.push_back(best);
        from = stops[best].out;
    }
    return order;
}

/// One round of changes; true if any helped.
bool improve(Vec2 from, const std::vector<Stop>& stops, std::vector<std::size_t>& order) {
    double now = travelOf(from, stops, order);
    bool helped = false;
    const auto keepIfShorter = [&](std::vector<std::size_t> tried) {
        const double length = travelOf(from, stops, tried);
        if (length > now - 1e-9) return;
        order = std::move(tried);
        now = length;
        helped = true;
    };
    const auto at = [](std::size_t k) { return static_cast<std::ptrdiff_t>(k); };
    for (std::size_t i = 0; i < order.size(); ++i)
        for (std::size_t j = 0; j < order.size(); ++j) {
            if (i == j) continue;
            auto moved = order;
            const std::size_t k = moved[i];
            moved.erase(moved.begin() + at(i));
            moved.insert(moved.begin() + at(j), k);
            keepIfShorter(std::move(moved));
            if (j <= i) continue;
            auto turned = order;
            std::reverse(turned.begin() + at(i), turned.begin() + at(j) + 1);
            keepIfShorter(std::move(turned));
        }
    return helped;
}

} // namespace

std::vector<std::size_t> shortTravel(Vec2 from, const std::vector<Stop>& stops) {
    std::vector<std::size_t> order = nearestNext(from, stops);
    // The changes are tried one by one; for very many stops the nearest next has to do.
    for (int round = 0; round < mostRounds && stops.size() <= 60; ++round)
        if (!improve(from, stops, order)) break;
    return order;
}

} // namespace rapt
