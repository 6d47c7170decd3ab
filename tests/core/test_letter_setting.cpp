// Where letters stand: real sizes, lines, arcs, paths, joins, nudges; and faces.

#include "support.h"

#include "letter/caret.h"
#include "letter/faces.h"
#include "letter/profile.h"
#include "letter/stitching.h"
#include "thread/measures.h"

#include <QFile>
#include <QTemporaryDir>
#include <numbers>

using namespace rapt;
using test::near;
using test::words;

namespace {

std::shared_ptr<const Face> faceOf(const std::string& id) { return *openFace(id); }

Setting set(const Lettering& l, bool joined = false) {
    auto made = setLettering(l, *faceOf(l.face), joined);
    if (!made) qFatal("%s", made.error().line().c_str());
    return std::move(*made);
}

std::string refusal(const Lettering& l) {
    const auto made = stitchLettering(l);
    return made ? "" : made.error().reason;
}

} // namespace

class TestLetterSetting : public QObject {
    Q_OBJECT
private slots:
    void capitalsAreAsHighAsAsked() {
        for (const char* face : {"lato", "lato-bold", "garamond"})
            for (const double cap : {8.0, 12.0, 25.0, 60.0}) {
                const auto made = stitchLettering(words("H", face, cap));
                const Box box = extentsOf(made->list);
                QVERIFY2(std::abs(-box.minY - cap) <= 0.02 * cap,
                         qPrintable(QString("%1 %2: %3").arg(face).arg(cap).arg(-box.minY)));
            }
    }

    void trackingIsAddedExactlyToEveryAdvance() {
        for (const LineKind kind : {LineKind::straight, LineKind::arc}) {
            Lettering l = words("KITES");
            l.line.kind = kind;
            l.line.radiusMm = 120;
            const Setting plain = set(l);
            l.trackingMm = 1.7;
            const Setting tracked = set(l);
            QVERIFY(near(tracked.widthMm - plain.widthMm, 5 * 1.7, 1e-9));
            for (std::size_t i = 1; i < plain.letters.size(); ++i) {
                const auto along = [&](const Setting& s) {
                    if (kind == LineKind::straight)
                        return s.letters[i].at.x - s.letters[i - 1].at.x;
                    return (s.letters[i].rotationDeg - s.letters[i - 1].rotationDeg) *
                           std::numbers::pi / 180 * 120;
                };
                QVERIFY(near(along(tracked) - along(plain), 1.7, 1e-6));
            }
        }
    }

    void theMiddleOfTheLineIsTheOrigin() {
        const Setting s = set(words("Tern and kite"));
        const PlacedLetter &first = s.letters.front(), &last = s.letters.back();
        QVERIFY(near(first.at.x - first.advanceMm / 2, -s.widthMm / 2, 1e-9));
        QVERIFY(near(last.at.x + last.advanceMm / 2, s.widthMm / 2, 1e-9));
        for (const PlacedLetter& l : s.letters) QCOMPARE(l.at.y, 0.0);
    }

    void everyLetterOfAnArcStandsOnItsCircle_data() {
        QTest::addColumn<int>("side");
        QTest::addColumn<double>("middle");
        for (const int side : {0, 1})
            for (const double middle : {0.0, 35.0, 180.0})
                QTest::addRow("%d at %.0f", side, middle) << side << middle;
    }
    void everyLetterOfAnArcStandsOnItsCircle() {
        QFETCH(int, side);
        QFETCH(double, middle);
        Lettering l = words("SALTMARSH", "garamond", 18);
        l.line.kind = LineKind::arc;
        l.line.side = static_cast<ArcSide>(side);
        l.line.radiusMm = 90;
        l.line.middleDeg = middle;
        const bool outside = l.line.side == ArcSide::outside;
        Vec2 sum;
        for (const PlacedLetter& p : set(l).letters) {
            QVERIFY(near(length(p.at), 90, 1e-9));
            // The baseline's direction is the tangent, and tops look the right way.
            const Turn t = turnOf(p.rotationDeg);
            const Vec2 along{t.cosine, t.sine}, up{t.sine, -t.cosine};
            QVERIFY(std::abs(dot(along, p.at)) < 90 * std::sin(0.5 * std::numbers::pi / 180));
            QVERIFY(dot(up, p.at) * (outside ? 1 : -1) > 0);
            sum = sum + p.at;
        }
        // The middle of the words is at the top (outside) or bottom (inside), turned clockwise.
        const double want = (outside ? 0 : 180) + middle;
        const double is = std::atan2(sum.x, -sum.y) * 180 / std::numbers::pi;
        QVERIFY2(std::abs(normalizedDegrees(is - want)) < 3, qPrintable(QString::number(is)));
    }

