#include "support.h"

#include "job/stitching.h"
#include "recipe/rails.h"
#include "svg/drawing.h"
#include "svg/to_shapes.h"
#include "thread/measures.h"

using namespace rapt;

namespace {

std::string
page(const std::string& body,
     const std::string& attributes = "width='200mm' height='150mm' viewBox='0 0 200 150'") {
    return "<svg xmlns='http://www.w3.org/2000/svg' xmlns:xlink='http://www.w3.org/1999/xlink' " +
           attributes + ">" + body + "</svg>";
}

Drawing drawn(const std::string& body) {
    auto drawing = readSvg(page(body), "art.svg");
    if (!drawing) qFatal("%s", drawing.error().line().c_str());
    return *drawing;
}

/// Bare, unless the test is about what lies below.
std::vector<Piece> imported(const std::string& body, ImportOptions options = {}) {
    options.underlay = options.underlay.value_or(Underlay::none);
    std::vector<std::string> left;
    return piecesOf(drawn(body), options, left);
}

const ShapePart& onlyPart(const std::vector<Piece>& pieces) {
    const Shape& shape = *std::get<ShapeContent>(pieces.at(0).content).shape;
    if (shape.parts.size() != 1) qFatal("%zu parts", shape.parts.size());
    return shape.parts[0];
}

StitchList stitched(const std::vector<Piece>& pieces) {
    std::vector<const Piece*> all;
    for (const Piece& p : pieces) all.push_back(&p);
    auto result = stitchPieces(all, {});
    if (!result) qFatal("%s", result.error().line().c_str());
    return result->list;
}

Box boxOf(const DrawnItem& item) {
    Box box;
    for (const SubPath& p : item.paths) box.add(boundsOf(p.points));
    return box;
}

QString refusal(const std::string& text) {
    const auto drawing = readSvg(text, "art.svg");
    return drawing ? QString() : QString::fromStdString(drawing.error().line());
}

} // namespace

/// Drawings as lines, and lines as stitches.
class TestSvg : public QObject {
    Q_OBJECT
private slots:
    void unitsAndTheViewBoxGiveMillimetres_data() {
        QTest::addColumn<QString>("attributes");
        QTest::addColumn<double>("width");
        QTest::addRow("mm") << "width='100mm' height='50mm' viewBox='0 0 100 50'" << 10.0;
        QTest::addRow("inch") << "width='4in' height='2in' viewBox='0 0 400 200'" << 2.54 / 10 * 10;
        QTest::addRow("px") << "width='960' height='480'" << 10 * 25.4 / 96;
        QTest::addRow("pt") << "width='72pt' height='36pt' viewBox='0 0 100 50'" << 2.54;
        QTest::addRow("no size") << "viewBox='0 0 100 50'" << 10 * 25.4 / 96;
        QTest::addRow("per cent") << "width='100%' height='100%' viewBox='0 0 96 96'"
                                  << 10 * 25.4 / 96;
        QTest::addRow("only width") << "width='200mm' viewBox='0 0 100 50'" << 20.0;
        QTest::addRow("fitted") << "width='200mm' height='50mm' viewBox='0 0 100 50'" << 10.0;
        QTest::addRow("stretched") << "width='200mm' height='50mm' viewBox='0 0 100 50' "
                                      "preserveAspectRatio='none'"
                                   << 20.0;
    }
    void unitsAndTheViewBoxGiveMillimetres() {
        QFETCH(QString, attributes);
        QFETCH(double, width);
        const auto drawing = readSvg(
            page("<rect x='1' y='2' width='10' height='5'/>", attributes.toStdString()), "a.svg");
        QVERIFY(drawing);
        VERIFY_NEAR(boxOf(drawing->items[0]).width(), width, 1e-6);
    }

    void transformsNest() {
        const Drawing d = drawn("<g transform='translate(20,10) rotate(90)'>"
                                "<g transform='scale(2,3)'>"
                                "<rect x='1' y='1' width='10' height='4'/></g></g>");
        const Box box = boxOf(d.items[0]);
        // (x, y) → (2x, 3y) → turned by 90° clockwise: (−3y, 2x) → moved.
        VERIFY_NEAR(box.minX, 20 - 15, 1e-9);
        VERIFY_NEAR(box.maxX, 20 - 3, 1e-9);
        VERIFY_NEAR(box.minY, 10 + 2, 1e-9);
        VERIFY_NEAR(box.maxY, 10 + 22, 1e-9);
    }

