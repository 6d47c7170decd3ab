#include "printed.h"

#include "scan/tags.h"
#include "sheets/template_pdf.h"

using namespace rapt;
using test::inked;
using test::Printed;
using test::printed;

namespace {

TemplateOptions optionsFor(bool mirror = false, Paper paper = Paper::a4) {
    return {mirror, paper, dataFolder() + "/faces"};
}

StitchList cornerOf(double width, double height) {
    StitchList list = test::listThrough({{0, 0}, {width, 0}, {width, height}});
    list.threads[0].color = {200, 30, 30};
    return list;
}

} // namespace

class TestTemplate : public QObject {
    Q_OBJECT
private slots:
    void aHundredMillimetresPrintAsAHundred() {
        StitchList list = cornerOf(100, 60);
        const auto document = makeTemplate({"Corner", &list, {}, {}}, optionsFor());
        QVERIFY(bool(document));
        QCOMPARE(document->pages, 1);
        Printed p = printed(document->pdf, 300);
        QCOMPARE(p.pages.size(), std::size_t{1});
        const Box box = inked(p.pages[0], {200, 30, 30}, 300);
        VERIFY_NEAR(box.width(), 100.1, 0.2); // half a line's width on the right
        VERIFY_NEAR(box.height(), 60.1, 0.2);
        QVERIFY(p.text.contains("Corner"));
        QVERIFY(p.text.contains("Deep tide"));
    }

    void theMirroredTemplateIsMirroredAndItsWordsAreNot() {
        StitchList list = cornerOf(80, 40); // a corner at the upper right
        const auto plain = makeTemplate({"Corner", &list, {}, {}}, optionsFor());
        const auto mirror =
            makeTemplate({"Corner", &list, {}, {{"1A", {10, 10}}}}, optionsFor(true));
        Printed a = printed(plain->pdf, 100), b = printed(mirror->pdf, 100);
        const auto lowerEndIsRight = [](Image& page) {
            const Box box = inked(page, {200, 30, 30}, 100);
            const int y = static_cast<int>((box.minY + 0.8 * box.height()) * 100 / 25.4);
            const double middle = box.centre().x * 100 / 25.4;
            for (int x = 0; x < page.width; ++x)
                if (page.at(x, y)[0] > 150 && page.at(x, y)[1] < 110) return x > middle;
            return false;
        };
        QVERIFY(lowerEndIsRight(a.pages[0]));
        QVERIFY(!lowerEndIsRight(b.pages[0]));
        QVERIFY2(b.text.contains("1A") && b.text.contains("mirrored"), qPrintable(b.text));
    }

    void aTemplatesOwnCardIsReadWhereItIsPrinted() {
        for (const double height : {30.0, 120.0}) {
            StitchList list = cornerOf(100, height);
            TemplateOptions options = optionsFor();
            options.card = true;
            TemplateContent content{"Corner", &list, {}, {}};
            content.hooping = 3;
            const auto document = makeTemplate(content, options);
            QVERIFY(document);
            QCOMPARE(document->pages, 1);
            Printed p = printed(document->pdf, 300);
            const Box design = inked(p.pages[0], {200, 30, 30}, 300);
            const auto tags = findTags(toGrey(p.pages[0]));
            QCOMPARE(tags.size(), std::size_t{1});
            QCOMPARE(tags[0].id, templateCardId + 3);
            const Vec2 corner{design.minX + 0.1, design.minY + 0.1};
            const Vec2 at = templateCardAt({0, 0, 100, height});
            QVERIFY(distance(tags[0].centre * (25.4 / 300), corner + at) < 0.15);
        }
        StitchList list = cornerOf(100, 30);
        TemplateOptions mirrored = optionsFor(true);
        mirrored.card = true;
        QVERIFY(!makeTemplate({"Corner", &list, {}, {}}, mirrored));
    }

    void nothingIsDrawnThatIsNotInTheLayout() {
        StitchList list = cornerOf(100, 60);
        const Box cloth{-10, -10, 110, 70};
        const auto document = makeTemplate(
            {"Corner", &list, cloth, {{"1A", {20, 50}}, {"1B", {90, 10}}}}, optionsFor());
        Printed p = printed(document->pdf, 150);
        const Box thread = inked(p.pages[0], {200, 30, 30}, 150);
        // Left of the thread's upright and below its level line lie one mark and no line.
        int ink = 0;
        for (double y = thread.minY + 3; y < thread.maxY - 2; y += 25.4 / 150)
            for (double x = thread.minX + 3; x < thread.maxX - 3; x += 25.4 / 150) {
                const Vec2 at{x - thread.minX, y - thread.minY};
                if (distance(at, {22, 48}) < 9 || distance(at, {92, 8}) < 9) continue;
                const std::uint8_t* pixel = p.pages[0].at(static_cast<int>(x * 150 / 25.4),
                                                          static_cast<int>(y * 150 / 25.4));
                ink += pixel[0] < 200;
            }
        QCOMPARE(ink, 0);
    }

    void largeLayoutsAreTiledWithJoiningMarks() {
        StitchList list = cornerOf(400, 500);
        const auto document = makeTemplate({"Large", &list, {}, {}}, optionsFor());
        QVERIFY(document->pages >= 6);
        const Printed p = printed(document->pdf, 30);
        QCOMPARE(p.pages.size(), static_cast<std::size_t>(document->pages));
        // Each joining mark is printed on the two pages that meet there.
        QCOMPARE(p.text.count("V1.1.1"), 2);
        QCOMPARE(p.text.count("H1.1.2"), 2);
        QVERIFY(p.text.contains(QString("page %1 of %1").arg(document->pages)));
    }

    void letterPaperIsLetter() {
        StitchList list = cornerOf(50, 50);
        const auto document = makeTemplate({"L", &list, {}, {}}, optionsFor(false, Paper::letter));
        const Printed p = printed(document->pdf, 100);
        QCOMPARE(p.pages[0].width, 850);
        QCOMPARE(p.pages[0].height, 1100);
    }

    void whatCannotBePrintedIsSaid() {
        StitchList none;
        QVERIFY(!makeTemplate({"None", &none, {}, {}}, optionsFor()));
        StitchList huge = cornerOf(9000, 9000);
        const auto refused = makeTemplate({"Huge", &huge, {}, {}}, optionsFor());
        QVERIFY(!refused);
        QCOMPARE(refused.error().fault, Fault::cannotDo);
    }
};

RAPT_TEST(TestTemplate)
#include "test_template.moc"