    void gapsOnACurveAreKeptWhenAsked() {
        Lettering l = words("HHHH", "lato", 20);
        l.line.kind = LineKind::arc;
        l.line.radiusMm = 45;
        l.line.side = ArcSide::inside;
        const auto face = faceOf("lato");
        const auto gap = [&](const Setting& s) {
            return distanceBetween(outlineOf(s.letters[1], *face, 20),
                                   outlineOf(s.letters[2], *face, 20));
        };
        Lettering straight = l;
        straight.line = {};
        const double wanted = gap(set(straight));
        QVERIFY(gap(set(l)) < 0.4 * wanted); // tops lean together
        l.line.even = true;
        QVERIFY(near(gap(set(l)), wanted, 0.05));
        l.line.side = ArcSide::outside;
        l.line.radiusMm = 30;
        QVERIFY(near(gap(set(l)), wanted, 0.05));
        for (const PlacedLetter& p : set(l).letters) QVERIFY(near(length(p.at), 30, 1e-9));
    }

    void aCircleIsFilledAllRound() {
        Lettering l = words("KITE LIBRARY * ");
        l.line.kind = LineKind::circle;
        l.line.radiusMm = 80;
        const Setting s = set(l);
        double total = 0;
        for (const PlacedLetter& p : s.letters) total += p.advanceMm;
        QVERIFY(near(total, 2 * std::numbers::pi * 80, 1e-6));
        const double step = s.letters[1].advanceMm;
        QVERIFY(step > 0);
    }

    void aPathIsFollowed() {
        Lettering l = words("tide", "lato", 10);
        l.line.kind = LineKind::path;
        for (int i = 0; i <= 60; ++i) l.line.path.push_back({i * 2.0, 12 * std::sin(i * 0.1)});
        for (const PlacedLetter& p : set(l).letters) {
            double least = 1e9;
            for (std::size_t i = 1; i < l.line.path.size(); ++i)
                least =
                    std::min(least, distanceToSegment(p.at, l.line.path[i - 1], l.line.path[i]));
            QVERIFY(least < 1e-6);
            const double slope =
                std::atan(1.2 / 2 * std::cos(p.at.x / 20)) * 180 / std::numbers::pi;
            QVERIFY2(std::abs(p.rotationDeg - slope) < 3,
                     qPrintable(QString("%1 %2").arg(p.rotationDeg).arg(slope)));
        }
        l.line.upright = true;
        for (const PlacedLetter& p : set(l).letters) QCOMPARE(p.rotationDeg, 0.0);
    }

    void linesKeepTheirGapAndAlignment() {
        Lettering l = words("Saltmarsh\nKite");
        l.lineGapMm = 31;
        const auto edges = [](const Setting& s, int line) {
            double lo = 1e9, hi = -1e9;
            for (const PlacedLetter& p : s.letters)
                if (p.line == line) {
                    lo = std::min(lo, p.at.x - p.advanceMm / 2);
                    hi = std::max(hi, p.at.x + p.advanceMm / 2);
                }
            return std::pair(lo, hi);
        };
        const Setting centred = set(l);
        QCOMPARE(centred.letters.back().at.y, 31.0);
        QVERIFY(near(edges(centred, 1).first + edges(centred, 1).second, 0, 1e-9));
        l.alignment = Alignment::left;
        QVERIFY(near(edges(set(l), 0).first, edges(set(l), 1).first, 1e-9));
        l.alignment = Alignment::right;
        QVERIFY(near(edges(set(l), 0).second, edges(set(l), 1).second, 1e-9));
    }

