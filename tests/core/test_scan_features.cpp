#include "support.h"

#include "divide/division.h"
#include "job/edit.h"
#include "registration/correction.h"
#include "scan/calibration.h"
#include "scan/datum_lines.h"
#include "scan/region.h"
#include "scan/stitch_match.h"
#include "sheets/board_pdf.h"
#include "standins/camera.h"
#include "standins/motif.h"
#include "thread/measures.h"

#include <opencv2/calib3d.hpp>
#include <opencv2/imgproc.hpp>

using namespace rapt;

/// Drawn lines, stitching, regions and lenses in pictures of the stand-in camera.
class TestScanFeatures : public QObject {
    Q_OBJECT
    const Library lib = test::library();
    const Hoop hoop = *lib.hoop("field-180x130");

    Job job(double x = 0) {
        Job made;
        made.pieces = {
            test::shapePiece("a", test::fillOf({test::rectangle(-20, -14, 40, 28)}), x, 12)};
        StitchCache cache;
        const auto plan = divideIntoHoopings(made, cache, {{hoop}}, lib);
        return setHoopings(plan->hoopings, 0).change(made);
    }

    /// A picture of the printed board, by a camera.
    static Image boardPicture(const Camera& camera, double turnX, double turnY, double away) {
        const cv::Matx33d k(camera.fx, 0, camera.cx, 0, camera.fy, camera.cy, 0, 0, 1);
        cv::Matx33d r;
        cv::Rodrigues(cv::Vec3d(turnX, turnY, 0.05), r);
        Image image(camera.width, camera.height, 3);
        for (int y = 0; y < camera.height; ++y) {
            std::vector<cv::Point2d> row, rays;
            for (int x = 0; x < camera.width; ++x) row.emplace_back(x, y);
            cv::undistortPoints(row, rays, k, camera.distortion);
            for (int x = 0; x < camera.width; ++x) {
                // Where the ray meets the board's plane.
                const cv::Point2d p = rays[static_cast<std::size_t>(x)];
                const cv::Vec3d ray(p.x, p.y, 1), normal(r(0, 2), r(1, 2), r(2, 2));
                const cv::Vec3d corner = cv::Vec3d(0, 0, away) - r * cv::Vec3d(82, 60, 0);
                const cv::Vec3d at = ray * (corner.dot(normal) / ray.dot(normal)) - corner;
                const double u = at.dot(cv::Vec3d(r(0, 0), r(1, 0), r(2, 0))) / boardSquareMm;
                const double v = at.dot(cv::Vec3d(r(0, 1), r(1, 1), r(2, 1))) / boardSquareMm;
                const bool on = u >= 0 && v >= 0 && u < boardColumns + 1 && v < boardRows + 1;
                const bool black = on && (static_cast<int>(u) + static_cast<int>(v)) % 2 == 0;
                std::fill_n(image.at(x, y), 3, static_cast<std::uint8_t>(black ? 30 : 225));
            }
        }
        cv::Mat view(image.height, image.width, CV_8UC3, image.pixels.data());
        cv::GaussianBlur(view, view, cv::Size(0, 0), 0.8);
        return image;
    }

private slots:
    void datumLinesAreFoundWhereTheyLie_data() {
        QTest::addColumn<double>("tilt");
        QTest::addColumn<double>("blur");
        QTest::addColumn<double>("shadow");
        QTest::addColumn<double>("skew");
        QTest::newRow("plain") << 3.0 << 0.6 << 0.0 << 0.0;
        QTest::newRow("steep") << 25.0 << 0.6 << 0.0 << 0.0;
        QTest::newRow("blurred, in shadow") << 8.0 << 1.5 << 0.5 << 0.0;
        QTest::newRow("out of square") << 5.0 << 0.8 << 0.2 << 4.0;
    }
    void datumLinesAreFoundWhereTheyLie() {
        QFETCH(double, tilt);
        QFETCH(double, blur);
        QFETCH(double, shadow);
        QFETCH(double, skew);
        PhotographOptions options;
        options.seed = 21;
        options.tiltDeg = tilt;
        options.blurPx = blur;
        options.shadow = shadow;
        options.unevenLight = shadow / 2;
        options.skewDeg = skew;
        const auto photo = photograph(job(), lib, options);
        const auto reading = readScan(photo->picture, hoop);
        QVERIFY(bool(reading));
        QVERIFY(reading->datum != nullptr);
        const SeenDatum& seen = *reading->datum;
        const SeenDatum& real = *photo->truth.datum;
        QVERIFY2(distance(seen.at, real.at) < 0.25,
                 qPrintable(QString::number(distance(seen.at, real.at))));
        VERIFY_NEAR(seen.rotationDeg, real.rotationDeg, 0.3);
        VERIFY_NEAR(seen.squareErrorDeg, real.squareErrorDeg, 0.3);
        QVERIFY(skew == 0 || seen.squareErrorDeg > 0.4);
    }

