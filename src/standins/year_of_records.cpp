#include "standins/year_of_records.h"

#include <algorithm>
#include <array>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <fmt/format.h>
#include <random>

namespace rapt::standins {
namespace {

/// What the library sews again and again.
struct Habit {
    const char *job, *fabric, *cloth, *frame, *method, *words;
    double widthMm, heightMm, layers, stitches;
    int hoopings;
    double often; ///< share of all
};
constexpr std::array habits{
    Habit{"Reading-room banner", "canvas", "Canvas 620 × 240 mm", "Wide, 300 × 200", "datum",
          "READING ROOM", 508, 194, 3.1, 24700, 2, 0.13},
    Habit{"Kite bag", "canvas", "Canvas 400 × 300 mm", "Large square, 240 × 240", "", "Saltmarsh",
          180, 120, 2.9, 12500, 1, 0.17},
    Habit{"Lending tag", "felt", "Wool felt 60 × 40 mm", "Small square, 100 × 100", "", "Nr. ", 48,
          28, 2.1, 3900, 1, 0.24},
    Habit{"Guide's collar", "knit", "Knit 420 × 160 mm", "Wide, 300 × 200", "", "Guide", 150, 60,
          1.9, 8100, 1, 0.1},
    Habit{"Windsock border", "sailcloth", "Sailcloth 1000 × 60 mm", "Long, 240 × 150", "chain", "",
          1000, 60, 2.2, 31000, 3, 0.09},
    Habit{"Reading-corner hanging", "linen", "Linen 700 × 500 mm", "Wide, 300 × 200", "datum", "",
          640, 440, 2.5, 96000, 5, 0.05},
    Habit{"Cotton square", "cotton", "Cotton 300 × 300 mm", "Large square, 240 × 240", "", "", 210,
          210, 2.3, 19800, 1, 0.12},
    Habit{"Festival pennant", "twill", "Twill 500 × 250 mm", "Long, 240 × 150", "chain",
          "Ebb & Gust", 420, 170, 2.6, 22400, 2, 0.1},
};
constexpr std::array<const char*, 7> customers{"Reading room", "North hide",   "School boat",
                                               "Harbour fête", "Tern wardens", "Night walkers",
                                               "Lending desk"};
constexpr std::array<std::array<const char*, 2>, 8> colours{{{"#1f4e79", "Deep tide"},
                                                             {"#3f7fb5", "Sky"},
                                                             {"#f2efe6", "Chalk"},
                                                             {"#a8322b", "Rust"},
                                                             {"#d9603b", "Ember"},
                                                             {"#2f6d3a", "Reed"},
                                                             {"#e3a72f", "Marigold"},
                                                             {"#5b4a8a", "Heather"}}};

/// What went wrong, and what was noted then.
struct Mishap {
    const char *cause, *note;
};
constexpr std::array ofLoad{
    Mishap{"thread-break", "The thread broke where the tail crosses the kite"},
    Mishap{"thread-break", "Frayed and broke twice in the corner of the fill"},
    Mishap{"needle-break", "A needle broke on the thick spot; a larger one next time"},
    Mishap{"stiff", "Stiff as a board; respace it before the next"},
    Mishap{"puckered", "The cloth puckered round the fill"},
};
constexpr std::array otherwise{
    Mishap{"join", "The join shows in low light"},
    Mishap{"misspelt", "Misspelt; read the name list twice"},
    Mishap{"slipped", "Slipped in the hoop, more adhesive"},
    Mishap{"wrong-thread", "Reed was on the needle of Rust"},
    Mishap{"misplaced", "3 mm too far left"},
    Mishap{"bobbin", "The bobbin ran out unnoticed"},
};

std::string dayBefore(const std::string& until, int days) {
    using namespace std::chrono;
    int y = 2026;
    unsigned m = 1, d = 1;
    std::sscanf(until.c_str(), "%4d-%2u-%2u", &y, &m, &d);
    const year_month_day day(sys_days(year(y) / month(m) / std::chrono::day(d)) -
                             std::chrono::days(days));
    return fmt::format("{:04}-{:02}-{:02}", int(day.year()), unsigned(day.month()),
                       unsigned(day.day()));
}

class Year {
    template<class List>
    const auto& oneOf(const List& list) {
        return list[dice() % list.size()];
    }

public:
    Year(std::uint64_t seed, const Library& lib, const YearTruth& t)
        : dice(seed), library(lib), truth(t) {}

    StitchOut stitchOut(const std::string& date) {
        const Habit& h = pick();
        StitchOut r;
        r.uid = fmt::format("{:016x}{:016x}", dice(), dice());
        r.date = date;
        r.bench = within(0, 1) < 0.7 ? "window-bench" : "attic";
        r.job = h.job;
        r.customer = oneOf(customers);
        r.fabric = h.fabric;
        r.cloth = h.cloth;
        r.frame = h.frame;
        r.machine = r.bench == "attic" ? "one-needle" : "six-needle";
        dress(r, h);
        sew(r, h);
        join(r, h);
        judge(r);
        return r;
    }

private:
    double within(double low, double high) {
        return std::uniform_real_distribution<double>(low, high)(dice);
    }
    double about(double mean, double sigma) {
        return std::normal_distribution<double>(mean, sigma)(dice);
    }
    const Habit& pick() {
        double u = within(0, 1);
        for (const Habit& h : habits)
            if ((u -= h.often) < 0) return h;
        return habits.front();
    }

