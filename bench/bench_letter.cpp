// Lettering: how fast words are set while they are typed, and what a glyph costs when it is new.

#include "letter/faces.h"
#include "letter/stitching.h"
#include "recipe/shape.h"

#include <benchmark/benchmark.h>
#include <cstdlib>

namespace {

using namespace rapt;

constexpr const char* faces[] = {"lato", "garamond", "dancing-script"};
constexpr const char* glyphs = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789";

std::shared_ptr<const Face> faceOf(const benchmark::State& state) {
    const auto face = openFace(faces[state.range(0)]);
    if (!face) std::abort();
    return *face;
}

Lettering line(const benchmark::State& state, double cap) {
    Lettering l;
    l.text = "Saltmarsh Kite Library 24"; // 24 characters and blanks
    l.face = faces[state.range(0)];
    l.capHeightMm = cap;
    return l;
}

/// All 62 glyphs, none remembered; the time of one is a 62nd.
void columnsOf62Glyphs(benchmark::State& state) {
    const auto face = faceOf(state);
    for (auto _ : state)
        for (const char* c = glyphs; *c; ++c)
            benchmark::DoNotOptimize(
                columnsOf(face->outline(face->shape(std::string(1, *c)).glyphs[0].glyph, 20),
                          {20, 0.40, {}}));
}
BENCHMARK(columnsOf62Glyphs)->DenseRange(0, 2)->Unit(benchmark::kMillisecond);

/// The comparison: the same outlines sewn as plain fills.
void fillsOf62Glyphs(benchmark::State& state) {
    const auto face = faceOf(state);
    for (auto _ : state)
        for (const char* c = glyphs; *c; ++c) {
            ShapePart part;
            part.lines = face->outline(face->shape(std::string(1, *c)).glyphs[0].glyph, 20);
            benchmark::DoNotOptimize(stitchFill(part));
        }
}
BENCHMARK(fillsOf62Glyphs)->DenseRange(0, 2)->Unit(benchmark::kMillisecond);

/// As while typing: the columns are there, the line is set and sewn again.
void lineFromCache(benchmark::State& state) {
    const Lettering l = line(state, 20);
    benchmark::DoNotOptimize(stitchLettering(l));
    for (auto _ : state) benchmark::DoNotOptimize(stitchLettering(l));
}
BENCHMARK(lineFromCache)->DenseRange(0, 2)->Unit(benchmark::kMillisecond);

/// Every round at a size that was not asked for before.
void lineCold(benchmark::State& state) {
    static double cap = 20; // the function is called again for every trial
    for (auto _ : state) benchmark::DoNotOptimize(stitchLettering(line(state, cap += 0.001)));
}
BENCHMARK(lineCold)->DenseRange(0, 2)->Unit(benchmark::kMillisecond);

} // namespace
