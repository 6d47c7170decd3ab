#include "support.h"

#include "check/check.h"

#include <set>

using namespace rapt;

namespace {

const Finding* first(const std::vector<Finding>& findings, const std::string& kind) {
    for (const Finding& f : findings)
        if (f.kind == kind) return &f;
    return nullptr;
}

Job stacked(int pieces) {
    Job job;
    job.brief.fabric = "cotton"; // takes 3.0 layers
    for (int i = 0; i < pieces; ++i)
        job.pieces.push_back(test::shapePiece(
            "p" + std::to_string(i), test::fillOf({test::rectangle(-12, -12, 24, 24)}, 40 * i)));
    return job;
}

} // namespace

class TestFindings : public QObject {
    Q_OBJECT
    const Library lib = test::library();

private slots:
    void theLibraryHasWhatTheTradeNeeds() {
        for (const char* id : {"field-100x100", "field-180x130", "field-240x150", "field-240x240",
                               "field-300x200", "oval-70x50", "two-sided-360x200"}) {
            const auto hoop = lib.hoop(id);
            QVERIFY2(bool(hoop), id);
            QVERIFY(hoop->tags.size() >= 4);
            // Tags sit on the frame, outside the field and inside the outer edge.
            for (const FrameTag& t : hoop->tags) {
                QVERIFY(!hoop->reaches(t.at));
                QVERIFY(std::abs(t.at.x) + t.sizeMm / 2 <= hoop->outerWidthMm / 2);
                QVERIFY(std::abs(t.at.y) + t.sizeMm / 2 <= hoop->outerHeightMm / 2);
            }
        }
        QVERIFY(lib.fabrics.size() >= 10);
        for (const Fabric& f : lib.fabrics) QVERIFY(f.maxLayers >= 2.2 && f.maxLayers <= 3.6);
        std::set<int> ids;
        for (const Hoop& h : lib.hoops)
            for (const FrameTag& t : h.tags) QVERIFY(ids.insert(t.id).second && t.id < 100);
    }

    void unknownIdsAreAnsweredWithTheKnown() {
        const auto hoop = lib.hoop("none");
        QVERIFY(!hoop);
        QCOMPARE(hoop.error().fault, Fault::cannotDo);
        QVERIFY(hoop.error().reason.find("oval-70x50") != std::string::npos);
    }

    void theUsersLibraryReplacesAndAdds() {
        QTemporaryDir dir;
        test::writeFile(dir.filePath("fabrics.json"),
                        QByteArray("{'fabrics': [{'id': 'canvas', 'max_layers': 3.1}, {'id': "
                                   "'mine', 'max_layers': 2.5}]}")
                            .replace('\'', '"'));
        const auto both = loadLibrary(dataFolder(), dir.path().toStdString());
        QVERIFY(bool(both));
        QCOMPARE(both->fabric("canvas")->maxLayers, 3.1);
        QCOMPARE(both->fabric("mine")->maxLayers, 2.5);
        QCOMPARE(both->hoops.size(), lib.hoops.size());
        test::writeFile(
            dir.filePath("fabrics.json"),
            QByteArray("{'fabrics': [{'id': 'x', 'max_layers': 0}]}").replace('\'', '"'));
        const auto bad = loadLibrary(dataFolder(), dir.path().toStdString());
        QVERIFY(!bad);
        QCOMPARE(bad.error().place, std::string("fabrics[0].max_layers"));
    }

    void aLayoutWithinItsLimitsHasNoStop() {
        const auto checked = checkJob(stacked(2), lib);
        QVERIFY(bool(checked));
        QVERIFY(!anyStop(checked->findings));
    }

    void aPileUpIsAStopWithPlaceNumberAndCause() {
        const auto checked = checkJob(stacked(4), lib);
        const Finding* f = first(checked->findings, "layers");
        QVERIFY(f);
        QCOMPARE(f->severity, Severity::stop);
        VERIFY_NEAR(*f->value, 4.3, 0.4); // four fills, and the turns of their rows at the edges
        QCOMPARE(*f->limit, 3.0);
        QVERIFY(f->at && std::abs(f->at->x) < 12.5 && std::abs(f->at->y) < 12.5);
        QCOMPARE(f->pieces.size(), std::size_t{4});
        QVERIFY(f->text.find("quilting cotton takes 3.0") != std::string::npos);
        QVERIFY(f->cause.find("4 pieces") != std::string::npos);
    }

