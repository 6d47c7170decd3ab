#include "support.h"

#include "divide/cover.h"
#include "divide/frames.h"
#include "divide/hooping_lists.h"
#include "divide/marks.h"
#include "divide/near_miss.h"
#include "divide/ring.h"
#include "geometry/segment_grid.h"
#include "job/edit.h"
#include "registration/fit.h"
#include "thread/measures.h"

#include <bit>
#include <numbers>
#include <set>

using namespace rapt;

namespace {

/// Small pieces of one row each, so that their boxes are known exactly.
Job boxes(const std::vector<Box>& where) {
    Job job;
    job.cloth.widthMm = job.cloth.heightMm = 3000;
    for (std::size_t i = 0; i < where.size(); ++i) {
        const Box& b = where[i];
        job.pieces.push_back(
            test::designPiece("p" + std::to_string(i), test::listThrough({{b.minX, b.minY},
                                                                          {b.maxX, b.minY},
                                                                          {b.maxX, b.maxY},
                                                                          {b.minX, b.maxY},
                                                                          {b.minX, b.minY}})));
    }
    return job;
}

std::vector<Box> scatteredBoxes(quint64 seed, int n, double reach, double size) {
    test::Dice dice(seed);
    std::vector<Box> all;
    for (int i = 0; i < n; ++i) {
        const double w = dice.between(0.2 * size, size), h = dice.between(0.2 * size, size);
        all.push_back(
            Box::centredAt({dice.between(-reach, reach), dice.between(-reach, reach)}, w, h));
    }
    return all;
}

/// The true optimum by trying every set for every clamping: (clampings, hoopings).
class Oracle {
public:
    Oracle(const std::vector<Box>& b, const Hoop& h) : boxes(b), hoop(h) {
        for (std::size_t i = 0; i < b.size(); ++i) {
            unsigned mask = 0;
            for (std::size_t j = 0; j < i; ++j) mask |= b[i].overlaps(b[j]) ? 1u << j : 0;
            before.push_back(mask);
        }
    }
    std::pair<int, int> best() {
        const unsigned all = (1u << boxes.size()) - 1;
        std::vector<std::pair<int, int>> least(all + 1, {1000, 1000});
        least[0] = {0, 0};
        for (unsigned done = 0; done < all; ++done) {
            if (least[done].first >= 1000) continue;
            const unsigned open = all & ~done;
            for (unsigned set = open; set; set = (set - 1) & open) {
                const int hoopings = clamped(done, set);
                if (hoopings == 0) continue;
                auto& then = least[done | set];
                then = std::min(then, {least[done].first + 1, least[done].second + hoopings});
            }
        }
        return least[all];
    }

private:
    /// Hoopings that one clamping needs to sew a set after `done`; 0 if it cannot.
    int clamped(unsigned done, unsigned set) {
        for (std::size_t i = 0; i < boxes.size(); ++i)
            if (set >> i & 1 && before[i] & ~(done | set)) return 0;
        int fewest = 0;
        for (const double turn : hoop.turns) {
            const int n = withPositions(turn, set);
            if (n > 0 && (fewest == 0 || n < fewest)) fewest = n;
        }
        return fewest;
    }
    /// Every part in every position, each on its own.
    int withPositions(double turn, unsigned set) {
        std::vector<std::size_t> members;
        for (std::size_t i = 0; i < boxes.size(); ++i)
            if (set >> i & 1) members.push_back(i);
        const std::size_t p = hoop.positions.size();
        std::size_t ways = 1;
        for (std::size_t i = 0; i < members.size(); ++i) ways *= p;
        int fewest = 0;
        for (std::size_t way = 0; way < ways; ++way) {
            Box room{-1e6, -1e6, 1e6, 1e6};
            std::size_t rest = way;
            std::vector<std::size_t> at(boxes.size());
            for (const std::size_t i : members) {
                at[i] = rest % p;
                const FramePosition& position = hoop.positions[rest % p];
                rest /= p;
                const Box b = turnedBack(boxes[i], turn);
                const bool upright = std::abs(std::remainder(position.turnDeg, 180)) > 1;
                const double w = upright ? hoop.heightMm : hoop.widthMm;
                const double h = upright ? hoop.widthMm : hoop.heightMm;
                room.minX = std::max(room.minX, b.maxX - position.at.x - w / 2);
                room.maxX = std::min(room.maxX, b.minX - position.at.x + w / 2);
                room.minY = std::max(room.minY, b.maxY - position.at.y - h / 2);
                room.maxY = std::min(room.maxY, b.minY - position.at.y + h / 2);
            }
            if (room.minX > room.maxX || room.minY > room.maxY) continue;
            const int n = visits(set, at);
            if (fewest == 0 || n < fewest) fewest = n;
        }
        return fewest;
    }
    /// How often the field moves, at the least, where a position may be come back to.
    int visits(unsigned set, const std::vector<std::size_t>& at) const {
        std::set<unsigned> now{~set & ((1u << boxes.size()) - 1)};
        for (int n = 0;; ++n) {
            std::set<unsigned> next;
            for (const unsigned sewn : now) {
                if ((sewn & set) == set) return n;
                for (std::size_t p = 0; p < hoop.positions.size(); ++p) {
                    unsigned then = sewn;
                    for (std::size_t i = 0; i < boxes.size(); ++i)
                        if (set >> i & 1 && at[i] == p && (before[i] & set & ~then) == 0)
                            then |= 1u << i;
                    if (then != sewn) next.insert(then);
                }
            }
            now = std::move(next);
        }
    }
    static Box turnedBack(const Box& b, double turn) {
        Box box;
        for (const Vec2& c : b.corners()) box.add(turned(c, -turn));
        return box;
    }

