#include "support.h"

#include "load/limits.h"
#include "load/load_map.h"
#include "load/map_picture.h"
#include "load/probe.h"
#include "thread/measures.h"

#include <map>

using namespace rapt;

namespace {

/// The map by its definition, slowly: each stitch is clipped against every cell near it.
struct SlowMap {
    std::map<std::pair<int, int>, double> area, hits;

    explicit SlowMap(const StitchList& list) {
        const auto widths = widthTable(list);
        walkStitches(list.stitches, [&](std::size_t k, const Stitch* from) {
            const Stitch& s = list.stitches[k];
            const Cell c = cellAt(s.at());
            hits[{c.i, c.j}] += 1;
            if (!from) return;
            const Cell a = cellAt(from->at());
            for (int j = std::min(a.j, c.j); j <= std::max(a.j, c.j); ++j)
                for (int i = std::min(a.i, c.i); i <= std::max(a.i, c.i); ++i)
                    area[{i, j}] += inside({i, j}, from->at(), s.at()) * double(widths[s.thread]);
        });
    }
    /// Length of a segment inside a cell: where it is inside both strips.
    static double inside(Cell c, Vec2 a, Vec2 b) {
        double t0 = 0, t1 = 1;
        const auto strip = [&](double from, double to, double low) {
            if (from == to) return void(t1 = from >= low && from < low + cellMm ? t1 : t0);
            double in = (low - from) / (to - from), out = (low + cellMm - from) / (to - from);
            if (in > out) std::swap(in, out);
            t0 = std::max(t0, in);
            t1 = std::min(t1, out);
        };
        strip(a.x, b.x, c.i * cellMm);
        strip(a.y, b.y, c.j * cellMm);
        return t1 > t0 ? (t1 - t0) * distance(a, b) : 0;
    }
    static double averaged(const std::map<std::pair<int, int>, double>& cells, int i, int j) {
        double sum = 0;
        for (int y = -2; y <= 2; ++y)
            for (int x = -2; x <= 2; ++x)
                if (const auto it = cells.find({i + x, j + y}); it != cells.end())
                    sum += it->second;
        return sum / 4.0;
    }
};

StitchList scribble(quint64 seed, int count, double reach) {
    test::Dice dice(seed);
    StitchList list;
    list.threads = {{1, {0, 0, 0}, 40, "a"}, {2, {9, 9, 9}, 60, "b"}, {3, {9, 9, 9}, 12, "c"}};
    for (int i = 0; i < count; ++i) {
        const Op op = i % 17 == 0 ? Op::jump : i % 29 == 0 ? Op::trim : Op::stitch;
        list.stitches.push_back(stitchAt(op,
                                         {dice.between(-reach, reach), dice.between(-reach, reach)},
                                         static_cast<std::uint8_t>(1 + i / 7 % 3)));
    }
    return list;
}

} // namespace

class TestLoadMap : public QObject {
    Q_OBJECT
private slots:
    void theMapIsItsDefinition() {
        const StitchList list = scribble(5, 400, 8);
        const auto map = LoadMap::measure(list);
        QVERIFY(bool(map));
        const SlowMap slow(list);
        double peak = 0;
        for (int j = -30; j <= 30; ++j)
            for (int i = -30; i <= 30; ++i) {
                const double expected = SlowMap::averaged(slow.area, i, j);
                VERIFY_NEAR(map->layers({i, j}), expected, 1e-4 * expected + 1e-5);
                VERIFY_NEAR(map->hits({i, j}), SlowMap::averaged(slow.hits, i, j), 1e-4);
                peak = std::max(peak, map->layers({i, j}));
            }
        VERIFY_NEAR(map->summary().peakLayers, peak, 1e-6);
        const auto at = map->summary().peakLayersAt;
        QVERIFY(at.has_value());
        VERIFY_NEAR(map->layers(cellAt(*at)), peak, 1e-6);
    }

    void noThreadIsLostOrDoubled() {
        // The sum over all cells of the averaged map is the thread's area, wherever tiles meet.
        const StitchList list = scribble(6, 3000, 60);
        const auto map = LoadMap::measure(list);
        double sum = 0;
        for (const LoadMap::Tile& t : map->tiles())
            for (const float v : t.layers) sum += double(v) * cellMm * cellMm;
        double area = 0;
        for (const ThreadUse& u : measure(list).threads)
            area += u.lengthMm * apparentWidthMm(u.thread.weight);
        VERIFY_NEAR(sum, area, 1e-4 * area);
    }

    void aPlainFillIsOneLayerAndASatinTwo() {
        Shape shape;
        shape.parts.push_back(test::fillOf({test::rectangle(-20, -20, 40, 40)}));
        const auto fill = LoadMap::measure(stitchShape(shape));
        VERIFY_NEAR(fill->layers(cellAt({0, 0})), 1.0, 0.03);
        ShapePart satin = test::fillOf({{{0, 0}, {40, 0}}, {{0, 5}, {40, 5}}});
        satin.kind = StitchKind::satin;
        shape.parts = {satin};
        const auto column = LoadMap::measure(stitchShape(shape));
        VERIFY_NEAR(column->layers(cellAt({20, 2.5})), 2.0, 0.03);
    }

