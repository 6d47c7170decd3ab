// From columns to needle points: one thread through a part, underlay below.

#include "support.h"

#include "letter/sewing.h"
#include "letter/stitching.h"
#include "thread/measures.h"

#include <set>

using namespace rapt;
using test::words;

namespace {

StitchedLettering sewn(const Lettering& l) {
    auto made = stitchLettering(l);
    if (!made) qFatal("%s", made.error().line().c_str());
    return std::move(*made);
}

int count(const StitchList& list, Op op) {
    return static_cast<int>(std::count_if(list.stitches.begin(), list.stitches.end(),
                                          [op](const Stitch& s) { return s.op == op; }));
}

/// A straight column along x.
LetterPart bar(double length, double width) {
    LetterPart part;
    part.outline = {{{0, -width / 2}, {length, -width / 2}, {length, width / 2}, {0, width / 2}}};
    Column c;
    for (double x = 0; x <= length + 1e-9; x += 0.2)
        c.rungs.push_back({{x, -width / 2}, {x, width / 2}});
    part.columns.push_back(c);
    return part;
}

double longestOf(const Polyline& line) {
    double most = 0;
    for (std::size_t i = 1; i < line.size(); ++i)
        most = std::max(most, distance(line[i - 1], line[i]));
    return most;
}

/// A bend of half a turn, its rows from the inside out.
LetterPart halfRing(double inner, double outer) {
    LetterPart part;
    Column c;
    const int n = static_cast<int>(M_PI * (inner + outer) / 2 / 0.2);
    for (int i = 0; i <= n; ++i) {
        const double t = M_PI * i / n;
        c.rungs.push_back(
            {Vec2{std::cos(t), -std::sin(t)} * inner, Vec2{std::cos(t), -std::sin(t)} * outer});
    }
    Polyline line;
    for (const Rung& r : c.rungs) line.push_back(r.right);
    for (auto r = c.rungs.rbegin(); r != c.rungs.rend(); ++r) line.push_back(r->left);
    part.outline = {line};
    part.columns = {c};
    return part;
}

} // namespace

class TestLetterSewing : public QObject {
    Q_OBJECT
private slots:
    void aConnectedPartIsSewnWithoutACut() {
        for (const char* face : {"lato", "garamond", "dancing-script"})
            for (const char* letter :
                 {"A", "B", "E", "H", "K", "M", "W", "X", "g", "k", "8", "&"}) {
                const StitchedLettering s = sewn(words(letter, face));
                QVERIFY2(count(s.list, Op::trim) <= s.parts - 1, letter);
            }
        // Two parts that do not touch are two threads.
        const StitchedLettering i = sewn(words("i"));
        QCOMPARE(i.parts, 2);
        QCOMPARE(count(i.list, Op::trim), 1);
    }

    void aJoinedWordIsOneThread() {
        const StitchedLettering s = sewn(words("annuau", "dancing-script", 20));
        QCOMPARE(count(s.list, Op::trim), 0);
        // Dots come after the word.
        const StitchedLettering dotted = sewn(words("minium", "dancing-script", 20));
        QCOMPARE(count(dotted.list, Op::trim), 2);
    }

    void everyPieceOfThreadIsTiedAtBothEnds() {
        const StitchList list = sewn(words("Hi")).list;
        std::vector<std::vector<Vec2>> threads;
        for (const Stitch& s : list.stitches) {
            if (s.op == Op::jump) threads.emplace_back();
            if (s.op == Op::stitch) threads.back().push_back(s.at());
        }
        QCOMPARE(threads.size(), 3u);
        for (const auto& t : threads) {
            // There and back over the same hole, with stitches that are not short.
            QVERIFY(distance(t[0], t[2]) < 0.01 && distance(t[0], t[1]) >= 0.5);
            const std::size_t n = t.size();
            QVERIFY(distance(t[n - 1], t[n - 3]) < 0.01 && distance(t[n - 1], t[n - 2]) >= 0.5);
        }
    }

    void noStitchIsTooLongAndWideColumnsAreSplit() {
        const Polyline wide = sewPart(bar(30, 16), Vec2{0, 0}, {30, 0}, {});
        QVERIFY(longestOf(wide) <= 7.01);
        const Polyline narrow = sewPart(bar(30, 6), Vec2{0, 0}, {30, 0}, {});
        QVERIFY(longestOf(narrow) > 5.9 && longestOf(narrow) <= 7.01);
        // The holes of split rows do not lie in one line, which would show as a furrow.
        std::set<long> places;
        for (const Vec2& p : wide)
            if (std::abs(p.y) < 6) places.insert(std::lround(p.y * 10));
        QVERIFY(places.size() >= 6);
        // The short rows outside the bends of strokes that are 50 mm wide.
        Lettering huge = words("QS");
        huge.face = "lato-bold";
        huge.capHeightMm = 260;
        QVERIFY(measure(sewn(huge).list).longestMm <= 7.01);
    }