    const std::vector<Box>& boxes;
    const Hoop& hoop;
    std::vector<unsigned> before;
};

} // namespace

class TestDivision : public QObject {
    Q_OBJECT
    const Library lib = test::library();

    Result<Division> divided(const Job& job, const std::string& hoop,
                             Method method = Method::datum) {
        StitchCache cache;
        DivideOptions options{{*lib.hoop(hoop)}};
        options.method = method;
        return divideIntoHoopings(job, cache, options, lib);
    }

    /// Stitches of all hoopings, back on the cloth.
    std::vector<StitchList> onCloth(const Job& job, const Division& d) {
        const Job planned = setHoopings(d.hoopings, 0, d.cuts).change(job);
        const auto lists = hoopingLists(planned, lib);
        if (!lists) qFatal("%s", lists.error().line().c_str());
        std::vector<StitchList> all;
        for (std::size_t i = 0; i < lists->size(); ++i) {
            StitchList& list = all.emplace_back((*lists)[i].list);
            const Affine map = d.hoopings[i].pose.affine();
            for (Stitch& s : list.stitches) s = stitchAt(s.op, map(s.at()), s.thread);
        }
        return all;
    }

private slots:
    void plansAreTheTrueOptimum_data() {
        QTest::addColumn<QString>("hoop");
        QTest::addColumn<int>("seed");
        QTest::addColumn<int>("pieces");
        for (int seed = 1; seed <= 12; ++seed) {
            QTest::addRow("single, turned %d", seed) << "field-180x130" << seed << 9;
            QTest::addRow("single %d", seed) << "field-100x100" << seed << 8;
        }
        for (int seed = 1; seed <= 6; ++seed) {
            QTest::addRow("two-sided %d", seed) << "two-sided-360x200" << seed << 6;
            QTest::addRow("stepped %d", seed) << "stepped-130x180x3" << seed << 5;
            QTest::addRow("quarter %d", seed) << "quarter-220x220" << seed << 5;
        }
    }
    void plansAreTheTrueOptimum() {
        QFETCH(QString, hoop);
        QFETCH(int, seed);
        QFETCH(int, pieces);
        const Hoop frame = *lib.hoop(hoop.toStdString());
        const auto where = scatteredBoxes(static_cast<quint64>(seed), pieces, 0.8 * frame.widthMm,
                                          0.45 * std::min(frame.widthMm, frame.heightMm));
        const Job job = boxes(where);
        const auto d = divided(job, frame.id);
        QVERIFY2(d, d ? "" : d.error().line().c_str());
        const auto [clampings, hoopings] = Oracle(where, frame).best();
        QCOMPARE(d->clampings, clampings);
        QCOMPARE(static_cast<int>(d->hoopings.size()), hoopings);
        QVERIFY(d->provenMinimal);
        QVERIFY(d->lowerBoundClampings == clampings && d->lowerBound <= hoopings);
        std::size_t sewn = 0;
        for (const StitchList& list : onCloth(job, *d)) sewn += measure(list).stitches;
        QCOMPARE(sewn, measure(stitchJob(job)->list).stitches);
    }

