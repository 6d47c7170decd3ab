// Pictures with flat colours become areas of their size; others are refused in words.

#include "support.h"

#include "svg/as_seen.h"
#include "svg/drawing_file.h"
#include "svg/to_shapes.h"
#include "svg/trace.h"
#include "thread/palette.h"

using namespace rapt;

namespace {

/// A picture of so many pixels, a colour for each by where it lies (0 to 1).
template<class ColourAt>
Image painted(int side, ColourAt colourAt) {
    Image image(side, side, 3);
    constexpr int fine = 3; // smooth edges, as drawings have
    for (int y = 0; y < side; ++y)
        for (int x = 0; x < side; ++x) {
            int sum[3] = {};
            for (int k = 0; k < fine * fine; ++k) {
                const Rgb c = colourAt((x + (k % fine + 0.5) / fine) / side,
                                       (y + (k / fine + 0.5) / fine) / side);
                sum[0] += c.r;
                sum[1] += c.g;
                sum[2] += c.b;
            }
            for (int c = 0; c < 3; ++c)
                image.at(x, y)[c] = static_cast<std::uint8_t>(sum[c] / (fine * fine));
        }
    return image;
}

constexpr Rgb paper{252, 250, 246}, red{190, 40, 30}, blue{30, 60, 150};

/// A red ring and a blue bar below it.
Rgb ringAndBar(double x, double y) {
    const double r = std::hypot(x - 0.5, y - 0.35);
    if (r > 0.15 && r < 0.28) return red;
    if (y > 0.7 && y < 0.85 && x > 0.1 && x < 0.9) return blue;
    return paper;
}

double areaOf(const DrawnItem& item) {
    double area = 0; // even-odd: holes run the other way or lie within
    std::vector<double> parts;
    for (const SubPath& sub : item.paths) {
        double twice = 0;
        for (std::size_t i = 0; i < sub.points.size(); ++i) {
            const Vec2 a = sub.points[i], b = sub.points[(i + 1) % sub.points.size()];
            twice += a.x * b.y - b.x * a.y;
        }
        parts.push_back(std::abs(twice) / 2);
    }
    std::sort(parts.rbegin(), parts.rend());
    for (std::size_t i = 0; i < parts.size(); ++i) area += i == 0 ? parts[i] : -parts[i];
    return area;
}

} // namespace

class TestTrace : public QObject {
    Q_OBJECT
private slots:
    void flatColoursBecomeAreasOfTheirSize_data() {
        QTest::addColumn<int>("side");
        for (const int side : {120, 400, 1900})
            QTest::newRow(qPrintable(QString::number(side))) << side;
    }
    void flatColoursBecomeAreasOfTheirSize() {
        QFETCH(int, side);
        const auto drawing = traced(painted(side, ringAndBar), {6, 100, 0.8, false});
        QVERIFY2(drawing, drawing ? "" : drawing.error().line().c_str());
        QCOMPARE(drawing->items.size(), std::size_t{2}); // paper and its edges are none
        const double ring = std::numbers::pi * (0.28 * 0.28 - 0.15 * 0.15) * 1e4;
        for (const DrawnItem& item : drawing->items) {
            const bool isRed = item.fill->r > item.fill->b;
            VERIFY_NEAR(areaOf(item), isRed ? ring : 0.8 * 0.15 * 1e4, 0.03 * ring);
            QVERIFY(colourDifference(*item.fill, isRed ? red : blue) < 4);
        }
        // And then pieces.
        std::vector<std::string> left;
        QCOMPARE(piecesOf(*asSeen(*drawing), {}, left).size(), std::size_t{2});
    }

    void groundThatIsNoPaperIsLeftOpenAsFarAsItIsJoined() {
        const auto onBlue = [](double x, double y) {
            const double r = std::hypot(x - 0.5, y - 0.5);
            return r < 0.1 || r > 0.35 ? blue : red;
        };
        const auto drawing = traced(painted(400, onBlue), {6, 100, 0.8, false});
        QCOMPARE(drawing->items.size(), std::size_t{2}); // the blue middle stays
        VERIFY_NEAR(areaOf(drawing->items[1]), std::numbers::pi * 100, 15);
        const auto whole = traced(painted(400, onBlue), {6, 100, 0.8, true});
        QVERIFY(areaOf(whole->items[0]) > 5000);
    }

    void specksAreLeftOut() {
        const auto specked = [](double x, double y) {
            const bool speck =
                std::hypot(std::fmod(x, 0.1) - 0.05, std::fmod(y, 0.1) - 0.05) < 0.003;
            return speck ? blue : ringAndBar(x, y);
        };
        const auto drawing = traced(painted(600, specked), {6, 100, 0.8, false});
        QCOMPARE(drawing->items.size(), std::size_t{2});
        for (const DrawnItem& item : drawing->items) QVERIFY(item.paths.size() <= 2);
    }

    void whatHasNoAreasIsRefusedInWords() {
        test::Dice dice(5);
        const auto noise = painted(200, [&](double, double) {
            const auto part = [&] { return static_cast<std::uint8_t>(dice.between(0, 255)); };
            return Rgb{part(), part(), part()};
        });
        const auto photo = traced(noise);
        QVERIFY(!photo);
        QVERIFY(photo.error().reason.find("photograph") != std::string::npos);
        const auto blank = traced(painted(200, [](double, double) { return paper; }));
        QVERIFY(!blank && blank.error().reason.find("no areas") != std::string::npos);
        for (const int side : {1, 2, 5}) // an answer, whatever it is
            (void)traced(painted(side, ringAndBar));
    }

    void aFileIsWhatIsInIt() {
        QTemporaryDir dir;
        const QString path = dir.filePath("logo.svg"); // by its name a drawing
        test::writeFile(path, QByteArray::fromStdString(*encodePng(painted(300, ringAndBar))));
        const auto drawing = readDrawingFile(path.toStdString());
        QVERIFY(drawing && drawing->items.size() == 2);
        QVERIFY(isDrawingName("A.JPG") && !isDrawingName("a.stitch.csv"));
        test::writeFile(path, "\x89PNG broken");
        QVERIFY(!readDrawingFile(path.toStdString()));
    }
};

RAPT_TEST(TestTrace)
#include "test_trace.moc"
