#include "support.h"

#include "check/check.h"
#include "divide/division.h"
#include "job/edit.h"
#include "registration/assessment.h"
#include "registration/guided.h"
#include "registration/needle_targets.h"
#include "registration/panel_steps.h"
#include "registration/proposals.h"
#include "scan/tags.h"
#include "standins/camera.h"
#include "standins/practice.h"
#include "thread/measures.h"

using namespace rapt;

/// What follows from a registration: corrected lists, the trust map, findings, guided ways.
class TestRegister : public QObject {
    Q_OBJECT
    const Library lib = test::library();

    /// Two patches, in two clampings of a small frame or one of a large.
    Job planned(const char* hoop, Method method = Method::datum) {
        Job job;
        job.brief.fabric = "canvas";
        job.pieces = {test::shapePiece("a", test::fillOf({test::rectangle(-15, -12, 30, 24)}), -48),
                      test::shapePiece("b", test::fillOf({test::rectangle(-15, -12, 30, 24)}), 48)};
        StitchCache cache;
        DivideOptions options{{*lib.hoop(hoop)}};
        options.method = method;
        const auto plan = divideIntoHoopings(job, cache, options, lib);
        if (!plan) qFatal("%s", plan.error().line().c_str());
        return setHoopings(plan->hoopings, plan->predictedJoinRmsMm, plan->cuts).change(job);
    }

    /// Every mark of a hooping seen where a motion of its field puts it.
    Job seen(const Job& job, int hooping, const Affine& motion, double sigma = 0.1) {
        const Hooping& h = job.hoopings[static_cast<std::size_t>(hooping) - 1];
        std::vector<Observation> found;
        for (const Mark& m : h.marks)
            found.push_back(
                pointSeen(h, m, motion(h.pose.affine().inverse()(m.at)), "typed", sigma));
        return addObservations(hooping, found).change(job);
    }

    static Affine motion(double x, double y, double deg) {
        return Pose{x, y, deg, false, 1, 1}.affine();
    }

private slots:
    void registeredHoopingsAreMovedAndTurned() {
        const Job job = seen(planned("field-100x100"), 1, motion(1.5, -1, 0.8));
        const auto lists = hoopingLists(job, lib);
        const auto corrected = correctedLists(job, *lists, lib);
        QVERIFY2(bool(corrected), corrected ? "" : corrected.error().line().c_str());
        for (std::size_t i = 0; i < (*lists)[0].list.stitches.size(); i += 37)
            QVERIFY(distance((*corrected)[0].list.stitches[i].at(),
                             motion(1.5, -1, 0.8)((*lists)[0].list.stitches[i].at())) < 1e-3);
        QVERIFY((*corrected)[1].list.stitches == (*lists)[1].list.stitches);
        // Chosen otherwise, it is sewn as planned.
        const Job asPlanned = chooseCorrection(1, CorrectionChoice::asPlanned).change(job);
        QVERIFY((*correctedLists(asPlanned, *lists, lib))[0].list.stitches ==
                (*lists)[0].list.stitches);
    }

    void positionsOfOneClampingShareTheirCorrection() {
        const Job job = seen(planned("two-sided-360x200", Method::turn), 1, motion(2, 1, 1));
        QVERIFY(job.hoopings.size() >= 1);
        if (job.hoopings.size() < 2) return;
        // A place of the cloth is moved alike, seen from either position.
        const Vec2 onCloth{10, 4};
        std::vector<Vec2> moved;
        for (int n = 1; n <= 2; ++n) {
            const Affine pose = job.hoopings[static_cast<std::size_t>(n) - 1].pose.affine();
            moved.push_back(pose((*correctionOf(job, n))(pose.inverse()(onCloth))));
        }
        QVERIFY(distance(moved[0], moved[1]) < 1e-9);
        QVERIFY(job.registration(2) == job.registration(1));
    }