    void whatFitsNoFieldIsCutInTheGap() {
        // A dense block on both sides of a bare strip that only a thin row crosses.
        Shape shape;
        for (const double x : {-170.0, 14.0})
            shape.parts.push_back(test::fillOf({test::rectangle(x, -20, 156, 40)}));
        StitchList list = stitchShape(shape);
        list.stitches.push_back(stitchAt(Op::jump, {-30, 0}, 1));
        for (int k = 0; k <= 24; ++k)
            list.stitches.push_back(stitchAt(Op::stitch, {-30 + 2.5 * k, 0}, 1));
        Job job;
        job.cloth.widthMm = 800;
        job.pieces = {test::designPiece("wide", list)};
        const auto d = divided(job, "field-180x130");
        QVERIFY2(d, d ? "" : d.error().line().c_str());
        QCOMPARE(d->clampings, 2);
        QCOMPARE(d->cutPieces(), std::vector<std::string>{"wide"});
        for (const Vec2& p : d->cuts[0].path) QVERIFY(std::abs(p.x) < 14.5);
    }

    void cutsLeaveNoGapAndLittleDoubled_data() {
        QTest::addColumn<double>("angle");
        QTest::addColumn<bool>("oval");
        for (const double angle : {0.0, 30.0, 90.0})
            for (const bool oval : {false, true})
                QTest::addRow("%g %s", angle, oval ? "oval" : "rectangle") << angle << oval;
    }
    void cutsLeaveNoGapAndLittleDoubled() {
        QFETCH(double, angle);
        QFETCH(bool, oval);
        Polyline outline = test::rectangle(-150, -40, 300, 80);
        if (oval) {
            outline.clear();
            for (int k = 0; k < 80; ++k)
                outline.push_back({150 * std::cos(k * std::numbers::pi / 40),
                                   80 * std::sin(k * std::numbers::pi / 40)});
        }
        Job job;
        job.cloth.widthMm = 800;
        job.cloth.heightMm = 400;
        job.pieces = {test::shapePiece("big", test::fillOf({outline}, angle))};
        const auto d = divided(job, "field-180x130");
        QVERIFY2(d, d ? "" : d.error().line().c_str());
        const auto lists = onCloth(job, *d);
        const StitchList whole = stitchJob(job)->list;
        double before = 0, after = 0, seams = 0;
        std::vector<Segment> segments;
        for (const StitchList& list : lists) {
            after += measure(list).lengthMm;
            walkStitches(list.stitches, [&](std::size_t i, const Stitch* last) {
                if (last && last->op == Op::stitch)
                    segments.push_back({last->at(), list.stitches[i].at()});
            });
        }
        before = measure(whole).lengthMm;
        for (const Cut& c : d->cuts) {
            const Box box = boundsOf(outline);
            seams += c.path.front().x < -149 || c.path.back().x > 149 ? box.width() : box.height();
        }
        // Every place of the thread is sewn by some hooping: in a gap of 0.3 mm between two
        // threads' edges no place is farther than half of it and half a thread from one.
        const SegmentGrid sewn(segments);
        double farthest = 0;
        walkStitches(whole.stitches, [&](std::size_t i, const Stitch* last) {
            if (!last || last->op != Op::stitch) return;
            for (double t = 0; t <= 1; t += 0.25) {
                const Vec2 p = lerp(last->at(), whole.stitches[i].at(), t);
                // At the very ends of rows the needle goes from row to row.
                if (oval && std::hypot(p.x / 150, p.y / 80) > 0.985) continue;
                farthest = std::max(farthest, sewn.nearest(p, 100)->distance);
            }
        });
        QVERIFY2(farthest < 0.35, qPrintable(QString::number(farthest)));
        // Doubled by no more than 1.5 mm on either side of each seam, in rows 0.4 mm apart.
        QVERIFY2(after - before < seams / 0.4 * 1.5, qPrintable(QString::number(after - before)));
    }