    void lettersAreKernedAndMarksSitOnTheirLetter() {
        const Setting pair = set(words("AV"));
        QVERIFY(pair.widthMm < set(words("A")).widthMm + set(words("V")).widthMm - 0.3);
        // A letter and its combining mark are one letter, and its parts are sewn.
        const auto accented = stitchLettering(words("e\u0301"));
        QCOMPARE(accented->setting.letters.size(), 1u);
        QVERIFY(extentsOf(accented->list).minY <
                extentsOf(stitchLettering(words("e"))->list).minY - 2);
        Lettering spaced = words("A B");
        spaced.wordGapMm = 5;
        QVERIFY(near(set(spaced).widthMm - set(words("A B")).widthMm, 5, 1e-9));
    }

    void wordsFromRightToLeftAreSetFromTheRight() {
        const auto face = Face::open("/usr/share/fonts/truetype/dejavu/DejaVuSans.ttf");
        QVERIFY(bool(face));
        const auto setting = setLettering(words("\u05d0\u05d1\u05d2"), **face, false);
        QVERIFY(bool(setting));
        QCOMPARE(setting->letters.size(), 3u);
        // The first letter of the text stands rightmost; it is read, and sewn, first.
        QCOMPARE(setting->letters.front().index, 0);
        QVERIFY(setting->letters.front().at.x > setting->letters.back().at.x);
    }

    void numbersAndWordsOfTwoDirectionsKeepTheirOrder() {
        const auto face = Face::open("/usr/share/fonts/truetype/dejavu/DejaVuSans.ttf");
        QVERIFY(face); // fonts-dejavu-core, which ./thimble installs
        const auto seen = [&](const std::string& text) {
            QStringList letters;
            const auto setting = setLettering(words(text), **face, false);
            if (!setting) return QString();
            auto across = setting->letters;
            std::sort(across.begin(), across.end(),
                      [](const auto& a, const auto& b) { return a.at.x < b.at.x; });
            for (const PlacedLetter& l : across) letters << QString::fromStdString(l.text);
            return letters.join("");
        };
        // From left to right: a number after a word that runs to the left stands left of it.
        QCOMPARE(seen("\u05d0\u05d1 25"), QString("25 \u05d1\u05d0"));
        QCOMPARE(seen("Mole \u05d0\u05d1"), QString("Mole \u05d1\u05d0"));
        QCOMPARE(seen("\u05d0\u05d1 Mole \u05d2"), QString("\u05d2 Mole \u05d1\u05d0"));
        // An accent typed by itself is the letter's.
        QVERIFY(setLettering(words("Cafe\u0301"), **face, false));
    }

    void aScriptJoinsOnAnArcToo() {
        for (const char* text : {"Ember", "Saltmarsh", "Kite Library"}) {
            Lettering bent = words(text, "dancing-script", 24);
            bent.line.kind = LineKind::arc;
            bent.line.radiusMm = 144;
            for (const LetterJoin& j : set(bent, true).joins)
                QVERIFY2(j.closed, qPrintable(QString("%1: %2").arg(text).arg(j.overlapMm)));
        }
    }

    void neighboursOfAScriptAreClosed() {
        const Setting s = set(words("winnow", "dancing-script", 24), true);
        QCOMPARE(s.joins.size(), 5u);
        for (const LetterJoin& j : s.joins)
            QVERIFY2(j.closed && j.overlapMm >= leastJoinMm - 1e-3,
                     qPrintable(QString::number(j.overlapMm)));
        // Pulled apart by tracking, the joins are open and said to be.
        Lettering apart = words("nn", "dancing-script", 20);
        apart.trackingMm = 4;
        const auto stitched = stitchLettering(apart);
        QVERIFY(!stitched->setting.joins[0].closed);
        const auto open = std::find_if(
            stitched->warnings.begin(), stitched->warnings.end(),
            [](const LetterWarning& w) { return w.kind == LetterWarning::Kind::openJoin; });
        QVERIFY(open != stitched->warnings.end());
        QVERIFY(QString::fromStdString(open->text).contains("do not join"));
    }

