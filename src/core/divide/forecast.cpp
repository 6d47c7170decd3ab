#include "divide/forecast.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <random>

namespace rapt {
namespace {

/// A small rigid motion about a place.
struct Misplacing {
    Vec2 shift, about;
    double turn = 0; ///< radians
    Vec2 at(Vec2 p) const {
        const Vec2 d = p - about;
        return shift + Vec2{-d.y, d.x} * turn;
    }
};

/// The marks of each clamping, from all its hoopings, and which earlier one sewed them.
struct MarkedClamping {
    std::vector<Vec2> marks;
    int from = 0; ///< 0: drawn on the cloth
};

std::map<int, MarkedClamping> clampingsOf(const std::vector<Hooping>& hoopings, Method method) {
    std::map<int, MarkedClamping> clampings;
    for (const Hooping& h : hoopings)
        for (const Mark& m : h.marks) {
            auto& marks = clampings[h.clamping].marks;
            if (std::find(marks.begin(), marks.end(), m.at) == marks.end()) marks.push_back(m.at);
        }
    if (method != Method::chain) return clampings;
    for (auto& [number, c] : clampings)
        for (const Hooping& h : hoopings)
            if (h.clamping < number)
                for (const Mark& w : h.witness)
                    if (std::find(c.marks.begin(), c.marks.end(), w.at) != c.marks.end())
                        c.from = h.clamping;
    return clampings;
}

class Trials {
public:
    Trials(const std::vector<Hooping>& h, Method m, const PlacingNoise& n)
        : hoopings(h), noise(n), clampings(clampingsOf(h, m)) {}

    /// Every clamping misplaced anew.
    void shake() {
        placed.clear();
        for (const Hooping& h : hoopings)
            if (!placed.contains(h.clamping)) placed[h.clamping] = fitted(h.clamping);
        frames.clear();
        for (std::size_t i = 0; i < hoopings.size(); ++i)
            frames.push_back({draw() * noise.frameMm, draw() * noise.frameMm});
    }

    double gapAt(const Join& join) {
        const Hooping& a = hoopings[join.earlier];
        const Hooping& b = hoopings[join.later];
        Vec2 gap = frames[join.later] - frames[join.earlier];
        if (a.clamping != b.clamping)
            gap = gap + placed[b.clamping].at(join.at) - placed[a.clamping].at(join.at);
        if (noise.drawInMm > 0) {
            // Sewn cloth draws away from what is sewn next, more or less.
            const Vec2 way = Vec2{b.pose.x, b.pose.y} - Vec2{a.pose.x, a.pose.y};
            const double size = std::max(1e-9, length(way));
            gap = gap + way * (noise.drawInMm * (1 + 0.3 * draw()) / size);
        }
        return length(gap);
    }

private:
    double draw() { return normal(dice); }

    /// What the fit of misplaced marks comes to: with the middle off by σ/√n and turned by
    /// σ/√Σ|p − c|².
    Misplacing fitted(int number) {
        const MarkedClamping& c = clampings[number];
        Misplacing m;
        if (c.marks.size() < 2) return m;
        for (const Vec2& p : c.marks) m.about = m.about + p;
        const auto n = static_cast<double>(c.marks.size());
        m.about = m.about * (1 / n);
        double spread = 0;
        for (const Vec2& p : c.marks) spread += dot(p - m.about, p - m.about);
        const double middle = noise.markMm / std::sqrt(n);
        m.shift = {draw() * middle, draw() * middle};
        m.turn = draw() * noise.markMm / std::sqrt(std::max(1e-9, spread));
        if (c.from == 0 || !placed.contains(c.from)) return m;
        // The marks lie where the earlier clamping put them.
        const Misplacing& earlier = placed[c.from];
        m.shift = m.shift + earlier.at(m.about);
        m.turn += earlier.turn;
        return m;
    }