    void everyBasicShapeIsRead() {
        const Drawing d =
            drawn("<rect width='10' height='6' rx='2'/><circle cx='30' cy='30' r='9'/>"
                  "<ellipse cx='60' cy='30' rx='9' ry='4'/>"
                  "<line x1='0' y1='0' x2='9' y2='9' stroke='red'/>"
                  "<polyline points='0,0 5,5 9,1' fill='none' stroke='red'/>"
                  "<polygon points='0,0 5,5 9,1'/>"
                  "<path d='m 10,10 c 5,0 5,5 10,5 s 5,5 10,5 q 5,0 5,5 t 5,5 h 3 v 4 "
                  "a 5 3 20 1 0 -9 2 l -3 -4 z'/>");
        QCOMPARE(d.items.size(), std::size_t{7});
        VERIFY_NEAR(areaOf({d.items[1].paths[0].points}), M_PI * 81, 1.0);
        VERIFY_NEAR(boxOf(d.items[2]).height(), 8, 1e-3);
        QVERIFY(!d.items[3].fill && !d.items[3].paths[0].closed);
        QVERIFY(d.items[5].paths[0].closed);
    }

    void curvesAreFlatWithinTheTolerance() {
        for (const double r : {0.5, 5.0, 70.0}) {
            const Drawing d = drawn("<circle cx='75' cy='75' r='" + std::to_string(r) + "'/>");
            const Polyline& ring = d.items[0].paths[0].points;
            for (std::size_t i = 0, j = ring.size() - 1; i < ring.size(); j = i++)
                QVERIFY(r - distance(lerp(ring[j], ring[i], 0.5), {75, 75}) < 0.025);
        }
    }

    void useDrawsWhatItNamesWhereItSays() {
        const Drawing d = drawn("<defs><g id='k'><rect width='4' height='4'/></g>"
                                "<symbol id='s'><circle r='3'/></symbol></defs>"
                                "<use href='#k' x='10' y='20'/>"
                                "<use xlink:href='#k' transform='translate(50,0)'/>"
                                "<use href='#s' x='30'/><use href='#lost'/>");
        QCOMPARE(d.items.size(), std::size_t{3});
        VERIFY_NEAR(boxOf(d.items[0]).minX, 10, 1e-9);
        VERIFY_NEAR(boxOf(d.items[0]).minY, 20, 1e-9);
        VERIFY_NEAR(boxOf(d.items[1]).minX, 50, 1e-9);
        QCOMPARE(d.unsupported.size(), std::size_t{1});
    }

    void paintComesFromAttributesStylesSheetsAndParents() {
        const Drawing d =
            drawn("<style>/* house */ .deep{fill:#1f4e79} #edge, .line { fill: none; stroke: "
                  "rgb(100%, 0, 50%); stroke-width: 2mm } rect { fill: gold }</style>"
                  "<g fill='tomato'><circle r='5' cx='9'/><circle r='5' class='deep'/>"
                  "<circle r='5' style='fill:#0f0'/></g><circle r='5' id='edge'/>"
                  "<rect width='9' height='9'/><circle r='5' display='none'/>"
                  "<g visibility='hidden'><circle r='4'/></g><circle r='2' fill='none'/>");
        QCOMPARE(d.items.size(), std::size_t{5});
        QVERIFY((d.items[0].fill == Rgb{255, 99, 71}));
        QVERIFY((d.items[1].fill == Rgb{31, 78, 121}));
        QVERIFY((d.items[2].fill == Rgb{0, 255, 0}));
        QVERIFY(!d.items[3].fill);
        QVERIFY((d.items[3].stroke == Rgb{255, 0, 128}));
        // 2 mm of the page's px are 2 · 96/25.4 user units, and a unit is 1 mm here.
        VERIFY_NEAR(d.items[3].strokeMm, 2 * 96 / 25.4, 1e-6);
        QVERIFY((d.items[4].fill == Rgb{255, 215, 0}));
    }

    void whatIsNotSupportedIsListedOnce() {
        const Drawing d = drawn("<text>a</text><text>b</text><image href='x.png'/>"
                                "<linearGradient id='g'><stop stop-color='teal'/></linearGradient>"
                                "<rect width='9' height='9' fill='url(#g)' mask='url(#m)'/>"
                                "<line x2='9' stroke='red' stroke-dasharray='2 1'/>");
        QVERIFY((d.items[0].fill == Rgb{0, 128, 128}));
        QCOMPARE(d.unsupported.size(), std::size_t{5});
    }