    void aDesignThatLeavesItsFieldIsSaidWithTheWayBack_data() {
        QTest::addColumn<double>("x");
        QTest::addColumn<double>("y");
        QTest::addColumn<double>("deg");
        QTest::addColumn<QString>("edge");
        QTest::newRow("right") << 45.0 << 0.0 << 0.0 << "right";
        QTest::newRow("far left") << -40.0 << -45.0 << 0.5 << "far";
        QTest::newRow("turned out") << 20.0 << 10.0 << 40.0 << "right";
    }
    void aDesignThatLeavesItsFieldIsSaidWithTheWayBack() {
        QFETCH(double, x);
        QFETCH(double, y);
        QFETCH(double, deg);
        QFETCH(QString, edge);
        const Job job = planned("field-100x100");
        const Hoop hoop = *lib.hoop("field-100x100");
        StitchList list;
        for (const Vec2 p : {Vec2{-30, -20}, {30, -20}, {30, 20}, {-30, 20}})
            list.stitches.push_back(stitchAt(Op::stitch, p, 1));
        const auto miss = fieldMiss(list, motion(x, y, deg), hoop);
        QVERIFY(miss.has_value());
        QVERIFY2(QString::fromStdString(miss->text).contains(edge), miss->text.c_str());
        double over = 0;
        for (const Stitch& s : list.stitches) {
            const Vec2 p = motion(x, y, deg)(s.at());
            over = std::max({over, std::abs(p.x) - 50, std::abs(p.y) - 50});
        }
        VERIFY_NEAR(miss->edges.front().overMm, over, 1e-3);
        // The cloth turned and then pulled as said, the correction is another, and fits.
        const Affine after = motion(x, y, deg)
                                 .then(motion(0, 0, miss->clothTurnDeg))
                                 .then(motion(miss->clothMove.x, miss->clothMove.y, 0));
        QVERIFY(!fieldMiss(list, after, hoop));
        // The largest share fits, a little more does not.
        QVERIFY(miss->fits >= 0 && miss->fits < 1);
        QVERIFY(miss->leftMm > 0);
        QVERIFY(!fieldMiss(list, Affine(), hoop));
    }

    void aFullFieldHoldsNoPartOfACorrection() {
        const Hoop hoop = *lib.hoop("field-100x100");
        StitchList list;
        for (const Vec2 p : {Vec2{-50, -50}, {50, -50}, {50, 50}, {-50, 50}})
            list.stitches.push_back(stitchAt(Op::stitch, p, 1));
        const auto miss = fieldMiss(list, motion(0.03, 0, 0), hoop);
        QVERIFY(miss.has_value());
        const QString text = QString::fromStdString(miss->text);
        QVERIFY2(text.contains("0.1 mm over the right edge"), qPrintable(text));
        QVERIFY2(text.endsWith("As the cloth lies, no part of the correction fits."),
                 qPrintable(text));
    }

    void exportIsRefusedWhereTheFieldDoesNotHoldTheCorrection() {
        const Job job = seen(planned("field-100x100"), 1, motion(60, 0, 0));
        const auto corrected = correctedLists(job, *hoopingLists(job, lib), lib);
        QVERIFY(!corrected);
        QCOMPARE(corrected.error().fault, Fault::cannotDo);
        QVERIFY(corrected.error().reason.find("hooping 1") == 0);
        QVERIFY(corrected.error().reason.find("hoop again") != std::string::npos);
    }

    void trustGrowsAwayFromWhatWasSeenAndOneMoreHelps() {
        Job job = planned("field-180x130");
        job.brief.joinLimitMm = 0.3;
        const Hooping h = job.hoopings[0];
        std::vector<Observation> found;
        for (const Vec2 p : {Vec2{-70, -40}, {-40, -40}}) {
            const Mark mark{"m" + std::to_string(p.x), h.pose.affine()(p)};
            found.push_back(pointSeen(h, mark, p, "typed", 0.3));
        }
        job = addObservations(1, found).change(job);
        const auto a = assess(job, 1, *hoopingLists(job, lib), {}, lib);
        QVERIFY(bool(a));
        QVERIFY(a->trust.valueAt({80, 50}) > 2 * a->trust.valueAt({-55, -40}));
        QCOMPARE(a->places.size(), std::size_t{4});
        QVERIFY(a->places[0].errorMm >= a->places[3].errorMm);
        QVERIFY(a->advice.has_value());
        QVERIFY(a->advice->afterMm < 0.6 * a->advice->beforeMm);
        // Done as advised, it is as good as was said.
        found.push_back(pointSeen(h, {"more", h.pose.affine()(a->advice->at)}, a->advice->at,
                                  "typed", lib.practice.placingSigmaMm()));
        const auto b =
            assess(addObservations(1, found).change(job), 1, *hoopingLists(job, lib), {}, lib);
        VERIFY_NEAR(b->places[0].errorMm, a->advice->afterMm, 0.02);
        // Contours lie where the value is theirs.
        for (const auto& c : a->contours)
            for (const auto& part : c.lines)
                VERIFY_NEAR(trustAt(a->report.fit,
                                    trustGround(job, 1, *hoopingLists(job, lib), lib), part[0]),
                            c.level, 0.05 * c.level + 0.01);
    }