    void whatIsNoLineIsNone() {
        PhotographOptions options;
        options.datumLines = false;
        options.creases = 0.6;
        options.motif = true;
        const auto photo = photograph(job(60), lib, options);
        const auto reading = readScan(photo->picture, hoop);
        QVERIFY(!reading->datum);
        QVERIFY(!reading->line);
        // Cards with their hair lines were there all the while.
        QVERIFY(!reading->cards.empty());
    }

    void theLensOfACameraIsFoundFromTheBoard() {
        const Camera real{"", 900, 700, 950, 945, 452, 348, {-0.14, 0.04, 0.0008, -0.0006, 0}, 0};
        std::vector<BoardPicture> pictures;
        const double turns[][2] = {{0, 0},       {0.4, 0.1},  {-0.35, 0.2},
                                   {0.1, -0.45}, {0.15, 0.4}, {-0.2, -0.3}};
        for (const auto& t : turns)
            pictures.push_back({"b.png", boardPicture(real, t[0], t[1], 230)});
        Image empty(900, 700, 3);
        pictures.push_back({"empty.png", empty});
        const auto found = calibrate(pictures);
        QVERIFY2(bool(found), found ? "" : found.error().line().c_str());
        QVERIFY2(found->camera.rmsPx < 0.3, qPrintable(QString::number(found->camera.rmsPx)));
        VERIFY_NEAR(found->camera.fx, real.fx, 8);
        VERIFY_NEAR(found->camera.cx, real.cx, 6);
        VERIFY_NEAR(found->camera.distortion[0], real.distortion[0], 0.02);
        QVERIFY(!found->views.back().seen && found->text.find("empty.png") != std::string::npos);
        // All from one side, too few, or of two cameras: refused in words.
        pictures.assign(4, pictures[0]);
        QVERIFY(!calibrate(pictures));
        QVERIFY(!calibrate({pictures[0], pictures[1]}));
        pictures[1].image = Image(640, 480, 3);
        QCOMPARE(calibrate(pictures).error().fault, Fault::badInput);
        QVERIFY(boardPdf(dataFolderOfTests())->starts_with("%PDF"));
        // It is kept, and taken for pictures of its size, also on their side.
        QTemporaryDir dir;
        Camera named = found->camera;
        named.id = "Maker Model";
        QVERIFY(bool(saveUserCamera(named, dir.path().toStdString())));
        const auto cameras = readUserCameras(dir.path().toStdString());
        QCOMPARE(cameras->size(), std::size_t{1});
        QVERIFY(cameraFor(*cameras, "Maker Model", 700, 900));
        QVERIFY(!cameraFor(*cameras, "Maker Model", 701, 900));
        QVERIFY(!cameraFor(*cameras, "Other", 900, 700));
    }

    void aBentLensIsTakenOutByItsCalibrationAndOwnedUpToWithout() {
        PhotographOptions options;
        options.seed = 5;
        options.distortion = {-0.12, 0.03, 0.001, -0.001};
        const auto photo = photograph(job(), lib, options);
        ScanOptions with;
        with.camera = photo->camera;
        const auto good = readScan(photo->picture, hoop, with);
        const auto bare = readScan(photo->picture, hoop);
        double worstGood = 0, worstBare = 0, stated = 1e9;
        for (std::size_t i = 0; i < photo->truth.cards.size(); ++i) {
            const Vec2 real = photo->truth.cards[i].at;
            worstGood = std::max(worstGood, distance(good->cards[i].at, real));
            worstBare = std::max(worstBare, distance(bare->cards[i].at, real));
            stated = std::min(stated, bare->cards[i].sigmaMm);
            QVERIFY(good->cards[i].sigmaMm < bare->cards[i].sigmaMm);
        }
        QVERIFY2(worstGood < 0.15, qPrintable(QString::number(worstGood)));
        QVERIFY(worstBare < 4 * stated);
    }