    void aRectangleKeepsItsSizeAndItsRecipe() {
        ImportOptions options;
        options.spacingMm = 0.5;
        options.stitchLengthMm = 2.6;
        options.lengthAsked = true;
        for (const double angle : {0.0, 90.0}) {
            options.angleDeg = angle;
            const auto pieces =
                imported("<rect x='7' y='9' width='100' height='60' fill='teal'/>", options);
            const StitchList list = stitched(pieces);
            const Box box = extentsOf(list);
            VERIFY_NEAR(box.minX, 7, 0.1);
            VERIFY_NEAR(box.minY, 9, 0.1);
            VERIFY_NEAR(box.width(), 100, 0.1);
            VERIFY_NEAR(box.height(), 60, 0.1);
            VERIFY_NEAR(*medianRowSpacing(list), 0.5, 0.015);
            std::vector<double> lengths;
            double straight = 0, all = 0;
            walkStitches(list.stitches, [&](std::size_t i, const Stitch* from) {
                if (!from) return;
                const Vec2 v = list.stitches[i].at() - from->at();
                lengths.push_back(length(v));
                all += length(v);
                const Turn t = turnOf(angle);
                if (std::abs(cross(v, {t.cosine, t.sine})) < 0.02 * length(v))
                    straight += length(v);
            });
            std::nth_element(lengths.begin(),
                             lengths.begin() + static_cast<std::ptrdiff_t>(lengths.size() / 2),
                             lengths.end());
            VERIFY_NEAR(lengths[lengths.size() / 2], 2.6, 0.01);
            QVERIFY(straight > 0.95 * all);
        }
    }

    void withoutAnAngleRowsFollowTheLongAxis() {
        VERIFY_NEAR(onlyPart(imported("<rect width='90' height='30'/>")).angleDeg, 0, 0.1);
        VERIFY_NEAR(onlyPart(imported("<rect width='20' height='90'/>")).angleDeg, 90, 0.1);
        VERIFY_NEAR(
            onlyPart(imported("<rect width='90' height='30' x='60' transform='rotate(25)'/>"))
                .angleDeg,
            25, 0.1);
        VERIFY_NEAR(onlyPart(imported("<circle cx='40' cy='40' r='30'/>")).angleDeg, 45, 0.1);
    }

    void aHoleStaysAHole() {
        for (const char* rule : {"evenodd", "nonzero"}) {
            // The inner contour runs the other way, so both rules leave it open.
            const StitchList list =
                stitched(imported(std::string("<path fill-rule='") + rule +
                                  "' d='M0 0 H60 V50 H0 Z M20 15 V35 H40 V15 Z'/>"));
            int inside = 0;
            walkStitches(list.stitches, [&](std::size_t i, const Stitch* from) {
                if (!from) return;
                for (const double t : {0.0, 0.25, 0.5, 0.75}) {
                    const Vec2 p = lerp(from->at(), list.stitches[i].at(), t);
                    inside += p.x > 20.2 && p.x < 39.8 && p.y > 15.2 && p.y < 34.8;
                }
            });
            QCOMPARE(inside, 0);
            QCOMPARE(measure(list).jumps, std::size_t{1});
        }
        // The same turn: by the non-zero rule the hole is filled.
        const auto whole = imported("<path d='M0 0 H60 V50 H0 Z M20 15 H40 V35 H20 Z'/>");
        QCOMPARE(onlyPart(whole).lines.size(), std::size_t{1});
    }

    void strokesBecomeRunsSatinsOrFillsByTheirWidth() {
        const auto kind = [](const char* width) {
            return onlyPart(imported(std::string("<path d='M0 0 C 30 40 60 -40 90 20' fill='none' "
                                                 "stroke='navy' stroke-width='") +
                                     width + "'/>"));
        };
        QVERIFY(kind("0.3").kind == StitchKind::run);
        QCOMPARE(kind("0.3").passes, 1);
        QCOMPARE(kind("0.7").passes, 3);
        QVERIFY(kind("2").kind == StitchKind::satin);
        QVERIFY(kind("6.5").kind == StitchKind::satin);
        QVERIFY(kind("12").kind == StitchKind::fill);
    }

    void aStrokedSatinIsAsWideAsItsStroke() {
        const StitchList list =
            stitched(imported("<path d='M10 20 H90' fill='none' stroke='navy' stroke-width='3'/>"));
        const Box box = extentsOf(list);
        VERIFY_NEAR(box.width(), 80, 0.1);
        VERIFY_NEAR(box.height(), 3, 0.1);
        VERIFY_NEAR(*medianRowSpacing(list), 0.4, 0.012);
        const Box round = extentsOf(
            stitched(imported("<path d='M10 20 H90' fill='none' stroke='navy' stroke-width='3' "
                              "stroke-linecap='round'/>")));
        VERIFY_NEAR(round.width(), 83, 0.15);
        const Box square = extentsOf(
            stitched(imported("<path d='M10 20 H90' fill='none' stroke='navy' stroke-width='3' "
                              "stroke-linecap='square'/>")));
        VERIFY_NEAR(square.width(), 83, 0.1);
    }

