#include "letter_quality.h"
#include "support.h"

#include "job/edit_weigh.h"
#include "letter/crowding.h"
#include "letter/faces.h"
#include "letter/stitching.h"
#include "load/load_trial.h"
#include "load/probe.h"
#include "thread/measures.h"

#include <deque>

using namespace rapt;

namespace {

/// Fills of two separate rectangles, piled so many times; wide enough apart for two patches.
Job piled(int pieces, double side) {
    Job job;
    job.brief.fabric = "cotton"; // takes 3.0 layers
    for (int i = 0; i < pieces; ++i)
        job.pieces.push_back(test::shapePiece("p" + std::to_string(i),
                                              test::fillOf({test::rectangle(-30, -10, side, side),
                                                            test::rectangle(20, -10, side, side)},
                                                           35 * i)));
    return job;
}

/// The excess of every patch the slow way: cell by cell over the box of the map.
std::vector<double> slowExcess(const LoadMap& map, double limit, const Box& box) {
    std::map<std::pair<int, int>, double> over;
    const Cell low = cellAt({box.minX - 3, box.minY - 3}),
               high = cellAt({box.maxX + 3, box.maxY + 3});
    for (int j = low.j; j <= high.j; ++j)
        for (int i = low.i; i <= high.i; ++i)
            if (map.layers({i, j}) > limit) over[{i, j}] = map.layers({i, j}) - limit;
    std::vector<double> sums;
    while (!over.empty()) {
        double sum = 0;
        std::deque<std::pair<int, int>> open{over.begin()->first};
        while (!open.empty()) {
            const auto [i, j] = open.front();
            open.pop_front();
            const auto it = over.find({i, j});
            if (it == over.end()) continue;
            sum += it->second * 0.16;
            over.erase(it);
            for (int dj = -1; dj <= 1; ++dj)
                for (int di = -1; di <= 1; ++di) open.push_back({i + di, j + dj});
        }
        sums.push_back(sum);
    }
    std::sort(sums.rbegin(), sums.rend());
    return sums;
}

double farthestApart(const LoadMap& a, const LoadMap& b) {
    double worst = 0;
    for (const auto& [one, other] : {std::pair{&a, &b}, std::pair{&b, &a}})
        for (const LoadMap::Tile& t : one->tiles())
            for (int k = 0; k < LoadMap::tileCells * LoadMap::tileCells; ++k) {
                const Cell c{t.first.i + k % LoadMap::tileCells,
                             t.first.j + k / LoadMap::tileCells};
                worst = std::max({worst, std::abs(one->layers(c) - other->layers(c)),
                                  std::abs(one->hits(c) - other->hits(c))});
            }
    return worst;
}

} // namespace

/// What lies over a limit, what brings it there, and letters that stay below it.
class TestExcess : public QObject {
    Q_OBJECT
    const Library lib = test::library();

private slots:
    void patchesAreThoseOfCountingCellByCell() {
        test::Dice dice(5);
        std::vector<Vec2> points;
        for (int i = 0; i < 900; ++i)
            points.push_back({dice.between(-35, 35), dice.between(-30, 30)});
        const StitchList list = test::listThrough(points);
        const auto map = LoadMap::measure(list);
        for (const double limit : {3.0, 5.0, 8.0}) {
            LoadLimits limits;
            limits.maxLayers = limit;
            const auto patches = overloadedPatches(*map, LoadKind::layers, limits);
            const auto slow = slowExcess(*map, limit, extentsOf(list));
            QCOMPARE(patches.size(), slow.size());
            for (std::size_t i = 0; i < slow.size(); ++i)
                VERIFY_NEAR(patches[i].excess, slow[i], 1e-4);
        }
    }

    void theProbeAnswersAsTheMap() {
        Job job = piled(3, 14);
        // Off the grid of cells: a row on the edge of a window belongs to either side.
        for (Piece& p : job.pieces) p.pose.x = p.pose.y = 0.03;
        const auto stitched = stitchJob(job);
        const auto map = LoadMap::measure(stitched->list);
        const Probe probe(*stitched);
        test::Dice dice(3);
        for (int k = 0; k < 60; ++k) {
            const Vec2 at{dice.between(-32, 36), dice.between(-12, 6)};
            double layers = 0, hits = 0;
            for (const Contribution& c : probe.at(at)) {
                layers += c.layers;
                hits += c.hits;
            }
            VERIFY_NEAR(layers, map->layers(cellAt(at)), 1e-3);
            VERIFY_NEAR(hits, map->hits(cellAt(at)), 1e-3);
        }
    }