    void chainsShareMarksAndSewThem() {
        const Job job = boxes({Box::centredAt({-300, 0}, 60, 40), Box::centredAt({0, 0}, 60, 40),
                               Box::centredAt({420, 0}, 60, 40)});
        const auto datum = divided(job, "field-180x130");
        const auto chain = divided(job, "field-180x130", Method::chain);
        QVERIFY2(chain, chain ? "" : chain.error().line().c_str());
        QVERIFY(chain->clampings > datum->clampings); // too far apart for marks that both reach
        const Hoop hoop = *lib.hoop("field-180x130");
        for (const Hooping& h : chain->hoopings) {
            if (h.clamping == 1) continue;
            int shared = 0;
            for (const Mark& m : h.marks)
                shared += std::any_of(chain->hoopings.begin(), chain->hoopings.end(),
                                      [&](const Hooping& e) {
                                          return e.clamping < h.clamping &&
                                                 hoop.reaches(e.pose.affine().inverse()(m.at));
                                      });
            QVERIFY(shared >= 2);
        }
        // The crosses are sewn last, in a thread of their own, and only there.
        const auto lists = onCloth(job, *chain);
        std::size_t crosses = 0;
        for (std::size_t i = 0; i < lists.size(); ++i)
            for (const Stitch& s : lists[i].stitches) {
                if (s.op != Op::stitch || lists[i].find(s.thread)->name != "Witness basting")
                    continue;
                ++crosses;
                const auto& marks = chain->hoopings[i].witness;
                QVERIFY(std::any_of(marks.begin(), marks.end(), [&](const Mark& m) {
                    return distance(m.at, s.at()) < crossArmMm + 0.1;
                }));
            }
        QVERIFY(crosses > 0);
        QVERIFY(crosses % 8 == 0);
    }

    void turnTakesOneClampingOrSaysWhatWould() {
        const Job two =
            boxes({Box::centredAt({0, -50}, 200, 60), Box::centredAt({0, 60}, 200, 60)});
        const auto d = divided(two, "two-sided-360x200", Method::turn);
        QVERIFY2(d, d ? "" : d.error().line().c_str());
        QCOMPARE(d->clampings, 1);
        QCOMPARE(d->hoopings.size(), std::size_t{2});
        QCOMPARE(std::abs(d->hoopings[0].pose.rotationDeg - d->hoopings[1].pose.rotationDeg),
                 180.0);
        const auto no = divided(two, "field-100x100", Method::turn);
        QVERIFY(!no && no.error().fault == Fault::cannotDo);
    }

    void pinnedClampingsStay() {
        Job job = boxes({Box::centredAt({-60, 0}, 40, 40), Box::centredAt({60, 0}, 40, 40)});
        Hooping mine;
        mine.hoop = "field-180x130";
        mine.frame = mine.pose = {-90, 7, 0, false, 1, 1};
        mine.pinned = true;
        job.hoopings = {mine};
        const auto d = divided(job, "field-180x130");
        QVERIFY(d && d->clampings == 2); // free, one would do
        QVERIFY(std::any_of(d->hoopings.begin(), d->hoopings.end(), [&](const Hooping& h) {
            return h.pinned && h.frame == mine.frame && !h.pieces.empty();
        }));
    }

    void separateElementsMayPartAndComeBackTogether() {
        // Two islands of one design, 250 mm apart, and a piece over each: whole it fits no field.
        Job job = boxes({Box::centredAt({-125, 0}, 30, 30)});
        StitchList list = *std::get<DesignContent>(job.pieces[0].content).list;
        const auto n = list.stitches.size();
        list.stitches.push_back({0, 0, Op::trim, 1});
        for (std::size_t i = 0; i < n; ++i) {
            Stitch s = list.stitches[i];
            s.x += toUnits(250);
            list.stitches.push_back(s);
        }
        job.pieces[0] = test::designPiece("islands", list);
        const auto d = divided(job, "field-180x130");
        QVERIFY2(d, d ? "" : d.error().line().c_str());
        QCOMPARE(d->hoopings.size(), std::size_t{2});
        QVERIFY(d->cutPieces().empty());
        QCOMPARE(d->hoopings[0].parts[0].numbers.size(), std::size_t{1});
        std::size_t sewn = 0;
        for (const StitchList& l : onCloth(job, *d)) sewn += measure(l).stitches;
        QCOMPARE(sewn, measure(list).stitches);
        // One part in two hoopings, or in none, is refused.
        Job planned = setHoopings(d->hoopings, 0).change(job);
        planned.hoopings[1].parts = planned.hoopings[0].parts;
        QVERIFY(!hoopingLists(planned, lib));
    }