    void earlierStitchingIsMatchedToWhatWasSewn() {
        const Job sewn = job(70);
        StitchList list = **stitchPiece(sewn.pieces[0]);
        list = moved(list, sewn.pieces[0].pose.affine());
        PhotographOptions options;
        options.cards = options.datumLines = false;
        options.sewn = std::vector<StitchList>{list};
        options.cloth = Pose{2.6, -1.8, 1.4, false, 1, 1};
        options.unevenLight = 0.2;
        const auto photo = photograph(sewn, lib, options);
        const auto reading = readScan(photo->picture, hoop);
        const FlatMap map{hoop.reach(), 6};
        const Image flat = flattened(photo->picture, reading->fieldToPicture, {}, map);
        const Affine toFrame = sewn.hoopings[0].frame.affine().inverse();
        const auto match = matchStitches(flat, map, moved(list, toFrame));
        QVERIFY(match.has_value());
        VERIFY_NEAR(match->turnDeg, 1.4, 0.25);
        const double off = distance(match->seen, options.cloth->affine()(match->expected));
        QVERIFY2(off < 0.15, qPrintable(QString::number(off)));
        QVERIFY(off < 4 * match->sigmaMm);
        // Where nothing is sewn, nothing agrees.
        options.sewn = std::vector<StitchList>{};
        const auto bare = photograph(sewn, lib, options);
        const Image empty = flattened(bare->picture, reading->fieldToPicture, {}, map);
        QVERIFY(!matchStitches(empty, map, moved(list, toFrame)));
    }

    void regionsOfOneColourKeepTheirAreaOutlineAndHoles() {
        PhotographOptions options;
        options.seed = 8;
        options.motif = true;
        options.noise = 2;
        options.unevenLight = 0.25;
        options.cards = options.datumLines = false;
        options.sewn = std::vector<StitchList>{};
        const auto photo = photograph(job(), lib, options);
        const auto reading = readScan(photo->picture, hoop);
        const FlatMap map{hoop.reach(), 6};
        const Image flat = flattened(photo->picture, reading->fieldToPicture, {}, map);
        for (const PrintedPatch& patch : printedMotif()) {
            Contours real = patch.outline;
            for (Polyline& line : real)
                for (Vec2& p : line) p = photo->clothToFrame(p);
            Vec2 click = boundsOf(real[0]).centre();
            if (real.size() > 1) click = click + Vec2{5, 5};
            const auto grown = grownRegion(flat, map, click, {});
            QVERIFY2(bool(grown), grown ? "" : grown.error().line().c_str());
            QCOMPARE(grown->size(), real.size());
            VERIFY_NEAR(areaOf(*grown) / areaOf(real), 1, 0.02);
            const double off = farthestFrom(real, *grown);
            QVERIFY2(off < 0.4, qPrintable(QString::number(off)));
        }
        QVERIFY(!grownRegion(flat, map, {400, 0}, {}));
        RegionOptions large;
        large.leastAreaMm2 = 1e5;
        QVERIFY(!grownRegion(flat, map, {0, 0}, large));
    }

    void aPictureThatCannotServeSaysWhy_data() {
        QTest::addColumn<double>("blur");
        QTest::addColumn<double>("glare");
        QTest::addColumn<double>("pxPerMm");
        QTest::addColumn<QString>("reason");
        QTest::newRow("blurred") << 3.6 << 0.0 << 6.0 << "blurred by 0.6 mm";
        QTest::newRow("blurred, from near") << 7.2 << 0.0 << 12.0 << "blurred by 0.6 mm";
        QTest::newRow("glare") << 0.6 << 1.0 << 6.0 << "burnt out";
        QTest::newRow("coarse") << 0.6 << 0.0 << 3.0 << "come closer";
    }
    void aPictureThatCannotServeSaysWhy() {
        QFETCH(double, blur);
        QFETCH(double, glare);
        QFETCH(double, pxPerMm);
        QFETCH(QString, reason);
        PhotographOptions options;
        options.blurPx = blur;
        options.glare = glare;
        options.pxPerMm = pxPerMm;
        const auto photo = photograph(job(), lib, options);
        const auto reading = readScan(photo->picture, hoop);
        // Refused, or read and said; never good.
        if (!reading) {
            QCOMPARE(reading.error().fault, Fault::cannotDo);
            return;
        }
        QVERIFY(reading->quality != ScanQuality::good);
        QVERIFY(std::any_of(reading->reasons.begin(), reading->reasons.end(), [&](const auto& r) {
            return QString::fromStdString(r).contains(reason);
        }));
    }

    void aStoppedReadingIsCancelled() {
        const auto photo = photograph(job(), lib, {});
        std::stop_source stop;
        stop.request_stop();
        ScanOptions options;
        options.stop = stop.get_token();
        QCOMPARE(readScan(photo->picture, hoop, options).error().fault, Fault::cancelled);
    }

private:
    static std::string dataFolderOfTests() { return std::string(RAPT_SOURCE_DIR) + "/data/faces"; }
};

RAPT_TEST(TestScanFeatures)
#include "test_scan_features.moc"
