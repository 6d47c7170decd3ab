#include "support.h"

#include "divide/division.h"
#include "job/edit.h"
#include "scan/flat_picture.h"
#include "scan/tags.h"
#include "standins/camera.h"

using namespace rapt;

class TestScan : public QObject {
    Q_OBJECT
    const Library lib = test::library();

    Job hooped(const std::string& hoop) {
        Job job;
        job.pieces = {test::shapePiece("a", test::fillOf({test::rectangle(-12, -9, 24, 18)}))};
        StitchCache cache;
        const auto division = divideIntoHoopings(job, cache, {{*lib.hoop(hoop)}}, lib);
        return setHoopings(division->hoopings, 0).change(job);
    }

private slots:
    void cardsAreReadWhereTheyReallyAre_data() {
        QTest::addColumn<QString>("hoop");
        QTest::addColumn<int>("seed");
        for (const char* hoop : {"field-100x100", "field-180x130", "oval-70x50", "field-240x150"})
            for (int seed = 1; seed <= 3; ++seed)
                QTest::addRow("%s %d", hoop, seed) << hoop << seed;
    }
    void cardsAreReadWhereTheyReallyAre() {
        QFETCH(QString, hoop);
        QFETCH(int, seed);
        const Job job = hooped(hoop.toStdString());
        const auto photo = photograph(job, lib, {1, static_cast<quint64>(seed), 6, {}});
        QVERIFY(bool(photo));
        const auto reading = readScan(photo->picture, *lib.hoop(hoop.toStdString()));
        QVERIFY2(bool(reading), reading ? "" : reading.error().line().c_str());
        QCOMPARE(reading->cards.size(), photo->truth.cards.size());
        for (std::size_t i = 0; i < reading->cards.size(); ++i) {
            const SeenCard& seen = reading->cards[i];
            const SeenCard& real = photo->truth.cards[i];
            QCOMPARE(seen.id, real.id);
            QVERIFY2(distance(seen.at, real.at) < 0.15,
                     qPrintable(QString::number(distance(seen.at, real.at))));
            VERIFY_NEAR(seen.rotationDeg, real.rotationDeg, 0.4);
        }
        VERIFY_NEAR(reading->pxPerMm, 6, 0.1);
        VERIFY_NEAR(reading->tiltDeg, photo->truth.tiltDeg, 2.5);
        QCOMPARE(reading->frameTags, static_cast<int>(lib.hoop(hoop.toStdString())->tags.size()));
        QCOMPARE(reading->quality, ScanQuality::good);
    }

    void cardsAreReadFromASteepView_data() {
        QTest::addColumn<int>("seed");
        for (int seed = 1; seed <= 6; ++seed) QTest::addRow("seed %d", seed) << seed;
    }
    void cardsAreReadFromASteepView() {
        QFETCH(int, seed);
        PhotographOptions options{1, static_cast<quint64>(seed), 6, 15.0};
        const auto photo = photograph(hooped("field-180x130"), lib, options);
        const auto reading = readScan(photo->picture, *lib.hoop("field-180x130"));
        QVERIFY(bool(reading));
        QCOMPARE(reading->cards.size(), photo->truth.cards.size());
        for (std::size_t i = 0; i < reading->cards.size(); ++i) {
            QVERIFY(distance(reading->cards[i].at, photo->truth.cards[i].at) < 0.2);
            VERIFY_NEAR(reading->cards[i].rotationDeg, photo->truth.cards[i].rotationDeg, 0.4);
        }
        VERIFY_NEAR(reading->tiltDeg, 15, 2.5);
        QVERIFY(reading->quality != ScanQuality::retake);
    }

    void theSameSeedGivesTheSamePicture() {
        const Job job = hooped("field-100x100");
        const auto a = photograph(job, lib, {1, 5, 6, {}});
        const auto b = photograph(job, lib, {1, 5, 6, {}});
        const auto c = photograph(job, lib, {1, 6, 6, {}});
        QVERIFY(a->picture.pixels == b->picture.pixels);
        QVERIFY(a->picture.pixels != c->picture.pixels);
    }

    void aScanWithoutFrameTagsIsRefused() {
        Image grey(800, 600, 3);
        std::fill(grey.pixels.begin(), grey.pixels.end(), std::uint8_t{128});
        const auto reading = readScan(grey, *lib.hoop("field-100x100"));
        QVERIFY(!reading);
        QCOMPARE(reading.error().fault, Fault::cannotDo);
    }