    void nearMissesSaveAClampingAndAreProved() {
        // Three of 52 mm side by side want 184 mm of a field of 180.
        Job job = boxes({Box::centredAt({-66, 0}, 52, 40), Box::centredAt({0, 0}, 52, 40),
                         Box::centredAt({66, 0}, 52, 40)});
        const auto d = divided(job, "field-180x130");
        QCOMPARE(d->clampings, 2);
        StitchCache cache;
        const DivideOptions options{{*lib.hoop("field-180x130")}};
        const auto misses = nearMisses(job, cache, options, lib, *d);
        QVERIFY(!misses.empty());
        QCOMPARE(misses[0].clampings, 1);
        QVERIFY(misses[0].text.find("hooped once instead of twice") != std::string::npos);
        QVERIFY2(!divided(misses[0].edit.change(job), "field-180x130")->provenMinimal ||
                     divided(misses[0].edit.change(job), "field-180x130")->clampings == 1,
                 misses[0].text.c_str());
        // Nothing small helps where a field more is really needed.
        job = boxes({Box::centredAt({-150, 0}, 60, 40), Box::centredAt({150, 0}, 60, 40)});
        QVERIFY(nearMisses(job, cache, options, lib, *divided(job, "field-180x130")).empty());
    }

    void theRingIsJudgedAndMoved() {
        Job job = boxes({Box::centredAt({-90, 0}, 60, 60), Box::centredAt({40, 0}, 150, 60)});
        auto d = divided(job, "field-180x130");
        QCOMPARE(d->clampings, 2);
        job = setHoopings(d->hoopings, 0, d->cuts).change(job);
        const auto kinds = [&](const Job& j) {
            std::set<std::string> all;
            const auto lists = hoopingLists(j, lib);
            for (const Finding& f : ringFindings(j, *lists, lib)) all.insert(f.kind);
            return all;
        };
        // A button below the ring of one of them stops; moved aside it is clear.
        const Hooping& h = job.hoopings[1];
        job.cloth.forbiddenZones.push_back({{h.frame.affine()({0, 80}), 4, {}}, "the button", {}});
        QVERIFY(kinds(job).contains("ring-hard"));
        const auto lists = hoopingLists(job, lib);
        const auto findings = ringFindings(job, *lists, lib);
        const auto hard = std::find_if(findings.begin(), findings.end(),
                                       [](const Finding& f) { return f.kind == "ring-hard"; });
        QVERIFY(hard->remedy());
        const Job moved = hard->remedy()->edit.change(job);
        QVERIFY2(!kinds(moved).contains("ring-hard"), hard->remedy()->label.c_str());
        QVERIFY(moved.hoopings[1].pinned && bool(hoopingLists(moved, lib)));
        QVERIFY(moved.hoopings[1].marks.size() >= 2);
        // A cloth that ends inside the ring, until it is floated; a turn that no clamping has.
        Job small = job;
        small.cloth.widthMm = 260;
        QVERIFY(kinds(small).contains("ring-cloth"));
        small.brief.floated = true;
        QVERIFY(!kinds(small).contains("ring-cloth"));
        Job askew = boxes({Box::centredAt({-90, 0}, 60, 60)});
        d = divided(askew, "field-180x130");
        askew = setHoopings(d->hoopings, 0).change(askew);
        QVERIFY(!kinds(askew).contains("hooping-turn"));
        QVERIFY(kinds(moveClamping(askew.hoopings[0].clamping, {}, 10, lib).change(askew))
                    .contains("hooping-turn"));
        // A machine that reaches less than the frame's field, until another one sews it.
        Library few = lib;
        few.machines.resize(2);
        few.machines[0].id = few.machines[0].name = "small";
        few.machines[0].fieldWidthMm = 120;
        few.machines[1].frames.clear();
        askew.brief.machine = "small";
        const auto askewLists = hoopingLists(askew, few);
        const auto unfit = ringFindings(askew, *askewLists, few);
        QVERIFY(unfit.size() == 1 && unfit[0].kind == "hooping-machine");
        QCOMPARE(unfit[0].severity, Severity::stop);
        QVERIFY(unfit[0].text.find("120") != std::string::npos);
        QVERIFY(ringFindings(unfit[0].remedy()->edit.change(askew), *askewLists, few).empty());
        // Several clampings are told once.
        job.brief.machine = "small";
        const auto several = ringFindings(job, *hoopingLists(job, few), few);
        const auto told = std::find_if(several.begin(), several.end(), [](const Finding& f) {
            return f.kind == "hooping-machine";
        });
        QVERIFY(told != several.end() && told->count == 2);
        const QString words = QString::fromStdString(told->text);
        QVERIFY2(words.endsWith("; 2 hoopings are in such frames") && words.count("hoopings") == 1,
                 qPrintable(words));
    }