    void aJoinIsClosedByTheLeastMove() {
        // At this size the script's own overlaps are thinner than the thread needs.
        const Lettering l = words("nn", "dancing-script", 8);
        const Setting apart = set(l, false);
        const Setting joined = set(l, true);
        QCOMPARE(joined.joins.size(), 1u);
        QVERIFY(joined.joins[0].movedMm < 0 && joined.joins[0].movedMm > -leastJoinMm);
        const double moved = (apart.letters[1].at.x - apart.letters[0].at.x) -
                             (joined.letters[1].at.x - joined.letters[0].at.x);
        QVERIFY(near(moved, -joined.joins[0].movedMm, 1e-9));
        QVERIFY(near(joined.joins[0].overlapMm, leastJoinMm + 0.01, 0.03));
    }

    void oneLetterIsNudgedTurnedAndSized() {
        Lettering l = words("ABC");
        const Setting plain = set(l);
        LetterChange& c = l.changeOf(1);
        c.dxMm = 2;
        c.dyMm = -3;
        c.turnDeg = 10;
        const Setting nudged = set(l);
        const auto face = faceOf("lato");
        const Box before = boundsOf(outlineOf(plain.letters[1], *face, 20)),
                  after = boundsOf(outlineOf(nudged.letters[1], *face, 20));
        QVERIFY(near(after.centre().x - before.centre().x, 2, 2.5));
        QVERIFY(after.centre().y < before.centre().y - 2);
        QVERIFY(boundsOf(outlineOf(nudged.letters[2], *face, 20)) ==
                boundsOf(outlineOf(plain.letters[2], *face, 20)));
        l.letters.clear();
        l.changeOf(1).scale = 1.5;
        const Setting grown = set(l);
        QVERIFY(near(boundsOf(outlineOf(grown.letters[1], *face, 20)).height(),
                     1.5 * before.height(), 0.05));
        QVERIFY(near(grown.widthMm - plain.widthMm, 0.5 * plain.letters[1].advanceMm, 1e-6));
    }

    void scaledWordsAreTheSameWordsLarger() {
        Lettering l = words("Kite", "garamond", 15);
        l.trackingMm = 0.6;
        l.line.kind = LineKind::arc;
        const Setting small = set(l), large = set(scaled(l, 2));
        for (std::size_t i = 0; i < small.letters.size(); ++i) {
            QVERIFY(near(large.letters[i].at.x, 2 * small.letters[i].at.x, 1e-6));
            QVERIFY(near(large.letters[i].rotationDeg, small.letters[i].rotationDeg, 1e-6));
        }
    }

    void whatCannotBeSetIsSaidInWords() {
        QVERIFY(QString::fromStdString(refusal(words(""))).contains("no text"));
        QVERIFY(QString::fromStdString(refusal(words("  \n "))).contains("no text"));
        QVERIFY(QString::fromStdString(refusal(words("漢"))).contains("does not have 漢"));
        QVERIFY(QString::fromStdString(refusal(words("A", "runes")))
                    .contains("known are garamond, lato"));
        for (const double cap : {0.0, -3.0, 1e9, std::nan("")})
            QVERIFY(QString::fromStdString(refusal(words("A", "lato", cap)))
                        .contains("cannot be sewn"));
        QVERIFY(!refusal(words("\xff\xfe")).empty());
        Lettering round = words("much too long for so small a circle");
        round.line.kind = LineKind::arc;
        round.line.radiusMm = 20;
        QVERIFY(QString::fromStdString(refusal(round)).contains("a cap height of"));
        round.line.radiusMm = 3;
        QVERIFY(QString::fromStdString(refusal(round)).contains("radius"));
    }

