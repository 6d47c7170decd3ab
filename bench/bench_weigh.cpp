// Weighing: laying designs afresh, relieving overlaps, and the map that follows a drag.

#include "job/edit_weigh.h"
#include "job/expansion.h"
#include "load/live_load.h"
#include "recipe/shape.h"
#include "relieve/cover.h"
#include "respace/respace.h"
#include "thread/measures.h"

#include <benchmark/benchmark.h>
#include <cmath>
#include <cstdlib>
#include <numbers>

namespace {

using namespace rapt;

Polyline circle(Vec2 at, double r) {
    Polyline line;
    for (int i = 0; i < 120; ++i) {
        const double a = 2 * std::numbers::pi * i / 120;
        line.push_back({at.x + r * std::cos(a), at.y + r * std::sin(a)});
    }
    return line;
}

/// A disc with a hole and a run round it, as bare stitches; about 7,500 of them.
StitchList disc(double r) {
    Shape shape;
    ShapePart fill;
    fill.kind = StitchKind::fill;
    fill.lines = {circle({0, 0}, r), circle({r / 4, 0}, r / 5)};
    fill.angleDeg = 20;
    ShapePart run;
    run.kind = StitchKind::run;
    run.lines = {circle({0, 0}, r + 2)};
    shape.parts = {fill, run};
    return stitchShape(shape);
}

/// Discs side by side until there are so many stitches.
StitchList field(std::size_t stitches) {
    const StitchList one = disc(48);
    StitchList all;
    all.threads = one.threads;
    for (int k = 0; all.stitches.size() < stitches; ++k)
        for (Stitch s : one.stitches) {
            s.x += toUnits(110.0 * (k % 8));
            s.y += toUnits(110.0 * (k / 8));
            all.stitches.push_back(s);
        }
    return all;
}

void respacing200k(benchmark::State& state) {
    const StitchList list = field(200'000);
    for (auto _ : state) benchmark::DoNotOptimize(respace(list, {0.8, 0.8}));
    state.counters["stitches"] = static_cast<double>(list.stitches.size());
}
BENCHMARK(respacing200k)->Unit(benchmark::kMillisecond);

/// The comparison: the same stitches only moved.
void plainScaling200k(benchmark::State& state) {
    const StitchList list = field(200'000);
    for (auto _ : state) benchmark::DoNotOptimize(resizeKeepingStitches(list, {0.8, 0.8}));
}
BENCHMARK(plainScaling200k)->Unit(benchmark::kMillisecond);

/// 20 discs, each lying on the one before.
Job pile() {
    const auto list = std::make_shared<const StitchList>(disc(48));
    Job job;
    for (int k = 0; k < 20; ++k) {
        Piece p;
        p.id = p.name = "p" + std::to_string(k);
        // Every piece has stitches of its own, so that no cover is remembered for the next.
        p.content = DesignContent{p.id + ".stitch.csv", std::make_shared<const StitchList>(*list)};
        p.pose.x = 60.0 * (k % 5);
        p.pose.y = 60.0 * (k / 5);
        p.relief.emplace();
        job.pieces.push_back(std::move(p));
    }
    return job;
}

void relieving20Pieces(benchmark::State& state) {
    const Job job = pile();
    StitchCache cache;
    std::size_t stitches = 0;
    for (const Piece& p : job.pieces) stitches += (*cache.stitch(p))->stitches.size();
    for (auto _ : state) {
        StitchCache fresh;
        benchmark::DoNotOptimize(placedPieces(job, fresh));
    }
    state.counters["stitches"] = static_cast<double>(stitches);
}
BENCHMARK(relieving20Pieces)->Unit(benchmark::kMillisecond);

/// The comparison: Clipper alone on outlines that are known already.
void clipperAlone20Pieces(benchmark::State& state) {
    const Job job = pile();
    const Contours cover = denseCover(*std::get<DesignContent>(job.pieces[0].content).list, 0.7);
    for (auto _ : state)
        for (std::size_t i = 0; i < job.pieces.size(); ++i) {
            Contours above;
            for (std::size_t j = i + 1; j < job.pieces.size(); ++j) {
                const Vec2 by{job.pieces[j].pose.x - job.pieces[i].pose.x,
                              job.pieces[j].pose.y - job.pieces[i].pose.y};
                if (length(by) > 100) continue;
                Contours moved = cover;
                for (Polyline& line : moved)
                    for (Vec2& p : line) p = p + by;
                above = unionOf(above, moved);
            }
            benchmark::DoNotOptimize(offsetContours(above, -0.8));
        }
}
BENCHMARK(clipperAlone20Pieces)->Unit(benchmark::kMillisecond);

/// One step of a drag: one of 20 pieces goes on by a millimetre.
void mapFollowsADrag(benchmark::State& state) {
    Job job = pile();
    job = setRelief(idsOf(job), {}).change(job);
    const auto stitched = stitchJob(job);
    if (!stitched) std::abort();
    LiveLoad live(Box{-100, -100, 500, 500});
    live.add(stitched->list, 0, stitched->list.stitches.size());
    live.map();
    const PieceSpan& span = stitched->spans[7];
    Affine last;
    double x = 0;
    for (auto _ : state) {
        x = x > 80 ? 0 : x + 1;
        const Affine now{1, 0, 0, 1, x, x / 2};
        live.move(stitched->list, span.first, span.last, last, now);
        last = now;
        benchmark::DoNotOptimize(live.map());
    }
}
BENCHMARK(mapFollowsADrag)->Unit(benchmark::kMillisecond);

/// The comparison: the whole map measured anew.
void mapMeasuredAnew(benchmark::State& state) {
    Job job = pile();
    job = setRelief(idsOf(job), {}).change(job);
    const auto stitched = stitchJob(job);
    if (!stitched) std::abort();
    for (auto _ : state) benchmark::DoNotOptimize(LoadMap::measure(stitched->list));
}
BENCHMARK(mapMeasuredAnew)->Unit(benchmark::kMillisecond);

} // namespace