    const std::vector<Hooping>& hoopings;
    PlacingNoise noise;
    std::map<int, MarkedClamping> clampings;
    std::mt19937 dice{20'241'127};
    std::normal_distribution<double> normal;
    std::map<int, Misplacing> placed;
    std::vector<Vec2> frames;
};

/// Where two boxes are nearest: in the middle of what they share, side by side.
Vec2 meetingPlace(const Box& a, const Box& b) {
    const auto middle = [](double minA, double maxA, double minB, double maxB) {
        return (std::max(minA, minB) + std::min(maxA, maxB)) / 2;
    };
    return {middle(a.minX, a.maxX, b.minX, b.maxX), middle(a.minY, a.maxY, b.minY, b.maxY)};
}

} // namespace

const char* nameOf(Method method) {
    switch (method) {
    case Method::datum:
        return "datum";
    case Method::chain:
        return "chain";
    case Method::turn:
        return "turn";
    }
    return "";
}

std::vector<Join> joinsOf(const std::vector<Hooping>& hoopings, const std::vector<Part>& parts,
                          const std::vector<std::vector<std::size_t>>& sewn) {
    std::vector<Join> joins;
    const auto nearest = [&](std::size_t a, std::size_t b, bool cutOnly) {
        Join best{a, b, {}, std::numeric_limits<double>::infinity()};
        for (const std::size_t i : sewn[a])
            for (const std::size_t j : sewn[b]) {
                if (cutOnly && !(parts[i].cut && parts[i].piece == parts[j].piece)) continue;
                const double gap = boxGap(parts[i].box, parts[j].box);
                if (gap >= best.apartMm) continue;
                best.apartMm = gap;
                best.at = meetingPlace(parts[i].box, parts[j].box);
            }
        return best;
    };
    for (std::size_t later = 1; later < hoopings.size(); ++later) {
        Join least{0, later, {}, std::numeric_limits<double>::infinity()};
        for (std::size_t earlier = 0; earlier < later; ++earlier) {
            const Join cut = nearest(earlier, later, true);
            if (std::isfinite(cut.apartMm)) joins.push_back(cut);
            const Join near = nearest(earlier, later, false);
            if (near.apartMm < least.apartMm) least = near;
        }
        const bool known = std::any_of(joins.begin(), joins.end(), [&](const Join& j) {
            return j.later == least.later && j.earlier == least.earlier;
        });
        if (std::isfinite(least.apartMm) && !known) joins.push_back(least);
    }
    return joins;
}

std::vector<JoinForecast> forecastJoins(const std::vector<Hooping>& hoopings,
                                        const std::vector<Join>& joins, Method method,
                                        const PlacingNoise& noise, int trials) {
    Trials simulated(hoopings, method, noise);
    std::vector<std::vector<double>> gaps(joins.size());
    for (int t = 0; t < trials && !joins.empty(); ++t) {
        simulated.shake();
        for (std::size_t j = 0; j < joins.size(); ++j) gaps[j].push_back(simulated.gapAt(joins[j]));
    }
    std::vector<JoinForecast> result;
    for (std::size_t j = 0; j < joins.size(); ++j) {
        auto& list = gaps[j];
        std::sort(list.begin(), list.end());
        double squares = 0;
        for (const double g : list) squares += g * g;
        result.push_back({joins[j], list[list.size() / 2], list[list.size() * 95 / 100],
                          std::sqrt(squares / static_cast<double>(list.size()))});
    }
    return result;
}

Method methodOf(const std::vector<Hooping>& hoopings) {
    bool chain = false, turn = true;
    for (const Hooping& h : hoopings) {
        chain = chain || !h.witness.empty();
        turn = turn && h.clamping == hoopings.front().clamping;
    }
    return turn ? Method::turn : chain ? Method::chain : Method::datum;
}

PlacingNoise placingNoise(const Job& job, Method method, const Library& library) {
    const auto hoop = job.hoopings.empty() ? Result<Hoop>(cannotDo("no plan"))
                                           : library.hoop(job.hoopings.front().hoop);
    const auto fabric = library.fabric(job.brief.fabric);
    PlacingNoise noise;
    noise.markMm = library.practice.placingSigmaMm(nameOf(method));
    if (hoop) noise.frameMm = hoop->frameSigmaMm;
    if (fabric) noise.drawInMm = fabric->drawInMm.value_or(fabric->pullMm / 2);
    return noise;
}

Result<std::vector<JoinForecast>> forecastPlan(const Job& job, const Library& library,
                                               StitchCache& cache, std::stop_token stop) {
    if (job.hoopings.size() < 2) return std::vector<JoinForecast>{};
    Apart apart;
    for (const Hooping& h : job.hoopings)
        for (const PieceParts& p : h.parts) apart.pieces.insert(p.piece);
    PartCache partCache(cache);
    const auto parts = partsOf(job, partCache, apart, stop);
    if (!parts) return parts.error();
    std::vector<std::vector<std::size_t>> sewn(job.hoopings.size());
    for (std::size_t h = 0; h < job.hoopings.size(); ++h)
        for (std::size_t i = 0; i < parts->size(); ++i) {
            const Part& part = (*parts)[i];
            const auto& some = job.hoopings[h].parts;
            const auto own = std::find_if(some.begin(), some.end(), [&](const PieceParts& p) {
                return p.piece == part.piece;
            });
            const auto& pieces = job.hoopings[h].pieces;
            if (std::find(pieces.begin(), pieces.end(), part.piece) != pieces.end() &&
                (own == some.end() || std::find(own->numbers.begin(), own->numbers.end(),
                                                part.number) != own->numbers.end()))
                sewn[h].push_back(i);
        }
    const Method method = methodOf(job.hoopings);
    return forecastJoins(job.hoopings, joinsOf(job.hoopings, *parts, sewn), method,
                         placingNoise(job, method, library));
}

double worstOf(const std::vector<JoinForecast>& forecast) {
    double worst = 0;
    for (const JoinForecast& f : forecast) worst = std::max(worst, f.p95Mm);
    return worst;
}

double rmsOf(const std::vector<JoinForecast>& forecast) {
    double squares = 0;
    for (const JoinForecast& f : forecast) squares += f.rmsMm * f.rmsMm;
    return forecast.empty() ? 0 : std::sqrt(squares / static_cast<double>(forecast.size()));
}

} // namespace rapt