    void cellsAreHalfOpenAndLieOnMultiplesFromTheOrigin() {
        // Along the line x = 0.4: all of it belongs to the cells from 0.4 on.
        const auto map = LoadMap::measure(test::listThrough({{0.4, 0.1}, {0.4, 0.3}}));
        VERIFY_NEAR(map->layers({1, 0}), 0.2 * 0.4 / 4, 1e-6);
        VERIFY_NEAR(map->layers({-1, 0}), 0.2 * 0.4 / 4, 1e-6);
        QCOMPARE(map->layers({-2, 0}), 0.0);
        VERIFY_NEAR(map->layers({3, 0}), 0.2 * 0.4 / 4, 1e-6);
        QCOMPARE(map->layers({4, 0}), 0.0);
    }

    void theMeanIsOverTheCellsThatThreadCrosses() {
        // One stitch through exactly four cells: the windows of the inner two hold all 1.6 mm of
        // it, those of the outer two 1.2 mm.
        const auto map = LoadMap::measure(test::listThrough({{0, 0.2}, {1.6, 0.2}}));
        VERIFY_NEAR(map->summary().meanLayers, 1.4 * 0.4 / 4, 1e-6);
        QCOMPARE(map->summary().peakHits, 0.5); // both ends in one window
    }

    void anEmptyDesignHasNoPeak() {
        const auto map = LoadMap::measure(StitchList{});
        QVERIFY(bool(map));
        QCOMPARE(map->summary().peakLayers, 0.0);
        QVERIFY(!map->summary().peakLayersAt.has_value());
        QVERIFY(!map->summary().peakHitsAt.has_value());
    }

    void turningTheDesignByAQuarterTurnsTheMap() {
        const StitchList list = scribble(8, 300, 10);
        StitchList turned = list;
        for (Stitch& s : turned.stitches) std::tie(s.x, s.y) = std::pair{-s.y, s.x};
        const auto a = LoadMap::measure(list);
        const auto b = LoadMap::measure(turned);
        for (int j = -25; j < 25; ++j)
            for (int i = -25; i < 25; ++i)
                VERIFY_NEAR(b->layers({-1 - j, i}), a->layers({i, j}), 1e-4);
    }

    void aLayoutTooLargeForAMapIsRefusedAndNotGuessed() {
        const StitchList list = scribble(9, 60'000, 9999);
        const auto map = LoadMap::measure(list);
        QVERIFY(!map);
        QCOMPARE(map.error().fault, Fault::cannotDo);
    }

    void aStoppedMeasurementEnds() {
        std::stop_source source;
        source.request_stop();
        QVERIFY(!LoadMap::measure(scribble(1, 100, 5), source.get_token()));
    }

    void contributionsAddUpToTheMap() {
        Job job;
        job.pieces = {test::shapePiece("a", test::fillOf({test::rectangle(0, 0, 20, 20)})),
                      test::shapePiece("b", test::fillOf({test::rectangle(5, 5, 20, 20)}, 40)),
                      test::shapePiece("c", test::fillOf({test::rectangle(50, 50, 5, 5)}))};
        const auto stitched = stitchJob(job);
        const auto map = LoadMap::measure(stitched->list);
        const auto parts = contributionsAt(*stitched, {10, 10});
        QCOMPARE(parts.size(), std::size_t{2});
        VERIFY_NEAR(parts[0].layers + parts[1].layers, map->layers(cellAt({10, 10})), 1e-3);
    }

    void patchesAreConnectedAndTheWorstComesFirst() {
        Job job;
        job.pieces = {
            test::shapePiece("a", test::fillOf({test::rectangle(0, 0, 20, 20)}, 0, 0.2)),
            test::shapePiece("b", test::fillOf({test::rectangle(40, 0, 20, 20)}, 0, 0.15))};
        const auto stitched = stitchJob(job);
        const auto map = LoadMap::measure(stitched->list);
        const auto patches = overloadedPatches(*map, LoadKind::layers, {1.5, 100, {}});
        QCOMPARE(patches.size(), std::size_t{2});
        QVERIFY(patches[0].peak > patches[1].peak);
        QVERIFY(patches[0].at.x > 40);
        // A thick place lowers the limit only inside it.
        const LoadLimits thick{3.4, 100, {{{{10, 10}, 4}, 0.45, {}}}};
        const auto inside = overloadedPatches(*map, LoadKind::layers, thick);
        QCOMPARE(inside.size(), std::size_t{1});
        QVERIFY(distance(inside[0].at, {10, 10}) <= 4);
    }

    void thePictureShowsTheLimitAndStaysSmall() {
        const auto map = LoadMap::measure(scribble(2, 500, 20));
        const Image image = loadPicture(*map, LoadKind::layers, {1, 10, {}});
        QVERIFY(image.width > 100 && image.width <= 4004);
        QVERIFY(bool(encodePng(image)));
        const auto empty = LoadMap::measure(StitchList{});
        QCOMPARE(loadPicture(*empty, LoadKind::layers, {1, 10, {}}).width, 1);
    }
};

RAPT_TEST(TestLoadMap)
#include "test_load_map.moc"
