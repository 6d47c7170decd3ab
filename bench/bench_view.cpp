// Drawing: tiles of a million stitches, and a frame while panning over them.

#include "bench_app.h"
#include "bench_data.h"

#include "app/raster/stitch_tiles.h"
#include "app/raster/thread_raster.h"
#include "thread/measures.h"

#include <benchmark/benchmark.h>

namespace {

using namespace rapt;
using namespace rapt::app;

const StitchIndex& millionIndex() {
    static const StitchList list = bench::rows(1'000'000);
    static const StitchIndex index(list);
    return index;
}

/// All of it on 1,000 × 1,000 pixels, as when zoomed to fit.
void drawAllOfMillion(benchmark::State& state) {
    const Box box = extentsOf(millionIndex().list);
    for (auto _ : state)
        benchmark::DoNotOptimize(drawThread(millionIndex(), box, 1000 / box.width()));
}
BENCHMARK(drawAllOfMillion)->Unit(benchmark::kMillisecond);

/// One tile of 256 × 256 pixels at 6 pixels per mm.
void drawTileOfMillion(benchmark::State& state) {
    const double side = 256 / 6.0;
    for (auto _ : state)
        benchmark::DoNotOptimize(drawThread(millionIndex(), Box{0, 0, side, side}, 6));
}
BENCHMARK(drawTileOfMillion)->Unit(benchmark::kMillisecond);

/// What the interface thread does for a frame while panning: copying tiles that are there.
void panFrame(benchmark::State& state) {
    bench::application();
    StitchTiles tiles;
    tiles.setStitches(std::make_shared<const StitchList>(bench::rows(100'000)));
    QImage screen(750, 620, QImage::Format_RGB32);
    ViewMap map{2.0, {375, 310}};
    QPainter painter(&screen);
    tiles.paint(painter, map, screen.rect().adjusted(-100, -100, 100, 100), 1);
    while (!tiles.isSettled()) QCoreApplication::processEvents();
    int step = 0;
    for (auto _ : state) {
        map.origin = {375.0 + step % 50, 310.0 + step % 30};
        ++step;
        tiles.paint(painter, map, screen.rect(), 1);
    }
}
BENCHMARK(panFrame)->Unit(benchmark::kMillisecond);

} // namespace