    void satinsTurnSharpCornersInColumnsThatMeet() {
        const auto pieces = imported("<polyline points='0,0 30,0 30,30' fill='none' "
                                     "stroke='navy' stroke-width='4'/>");
        const Shape& shape = *std::get<ShapeContent>(pieces[0].content).shape;
        QCOMPARE(shape.parts.size(), std::size_t{2});
        const StitchList list = stitched(pieces);
        QCOMPARE(measure(list).jumps, std::size_t{1}); // the columns are sewn on
        const Box box = extentsOf(list);
        VERIFY_NEAR(box.maxX, 32, 0.1);
        VERIFY_NEAR(box.minY, -2, 0.1);
    }

    void aClosedStrokeGoesAllRound() {
        const StitchList list = stitched(imported(
            "<circle cx='40' cy='40' r='20' fill='none' stroke='navy' stroke-width='2.4'/>"));
        const Box box = extentsOf(list);
        VERIFY_NEAR(box.width(), 42.4, 0.15);
        VERIFY_NEAR(box.height(), 42.4, 0.15);
        walkStitches(list.stitches, [&](std::size_t i, const Stitch*) {
            VERIFY_NEAR(distance(list.stitches[i].at(), {40, 40}), 20, 1.25);
        });
    }

    void narrowShapesBecomeSatinsThatKeepTheirOutline_data() {
        QTest::addColumn<QString>("body");
        QTest::addRow("bar") << "<rect width='40' height='3'/>";
        QTest::addRow("leaning bar") << "<rect width='40' height='3' transform='rotate(33)'/>";
        QTest::addRow("leaf") << "<path d='M0 0 Q 20 -4 40 0 Q 20 4 0 0 Z'/>";
        QTest::addRow("ellipse") << "<ellipse rx='25' ry='2' cx='30' cy='9'/>";
        QTest::addRow("banana")
            << "<path d='M0 0 A 30 30 0 0 1 40 0 L 38 2.4 A 27 27 0 0 0 2 2.4 Z'/>";
        QTest::addRow("taper") << "<polygon points='0,0 40,-2 40,2'/>";
    }
    void narrowShapesBecomeSatinsThatKeepTheirOutline() {
        QFETCH(QString, body);
        const Drawing d = drawn(body.toStdString());
        const auto pieces = imported(body.toStdString());
        QVERIFY(onlyPart(pieces).kind == StitchKind::satin);
        const StitchList list = stitched(pieces);
        const Contours outer = offsetContours({d.items[0].paths[0].points}, 0.2);
        int outside = 0;
        walkStitches(list.stitches, [&](std::size_t i, const Stitch* from) {
            if (!from) return;
            for (const double t : {0.25, 0.5, 0.75, 1.0})
                outside += !contains(outer, lerp(from->at(), list.stitches[i].at(), t));
        });
        QCOMPARE(outside, 0);
        // A satin of 0.4 mm pitch is two layers of a fill: the thread is twice the area's.
        const double area = areaOf({d.items[0].paths[0].points});
        VERIFY_NEAR(measure(list).lengthMm * 0.4 / area, 2, 0.3);
    }

    void wideOrBranchingShapesStayFills_data() {
        QTest::addColumn<QString>("body");
        QTest::addRow("square") << "<rect width='12' height='12'/>";
        QTest::addRow("wide bar") << "<rect width='60' height='9'/>";
        QTest::addRow("ring") << "<path d='M0 0 H20 V20 H0 Z M2 2 V18 H18 V2 Z'/>";
        QTest::addRow("cross") << "<path d='M0 8 H8 V0 H11 V8 H30 V11 H11 V30 H8 V11 H0 Z'/>";
        QTest::addRow("letter t") << "<path d='M0 0 H30 V3 H16.5 V40 H13.5 V3 H0 Z'/>";
    }
    void wideOrBranchingShapesStayFills() {
        QFETCH(QString, body);
        QVERIFY(onlyPart(imported(body.toStdString())).kind == StitchKind::fill);
    }

    void aFillWithAnEdgeIsOnePieceWithBoth() {
        const auto pieces = imported("<rect x='5' y='5' width='40' height='30' fill='teal' "
                                     "stroke='black' stroke-width='2'/>");
        QCOMPARE(pieces.size(), std::size_t{1});
        const Shape& shape = *std::get<ShapeContent>(pieces[0].content).shape;
        QVERIFY(shape.parts.front().kind == StitchKind::fill);
        QVERIFY(shape.parts.back().kind == StitchKind::satin);
    }