    void fineLettersAreWarnedOf() {
        const auto tiny = stitchLettering(words("Handgloves", "lato", 6));
        QVERIFY(tiny->satinShare >= 0.96);
        QVERIFY(!tiny->warnings.empty());
        QVERIFY(stitchLettering(words("Handgloves", "lato-bold", 30))->warnings.empty());
        const auto face = faceOf("garamond");
        QVERIFY(leastGoodCapMm(face, 0.4, 3) > leastGoodCapMm(faceOf("lato-bold"), 0.4, 3));
        QCOMPARE(leastGoodCapMm(face, 0.4, 60), 60.0);
        QVERIFY(leastGoodCapMm(face, 0.8, 3) > leastGoodCapMm(face, 0.4, 3));
    }

    void facesComeFromTheFolderToo() {
        QTemporaryDir home;
        const QString folder = home.filePath("faces");
        QDir().mkpath(folder);
        QVERIFY(QFile::copy(QString::fromStdString(dataFolder()) + "/faces/Lato-Bold.ttf",
                            folder + "/My Own Face.ttf"));
        QFile broken(folder + "/broken.otf");
        QVERIFY(broken.open(QIODevice::WriteOnly));
        broken.write("OTTO and nothing else");
        broken.close();
        const FaceShelf shelf = faceShelf(dataFolder(), home.path().toStdString());
        QVERIFY(shelf.find("garamond") && shelf.find("dancing-script")->joined &&
                !shelf.find("lato")->joined);
        QVERIFY(shelf.find("my-own-face") && shelf.find("my-own-face")->own);
        QCOMPARE(shelf.refused.size(), 1u);
        QVERIFY(QString::fromStdString(shelf.refused[0].file).contains("broken.otf"));
        // A font cut off anywhere is refused or works; it never brings the program down.
        QFile whole(QString::fromStdString(dataFolder()) + "/faces/DancingScript-Regular.otf");
        QVERIFY(whole.open(QIODevice::ReadOnly));
        const QByteArray bytes = whole.readAll();
        for (const int part : {1, 7, 20, 55, 90}) {
            const QString path = home.filePath(QString("cut%1.otf").arg(part));
            QFile cut(path);
            QVERIFY(cut.open(QIODevice::WriteOnly));
            cut.write(bytes.left(bytes.size() * part / 100));
            cut.close();
            const auto face = Face::open(path.toStdString());
            if (face)
                (void)setLettering(words("Kite"), **face, false);
            else
                QVERIFY(!face.error().reason.empty());
        }
        QVERIFY(lettersConnect(*faceOf("dancing-script")));
        QVERIFY(!lettersConnect(*faceOf("garamond")));
    }

    void theCaretFollowsTheLetters() {
        Lettering l = words("Ab\nc");
        const Setting s = set(l);
        const auto start = caretBefore(s, l, 0), second = caretBefore(s, l, 1),
                   below = caretBefore(s, l, 3), end = caretBefore(s, l, 4);
        QVERIFY(near(start->foot.x, s.letters[0].at.x - s.letters[0].advanceMm / 2, 1e-9));
        QVERIFY(near(second->foot.x, s.letters[0].at.x + s.letters[0].advanceMm / 2, 1e-9));
        QVERIFY(below->foot.y > 10 && end->foot.x > below->foot.x);
        QVERIFY(near(distance(start->foot, start->top), 20, 1e-9));
        QCOMPARE(byteNear(s, l, s.letters[0].at - Vec2{5, 5}), 0u);
        QCOMPARE(byteNear(s, l, s.letters[2].at + Vec2{50, -5}), 4u);
        QCOMPARE(letterAt(s, l, s.letters[1].at - Vec2{0, 4}), 1);
        QCOMPARE(letterAt(s, l, {500, 0}), -1);
        const std::string umlaut = "aü";
        QCOMPARE(previousCharacter(umlaut, 3), 1u);
        QCOMPARE(nextCharacter(umlaut, 1), 3u);
    }
};

RAPT_TEST(TestLetterSetting)
#include "test_letter_setting.moc"