    void theWrongHoopIsNoticed() {
        const auto photo = photograph(hooped("field-100x100"), lib, {1, 1, 6, {}});
        const auto reading = readScan(photo->picture, *lib.hoop("field-180x130"));
        QVERIFY(!reading);
        QVERIFY(reading.error().reason.find("another hoop") != std::string::npos);
    }

    void aCoarsePictureIsStillReadButShouldBeRetaken() {
        const auto photo = photograph(hooped("field-180x130"), lib, {1, 2, 3.0, {}});
        const auto reading = readScan(photo->picture, *lib.hoop("field-180x130"));
        QVERIFY(bool(reading));
        QCOMPARE(reading->quality, ScanQuality::retake);
        QVERIFY(!reading->reasons.empty());
    }

    void aDoubledCardIsNamedAndLeftOut() {
        auto photo = photograph(hooped("field-180x130"), lib, {1, 3, 6, {}});
        // Copy the surroundings of the first card to the middle of the picture.
        const Vec2 from = mapped(photo->truth.fieldToPicture, photo->truth.cards[0].at);
        Image& p = photo->picture;
        const int r = 66;
        for (int y = -r; y < r; ++y)
            for (int x = -r; x < r; ++x)
                std::copy_n(p.at(static_cast<int>(from.x) + x, static_cast<int>(from.y) + y), 3,
                            p.at(p.width / 2 + x, p.height / 2 + y));
        const auto reading = readScan(p, *lib.hoop("field-180x130"));
        QVERIFY(bool(reading));
        for (const SeenCard& c : reading->cards) QVERIFY(c.id != photo->truth.cards[0].id);
        QVERIFY(std::any_of(reading->reasons.begin(), reading->reasons.end(),
                            [](const auto& s) { return s.find("doubled") != std::string::npos; }));
    }

    void aRectifiedPictureIsStraightAndToScale() {
        const auto photo = photograph(hooped("field-100x100"), lib, {1, 4, 6, {}});
        const auto reading = readScan(photo->picture, *lib.hoop("field-100x100"));
        const Image flat =
            flattened(photo->picture, reading->fieldToPicture, {}, {Box{-74, -74, 74, 74}, 5});
        QCOMPARE(flat.width, 740);
        const auto tags = findTags(toGrey(flat));
        int seen = 0;
        const auto hoop = lib.hoop("field-100x100");
        for (const SeenTag& t : tags)
            for (const FrameTag& f : hoop->tags)
                if (f.id == t.id) {
                    ++seen;
                    VERIFY_NEAR(t.centre.x / 5 - 74, f.at.x, 0.15);
                    VERIFY_NEAR(t.centre.y / 5 - 74, f.at.y, 0.15);
                }
        QVERIFY(seen >= 4);
    }

    void tagsArePrintedAsTheDetectorReadsThem() {
        const auto cells = tagCells(123);
        Image image(100, 100, 1);
        std::fill(image.pixels.begin(), image.pixels.end(), std::uint8_t{255});
        for (int y = 0; y < 80; ++y)
            for (int x = 0; x < 80; ++x)
                if (cells[static_cast<std::size_t>(y / 10)][static_cast<std::size_t>(x / 10)])
                    *image.at(x + 10, y + 10) = 0;
        const auto tags = findTags(image);
        QCOMPARE(tags.size(), std::size_t{1});
        QCOMPARE(tags[0].id, 123);
        VERIFY_NEAR(tags[0].corners[0].x, 10, 1);
        VERIFY_NEAR(tags[0].corners[0].y, 10, 1);
        VERIFY_NEAR(tags[0].corners[1].x, 90, 1);
    }

    void badPicturesAreRefused() {
        const auto photo = photograph(hooped("field-100x100"), lib, {1, 4, 2, {}});
        const std::string png = *encodePng(photo->picture);
        QVERIFY(bool(decodeImage(png, "a")));
        for (const std::string& bad :
             {std::string(), std::string("hello"), png.substr(0, png.size() / 2), png.substr(0, 20),
              std::string("\xFF\xD8\xFF\xE0 nonsense")}) {
            const auto image = decodeImage(bad, "scan.png");
            QVERIFY(!image);
            QCOMPARE(image.error().fault, Fault::badInput);
        }
        std::string huge = png;
        huge[16] = '\x7f'; // the declared width
        QVERIFY(!decodeImage(huge, "a"));
    }
};

RAPT_TEST(TestScan)
#include "test_scan.moc"