    void everyRemedyDoesWhatItSays() {
        // A recipe that was shrunk with its stitches kept, an overlap, a shrunken bare design.
        Job kept = stacked(1);
        kept.pieces[0].pose.scaleX = kept.pieces[0].pose.scaleY = 0.3;
        kept.pieces[0].keep = Keep::stitches;
        Job overlap = stacked(4);
        overlap.brief.fabric = "canvas"; // takes three of them, but not four
        overlap.pieces[3].pose.x = 16;
        Job bare = stacked(0);
        Shape shape;
        for (int i = 0; i < 2; ++i)
            shape.parts.push_back(test::fillOf({test::rectangle(-12, -12, 24, 24)}, 45 * i));
        bare.pieces = {test::designPiece("bare", stitchShape(shape))};
        bare.pieces[0].pose.scaleX = bare.pieces[0].pose.scaleY = 0.55;
        bare.pieces[0].keep = Keep::stitches;
        for (const Job& job : {kept, overlap, bare}) {
            const auto before = test::judged(job, lib);
            const Finding* f = first(before->findings, "layers");
            QVERIFY(f && f->severity == Severity::stop);
            if (!f->remedy()) QFAIL(f->text.c_str());
            const auto after = checkJob(f->remedy()->edit.change(job), lib);
            QVERIFY(after->load.layers(cellAt(*f->at)) <= *f->limit);
            QVERIFY(!f->remedy()->effect.empty());
        }
    }

    void aRespacingRemedyIsNamedFirst() {
        Job job = stacked(1);
        job.pieces[0].pose.scaleX = job.pieces[0].pose.scaleY = 0.3;
        job.pieces[0].keep = Keep::stitches;
        const auto checked = test::judged(job, lib);
        const Finding* f = first(checked->findings, "layers");
        QVERIFY(f && f->remedy());
        QCOMPARE(f->remedy()->label, std::string("Respace p0"));
        QVERIFY(f->cause.find("30 %") != std::string::npos);
    }

    void aThickPlaceLowersTheLimit() {
        Job job = stacked(2);
        job.cloth.thickZones.push_back({{{0, 0}, 6}, 0.5, {}});
        const auto checked = checkJob(job, lib);
        const Finding* f = first(checked->findings, "layers");
        QVERIFY(f);
        QCOMPARE(*f->limit, 1.5);
        QVERIFY(f->text.find("thick") != std::string::npos);
    }

    void whatLiesOffTheClothIsFoundAndCanBeMovedBack() {
        Job job = stacked(1);
        job.pieces[0].pose.x = 145; // the cloth ends at 150
        const auto checked = checkJob(job, lib);
        const Finding* f = first(checked->findings, "off-cloth");
        QVERIFY(f && f->remedy());
        VERIFY_NEAR(*f->value, 7, 0.5);
        QVERIFY(!first(checkJob(f->remedy()->edit.change(job), lib)->findings, "off-cloth"));
    }

    void longAndShortStitchesAreSaid() {
        Job job;
        job.pieces = {
            test::designPiece("a", test::listThrough({{0, 0}, {8, 0}, {8.2, 0}, {8.4, 0}}))};
        auto checked = checkJob(job, lib);
        QCOMPARE(first(checked->findings, "long-stitches")->severity, Severity::caution);
        QCOMPARE(first(checked->findings, "short-stitches")->severity, Severity::caution);
        job.pieces = {test::designPiece("a", test::listThrough({{0, 0}, {13, 0}}))};
        checked = checkJob(job, lib);
        QCOMPARE(first(checked->findings, "long-stitches")->severity, Severity::stop);
    }

    void aPieceThatCannotBeStitchedIsAStopAndNotDropped() {
        Job job = stacked(1);
        Piece title;
        title.id = title.name = "title";
        title.content = LetteringContent{std::make_shared<const Lettering>()};
        job.pieces.push_back(title);
        const auto checked = checkJob(job, lib);
        QVERIFY(bool(checked));
        const Finding* f = first(checked->findings, "not-stitched");
        QVERIFY(f);
        QCOMPARE(f->severity, Severity::stop);
        QVERIFY(!checked->stitched.list.stitches.empty());
    }

    void findingsOfOneCauseAreToldTogether() {
        const auto about = [](const char* piece, const char* text, const char* cause) {
            Finding f;
            f.text = text;
            f.cause = cause;
            f.pieces = {piece};
            return f;
        };
        const std::vector<Finding> all{about("a", "Kite: 4.7 layers", "It is shrunk."),
                                       about("b", "Star: 25 points", ""),
                                       about("b", "Star: on a seam", ""),
                                       about("a", "Kite: 11 hits", "It is shrunk."),
                                       about("c", "Buoy: 4 layers", "It is shrunk."),
                                       about("a", "It jumps", "It is shrunk.")};
        const auto told = toldTogether(all);
        QCOMPARE(told.size(), std::size_t{4});
        QCOMPARE(told[0].worst, std::size_t{0});
        QCOMPARE(told[0].also, (std::vector<std::size_t>{3, 5}));
        QVERIFY(told[1].also.empty() && told[2].also.empty() && told[3].worst == 4);
        QCOMPARE(alsoText(all[0], all[3]), std::string("Also: 11 hits"));
        QCOMPARE(alsoText(all[0], all[5]), std::string("Also: It jumps"));
    }
};

RAPT_TEST(TestFindings)
#include "test_findings.moc"
