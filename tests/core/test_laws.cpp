// Laws that hold whatever the layout: doing and undoing, moving along, doing twice.

#include "support.h"

#include "divide/hooping_lists.h"
#include "formats/job_file.h"
#include "job/edit.h"
#include "library/camera.h"
#include "load/load_map.h"
#include "registration/fit.h"
#include "thread/measures.h"
#include "thread/resize.h"

using namespace rapt;

namespace {

Job layout(quint64 seed) {
    test::Dice dice(seed);
    Job job;
    job.cloth.widthMm = job.cloth.heightMm = 1000;
    for (int i = 0; i < 7; ++i) {
        const double w = dice.between(10, 40), h = dice.between(10, 40);
        Piece p = test::shapePiece(
            "p" + std::to_string(i),
            test::fillOf({test::rectangle(-w / 2, -h / 2, w, h)}, dice.between(0, 180), 0.8),
            dice.between(-120, 120), dice.between(-120, 120));
        p.pose.rotationDeg = dice.between(-180, 180);
        p.pose.mirror = i % 3 == 0;
        job.pieces.push_back(std::move(p));
    }
    return job;
}

/// Moves by whole cells keep every stitch in the same place of its cell.
constexpr double cells = 50 * cellMm;

} // namespace

class TestLaws : public QObject {
    Q_OBJECT
    const Library lib = test::library();

    Result<Division> divided(const Job& job) {
        StitchCache cache;
        return divideIntoHoopings(job, cache, {{*lib.hoop("field-180x130")}}, lib);
    }

private slots:
    void movingALayoutMovesItsMap() {
        const Job job = layout(1);
        std::vector<std::string> all;
        for (const Piece& p : job.pieces) all.push_back(p.id);
        const Job moved = movePieces(all, {cells, -cells}).change(job);
        const auto a = LoadMap::measure(stitchJob(job)->list);
        const auto b = LoadMap::measure(stitchJob(moved)->list);
        VERIFY_NEAR(a->summary().peakLayers, b->summary().peakLayers, 1e-3);
        VERIFY_NEAR(a->summary().meanLayers, b->summary().meanLayers, 1e-3);
        VERIFY_NEAR(b->summary().peakLayersAt->x - a->summary().peakLayersAt->x, cells, 1e-6);
    }

    void theMapOfAWholeIsTheSumOfItsParts() {
        const Job job = layout(2);
        const auto whole = LoadMap::measure(stitchJob(job)->list);
        std::vector<LoadMap> parts;
        for (const Piece& p : job.pieces) {
            Job alone = job;
            alone.pieces = {p};
            parts.push_back(*LoadMap::measure(stitchJob(alone)->list));
        }
        test::Dice dice(3);
        for (int i = 0; i < 3000; ++i) {
            const Cell c = cellAt({dice.between(-150, 150), dice.between(-150, 150)});
            double sum = 0;
            for (const LoadMap& part : parts) sum += part.layers(c);
            VERIFY_NEAR(whole->layers(c), sum, 1e-3);
        }
    }

    void theOrderOfPiecesDoesNotChangeTheMap() {
        const Job job = layout(4);
        const Job turned = reorderPiece("p6", 0).change(reorderPiece("p0", 6).change(job));
        const auto a = LoadMap::measure(stitchJob(job)->list);
        const auto b = LoadMap::measure(stitchJob(turned)->list);
        VERIFY_NEAR(a->summary().peakLayers, b->summary().peakLayers, 1e-4);
        VERIFY_NEAR(a->summary().peakHits, b->summary().peakHits, 1e-4);
    }

    void turningAndMirroringKeepEveryLength() {
        Job job = layout(5);
        const double before = measure(stitchJob(job)->list).lengthMm;
        std::vector<std::string> all;
        for (const Piece& p : job.pieces) all.push_back(p.id);
        job = mirrorPieces(all, {3, 4}).change(turnPieces(all, 33.3, {10, -20}).change(job));
        VERIFY_NEAR(measure(stitchJob(job)->list).lengthMm, before, 1e-3 * before);
    }

    void aTurnUndoneAndAMoveUndoneAreNothing() {
        const Job job = layout(6);
        const Job there =
            turnPieces({"p1"}, 77, {5, 9}).change(movePieces({"p1"}, {3, 2}).change(job));
        const Job back =
            movePieces({"p1"}, {-3, -2}).change(turnPieces({"p1"}, -77, {5, 9}).change(there));
        const Pose& a = job.piece("p1")->pose;
        const Pose& b = back.piece("p1")->pose;
        VERIFY_NEAR(a.x, b.x, 1e-9);
        VERIFY_NEAR(a.y, b.y, 1e-9);
        VERIFY_NEAR(a.rotationDeg, b.rotationDeg, 1e-9);
    }

    void scalingUpAndDownGivesTheSameStitches() {
        const auto stitched = stitchJob(layout(7));
        const auto down = resizeKeepingStitches(stitched->list, {0.5, 0.25});
        const auto back = resizeKeepingStitches(*down, {2, 4});
        QVERIFY(bool(back));
        for (std::size_t i = 0; i < back->stitches.size(); ++i)
            QVERIFY(distance(back->stitches[i].at(), stitched->list.stitches[i].at()) < 1e-4);
    }

