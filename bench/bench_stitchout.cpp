// Stitch-out: sheets, a design stored on the machine, a run that is watched.

#include "bench_app.h"
#include "bench_data.h"

#include "app/raster/stitch_tiles.h"
#include "divide/hooping_lists.h"
#include "formats/stitch_csv.h"
#include "handover/needles.h"
#include "sheets/sheets.h"
#include "standins/machine.h"
#include "standins/sewing_run.h"
#include "thread/measures.h"

#include <base/paths.h>
#include <benchmark/benchmark.h>
#include <nlohmann/json.hpp>

namespace {

using namespace rapt;

/// Six hoopings of 100,000 stitches together, side by side.
struct SixHoopings {
    Job job;
    std::vector<HoopingList> lists;
    StitchList all;
    Library library = *loadLibrary(dataFolder(), "/nonexistent");

    SixHoopings() {
        job.name = "Six";
        job.cloth.widthMm = 900;
        job.cloth.heightMm = 600;
        const StitchList rows = bench::rows(100'000 / 6);
        const Vec2 middle = extentsOf(rows).centre();
        all.threads = rows.threads;
        for (int i = 0; i < 6; ++i) {
            Hooping h;
            h.hoop = "field-240x240";
            h.clamping = i + 1;
            h.frame = h.pose = Pose{-270 + 270.0 * (i % 3), -140 + 280.0 * (i / 3), 0, false, 1, 1};
            h.marks = {{"A", {h.pose.x - 80, h.pose.y}}, {"B", {h.pose.x + 80, h.pose.y}}};
            HoopingList list{rows, 0, {}};
            for (Stitch& s : list.list.stitches) {
                const Vec2 at = s.at() - middle;
                all.stitches.push_back(stitchAt(s.op, at + Vec2{h.pose.x, h.pose.y}, s.thread));
                s = stitchAt(s.op, at, s.thread);
            }
            list.stitches = measure(list.list).stitches;
            lists.push_back(std::move(list));
            job.hoopings.push_back(h);
        }
    }
};

const SixHoopings& six() {
    static const SixHoopings made;
    return made;
}

void sheetsOfSixHoopings(benchmark::State& state) {
    SheetsRequest r{six().job,
                    six().lists,
                    six().all,
                    six().library,
                    *six().library.machine("six-needle"),
                    *six().library.fabric("canvas")};
    r.printing.facesFolder = dataFolder() + "/faces";
    int pages = 0;
    for (auto _ : state) pages = makeSheets(r)->pages;
    state.counters["pages"] = pages;
}
BENCHMARK(sheetsOfSixHoopings)->Unit(benchmark::kMillisecond);

/// The message taken apart, the list read and kept; the socket itself only copies 3 MB.
void storeHundredThousand(benchmark::State& state) {
    const StitchList list = bench::rows(100'000);
    const std::string line =
        nlohmann::json{{"do", "store"}, {"name", "a"}, {"text", formatStitchCsv(list)}}.dump();
    standins::SimulatedMachine machine({*six().library.machine("fifteen-needle"), six().library});
    for (auto _ : state) benchmark::DoNotOptimize(machine.answer(nlohmann::json::parse(line)));
}
BENCHMARK(storeHundredThousand)->Unit(benchmark::kMillisecond);

/// A frame of the watched run on 1,000 × 700 pixels while 1,000 stitches a second arrive.
void frameOfAWatchedRun(benchmark::State& state) {
    bench::application();
    app::StitchTiles tiles;
    const auto list = std::make_shared<const StitchList>(bench::rows(100'000));
    tiles.setStitches(list);
    tiles.setEnd(20'000);
    QImage screen(1000, 700, QImage::Format_RGB32);
    const app::ViewMap map{2.0, {100, 100}};
    QPainter painter(&screen);
    tiles.paint(painter, map, screen.rect(), 1);
    while (!tiles.isSettled()) QCoreApplication::processEvents();
    std::size_t end = 20'000;
    for (auto _ : state) {
        tiles.setEnd(end += 16);
        if (end > 90'000) end = 20'000;
        tiles.paint(painter, map, screen.rect(), 1);
    }
}
BENCHMARK(frameOfAWatchedRun)->Unit(benchmark::kMillisecond);

/// Twelve jobs of sixty threads on fifteen needles.
void needlesOfAQueue(benchmark::State& state) {
    std::vector<ThreadStep> steps;
    for (std::size_t k = 0; k < 2000; ++k) {
        const auto n = static_cast<std::uint8_t>((k * 37 + k / 7) % 60);
        steps.push_back({{1, {n, 0, 0}, 40, std::to_string(n)}, k / 40, k % 40 * 100, 2});
    }
    std::size_t changes = 0;
    for (auto _ : state) changes = planNeedles(steps, Needles(15))->changes.size();
    state.counters["changes"] = static_cast<double>(changes);
}
BENCHMARK(needlesOfAQueue)->Unit(benchmark::kMillisecond);

/// 500 runs of a hooping with everything that can go wrong: how many stitches were lost, or sewn
/// again beyond what was stated.
void fiveHundredRuns(benchmark::State& state) {
    std::size_t stops = 0, wrong = 0, sewn = 0;
    for (auto _ : state)
        for (std::uint64_t seed = 1; seed <= 500; ++seed) {
            standins::SewingRequest r{six().job.hoopings, six().lists,
                                      *six().library.machine("six-needle"),
                                      *six().library.fabric("canvas")};
            r.faults = standins::Faults::many;
            r.seed = seed;
            r.only = seed % 6;
            const auto log = standins::sewJob(r);
            std::vector<int> times(six().lists[seed % 6].stitches, -1);
            for (const auto& l : log.lines) ++times[l.number];
            for (const auto& e : log.resumed)
                for (std::size_t n = e.sewn - e.overlap; n < e.sewn; ++n) --times[n];
            for (const int t : times) wrong += t != 0;
            stops += log.events.size();
            sewn += log.lines.size();
        }
    state.counters["stops"] = static_cast<double>(stops);
    state.counters["sewn"] = static_cast<double>(sewn);
    state.counters["wrong"] = static_cast<double>(wrong);
}
BENCHMARK(fiveHundredRuns)->Unit(benchmark::kSecond)->Iterations(1);

} // namespace