    void piecesScaleWithTheirRecipe() {
        auto pieces = imported("<ellipse cx='40' cy='40' rx='30' ry='20' fill='teal'/>");
        for (const double scale : {0.5, 1.4, 2.0}) {
            pieces[0].pose.scaleX = pieces[0].pose.scaleY = scale;
            const StitchList list = stitched(pieces);
            VERIFY_NEAR(*medianRowSpacing(list), 0.4, 0.012);
            VERIFY_NEAR(extentsOf(list).width(), 60 * scale, 0.1);
        }
    }

    void tinyThingsAreNamedAndLeftOut() {
        std::vector<std::string> left;
        const auto pieces = piecesOf(drawn("<rect width='0.1' height='0.1' id='dot'/>"
                                           "<rect width='9' height='9'/>"),
                                     {}, left);
        QCOMPARE(pieces.size(), std::size_t{1});
        QVERIFY(left.at(0).starts_with("dot"));
    }

    void badDrawingsAreRefusedWithPlaceAndReason() {
        QVERIFY(refusal("").contains("art.svg"));
        QVERIFY(refusal("<html/>").contains("no <svg>"));
        QVERIFY(refusal("<svg>\n<g>\n</svg>").contains("line 3"));
        QVERIFY(refusal(page("<path d='M0 0 L 5 x' id='p'/>")).contains("id=\"p\""));
        QVERIFY(refusal(page("<rect width='9 q' height='9'/>")).contains("width"));
        QVERIFY(refusal(page("<rect width='-9' height='9'/>")).contains("negative"));
        QVERIFY(refusal(page("<g transform='twist(3)'><rect width='9' height='9'/></g>"))
                    .contains("twist"));
        QVERIFY(refusal(page("<polygon points='1 2 3'/>")).contains("odd number"));
        QVERIFY(refusal(page("<rect width='1e9' height='4'/>")).contains("10000"));
        QVERIFY(refusal(page("<text>only words</text>")).contains("nothing"));
        QVERIFY(
            refusal(page("<rect width='9' height='9'/>", "viewBox='0 0 0 5'")).contains("viewBox"));
        QVERIFY(refusal(page("<rect width='9' height='9' id='\xff'/>")).contains("UTF-8"));
    }

    void loopsBombsAndDepthEndWell() {
        QVERIFY(refusal(page("<g id='a'><use href='#b'/></g><g id='b'><use href='#a'/></g>"))
                    .contains("uses itself"));
        std::string bomb = "<defs><rect id='u0' width='2' height='2'/>";
        for (int k = 1; k < 30; ++k) {
            const std::string inner = "<use href='#u" + std::to_string(k - 1) + "'/>";
            bomb += "<g id='u" + std::to_string(k) + "'>" + inner + inner + "</g>";
        }
        QVERIFY(refusal(page(bomb + "</defs><use href='#u29'/>")).contains("elements"));
        std::string deep;
        for (int k = 0; k < 5000; ++k) deep += "<g>";
        deep += "<rect width='3' height='3'/>";
        for (int k = 0; k < 5000; ++k) deep += "</g>";
        QVERIFY(refusal(page(deep)).contains("nested"));
        std::string many = "<path d='M0 0";
        for (int k = 0; k < 1'000'000; ++k) many += k % 2 ? " L 3 4" : " L 5 6";
        QVERIFY(refusal(page(many + " L 1 1'/><path d='M0 0" +
                             std::string(many.begin() + 13, many.end()) + "'/><path d='M0 0" +
                             std::string(many.begin() + 13, many.end()) + "'/>"))
                    .contains("points"));
        std::string rects;
        for (int k = 0; k < 100'001; ++k) rects += "<rect/>";
        QVERIFY(refusal(page(rects)).contains("elements"));
    }

    void entitiesAreSaidAndHarmless() {
        const auto d = readSvg("<!DOCTYPE svg [<!ENTITY a 'aaaa'><!ENTITY b '&a;&a;&a;'>]>" +
                                   page("<rect width='9' height='9'/><desc>&b;</desc>"),
                               "art.svg");
        QVERIFY(d);
        QCOMPARE(d->unsupported.size(), std::size_t{1});
        QVERIFY(d->unsupported[0].find("entities") != std::string::npos);
    }
};

RAPT_TEST(TestSvg)
#include "test_svg.moc"
