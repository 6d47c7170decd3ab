// The core on a million stitches, each beside something that people know the speed of.

#include "bench_data.h"

#include "check/check.h"
#include "formats/stitch_csv.h"
#include "job/edit.h"
#include "job/stitching.h"
#include "load/load_map.h"
#include "thread/measures.h"

#include <benchmark/benchmark.h>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <opencv2/imgproc.hpp>

namespace {

using namespace rapt;

const StitchList& million() {
    static const StitchList list = bench::rows(1'000'000);
    return list;
}

const std::string& millionText() {
    static const std::string text = formatStitchCsv(million());
    return text;
}

void parseMillion(benchmark::State& state) {
    for (auto _ : state) benchmark::DoNotOptimize(parseStitchCsv(millionText(), "bench"));
    state.SetBytesProcessed(state.iterations() * static_cast<std::int64_t>(millionText().size()));
}
BENCHMARK(parseMillion)->Unit(benchmark::kMillisecond);

void measureMillion(benchmark::State& state) {
    for (auto _ : state) benchmark::DoNotOptimize(measure(million()));
}
BENCHMARK(measureMillion)->Unit(benchmark::kMillisecond);

void loadMapOfMillion(benchmark::State& state) {
    for (auto _ : state) benchmark::DoNotOptimize(LoadMap::measure(million()));
}
BENCHMARK(loadMapOfMillion)->Unit(benchmark::kMillisecond);

/// The comparison: the same stitches as lines on a picture of the same cells, by OpenCV. It draws
/// them only; nothing is shared exactly or averaged.
void polylinesOfMillion(benchmark::State& state) {
    const Box box = extentsOf(million());
    std::vector<cv::Point> points;
    for (const Stitch& s : million().stitches)
        points.emplace_back(static_cast<int>((s.at().x - box.minX) / cellMm * 16),
                            static_cast<int>((s.at().y - box.minY) / cellMm * 16));
    const cv::Size size(static_cast<int>(box.width() / cellMm) + 8,
                        static_cast<int>(box.height() / cellMm) + 8);
    for (auto _ : state) {
        cv::Mat picture(size, CV_32FC1, cv::Scalar(0));
        const cv::Point* data = points.data();
        const int count = static_cast<int>(points.size());
        cv::polylines(picture, &data, &count, 1, false, cv::Scalar(1), 1, cv::LINE_8, 4);
        benchmark::DoNotOptimize(picture.data);
    }
}
BENCHMARK(polylinesOfMillion)->Unit(benchmark::kMillisecond);

/// One piece of twenty is moved; until stitches and map are right again.
void editInHundredThousand(benchmark::State& state) {
    Job job = bench::manyPieces(20, 5'000);
    StitchCache cache;
    for (auto _ : state) {
        job = movePieces({"p7"}, {0.1, 0}).change(job);
        const auto stitched = stitchJob(job, &cache);
        benchmark::DoNotOptimize(LoadMap::measure(stitched->list));
    }
}
BENCHMARK(editInHundredThousand)->Unit(benchmark::kMillisecond);

/// A whole command against sha256sum on the same file; argument 0 is info, 1 load, 2 sha256sum.
void commandOnMillion(benchmark::State& state) {
    namespace fs = std::filesystem;
    const fs::path bin = fs::read_symlink("/proc/self/exe").parent_path();
    const fs::path file = fs::temp_directory_path() / "rapt-bench.stitch.csv";
    std::ofstream(file) << millionText();
    const std::string commands[] = {(bin / "rapt").string() + " info ",
                                    (bin / "rapt").string() + " load ", "sha256sum "};
    const std::string command =
        commands[static_cast<std::size_t>(state.range(0))] + file.string() + " > /dev/null";
    for (auto _ : state)
        if (std::system(command.c_str()) != 0) state.SkipWithError("the command failed");
    fs::remove(file);
}
BENCHMARK(commandOnMillion)
    ->ArgName("info0_load1_sha2")
    ->DenseRange(0, 2)
    ->UseRealTime()
    ->Unit(benchmark::kMillisecond);

} // namespace
