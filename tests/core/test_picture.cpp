// Pictures for other programs: at true scale, nothing left out, readable by others.

#include "support.h"

#include "picture/stitch_picture.h"
#include "scan/image.h"
#include "svg/to_shapes.h"
#include "thread/measures.h"

using namespace rapt;

namespace {

StitchList cross() {
    StitchList list;
    list.name = "Cross & <bar>";
    list.threads = {{1, {200, 30, 30}, 40, "Ember"}, {2, {20, 60, 160}, 40, "Sky"}};
    const auto add = [&](Op op, double x, double y, std::uint8_t thread) {
        list.stitches.push_back(stitchAt(op, {x, y}, thread));
    };
    for (int i = 0; i <= 10; ++i) add(Op::stitch, 2 * i - 10, 0, 1);
    add(Op::trim, 10, 0, 1);
    add(Op::jump, 0, -10, 2);
    for (int i = 0; i <= 10; ++i) add(Op::stitch, 0, 2 * i - 10, 2);
    return list;
}

/// Of the chunks of a PNG, in order.
QStringList chunksOf(const std::string& png) {
    QStringList names;
    for (std::size_t at = 8; at + 12 <= png.size();) {
        std::size_t size = 0;
        for (std::size_t i = 0; i < 4; ++i)
            size = size << 8 | static_cast<unsigned char>(png[at + i]);
        names << QString::fromLatin1(png.data() + at + 4, 4);
        at += 12 + size;
    }
    return names;
}

Image opened(const std::string& png) { return *decodeImage(png, "picture"); }

std::array<int, 3> pixel(Image& image, int x, int y) {
    const std::uint8_t* p = image.at(x, y);
    return {p[0], p[1], p[2]};
}

} // namespace

class TestPicture : public QObject {
    Q_OBJECT
private slots:
    void aPictureIsOfTrueScale() {
        const auto png = threadPng(cross(), {10, Rgb{255, 255, 255}, 2});
        Image image = opened(*png);
        QCOMPARE(image.width, 240); // 20 mm and margins
        QCOMPARE(image.height, 240);
        QVERIFY(png->find(std::string("pHYs\0\0\x27\x10\0\0\x27\x10\1", 13)) !=
                std::string::npos); // 10,000 a metre
        const auto centre = pixel(image, 120, 120), arm = pixel(image, 60, 120);
        QVERIFY(centre[2] > centre[0] && arm[0] > arm[2]); // the later lies on top
        const std::array<int, 3> white{255, 255, 255};
        QCOMPARE(pixel(image, 10, 10), white);
        // Thread is as wide as it is: 0.4 mm are four pixels.
        int wide = 0;
        for (int y = 0; y < 240; ++y) wide += pixel(image, 62, y) != white;
        QVERIFY2(wide >= 4 && wide <= 6, qPrintable(QString::number(wide)));
        // Without a ground it is one with alpha (colour type 6).
        QCOMPARE((*threadPng(cross(), {10, {}, 2}))[25], '\6');
    }

    void whatCannotBeDrawnIsRefused() {
        QCOMPARE(threadPng(StitchList(), {}).error().fault, Fault::cannotDo);
        QVERIFY(threadPng(test::listThrough({{0, 0}, {5000, 0}}), {}).error().reason.find("take") !=
                std::string::npos);
        QVERIFY(!stitchFilm(cross(), {{}, 1, 5}));
        QVERIFY(!shapesSvg(Job()));
    }

    void linesComeBackAsTheSameThread() {
        const auto svg = threadSvg(cross());
        QVERIFY(svg->find("<title>Cross &amp; &lt;bar&gt;</title>") != std::string::npos);
        const auto drawing = readSvg(*svg, "lines");
        QVERIFY(drawing);
        std::vector<std::string> unsupported;
        const auto pieces = piecesOf(*drawing, {}, unsupported);
        QCOMPARE(pieces.size(), std::size_t{2});
        Box box;
        for (const Piece& p : pieces) {
            const auto list = stitchPiece(p);
            for (const Stitch& s : (*list)->stitches)
                if (s.op == Op::stitch) box.add(p.pose.unscaled().affine()(s.at()));
        }
        VERIFY_NEAR(box.width(), 20, 0.05);
        VERIFY_NEAR(box.height(), 20, 0.05);
    }

    void shapesComeBackAsAreasOfTheirSize() {
        Job job;
        job.pieces = {
            test::shapePiece("a", test::fillOf({test::rectangle(-12, -8, 24, 16)}), 5, 5)};
        job.pieces[0].pose.rotationDeg = 90;
        const auto svg = shapesSvg(job);
        const auto drawing = readSvg(*svg, "shapes");
        std::vector<std::string> unsupported;
        const auto pieces = piecesOf(*drawing, {}, unsupported);
        QCOMPARE(pieces.size(), std::size_t{1});
        const Box box = extentsOf(**stitchPiece(pieces[0]));
        VERIFY_NEAR(box.width(), 16, 0.6);
        VERIFY_NEAR(box.height(), 24, 0.6);
    }

    void aFilmEndsWithTheFinishedWork() {
        const FilmOptions options{{8, Rgb{255, 255, 255}, 2}, 12, 3};
        const auto film = stitchFilm(cross(), options);
        const QStringList chunks = chunksOf(*film);
        QCOMPARE(chunks.first(), QString("IHDR"));
        QCOMPARE(chunks[1], QString("acTL"));
        QCOMPARE(chunks.count("fcTL"), 12);
        QCOMPARE(chunks.count("fdAT"), 12);
        QCOMPARE(chunks.last(), QString("IEND"));
        // Who does not know films sees it finished.
        QVERIFY(opened(*film).pixels == opened(*threadPng(cross(), options.picture)).pixels);
    }
};

RAPT_TEST(TestPicture)
#include "test_picture.moc"
