#include "stitch_makers.h"
#include "support.h"

#include "svg/as_seen.h"
#include "svg/to_shapes.h"

using namespace rapt;

namespace {

Drawing read(const std::string& body, const char* size = "width='100mm' height='100mm'") {
    const auto drawing = readSvg("<svg xmlns='http://www.w3.org/2000/svg' " + std::string(size) +
                                     " viewBox='0 0 100 100'>" + body + "</svg>",
                                 "x.svg");
    if (!drawing) qFatal("%s", drawing.error().line().c_str());
    return *drawing;
}

/// The colour that is painted last at a place; nothing where nothing is.
std::optional<Rgb> topAt(const Drawing& drawing, Vec2 p) {
    std::optional<Rgb> top;
    for (const DrawnItem& item : drawing.items) {
        Contours area;
        for (const SubPath& path : item.paths) area.push_back(path.points);
        if (item.fill && contains(area, p)) top = item.fill;
    }
    return top;
}

double areaIn(const Drawing& drawing) {
    double sum = 0;
    for (const DrawnItem& item : drawing.items) {
        Contours area;
        for (const SubPath& path : item.paths) area.push_back(path.points);
        if (item.fill) sum += areaOf(area);
    }
    return sum;
}

} // namespace

/// Drawings flattened to what one sees.
class TestAsSeen : public QObject {
    Q_OBJECT

private slots:
    void randomAreasLookAsTheyWerePainted() {
        for (quint64 seed = 1; seed <= 30; ++seed) {
            test::Dice dice(seed);
            std::string body;
            // Colours far from each other, so that none are joined.
            const char* colours[] = {"#d02020", "#20a030", "#2040c0", "#f0c000", "#101010"};
            const int count = 3 + static_cast<int>(dice.between(0, 9));
            for (int i = 0; i < count; ++i) {
                const double x = dice.between(5, 60), y = dice.between(5, 60);
                body +=
                    dice.between(0, 1) < 0.5
                        ? fmt::format("<rect x='{}' y='{}' width='{}' height='{}' fill='{}'/>", x,
                                      y, dice.between(4, 35), dice.between(4, 35), colours[i % 5])
                        : fmt::format("<circle cx='{}' cy='{}' r='{}' fill='{}'/>", x, y,
                                      dice.between(3, 18), colours[i % 5]);
            }
            const Drawing drawn = read(body);
            const auto seen = asSeen(drawn);
            QVERIFY(seen);
            QVERIFY(seen->items.size() <= 5);
            int wrong = 0, asked = 0;
            for (int n = 0; n < 1500; ++n) {
                const Vec2 p{dice.between(0, 95), dice.between(0, 95)};
                ++asked;
                wrong += topAt(*seen, p) != topAt(drawn, p);
            }
            // Slivers and hairs along edges.
            QVERIFY2(wrong <= asked / 60, qPrintable(QString("seed %1: %2").arg(seed).arg(wrong)));
            // Nothing lies under what hides it but for a tuck.
            double visible = 0;
            for (double x = 0.25; x < 95; x += 0.5)
                for (double y = 0.25; y < 95; y += 0.5) visible += topAt(drawn, {x, y}) ? 0.25 : 0;
            QVERIFY(areaIn(*seen) < 1.35 * visible + 30);
        }
    }

    void whatShowsThroughIsBlendedAndClipsCut() {
        const auto seen = asSeen(
            read("<rect x='10' y='10' width='40' height='40' fill='#ff0000'/>"
                 "<g opacity='0.5'><rect x='30' y='10' width='40' height='40' fill='#0000ff'/>"
                 "</g>"));
        QVERIFY(seen);
        QCOMPARE(topAt(*seen, {20, 30}), std::optional(Rgb{255, 0, 0}));
        QCOMPARE(topAt(*seen, {40, 30}), std::optional(Rgb{128, 0, 128}));
        QCOMPARE(topAt(*seen, {60, 30}), std::optional(Rgb{128, 128, 255})); // over the white cloth
        const auto cut = asSeen(read("<clipPath id='c'><circle cx='50' cy='50' r='20'/></clipPath>"
                                     "<rect width='100' height='100' fill='#20a030' "
                                     "clip-path='url(#c)'/>"));
        QVERIFY(cut);
        QVERIFY(topAt(*cut, {50, 50}) && !topAt(*cut, {80, 80}));
        VERIFY_NEAR(areaIn(*cut), std::numbers::pi * 400, 8);
        // A gradient is its mean, with its own transparency.
        const auto mean = asSeen(read("<linearGradient id='g'><stop offset='0' stop-color='#000'/>"
                                      "<stop offset='1' stop-color='#fff'/></linearGradient>"
                                      "<rect width='30' height='30' fill='url(#g)'/>"));
        QVERIFY(mean);
        QCOMPARE(int(topAt(*mean, {10, 10})->r), 128);
    }

    void coloursAreFewAndAPageIsNoArea() {
        std::string body = "<rect width='100' height='100' fill='white'/>";
        for (int i = 0; i < 40; ++i)
            body +=
                fmt::format("<rect x='{}' y='{}' width='9' height='9' fill='#{:02x}{:02x}{:02x}'/>",
                            10 * (i % 8), 10 * (i / 8), i * 6, 250 - i * 5, (i * 37) % 250);
        const Drawing drawn = read(body);
        for (const int most : {1, 3, 6}) {
            SeenOptions options;
            options.threads = most;
            const auto seen = asSeen(drawn, options);
            QVERIFY(seen);
            QCOMPARE(seen->items.size(), static_cast<std::size_t>(most));
            VERIFY_NEAR(areaIn(*seen), 40 * 81, 40 * 81 * 0.35);
            QVERIFY(!topAt(*seen, {95, 95}));
        }
        QVERIFY(asSeen(drawn)->items.size() <= 12);
    }

    void hiddenLinesGoAndTheRestStaysALine() {
        const auto seen = asSeen(read("<path d='M5 50 H95' stroke='#101010' stroke-width='1.2' "
                                      "fill='none'/><rect x='40' y='30' width='20' height='40' "
                                      "fill='#d02020'/>"));
        QVERIFY(seen);
        QCOMPARE(seen->items.size(), std::size_t{2});
        const DrawnItem& line = seen->items.back();
        QVERIFY(line.stroke && !line.fill);
        double length = 0;
        for (const SubPath& path : line.paths) length += lengthOf(path.points);
        VERIFY_NEAR(length, 70, 1);
    }

    void aDrawingIsSizedBeforeItsStitchesAreChosen() {
        const Drawing drawn = read("<path d='M5 5 H45' stroke='#101010' stroke-width='0.4' "
                                   "fill='none'/>");
        const auto kindAt = [&](double k) {
            std::vector<std::string> left;
            const auto pieces = piecesOf(scaled(drawn, k), {}, left);
            return std::get<ShapeContent>(pieces.at(0).content).shape->parts.at(0).kind;
        };
        QVERIFY(kindAt(1) == StitchKind::run);
        QVERIFY(kindAt(5) == StitchKind::satin); // 2 mm wide at that size
        VERIFY_NEAR(extentsOf(scaled(drawn, 5)).width(), 5 * extentsOf(drawn).width(), 1e-9);
    }
};

RAPT_TEST(TestAsSeen)
#include "test_as_seen.moc"