    void joinsOfRegisteredHoopingsAreToldByTheirFits() {
        Job job = planned("field-100x100");
        QCOMPARE(job.hoopings.size(), std::size_t{2});
        StitchCache cache;
        const auto forecast = forecastPlan(job, lib, cache);
        QCOMPARE(forecast->size(), std::size_t{1});
        QVERIFY(!checkJoins(job, *forecast, placingNoise(job, Method::datum, lib))[0].laterKnown);
        job = seen(seen(job, 1, motion(1, 0, 0), 0.05), 2, motion(0, 1, 0.5), 0.05);
        // Until a correction is chosen it is sewn as planned; so the join is told.
        QVERIFY(!checkJoins(job, *forecast, placingNoise(job, Method::datum, lib))[0].held);
        for (const int n : {1, 2})
            job = chooseCorrection(n, CorrectionChoice::corrected).change(job);
        const auto known = checkJoins(job, *forecast, placingNoise(job, Method::datum, lib));
        QVERIFY(known[0].earlierKnown && known[0].laterKnown && known[0].held);
        QVERIFY(known[0].p95Mm < 0.3 && known[0].medianMm < known[0].p95Mm);
        // Sewn as planned on cloth that lies 1 mm off, the join gapes by that.
        job = chooseCorrection(1, CorrectionChoice::asPlanned).change(job);
        const auto off = checkJoins(job, *forecast, placingNoise(job, Method::datum, lib));
        QVERIFY(off[0].medianMm > 0.9 && !off[0].held);
    }

    void findingsNameWhatIsWrongAndWhatToDo() {
        Job job = planned("field-180x130");
        const auto kinds = [&](const Job& j) {
            std::set<std::string> list;
            for (const Finding& f : plannedFindings(j)) list.insert(f.kind);
            return list;
        };
        QVERIFY(kinds(seen(job, 1, motion(0.4, 0.3, 0.1))).empty());
        // Moved away in the plan, it is to be registered again, and that alone is said.
        Job moved = seen(job, 1, motion(0.4, 0.3, 0.1));
        moved.hoopings[0].frame.x += 3;
        QCOMPARE(kinds(moved), std::set<std::string>{"register-outdated"});
        // One wrong point among five.
        const Hooping& h = job.hoopings[0];
        std::vector<Observation> found;
        for (const Vec2 p : {Vec2{-70, -50}, {70, -50}, {70, 50}, {-70, 50}, {0, 0}}) {
            found.push_back(pointSeen(h, {"m" + std::to_string(found.size()), h.pose.affine()(p)},
                                      p, "typed", 0.1));
        }
        found[1].seen = found[1].seen + Vec2{0, 4};
        const Job suspect = addObservations(1, found).change(job);
        const auto list = plannedFindings(suspect);
        QCOMPARE(list.size(), std::size_t{1});
        QCOMPARE(list[0].kind, std::string("register-suspect"));
        // Its remedy mends it.
        QVERIFY(kinds(list[0].remedies.at(0).edit.change(suspect)).empty());
        // Stretched cloth, lines out of square, no room.
        for (Observation& o : found) o.seen = o.planned * 1.03;
        QVERIFY(kinds(addObservations(1, found).change(job)).contains("register-stretch"));
        Observation across, down;
        across.kind = down.kind = Observation::Kind::line;
        across.name = "line across";
        down.name = "line down";
        across.plannedLine = {Vec2{0, 0}, {10, 0}};
        down.plannedLine = {Vec2{0, 0}, {0, 10}};
        across.seenLine = {{-60, 0}, {60, 0}};
        down.seenLine = {{-1, -40}, {1, 40}};
        const auto skew = plannedFindings(addObservations(1, {across, down}).change(job));
        QCOMPARE(skew.size(), std::size_t{1});
        QVERIFY(skew[0].text.find("out of square") != std::string::npos);
        QVERIFY(skew[0].cause.find("line down") != std::string::npos);
        // Square lines are not called so for cards that lie close together.
        down.seenLine = {{0, -40}, {0, 40}};
        for (std::size_t i = 0; i < found.size(); ++i) {
            found[i].planned = found[i].planned * 0.2;
            found[i].seen = found[i].planned + Vec2{i == 2 ? 0.6 : 0.0, 0};
            found[i].sigmaMm = 0.3;
        }
        std::vector<Observation> both = found;
        both.insert(both.end(), {across, down});
        const Job cards = addObservations(1, both).change(job);
        const auto report = fitObservations(cards.registration(1)->observations);
        QVERIFY(report && *report->squareErrorDeg > 0.5);
        QVERIFY(*report->squareErrorDeg < 2 * *report->squareSigmaDeg);
        QVERIFY(!kinds(cards).contains("register-square"));
        QVERIFY(kinds(seen(job, 1, motion(60, 0, 0))).contains("register-field"));
    }