    /// Fine strokes too, and where all that the cloth takes is a run below them.
    void fewStitchesOfSmallLettersAreShort() {
        for (const char* face : {"garamond", "dancing-script"})
            for (const double cap : {8.0, 9.5, 12.0})
                for (const double layers : {2.4, 3.0}) {
                    Lettering l = words("Saltmarsh Kite Library & Reading Room", face, cap);
                    l.mostLayers = layers;
                    l.pullMm = 0.15;
                    const Measures m = measure(sewn(l).list);
                    const double percent = 100.0 * static_cast<double>(m.shortStitches) /
                                           static_cast<double>(m.stitches);
                    QVERIFY2(percent <= 2, qPrintable(QString("%1 %2 mm, %3 layers: %4 %")
                                                          .arg(face)
                                                          .arg(cap)
                                                          .arg(layers)
                                                          .arg(percent)));
                }
    }

    void underlayGrowsWithTheWidth() {
        const auto runs = [](double width) {
            SewOptions without;
            without.underlay = false;
            return sewPart(bar(30, width), Vec2{0, 0}, {30, 0}, {}).size() -
                   sewPart(bar(30, width), Vec2{0, 0}, {30, 0}, without).size();
        };
        QCOMPARE(runs(2), 0u); // the centre run is there anyway
        QVERIFY(runs(3.5) > 20);
        QVERIFY(runs(6) > runs(3.5));
    }

    void sewingBeginsAndEndsWhereItIsAsked() {
        const Polyline there = sewPart(bar(30, 3), Vec2{30, 0}, {0, 0}, {});
        QVERIFY(distance(there.front(), {30, 0}) < 1 && distance(there.back(), {0, 0}) < 2);
        const Polyline same = sewPart(bar(30, 3), Vec2{0, 0}, {0, 0}, {});
        QVERIFY(distance(same.front(), {0, 0}) < 1 && distance(same.back(), {0, 0}) < 2);
    }

    void pullWidensEveryRow() {
        SewOptions pulled;
        pulled.pullMm = 0.4;
        Box plainBox, pulledBox;
        for (const Vec2& p : sewPart(bar(20, 3), Vec2{0, 0}, {20, 0}, {})) plainBox.add(p);
        for (const Vec2& p : sewPart(bar(20, 3), Vec2{0, 0}, {20, 0}, pulled)) pulledBox.add(p);
        QVERIFY(std::abs(pulledBox.height() - plainBox.height() - 0.4) < 1e-6);
    }

    void bendsGetShortRowsOutside() {
        // Half a ring, 5 mm wide, with an inner radius of 1.5 mm: 1.7 times the pitch outside.
        const double inner = 1.5, outer = 6.5, middle = 4;
        const LetterPart part = halfRing(inner, outer);
        const Polyline points = sewPart(part, Vec2{4, 0}, {-4, 0}, {});
        std::vector<double> outside;
        int shortened = 0;
        for (const Vec2& p : points) {
            if (std::abs(length(p) - outer) < 0.05) outside.push_back(std::atan2(-p.y, p.x));
            const double r = length(p);
            shortened += r > inner + 1 && r < outer - 1 && r != middle;
        }
        std::sort(outside.begin(), outside.end());
        double widest = 0;
        for (std::size_t i = 1; i < outside.size(); ++i)
            widest = std::max(widest, (outside[i] - outside[i - 1]) * outer);
        QVERIFY2(widest <= 0.52, qPrintable(QString::number(widest)));
        QVERIFY(shortened > 20);
    }

    void onLightClothTheRunLeansToTheOutsideOfABend() {
        SewOptions light;
        light.underlay = false;
        const auto farthestOfTheRun = [&](bool leaning) {
            light.leaningRun = leaning;
            const Polyline points = sewPart(halfRing(1.5, 6.5), {}, {4, 0}, light);
            double most = 0;
            for (std::size_t i = 1; i < 5; ++i) most = std::max(most, length(points[i]));
            return most;
        };
        VERIFY_NEAR(farthestOfTheRun(false), 4, 0.02);
        VERIFY_NEAR(farthestOfTheRun(true), 5.25, 0.05);
    }

    void aFilledColumnHasShortStitchesAlongItsRows() {
        LetterPart part = bar(20, 10);
        part.columns[0].filled = true;
        SewOptions plain;
        plain.underlay = false;
        QVERIFY(longestOf(sewPart(part, Vec2{0, 0}, {20, 0}, plain)) <= 3.6);
    }

    void lettersOfOneThreadAreSewnTogether() {
        Lettering l = words("KITES");
        for (const int letter : {1, 3})
            l.changeOf(letter).thread = Thread{1, {200, 30, 30}, 40, "Ember"};
        const StitchList list = sewn(l).list;
        QCOMPARE(measure(list).threadChanges, 1);
    }

    void theColourOfALetterIsAThreadOfItsOwn() {
        Lettering l = words("AB");
        l.changeOf(1).thread = Thread{1, {200, 30, 30}, 40, "Ember"};
        const StitchList list = sewn(l).list;
        QCOMPARE(list.threads.size(), 2u);
        QCOMPARE(list.threads[1].name, std::string("Ember"));
    }
};

RAPT_TEST(TestLetterSewing)
#include "test_letter_sewing.moc"
