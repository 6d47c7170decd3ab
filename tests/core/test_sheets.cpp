#include "printed.h"

#include "divide/division.h"
#include "job/edit.h"
#include "scan/tags.h"
#include "sheets/sheets.h"
#include "thread/measures.h"

using namespace rapt;
using test::inked;
using test::Printed;
using test::printed;

namespace {

constexpr int dpi = 150;

/// A row of small fills, each in its own thread.
Job stripes(int count, double pitch) {
    Job job;
    job.name = "Wind stripes";
    job.cloth.widthMm = count * pitch + 40;
    job.cloth.heightMm = 160;
    for (int i = 0; i < count; ++i) {
        ShapePart part = test::fillOf({test::rectangle(-3, -20, 6, 40)});
        part.thread = {1,
                       {static_cast<std::uint8_t>(40 + 3 * i),
                        static_cast<std::uint8_t>(200 - 3 * i), static_cast<std::uint8_t>(7 * i)},
                       40,
                       "Reed number " + std::to_string(i + 1)};
        Piece piece =
            test::shapePiece("p" + std::to_string(i), part, (i - (count - 1) / 2.0) * pitch);
        job.pieces.push_back(piece);
    }
    return job;
}

/// All that a sheet is made from.
struct Made {
    Job job;
    std::vector<HoopingList> lists;
    StitchedJob stitched;
    Library lib = test::library();

    Made(Job j, const char* hoop) : job(std::move(j)) {
        StitchCache cache;
        const DivideOptions options{{*lib.hoop(hoop)}};
        const auto plan = divideIntoHoopings(job, cache, options, lib);
        if (!plan) qFatal("%s", plan.error().line().c_str());
        job = setHoopings(plan->hoopings, plan->predictedJoinRmsMm, plan->cuts).change(job);
        lists = *hoopingLists(job, lib);
        stitched = *stitchJob(job);
    }
    SheetsRequest request(SheetParts parts = {}) const {
        SheetsRequest r{
            job, lists, stitched.list, lib, *lib.machine("six-needle"), *lib.fabric("canvas")};
        r.parts = parts;
        r.printing.facesFolder = dataFolder() + "/faces";
        return r;
    }
};

/// Length in mm of the level dark run that is nearest to 100 mm.
double barOn(Image& page) {
    double best = 0;
    for (int y = 0; y < page.height; ++y)
        for (int x = 0, run = 0; x < page.width; ++x) {
            const std::uint8_t* p = page.at(x, y);
            run = p[0] + p[1] + p[2] < 420 ? run + 1 : 0;
            const bool ends = x + 1 == page.width || page.at(x + 1, y)[0] >= 140;
            const double mm = run * 25.4 / dpi;
            if (ends && std::abs(mm - 100) < std::abs(best - 100)) best = mm;
        }
    return best;
}

/// From the first to the last mark of a row, mm: of the rows about so wide the middle one.
double widthOfRows(Image& page, double about) {
    std::vector<double> widths;
    // Between the head and the foot.
    for (int y = 50 * dpi / 25; y < page.height - 30 * dpi / 25; ++y) {
        int first = -1, last = -1;
        for (int x = 0; x < page.width; ++x)
            if (page.at(x, y)[0] < 215) {
                if (first < 0) first = x;
                last = x;
            }
        const double mm = (last - first + 1) * 25.4 / dpi;
        if (first >= 0 && std::abs(mm - about) < 12) widths.push_back(mm);
    }
    std::sort(widths.begin(), widths.end());
    return widths.empty() ? 0 : widths[widths.size() / 2];
}

} // namespace

class TestSheets : public QObject {
    Q_OBJECT
private slots:
    void everyPageIsTrueToScale() {
        const Made made(stripes(5, 30), "field-100x100");
        const auto sheets = makeSheets(made.request({true, true, true, true, true, true, true}));
        QVERIFY2(bool(sheets), sheets ? "" : sheets.error().line().c_str());
        Printed p = printed(sheets->pdf, dpi);
        QCOMPARE(static_cast<int>(p.pages.size()), sheets->pages);
        QVERIFY(sheets->pages >= 8);
        for (Image& page : p.pages) VERIFY_NEAR(barOn(page), 100, 0.2 + 25.4 / dpi);
    }

    void theJobIsToldInWordsThatCanBeSelected() {
        Made made(stripes(5, 30), "field-100x100");
        SheetsRequest r = made.request({true, false, false});
        Finding f;
        f.severity = Severity::caution;
        f.text = "the cloth under the ring is short by 4 mm";
        r.findings = {f};
        r.threaded = {Cone{made.lists[0].list.threads[0], 0.5, false}};
        r.owned.threads = {{made.lists[0].list.threads[0], "1422"}};
        const QString words = printed(makeSheets(r)->pdf, 40).text.simplified();
        const auto work = workOf(made.job.hoopings, made.lists, r.machine, r.fabric, made.lib);
        for (const QString& expected :
             {QString("Wind stripes"), QString("Reed number 1, 40 wt"), QString("Reed number 5"),
              QString("1422"), QString("Canvas"), QString("Six needles"),
              QString("%1 stitches").arg(work->stitches), QString("Caution: the cloth under"),
              QString("m are left on the cone"), QString("hands and hair clear")})
            QVERIFY2(words.contains(expected), qPrintable(expected + " in " + words));
        for (const ThreadNeed& t : work->threads)
            QVERIFY(words.contains(QString::number(t.topMm / 1000, 'f', 1)));
    }