    void aChainIsLedThroughAndPickedUpAgain() {
        Job job = planned("field-100x100", Method::chain);
        QVERIFY(job.hoopings.size() >= 2);
        const auto id = [&](const Job& j) {
            const auto next = nextStep(guidedSteps(j, 2));
            return next ? next->id : std::string("none");
        };
        QCOMPARE(id(job), std::string("cards"));
        job = tickStep(2, "cards", true).change(job);
        QCOMPARE(id(job), std::string("before"));
        std::vector<PlacedCard> placed;
        for (std::size_t i = 0; i < job.hoopings[1].marks.size(); ++i)
            placed.push_back({100 + static_cast<int>(i), job.hoopings[1].marks[i].at, 0});
        job = setPlacedCards(2, placed).change(job);
        QCOMPARE(id(job), std::string("hoop"));
        job = tickStep(2, "hoop", true).change(job);
        QCOMPARE(id(job), std::string("after"));
        job = seen(job, 2, motion(1, 1, 0.4));
        QCOMPARE(id(job), std::string("choose"));
        job = chooseCorrection(2, CorrectionChoice::corrected).change(job);
        QCOMPARE(id(job), std::string("remove"));
        job = tickStep(2, "remove", true).change(job);
        QCOMPARE(id(job), std::string("none"));
        // Seen anew, it is to be decided anew.
        QCOMPARE(id(seen(job, 2, motion(0, 1, 0))), std::string("choose"));
    }

    void aChainFindsTheClothByCardsThatWereMeasuredBefore() {
        // Cards laid carelessly: their places are measured, so that no hand counts.
        Job job = planned("field-100x100", Method::chain);
        PhotographOptions options;
        options.seed = 9;
        options.cloth = Pose{};
        options.cardsOnCloth = cardsLaidByHand(job.hoopings[1], 4);
        for (PlacedCard& c : options.cardsOnCloth) c.at = c.at + Vec2{1.5, -1};
        const auto before = photograph(job, lib, options);
        const auto lists = hoopingLists(job, lib);
        ScanTask task{&job, &lib, &*lists, 1, {}, {}, {}};
        const auto measured = cardsBefore(before->picture, task, 2);
        QVERIFY2(bool(measured), measured ? "" : measured.error().line().c_str());
        QCOMPARE(measured->placed.size(), options.cardsOnCloth.size());
        QVERIFY(measured->missing.empty());
        job = setPlacedCards(2, measured->placed).change(job);
        options.hooping = 2;
        options.cloth = Pose{2.2, -1.4, 1.1, false, 1, 1};
        const auto after = photograph(job, lib, options);
        task.hooping = 2;
        task.sought = {true, false, false, false};
        const auto found = proposalsFrom(after->picture, task);
        const auto report = fitObservations(found->found);
        VERIFY_NEAR(report->fit.rotationDeg, 1.1, 0.1);
        for (const Vec2 corner : {Vec2{-40, -40}, {40, 40}})
            QVERIFY(distance(report->fit(corner), options.cloth->affine()(corner)) < 0.12);
        // One taken away is named.
        options.cardsOnCloth.pop_back();
        const auto less = photograph(job, lib, options);
        QCOMPARE(proposalsFrom(less->picture, task)->missing.size(), std::size_t{1});
    }