    void theForecastAgreesWithFormulas() {
        Hooping a, b;
        a.clamping = 1;
        b.clamping = 2;
        a.marks = {{"1A", {-80, 0}}, {"1B", {80, 0}}};
        b.marks = {{"2A", {100, 0}}, {"2B", {260, 0}}};
        b.pose.x = 180;
        const Join join{0, 1, {90, 0}, 0};
        const auto f = forecastJoins({a, b}, {join}, Method::datum, {0.3, 0, 0});
        const double ea = predictedErrorMm({{-80, 0}, {80, 0}}, join.at, 0.3);
        const double eb = predictedErrorMm({{100, 0}, {260, 0}}, join.at, 0.3);
        VERIFY_NEAR(f[0].rmsMm, std::hypot(ea, eb), 0.03 * std::hypot(ea, eb));
        QVERIFY(f[0].medianMm < f[0].p95Mm);
        b.clamping = 1;
        const auto turned = forecastJoins({a, b}, {join}, Method::turn, {0.3, 0.05, 0});
        VERIFY_NEAR(turned[0].rmsMm, 0.05 * 2, 0.005);
    }

    void theForecastAgreesWithRealMisplacing_data() {
        QTest::addColumn<bool>("chain");
        QTest::newRow("datum") << false;
        QTest::newRow("chain") << true;
    }
    /// Every clamping is found by fitting marks that were really misplaced, and sewn there.
    void theForecastAgreesWithRealMisplacing() {
        QFETCH(bool, chain);
        Hooping a, b;
        a.clamping = 1;
        b.clamping = 2;
        a.marks = {{"1A", {-80, -40}}, {"1B", {80, 40}}, {"1C", {-60, 50}}};
        b.marks = {{"2A", {70, -50}}, {"2B", {85, 52}}};
        if (!chain) b.marks = {{"2A", {100, -40}}, {"2B", {260, 40}}};
        if (chain) a.witness = b.marks;
        const Join join{0, 1, {120, 10}, 0};
        const auto forecast =
            forecastJoins({a, b}, {join}, chain ? Method::chain : Method::datum, {0.3, 0, 0});
        test::Dice dice(7);
        const auto noise = [&] { // of σ 0.3: the sum of twelve even draws
            double sum = 0;
            for (int k = 0; k < 12; ++k) sum += dice.between(-0.5, 0.5);
            return 0.3 * sum;
        };
        const auto found = [&](const std::vector<Mark>& marks, const RigidFit* sewnBy) {
            std::vector<PointPair> pairs;
            for (const Mark& m : marks)
                pairs.push_back(
                    {m.name, m.at, (sewnBy ? (*sewnBy)(m.at) : m.at) + Vec2{noise(), noise()}});
            return fitPoints(pairs)->fit;
        };
        std::vector<double> gaps;
        for (int t = 0; t < 4000; ++t) {
            const RigidFit first = found(a.marks, nullptr);
            const RigidFit second = found(b.marks, chain ? &first : nullptr);
            gaps.push_back(distance(first(join.at), second(join.at)));
        }
        std::sort(gaps.begin(), gaps.end());
        VERIFY_NEAR(forecast[0].medianMm, gaps[2000], 0.1 * gaps[2000]);
        VERIFY_NEAR(forecast[0].p95Mm, gaps[3800], 0.1 * gaps[3800]);
    }

    void coverIsExactAndItsBoundTrue() {
        // The middle set is largest, but the two outer ones hold all.
        const auto setOf = [](std::initializer_list<std::size_t> in) {
            PartSet s(6);
            for (const std::size_t i : in) s.add(i);
            return s;
        };
        const std::vector<CoverColumn> columns{{{setOf({1, 2, 3, 4})}, false},
                                               {{setOf({0, 1, 2})}, false},
                                               {{setOf({3, 4, 5})}, false}};
        const auto best = fewestCovering(6, columns, {}, 5);
        QVERIFY(best && best->columns == (std::vector<std::size_t>{1, 2}) && best->proven());
        const auto other = fewestCovering(6, columns, {{1, 2}}, 5);
        QVERIFY(other && other->columns.size() == 3 && other->leastColumns == 3);
        QVERIFY(!fewestCovering(6, {columns[0]}, {}, 5));
    }
};

RAPT_TEST(TestDivision)
#include "test_division.moc"
