// What a person chose: told where it will not come out as meant, and only there.

#include "support.h"

#include "check/check.h"
#include "check/choice_findings.h"
#include "letter/name_list.h"
#include "letter/spelling.h"

using namespace rapt;

namespace {

bool alike(const std::string& a, const std::string& b) { return !spelledTwoWays({a, b}).empty(); }

QStringList kindsOf(const Job& job, const Library& library) {
    QStringList kinds;
    const auto checked = test::judged(job, library);
    for (const Finding& f : checked->findings)
        if (f.severity != Severity::note) kinds << QString::fromStdString(f.kind);
    return kinds;
}

Piece square(const std::string& id, double at, Rgb colour) {
    Piece p = test::shapePiece(id, test::fillOf({test::rectangle(-10, -10, 20, 20)}), at);
    Shape shape = *std::get<ShapeContent>(p.content).shape;
    shape.parts[0].thread.color = colour;
    p.content = ShapeContent{std::make_shared<const Shape>(shape)};
    return p;
}

/// One row of stitches of 4 mm.
HoopingList longRow(std::size_t stitches, std::size_t stopAt = 0) {
    HoopingList list;
    list.list.threads = {defaultThread(1)};
    for (std::size_t i = 0; i < stitches; ++i) {
        const double x = i % 2 ? 4 : 0;
        if (i == stopAt && i > 0) list.list.stitches.push_back(stitchAt(Op::stop, {x, 0}, 1));
        list.list.stitches.push_back(stitchAt(Op::stitch, {x, 0}, 1));
    }
    list.stitches = stitches;
    return list;
}

} // namespace

class TestChoices : public QObject {
    Q_OBJECT
    const Library lib = test::library();

private slots:
    void oneNameInTwoSpellingsIsTold() {
        for (const auto& [a, b] : {std::pair{"Zoë-Marie", "ZOE MARIE"},
                                   {"Søren", "Soren"},
                                   {"O’Shea", "OShea"},
                                   {"Marguerite", "Margeurite"},
                                   {"Philippa Holm", "Phillippa Holm"},
                                   {"Кёльн", "Кельн"}})
            QVERIFY2(alike(a, b), a);
        for (const auto& [a, b] : {std::pair{"Mole", "MOLE"},
                                   {"Anna", "Hanna"},
                                   {"Tern", "Terns"},
                                   {"Loan number 27", "Loan number 28"},
                                   {"Reading room", "Reading\nroom"},
                                   {"Saltmarsh", "Saltmarsh"},
                                   {"漢", "字"}})
            QVERIFY2(!alike(a, b), a);
        const auto plan = planNames({"Søren", "Mole", "Soren"}, test::words("x", "lato", 12), 60, 6,
                                    NameSizing::eachFits);
        QCOMPARE(plan->doubtful, 2);
        QVERIFY(QString::fromStdString(plan->names[2].doubts[0]).contains("Søren"));
    }

    void threadOfTheClothsColourIsToldWhereItLiesOnCloth() {
        Job job;
        const Rgb cloth = job.cloth.color, near{215, 207, 186}, red{180, 40, 40};
        job.pieces = {square("a", -20, near), square("b", 20, red)};
        QCOMPARE(kindsOf(job, lib), QStringList{"thread-hidden"});
        job.pieces[0] = square("a", -20, red);
        QVERIFY(kindsOf(job, lib).isEmpty());
        // On a ground that shows it is seen.
        Job over;
        over.brief.fabric = "canvas";
        over.pieces = {
            square("ground", 0, red),
            test::shapePiece("light", test::fillOf({test::rectangle(-6, -6, 12, 12)}, 90))};
        Shape light = *std::get<ShapeContent>(over.pieces[1].content).shape;
        light.parts[0].thread.color = cloth;
        over.pieces[1].content = ShapeContent{std::make_shared<const Shape>(light)};
        QVERIFY(!kindsOf(over, lib).contains("thread-hidden"));
    }

    void pairsAndPatternsMayBeMirrored() {
        Job job;
        const auto lay = [&](std::vector<bool> mirrored) {
            job.pieces.clear();
            for (std::size_t i = 0; i < mirrored.size(); ++i) {
                Piece p = square("p" + std::to_string(i), 30.0 * static_cast<double>(i) - 45,
                                 {180, 40, 40});
                p.pose.mirror = mirrored[i];
                job.pieces.push_back(p);
            }
            return kindsOf(job, lib);
        };
        QCOMPARE(lay({false, true, false}), QStringList{"mirrored-copy"});
        QVERIFY(lay({false, true}).isEmpty());
        QVERIFY(lay({false, true, false, true}).isEmpty());
    }

    void bobbinsLastOrAreChanged() {
        Machine machine;
        machine.bobbinM = 10;
        Job job;
        job.hoopings.resize(3);
        const auto told = [&](std::vector<HoopingList> lists) {
            QStringList kinds;
            for (const Finding& f : bobbinFindings(job, lists, machine))
                kinds << QString::fromStdString(f.kind + " " + f.text);
            return kinds;
        };
        QVERIFY(told({longRow(800), longRow(800), longRow(800)}).isEmpty());
        const QStringList change = told({longRow(1500), longRow(1500), longRow(800)});
        QCOMPARE(change.size(), 1);
        QVERIFY(change[0].contains("before hooping 2:"));
        const QStringList shortOne = told({longRow(2600), longRow(10), longRow(10)});
        QCOMPARE(shortOne.size(), 1);
        // 80 mm for both ends, then 4 mm a stitch.
        QVERIFY2(shortOne[0].contains("at about stitch 2482 of 2600"), qPrintable(shortOne[0]));
        QVERIFY(told({longRow(2600, 1300), longRow(10), longRow(10)}).isEmpty());
    }

    void clothThatGivesOrHasPileWantsItsLayers() {
        Library own = lib;
        for (Fabric& f : own.fabrics) f.stabilizer = f.topper = {};
        Job job;
        job.pieces = {square("a", 0, {180, 40, 40})};
        job.brief.fabric = "knit";
        QVERIFY(kindsOf(job, own).contains("stabilizer-missing"));
        job.brief.fabric = "terry";
        QVERIFY(kindsOf(job, own).contains("topper-missing"));
        job.brief.fabric = "cotton";
        QVERIFY(kindsOf(job, own).isEmpty());
        for (const Fabric& f : lib.fabrics) {
            job.brief.fabric = f.id;
            for (const QString& kind : kindsOf(job, lib))
                QVERIFY2(!kind.contains("missing") && !kind.contains("needle"), f.id.c_str());
        }
    }
};

RAPT_TEST(TestChoices)
#include "test_choices.moc"