    void oneCardTakesAnyPointOfTheDesign() {
        const Job job = planned("field-180x130");
        const Box box = (*hoopingLists(job, lib))[0].extents;
        QCOMPARE(anchorOf(box, 4), box.centre());
        QCOMPARE(anchorOf(box, 0), (Vec2{box.minX, box.minY}));
        QCOMPARE(anchorOf(box, 8), (Vec2{box.maxX, box.maxY}));
        const SeenCard card{107, {12, -9}, 4, 0.05, 0.2};
        const auto report = fitObservations({cardUnder(job.hoopings[0], card, anchorOf(box, 2))});
        QVERIFY(distance(report->fit(anchorOf(box, 2)), {12, -9}) < 1e-9);
        VERIFY_NEAR(report->fit.rotationDeg, 4, 1e-9);
    }

    void aTemplateOnTheClothIsWhereTheDesignIsToCome() {
        const Job job = planned("field-180x130");
        const auto lists = hoopingLists(job, lib);
        const Box box = (*lists)[0].extents;
        test::Dice dice(5);
        for (quint64 seed = 1; seed <= 6; ++seed) {
            const Pose meant{
                dice.between(-30, 30), dice.between(-30, 30), dice.between(-20, 20), false, 1, 1};
            PhotographOptions options;
            options.seed = seed;
            options.cloth = Pose{};
            const Affine fieldToCloth = job.hoopings[0].pose.affine();
            options.cardsOnCloth = {{templateCardId + 1,
                                     fieldToCloth(meant.affine()(templateCardAt(box))),
                                     meant.rotationDeg}};
            const auto photo = photograph(job, lib, options);
            ScanTask task{&job, &lib, &*lists, 1, {}, {}, {}};
            const auto found = proposalsFrom(photo->picture, task);
            QVERIFY(found);
            QCOMPARE(found->found.size(), std::size_t{1}); // not the drawn lines
            const auto report = fitObservations(found->found);
            QVERIFY(report);
            QVERIFY(distance(report->fit(box.centre()), meant.affine()(box.centre())) < 0.3);
            VERIFY_NEAR(report->fit.rotationDeg, meant.rotationDeg, 0.3);
        }
    }

    void theNeedleWalksItsMarksByTheShortWayAndFeelsEdges() {
        Job job = planned("field-180x130");
        const Hoop hoop = *lib.hoop("field-180x130");
        const auto targets = needleTargets(job, 1, hoop, {-90, -60});
        QVERIFY(targets.size() > job.hoopings[0].marks.size());
        for (std::size_t i = 1; i < job.hoopings[0].marks.size(); ++i)
            for (std::size_t k = i + 1; k < job.hoopings[0].marks.size(); ++k)
                QVERIFY(distance(targets[i - 1].planned, targets[i].planned) <=
                        distance(targets[i - 1].planned, targets[k].planned));
        const auto line = std::find_if(targets.begin(), targets.end(),
                                       [](const auto& t) { return t.name == "line across"; });
        QVERIFY(line != targets.end());
        Observation o = needleSeen(*line, {-50, 1}, nullptr, 0.3);
        Registration r;
        r.observations = {o};
        o = needleSeen(*line, {50, 1.2}, &r, 0.3);
        QCOMPARE(o.seenLine.size(), std::size_t{2});
    }

    void theDesignItselfCanBeFoundWithTheNeedle() {
        const Job job = planned("field-180x130");
        const auto lists = hoopingLists(job, lib);
        const Hoop hoop = *lib.hoop("field-180x130");
        const auto targets = designTargets(job, 1, *lists, hoop);
        QVERIFY(targets.size() >= 11);
        QCOMPARE(targets[0].name, std::string("middle of the design"));
        const Box box = designBox((*lists)[0].list);
        QVERIFY(distance(targets[0].planned, box.centre()) < 1e-9);
        // Two of them, moved and turned, are a registration.
        const Affine motion = Pose{2.5, -1.75, 1.3}.affine();
        std::vector<Observation> seen;
        for (const std::size_t i : {std::size_t{1}, std::size_t{4}})
            seen.push_back(needleSeen(targets[i], motion(targets[i].planned), nullptr, 0.3));
        const auto report = fitObservations(seen);
        QVERIFY(distance(report->fit(box.centre()), motion(box.centre())) < 0.01);
        VERIFY_NEAR(report->fit.rotationDeg, 1.3, 0.01);
        // Basting crosses are no part of the design.
        StitchList crossed = (*lists)[0].list;
        crossed.threads.push_back({200, {0, 0, 0}, 40, witnessThreadName});
        crossed.stitches.push_back(stitchAt(Op::stitch, {80, 60}, 200));
        QVERIFY(designBox(crossed) == box);
    }

