// Prints how well the letters of a face are covered, and draws contact sheets of their columns.
//   rapt-letter-table FONT CAP_MM [--sheet OUT.png] [--text TEXT] [--each]

#include "letter_quality.h"

#include "base/file_io.h"
#include "letter/face.h"

#include <algorithm>
#include <chrono>
#include <cstdio>
#include <cstring>
#include <string>

using namespace rapt;

namespace {

Image sheetOf(const std::vector<Image>& tiles, int width) {
    int x = 0, y = 0, tall = 0, height = 0;
    std::vector<std::pair<int, int>> places;
    for (const Image& t : tiles) {
        if (x + t.width > width) {
            x = 0;
            y += tall;
            tall = 0;
        }
        places.emplace_back(x, y);
        x += t.width;
        tall = std::max(tall, t.height);
        height = std::max(height, y + tall);
    }
    Image sheet(width, height, 3);
    std::fill(sheet.pixels.begin(), sheet.pixels.end(), 245);
    for (std::size_t i = 0; i < tiles.size(); ++i)
        for (int row = 0; row < tiles[i].height; ++row) {
            const int n = std::min(tiles[i].width, width - places[i].first);
            std::memcpy(sheet.at(places[i].first, places[i].second + row),
                        &tiles[i].pixels[static_cast<std::size_t>(row * tiles[i].width * 3)],
                        static_cast<std::size_t>(n * 3));
        }
    return sheet;
}

double percentile(std::vector<double> v, double p) {
    if (v.empty()) return 0;
    std::sort(v.begin(), v.end());
    return v[static_cast<std::size_t>(p * static_cast<double>(v.size() - 1))];
}

} // namespace

int main(int argc, char** argv) {
    if (argc < 3) return 2;
    std::string text = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789", sheetPath;
    bool each = false;
    double zoom = 3.4;
    for (int i = 3; i < argc; ++i) {
        if (!std::strcmp(argv[i], "--sheet")) sheetPath = argv[++i];
        if (!std::strcmp(argv[i], "--text")) text = argv[++i];
        if (!std::strcmp(argv[i], "--each")) each = true;
        if (!std::strcmp(argv[i], "--zoom")) zoom = std::stod(argv[++i]);
    }
    const double cap = std::stod(argv[2]);
    const auto face = Face::open(argv[1]);
    if (!face) {
        std::fprintf(stderr, "%s\n", face.error().line().c_str());
        return 3;
    }
    double bare = 0, satin = 0, worstBare = 0, worstOutside = 0, worstSatin = 1, columns = 0,
           ms = 0, slowest = 0;
    int crossings = 0, n = 0;
    std::vector<double> pitches;
    std::vector<Image> tiles;
    for (const char c : text) {
        const ShapedLine line = (*face)->shape(std::string(1, c));
        const auto start = std::chrono::steady_clock::now();
        ColumnOptions options;
        options.capHeightMm = cap;
        const auto parts = columnsOf((*face)->outline(line.glyphs[0].glyph, cap), options);
        const double took =
            std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start)
                .count();
        if (parts.empty()) continue;
        const LetterQuality q = qualityOf(parts);
        if (each || q.bareShare > 0.01 || q.outsideShare > 0.01 || q.satinShare < 0.96 ||
            q.crossings || q.columns > 6)
            std::printf("  %c  bare %.2f%%  outside %.2f%%  satin %.1f%%  columns %d  crossings %d "
                        " longest %.1f  pitch %.3f-%.3f  %.0f ms\n",
                        c, 100 * q.bareShare, 100 * q.outsideShare, 100 * q.satinShare, q.columns,
                        q.crossings, q.longestRow, percentile(q.pitches, .05),
                        percentile(q.pitches, .95), took);
        bare += q.bareShare;
        satin += q.satinShare;
        columns += q.columns;
        crossings += q.crossings;
        worstBare = std::max(worstBare, q.bareShare);
        worstOutside = std::max(worstOutside, q.outsideShare);
        worstSatin = std::min(worstSatin, q.satinShare);
        ms += took;
        slowest = std::max(slowest, took);
        ++n;
        pitches.insert(pitches.end(), q.pitches.begin(), q.pitches.end());
        if (!sheetPath.empty()) tiles.push_back(pictureOf(parts, zoom * 40 / cap));
    }
    std::printf(
        "%-28s %4.0f mm | bare mean %.3f%% worst %.2f%% | outside worst %.2f%% | satin mean %.2f%% "
        "worst %.1f%% | pitch %.3f-%.3f | crossings %d | columns %.2f | %.1f ms (slowest %.0f)\n",
        (*face)->name().c_str(), cap, 100 * bare / n, 100 * worstBare, 100 * worstOutside,
        100 * satin / n, 100 * worstSatin, percentile(pitches, .05), percentile(pitches, .95),
        crossings, columns / n, ms / n, slowest);
    if (!sheetPath.empty()) {
        const auto png = encodePng(sheetOf(tiles, 1900));
        if (!png || !writeWholeFile(sheetPath, *png)) return 3;
    }
    return 0;
}