    void dress(StitchOut& r, const Habit& h) {
        const double size = within(0.75, 1.2);
        r.widthMm = std::round(h.widthMm * size);
        r.heightMm = std::round(h.heightMm * size);
        r.stitches = std::round(h.stitches * size * size);
        r.hoopings = h.hoopings;
        r.quantity = 1;
        r.peakLayers = std::round(100 * h.layers / size * within(0.9, 1.15)) / 100;
        r.peakHits = std::round(100 * *r.peakLayers * within(1.3, 2.1)) / 100;
        r.excess = 0;
        if (const auto fabric = library.fabric(h.fabric)) {
            r.stabilizer = fabric->stabilizer;
            r.topper = fabric->topper;
            r.needle = fabric->needle;
            r.speed = fabric->topSpeed;
        }
        if (*h.words) {
            std::string words = h.words;
            if (words == "Nr. ") words += fmt::to_string(1 + dice() % 60);
            r.lettering = {{words, "lato-bold", std::round(10 * within(8, 34)) / 10}};
        }
        const double metres = *r.stitches * 3.2 / 1000;
        const std::size_t n = 2 + dice() % 4, first = dice() % colours.size();
        for (std::size_t i = 0; i < n; ++i) {
            const auto& c = colours[(first + i) % colours.size()];
            r.threads.push_back(
                {c[0], c[1], std::round(10 * metres / static_cast<double>(n)) / 10});
        }
        r.bobbinM = std::round(7 * metres) / 10;
        r.stabilizerCm2 = std::round(1.6 * h.hoopings * 500);
    }

    void sew(StitchOut& r, const Habit& h) {
        const bool six = r.machine == "six-needle";
        const double sewing = *r.stitches * 60 / std::min(*r.speed, six ? 1000.0 : 800.0);
        const double changes = static_cast<double>(r.threads.size()) * (six ? 12 : 90);
        const double clampings = 240.0 * h.hoopings,
                     found = h.hoopings > 1 ? 120.0 * h.hoopings : 0;
        r.estimated = {{"sewing", std::round(sewing)},
                       {"thread_changes", changes},
                       {"clampings", clampings},
                       {"registrations", found}};
        r.secondsEstimated = std::round(sewing + changes + clampings + found);
        const double factor = (six ? truth.sixNeedleFactor : 1.0) * std::exp(about(0, 0.05));
        r.secondsTaken = std::round(*r.secondsEstimated * factor);
        r.taken = {{"sewing", std::round(sewing * factor)},
                   {"standing", std::round(*r.secondsTaken - sewing * factor)}};
        r.labourMinutesEstimated = std::round(10 * (10 + (clampings + changes) / 60)) / 10;
        r.labourMinutes =
            std::round(10 * (*r.labourMinutesEstimated + truth.setupMinutes - 10 + about(0, 2.5))) /
            10;
        r.cost = std::round(100 * (*r.secondsEstimated / 3600 * 6 +
                                   *r.labourMinutesEstimated / 60 * 24 + 2)) /
                 100;
        r.price = std::round(100 * *r.cost / 0.65) / 100;
        r.currency = "EUR";
    }

    void join(StitchOut& r, const Habit& h) {
        r.method = h.method;
        if (h.hoopings < 2) return;
        const bool chain = r.method == "chain";
        const double sigma = chain ? truth.chainSigmaMm : truth.datumSigmaMm;
        r.placingSigmaMm = 0.3;
        r.drawInMm = 0.1;
        r.predictedJoinMm = std::sqrt((chain ? 2 : 4) * 0.09 + 0.01);
        for (int k = 1; k < h.hoopings; ++k) {
            const double s = sigma * (chain ? 1 : std::sqrt(2.0));
            r.gapsMm.push_back(std::round(100 * std::hypot(about(0.1, s), about(0, s))) / 100);
            r.found.push_back({k + 1,
                               chain                ? "cross"
                               : within(0, 1) < 0.6 ? "card line"
                                                    : "line",
                               std::round(100 * within(0.05, 0.25)) / 100,
                               std::round(100 * about(0, 0.5)) / 100, 1});
        }
    }

    void judge(StitchOut& r) {
        r.outcome = "good";
        const auto fabric = library.fabric(r.fabric);
        const double limit = r.fabric == "canvas" ? truth.canvasLayers
                             : fabric             ? fabric->maxLayers
                                                  : 3;
        // At the limit one in ten goes wrong.
        const double heavy =
            1 / (1 + std::exp(-std::log(*r.peakLayers / limit) / 0.05 - std::log(0.1 / 0.9)));
        const Mishap* mishap = nullptr;
        if (within(0, 1) < 0.01 + 0.95 * heavy)
            mishap = &oneOf(ofLoad);
        else if (within(0, 1) < 0.06)
            mishap = &oneOf(otherwise);
        if (!mishap) return;
        r.cause = mishap->cause;
        r.note = mishap->note;
        const bool lost = r.cause == "misspelt" || within(0, 1) < 0.25;
        r.outcome = lost ? "spoilt" : "mended";
        r.spotX = std::round(about(0, *r.widthMm / 6));
        r.spotY = std::round(about(0, *r.heightMm / 6));
        if (r.cause == "thread-break" || r.cause == "needle-break")
            r.events.push_back({1, static_cast<std::size_t>(within(0.1, 0.9) * *r.stitches),
                                r.cause, *r.peakLayers});
    }

    std::mt19937_64 dice;
    const Library& library;
    const YearTruth& truth;
};

} // namespace

std::vector<StitchOut> yearOfRecords(const std::string& until, std::size_t count,
                                     std::uint64_t seed, const Library& library,
                                     const YearTruth& truth) {
    Year year(seed, library, truth);
    std::vector<StitchOut> records;
    for (std::size_t i = 0; i < count; ++i)
        records.push_back(year.stitchOut(dayBefore(
            until, static_cast<int>(364 - 364 * i / std::max<std::size_t>(1, count - 1)))));
    return records;
}

} // namespace rapt::standins