    void panelStepsLeaveHalfAStep() {
        Machine machine;
        test::Dice dice(1201);
        const auto mm = [&] { return dice.between(-30, 30); };
        const auto size = [&] { return dice.between(5, 150); };
        for (int i = 0; i < 300; ++i) {
            const Box design = Box::centredAt({mm(), mm()}, size(), size());
            const Affine motion = Pose{mm(), mm(), dice.between(-20, 20)}.affine();
            const PanelSteps p = panelSteps(design, motion, machine);
            const Vec2 off = p.motion(design.centre()) - motion(design.centre());
            QVERIFY(std::max(std::abs(off.x), std::abs(off.y)) <= machine.panelStepMm / 2 + 1e-9);
            QVERIFY(p.leftDeg <= machine.panelTurnDeg / 2 + 1e-9);
            for (const Vec2 corner : design.corners())
                QVERIFY(distance(p.motion(corner), motion(corner)) <= p.leftMm + 1e-9);
        }
        const Box design = Box::centredAt({10, 0}, 40, 20);
        const PanelSteps words = panelSteps(design, Pose{1.2, -0.33, 0}.affine(), machine);
        QVERIFY2(words.text.starts_with("Move it 12 steps right and 3 steps away from you"),
                 words.text.c_str());
        machine.canTurn = false;
        const PanelSteps still = panelSteps(design, Pose{0, 0, 5}.affine(), machine);
        QCOMPARE(still.turn, 0);
        VERIFY_NEAR(still.leftDeg, 5, 1e-9);
        QVERIFY(still.text.find("turns no design") != std::string::npos);
    }

    void practiceTellsTheTruthAndNothingBefore() {
        const Job job = planned("field-180x130");
        const auto scene = misplaceUnseen(job, lib, 1, 3, true);
        const Box sewn = (*hoopingLists(job, lib))[0].extents;
        for (const Revealed& p : reveal(job, scene->hidden, scene->hidden.motion, sewn))
            VERIFY_NEAR(p.errorMm, 0, 1e-9);
        // Read from the picture, the answer is nearly true.
        const ScanTask task{&job, &lib, nullptr, 1, {}, {}, {}};
        const auto found = proposalsFrom(scene->picture, task);
        const auto report = fitObservations(found->found);
        for (const Revealed& p : reveal(job, scene->hidden, report->fit.map, sewn))
            QVERIFY2(p.errorMm < 0.6, qPrintable(QString::number(p.errorMm)));
        // Six places by hand are needed before they count.
        Practice practice;
        practice.tries = {{"1", "typed", {0.5, 0.5, 0.5}}, {"2", "card", {9, 9, 9, 9}}};
        QCOMPARE(practice.cases(), std::size_t{0});
        practice.tries.push_back({"3", "needle", {0.5, 0.5, 0.5}});
        VERIFY_NEAR(practice.placingSigmaMm(), 0.5 / std::sqrt(2.0), 1e-9);
        QTemporaryDir dir;
        for (const PracticeTry& t : practice.tries)
            QVERIFY(bool(savePractice(t, dir.path().toStdString())));
        QVERIFY(*readPractice(dir.path().toStdString()) == practice);
    }

private:
    std::vector<Finding> plannedFindings(const Job& job) {
        StitchCache cache;
        const auto planned = plannedLists(job, lib, cache);
        std::vector<Finding> found;
        for (const Finding& f : planned->findings)
            if (f.kind.starts_with("register-")) found.push_back(f);
        return found;
    }
};

RAPT_TEST(TestRegister)
#include "test_register.moc"