    void patchesOfOneCauseAreOneFinding() {
        const auto checked = checkJob(piled(4, 12), lib);
        int layers = 0;
        for (const Finding& f : checked->findings) {
            if (f.kind != "layers") continue;
            ++layers;
            QCOMPARE(f.severity, Severity::stop);
            QCOMPARE(f.count, std::size_t{2});
            QCOMPARE(f.places.size(), std::size_t{2});
            QCOMPARE(f.pieces.size(), std::size_t{4});
            VERIFY_NEAR(*f.excessTotal, 2 * *f.excess, 0.2 * *f.excess);
        }
        QCOMPARE(layers, 1);
    }

    void whatIsLittleIsNotAStop() {
        // Patches of a millimetre or two: strokes that meet.
        const auto checked = checkJob(piled(4, 2.2), lib);
        for (const Finding& f : checked->findings)
            if (f.kind == "layers") QVERIFY(f.severity != Severity::stop && *f.excess < 6);
        QVERIFY(!anyStop(checked->findings));
    }

    void aTriedEditWeighsAsTheChangedJob() {
        Job job = piled(3, 14);
        job.pieces[0].relief = Relief{};
        StitchCache cache;
        const auto stitched = stitchJob(job, &cache);
        LoadTrial trial(job, *stitched, cache);
        const LoadMap before = trial.map();
        VERIFY_NEAR(farthestApart(before, *LoadMap::measure(stitched->list)), 0, 1e-3);
        for (const Edit& edit :
             {movePieces({"p2"}, {7.3, -4.1}), deletePieces({"p1"}), openSpacing("p0", 1.3),
              setRelief({"p1"}, Relief{}), reorderPiece("p2", 0)}) {
            const auto tried = trial.tryOut(edit);
            QVERIFY(tried);
            const auto after = stitchJob(edit.change(job));
            VERIFY_NEAR(farthestApart(*tried->map, *LoadMap::measure(after->list)), 0, 1e-3);
        }
        QVERIFY(!trial.tryOut(setJobName("same stitches")));
        VERIFY_NEAR(farthestApart(before, trial.map()), 0, 1e-3);
    }

    void lettersKeepToWhatTheClothTakes_data() {
        QTest::addColumn<QString>("face");
        for (const char* face : {"lato", "lato-bold", "garamond", "dancing-script"})
            QTest::newRow(face) << QString(face);
        QTest::newRow("not tuned on") << "/usr/share/fonts/truetype/dejavu/DejaVuSerif.ttf";
    }
    void lettersKeepToWhatTheClothTakes() {
        QFETCH(QString, face);
        const auto opened = openFace(face.toStdString());
        if (!opened) qFatal("%s", opened.error().line().c_str());
        for (const auto& [cap, fabricId] :
             {std::pair{8.0, "canvas"}, std::pair{20.0, "cotton"}, std::pair{20.0, "sheer"},
              std::pair{40.0, "canvas"}, std::pair{30.0, "knit-thin"},
              std::pair{40.0, "knit-thin"}}) {
            const Fabric fabric = *lib.fabric(fabricId);
            LoadLimits limits;
            limits.maxLayers = fabric.maxLayers;
            std::size_t shortOnes = 0, all = 0;
            for (const char c : std::string("AGKQRSWaefgjkmrtx0469")) {
                Lettering l = test::words(std::string(1, c), face.toStdString(), cap);
                l.pullMm = fabric.pullMm;
                l.mostLayers = fabric.maxLayers;
                const auto sewn = stitchLettering(l);
                const auto map = LoadMap::measure(sewn->list);
                const auto patches = overloadedPatches(*map, LoadKind::layers, limits);
                const QByteArray what =
                    QString("%1 %2 %3").arg(QChar(c)).arg(cap).arg(fabricId).toUtf8();
                QVERIFY2(patches.empty() || patches[0].excess < 6, what);
                QVERIFY2(map->summary().peakLayers <= (cap > 20 ? 4.5 : 4.0), what);
                Contours outline;
                for (const PlacedLetter& letter : sewn->setting.letters)
                    for (const LetterPart& part : letterParts(letter, *opened, l))
                        outline.insert(outline.end(), part.outline.begin(), part.outline.end());
                QVERIFY2(bareShareOf(sewn->list, outline) < 0.01, what);
                const Measures m = measure(sewn->list);
                shortOnes += m.shortStitches;
                all += m.stitches;
            }
            QVERIFY2(shortOnes * 50 <= all, fabricId); // at most 2 %
        }
    }

    void thinningTouchesNothingThatIsNotCrowded() {
        Shape shape;
        shape.parts.push_back(test::fillOf({test::rectangle(0, 0, 20, 20)}));
        const StitchList plain = stitchShape(shape);
        StitchList list = plain;
        thinCrowdedRows(list, 2.85);
        QVERIFY(list.stitches == plain.stitches);
    }
};

RAPT_TEST(TestExcess)
#include "test_excess.moc"