    void everyHoopingSaysWhereItLiesAndHowItBegins() {
        const Made made(stripes(5, 30), "field-100x100");
        QVERIFY(made.lists.size() >= 2);
        const auto sheets = makeSheets(made.request({false, true, false}));
        QCOMPARE(sheets->pages, static_cast<int>(made.lists.size()));
        const QString words = printed(sheets->pdf, 40).text.simplified();
        for (std::size_t i = 0; i < made.lists.size(); ++i)
            QVERIFY(words.contains(QString("Hooping %1 of %2").arg(i + 1).arg(made.lists.size())));
        for (const Mark& m : made.job.hoopings[0].marks)
            QVERIFY(words.contains(QString::fromStdString(m.name)));
        QVERIFY(words.contains("the upright line") && words.contains("not registered"));
        QVERIFY(words.contains("Sewn already hooping 1"));
    }

    void aTurnedPositionSaysThatItsFileIsTurned() {
        Made made(stripes(3, 30), "two-sided-360x200");
        Hooping& h = made.job.hoopings[0];
        h.position = 2;
        h.pose = Pose{0, 53, 180, false, 1, 1};
        const QString words =
            printed(makeSheets(made.request({false, true, false}))->pdf, 40).text.simplified();
        QVERIFY(words.contains("do not turn it again"));
    }

    void sixtyThreadsAndTwelveHoopingsStillPrint() {
        const Made made(stripes(60, 22), "field-100x100");
        QVERIFY(made.lists.size() >= 12);
        const auto sheets = makeSheets(made.request());
        QVERIFY(bool(sheets));
        Printed p = printed(sheets->pdf, dpi);
        for (int i = 1; i <= 60; ++i)
            QVERIFY2(p.text.contains(QString("Reed number %1").arg(i)),
                     qPrintable(QString::number(i)));
        // Nothing reaches into the margins.
        for (Image& page : p.pages)
            for (int y = 0; y < page.height; y += 3)
                for (const int x : {4, page.width - 5}) QVERIFY(page.at(x, y)[0] > 240);
    }

    void cardsAndTagsAreReadBackAtTheirSize() {
        const Made made(stripes(2, 30), "field-100x100");
        SheetsRequest r = made.request({false, false, false, false, true, true, false});
        r.cards = 5;
        const Printed p = printed(makeSheets(r)->pdf, dpi);
        std::map<int, double> edges;
        for (const Image& page : p.pages)
            for (const SeenTag& t : findTags(toGrey(page)))
                edges[t.id] = distance(t.corners[0], t.corners[1]) * 25.4 / dpi;
        for (int id = firstCardId; id < firstCardId + 5; ++id)
            VERIFY_NEAR(edges.at(id), cardEdgeMm, 0.2);
        const Hoop hoop = *made.lib.hoop("field-100x100");
        for (const FrameTag& t : hoop.tags) VERIFY_NEAR(edges.at(t.id), t.sizeMm, 0.2);
    }

    void outlineGridAndCutLineTakeThePlaceOfThread() {
        const StitchList list = test::listThrough({{0, 0}, {60, 0}, {60, 40}, {0, 40}, {0, 0}});
        const TemplateContent content{"Frame", &list, {}, {}};
        TemplateOptions o;
        o.facesFolder = dataFolder() + "/faces";
        const auto boxOf = [&](Rgb colour) {
            Printed p = printed(makeTemplate(content, o)->pdf, dpi);
            return inked(p.pages[0], colour, dpi);
        };
        VERIFY_NEAR(boxOf(list.threads[0].color).width(), 60.2, 0.4);
        o.look = TemplateLook::outline;
        QVERIFY(boxOf(list.threads[0].color).empty());
        // The paper is cut 8 mm off the stitching.
        o.cutMm = 8;
        Printed p = printed(makeTemplate(content, o)->pdf, dpi);
        VERIFY_NEAR(widthOfRows(p.pages[0], 76), 76, 0.6);
        o.chart = true;
        QCOMPARE(makeTemplate(content, o)->pages, 2);
        o.chart = false;
        o.gridMm = 20;
        p = printed(makeTemplate(content, o)->pdf, dpi);
        int lines = 0;
        const int y = p.pages[0].height / 4;
        for (int x = 1; x < p.pages[0].width; ++x)
            lines += p.pages[0].at(x, y)[0] < 245 && p.pages[0].at(x - 1, y)[0] >= 245;
        QVERIFY(lines >= 4);
    }

    void picturesShowTheSamePages() {
        const Made made(stripes(3, 30), "field-100x100");
        const auto pictures = pictureSheets(made.request(), 4);
        QCOMPARE(static_cast<int>(pictures->size()), makeSheets(made.request())->pages);
        QCOMPARE((*pictures)[0].width, 840);
        std::stop_source stop;
        stop.request_stop();
        const auto stopped = makeSheets(made.request(), stop.get_token());
        QVERIFY(!stopped && stopped.error().fault == Fault::cancelled);
        QVERIFY(!makeSheets(made.request({false, false, false})));
    }
};

RAPT_TEST(TestSheets)
#include "test_sheets.moc"