    void aDivisionMovesWithItsLayout() {
        const Job job = layout(8);
        std::vector<std::string> all;
        for (const Piece& p : job.pieces) all.push_back(p.id);
        const auto a = divided(job);
        const auto b = divided(movePieces(all, {17, -31}).change(job));
        QVERIFY(a && b);
        QCOMPARE(a->hoopings.size(), b->hoopings.size());
        QCOMPARE(a->lowerBound, b->lowerBound);
        for (std::size_t i = 0; i < a->hoopings.size(); ++i)
            QCOMPARE(a->hoopings[i].pieces, b->hoopings[i].pieces);
    }

    void aSavedLayoutIsDividedAsBefore() {
        const Job job = layout(9);
        const auto packed = packJob(job);
        QVERIFY(bool(packed));
        const auto read = unpackJob(*packed, "layout.rapt");
        QVERIFY(bool(read));
        const auto a = divided(job), b = divided(*read);
        QVERIFY(a->hoopings.size() > 1 && a->hoopings == b->hoopings);
    }

    void cutIntoHoopingsAndJoinedItIsTheWhole() {
        const Job job = layout(10);
        const Job planned = setHoopings(divided(job)->hoopings, 0).change(job);
        const auto lists = hoopingLists(planned, lib);
        double length = 0;
        std::size_t stitches = 0;
        for (const HoopingList& h : *lists) {
            length += measure(h.list).lengthMm;
            stitches += h.stitches;
        }
        const Measures whole = measure(stitchJob(job)->list);
        QCOMPARE(stitches, whole.stitches);
        VERIFY_NEAR(length, whole.lengthMm, 1e-3 * whole.lengthMm);
    }

    void aFitDoesNotDependOnWhereThePlanLies() {
        test::Dice dice(11);
        std::vector<PointPair> pairs, far;
        for (int i = 0; i < 6; ++i) {
            const Vec2 p{dice.between(-80, 80), dice.between(-60, 60)};
            const Vec2 q = Pose{3, -2, 4}.affine()(p) + Vec2{dice.normal(), dice.normal()} * 0.2;
            pairs.push_back({std::to_string(i), p, q});
            far.push_back({std::to_string(i), p + Vec2{5000, 4000}, q + Vec2{700, 900}});
        }
        const auto a = fitPoints(pairs);
        const auto b = fitPoints(far);
        VERIFY_NEAR(a->fit.rotationDeg, b->fit.rotationDeg, 1e-9);
        VERIFY_NEAR(a->fit.rmsMm, b->fit.rmsMm, 1e-9);
        VERIFY_NEAR(a->scale, b->scale, 1e-9);
        for (std::size_t i = 0; i < pairs.size(); ++i)
            VERIFY_NEAR(distance(a->fit.residuals[i], b->fit.residuals[i]), 0, 1e-7);
    }

    void aFitThereAndBackIsNothing() {
        std::vector<PointPair> there, back;
        for (const Vec2 p : {Vec2{-50, 0}, Vec2{50, 10}, Vec2{0, 60}}) {
            const Vec2 q = Pose{7, 8, -9}.affine()(p);
            there.push_back({std::to_string(p.x), p, q});
            back.push_back({std::to_string(p.x), q, p});
        }
        const auto a = fitPoints(there);
        const auto b = fitPoints(back);
        const Vec2 p{12, 34};
        VERIFY_NEAR(distance(b->fit(a->fit(p)), p), 0, 1e-9);
    }

    void savingTwiceGivesTheSameBytes() {
        const Job job = layout(12);
        const auto once = packJob(job);
        const auto twice = packJob(*unpackJob(*once, "a"));
        QCOMPARE(*once, *twice);
    }

    void aCameraIsReadAndABadOneRefused() {
        QTemporaryDir dir;
        const auto read = [&](const char* text) {
            test::writeFile(dir.filePath("c.json"), QByteArray(text).replace('\'', '"'));
            return readCameraFile(dir.filePath("c.json").toStdString());
        };
        const auto camera = read("{'fx': 2000, 'fy': 2001, 'cx': 800, 'cy': 600, "
                                 "'distortion': [0.1, -0.2, 0, 0, 0.05]}");
        QVERIFY(bool(camera));
        QCOMPARE(camera->distortion.size(), std::size_t{5});
        for (const char* bad : {"{}", "[]", "{'fx': 0, 'fy': 1, 'cx': 1, 'cy': 1}",
                                "{'fx': 9, 'fy': 9, 'cx': 1, 'cy': 1, 'distortion': [1]}",
                                "{'fx': 'a', 'fy': 9, 'cx': 1, 'cy': 1}", "nonsense"})
            QVERIFY2(!read(bad), bad);
    }
};

RAPT_TEST(TestLaws)
#include "test_laws.moc"
