#include "support.h"

#include "estimate/work.h"
#include "formats/needles_file.h"
#include "formats/stick_folder.h"
#include "handover/needles.h"
#include "handover/stick_names.h"
#include "job/edit.h"
#include "run/sewn.h"
#include "standins/sewing_run.h"
#include "thread/measures.h"

#include <QDir>
#include <set>

using namespace rapt;

namespace {

/// Three threads by turns, with trims, jumps and stitches of many lengths.
StitchList wandering(test::Dice& dice, int stitches, int threads = 3) {
    StitchList list;
    for (int t = 1; t <= threads; ++t)
        list.threads.push_back({static_cast<std::uint8_t>(t),
                                {static_cast<std::uint8_t>(20 * t), 90, 120},
                                40,
                                "Thread " + std::to_string(t)});
    std::uint8_t thread = 1;
    Vec2 at;
    for (int i = 0; i < stitches; ++i) {
        if (i % 17 == 0) {
            if (i > 0) list.stitches.push_back(stitchAt(Op::trim, at, thread));
            thread = static_cast<std::uint8_t>(1 + int(dice.between(0, threads)));
            at = {dice.between(-40, 40), dice.between(-40, 40)};
            list.stitches.push_back(stitchAt(Op::jump, at, thread));
        } else {
            at = {std::clamp(at.x + dice.between(-6, 6), -48.0, 48.0),
                  std::clamp(at.y + dice.between(-6, 6), -48.0, 48.0)};
        }
        list.stitches.push_back(stitchAt(Op::stitch, at, thread));
    }
    list.stitches.push_back(stitchAt(Op::trim, at, thread));
    return list;
}

std::vector<HoopingList> twoLists(quint64 seed, int stitches = 400) {
    test::Dice dice(seed);
    std::vector<HoopingList> lists(2);
    for (HoopingList& h : lists) {
        h.list = wandering(dice, stitches);
        h.stitches = measure(h.list).stitches;
        h.extents = extentsOf(h.list);
    }
    return lists;
}

Job jobWith(int hoopings) {
    Job job;
    job.name = "Reading-room banner";
    for (int i = 0; i < hoopings; ++i) {
        Hooping h;
        h.hoop = "field-100x100";
        h.clamping = i + 1;
        job.hoopings.push_back(h);
    }
    return job;
}

Thread threadNamed(char name) {
    return {1, {static_cast<std::uint8_t>(name), 0, 0}, 40, std::string(1, name)};
}

/// Cone changes by trying everything.
int leastChanges(const std::string& steps, std::size_t k, std::vector<char> on) {
    while (k < steps.size() && std::find(on.begin(), on.end(), steps[k]) != on.end()) ++k;
    if (k == steps.size()) return 0;
    int best = 1000;
    for (char& needle : on) {
        const char before = std::exchange(needle, steps[k]);
        best = std::min(best, 1 + leastChanges(steps, k + 1, on));
        needle = before;
    }
    return best;
}

} // namespace

/// From hoopings to what the machine is given and does.
class TestStitchOut : public QObject {
    Q_OBJECT
    const Library lib = test::library();

private slots:
    /// Against the contract's formulas, added up another way.
    void workIsTheSumOfItsFormulas() {
        const auto lists = twoLists(3);
        const Job job = jobWith(2);
        Machine m = *lib.machine("six-needle");
        m.needles = 2;
        const Fabric f = *lib.fabric("canvas");
        const auto work = workOf(job.hoopings, lists, m, f, lib);
        QVERIFY(bool(work));
        double sewing = 0, changes = 0, trims = 0, bobbin = 0;
        std::map<std::string, double> top;
        std::vector<std::string> order;
        std::string last;
        for (const HoopingList& h : lists) {
            std::optional<Vec2> needle;
            bool fresh = true, jumped = true;
            for (const Stitch& s : h.list.stitches) {
                if (s.op == Op::trim) trims += m.trimSeconds, fresh = true;
                if (s.op == Op::jump) needle = s.at(), jumped = true;
                if (s.op != Op::stitch) continue;
                const std::string name = h.list.find(s.thread)->name;
                if (std::find(order.begin(), order.end(), name) == order.end())
                    order.push_back(name);
                const auto place = std::find(order.begin(), order.end(), name) - order.begin();
                if (!last.empty() && name != last) {
                    changes += place < 2 ? m.threadChangeSeconds : m.coneChangeSeconds;
                    fresh = true;
                }
                last = name;
                const double l = needle ? distance(*needle, s.at()) : 0;
                sewing += 60.0 / std::min(m.topSpeed, f.topSpeed) *
                          std::max(1.0, (jumped ? 0 : l) / m.fullSpeedUpToMm);
                top[name] += l + 2 * f.thicknessMm + (fresh ? 80 : 0);
                bobbin += l + (fresh ? 80 : 0);
                needle = s.at();
                fresh = jumped = false;
            }
        }
        VERIFY_NEAR(work->seconds.sewing, sewing, 1e-6);
        VERIFY_NEAR(work->seconds.threadChanges, changes, 1e-6);
        VERIFY_NEAR(work->seconds.trims, trims, 1e-6);
        VERIFY_NEAR(work->seconds.clampings, 2 * m.hoopingSeconds, 1e-6);
        VERIFY_NEAR(work->seconds.registrations, 2 * m.registrationSeconds, 1e-6);
        VERIFY_NEAR(work->bobbinMm, bobbin, 1e-6);
        QCOMPARE(work->threads.size(), top.size());
        for (const ThreadNeed& t : work->threads) VERIFY_NEAR(t.topMm, top[t.thread.name], 1e-6);
        VERIFY_NEAR(work->stabilizerCm2, 2 * 14.8 * 14.8 * f.stabilizerLayers, 1e-6);
    }

    void positionsOfOneClampingAreNeitherClampedNorRegisteredAgain() {
        const auto lists = twoLists(4, 40);
        Job job = jobWith(2);
        job.hoopings[1].clamping = 1;
        const Machine m = *lib.machine("six-needle");
        const auto work = workOf(job.hoopings, lists, m, *lib.fabric("canvas"), lib);
        VERIFY_NEAR(work->seconds.clampings, m.hoopingSeconds + m.positionSeconds, 1e-9);
        QCOMPARE(work->seconds.registrations, 0.0);
    }

    void withoutFaultsEveryPenetrationComesOnceInOrderAndInTime() {
        const auto lists = twoLists(5);
        const Job job = jobWith(2);
        const Machine m = *lib.machine("six-needle");
        const Fabric f = *lib.fabric("canvas");
        const auto log = standins::sewJob({job.hoopings, lists, m, f});
        std::size_t k = 0;
        double before = 0;
        for (std::size_t h = 0; h < 2; ++h)
            for (std::size_t n = 0; n < lists[h].stitches; ++n, ++k) {
                QVERIFY(k < log.lines.size());
                QCOMPARE(log.lines[k].hooping, h);
                QCOMPARE(log.lines[k].number, n);
                QVERIFY(log.lines[k].seconds > before);
                before = log.lines[k].seconds;
            }
        QCOMPARE(k, log.lines.size());
        const auto work = workOf(job.hoopings, lists, m, f, lib);
        VERIFY_NEAR(log.seconds, work->seconds.total(), 1e-6);
    }

    void afterEveryBreakTheRunGoesBackThreeStitchesAndLosesNone() {
        int events = 0;
        std::set<std::string> kinds;
        for (quint64 seed = 1; seed <= 40; ++seed) {
            const auto lists = twoLists(seed, 700);
            const Job job = jobWith(2);
            standins::SewingRequest request{job.hoopings, lists, *lib.machine("six-needle"),
                                            *lib.fabric("canvas")};
            request.faults = standins::Faults::many;
            request.seed = seed;
            const auto log = standins::sewJob(request);
            const auto again = standins::sewJob(request);
            QCOMPARE(again.lines.size(), log.lines.size());
            QCOMPARE(again.seconds, log.seconds);
            std::vector<std::vector<int>> times{std::vector<int>(lists[0].stitches),
                                                std::vector<int>(lists[1].stitches)};
            for (const auto& l : log.lines) ++times[l.hooping][l.number];
            std::vector<std::vector<int>> stated{std::vector<int>(lists[0].stitches, 1),
                                                 std::vector<int>(lists[1].stitches, 1)};
            for (const auto& r : log.resumed) {
                const StitchList& list = lists[r.hooping].list;
                const Penetrations points(list);
                const auto thread = [&](std::size_t n) {
                    return list.stitches[points.record(n)].thread;
                };
                QVERIFY(r.overlap == 3 || r.overlap == r.sewn ||
                        thread(r.sewn - r.overlap - 1) != thread(r.sewn - 1));
                for (std::size_t n = r.sewn - r.overlap; n < r.sewn; ++n) {
                    QCOMPARE(thread(n), thread(r.sewn - 1));
                    ++stated[r.hooping][n];
                }
            }
            QVERIFY(times == stated);
            events += static_cast<int>(log.events.size());
            for (const auto& e : log.events) kinds.insert(nameOf(e.kind));
        }
        QVERIFY(events > 100);
        QVERIFY(kinds.contains("thread-break") && kinds.contains("needle-break"));
    }

    void threadBreaksComeWhereThreadLiesThick() {
        const auto breaksOf = [&](double spacing) {
            Job job = jobWith(1);
            StitchList list = test::listThrough({});
            for (int k = 0; k < 8000; ++k)
                list.stitches.push_back(stitchAt(Op::stitch, {k % 2 ? 3.0 : -3.0, k * spacing}, 1));
            const std::vector<HoopingList> lists{{list, 8000, extentsOf(list)}};
            standins::SewingRequest request{job.hoopings, lists, *lib.machine("six-needle"),
                                            *lib.fabric("canvas")};
            request.faults = standins::Faults::many;
            return standins::sewJob(request).events.size();
        };
        QVERIFY(breaksOf(0.03) > 2 * breaksOf(0.4));
    }

    void needlesNeedAsFewChangesAsTryingAllDoes() {
        test::Dice dice(11);
        for (int round = 0; round < 120; ++round) {
            std::string uses;
            for (int k = 0; k < 8; ++k) {
                const char c = static_cast<char>('a' + int(dice.between(0, 5)));
                if (uses.empty() || uses.back() != c) uses += c;
            }
            std::vector<ThreadStep> steps;
            for (std::size_t k = 0; k < uses.size(); ++k)
                steps.push_back({threadNamed(uses[k]), k / 3, (k % 3) * 100, 1});
            const auto needles = static_cast<std::size_t>(1 + int(dice.between(0, 3)));
            Needles now(needles);
            std::vector<char> on(needles, ' ');
            if (round % 2) {
                now[0] = Cone{threadNamed('c'), std::nullopt, false};
                on[0] = 'c';
            }
            const auto plan = planNeedles(steps, now);
            QVERIFY(bool(plan));
            QCOMPARE(static_cast<int>(plan->changes.size()), leastChanges(uses, 0, on));
            // Followed as it stands, every step finds its thread on the needle that is named.
            std::size_t change = 0;
            Needles cones = now;
            for (std::size_t k = 0; k < steps.size(); ++k) {
                for (; change < plan->changes.size(); ++change) {
                    const ConeChange& c = plan->changes[change];
                    if (std::pair(c.hooping, c.at) > std::pair(steps[k].hooping, steps[k].first))
                        break;
                    cones[static_cast<std::size_t>(c.needle - 1)] = Cone{c.thread, {}, false};
                }
                const auto& cone = cones[static_cast<std::size_t>(plan->needleOf[k] - 1)];
                QVERIFY(cone && cone->thread.sameThread(steps[k].thread));
            }
        }
    }

    void keptConesStayAndShortOnesAreNamed() {
        const std::vector<ThreadStep> steps{{threadNamed('a'), 0, 0, 30},
                                            {threadNamed('b'), 0, 50, 9},
                                            {threadNamed('a'), 1, 0, 30}};
        Needles now(2);
        now[0] = Cone{threadNamed('z'), 100, true};
        now[1] = Cone{threadNamed('a'), 40, false};
        const auto plan = planNeedles(steps, now);
        QVERIFY(bool(plan));
        for (const ConeChange& c : plan->changes) QCOMPARE(c.needle, 2);
        now.resize(3);
        const auto roomy = planNeedles(steps, now);
        QCOMPARE(roomy->changes.size(), std::size_t{1});
        QCOMPARE(roomy->runOut.size(), std::size_t{1});
        QCOMPARE(roomy->runOut[0].hooping, std::size_t{1});
        QCOMPARE(roomy->runOut[0].neededM, 60.0);
        now = {Cone{threadNamed('z'), 100, true}};
        const auto none = planNeedles(steps, now);
        QVERIFY(!none && none.error().fault == Fault::cannotDo);
    }

    void whatIsThreadedIsKeptWithTheMachine() {
        QTemporaryDir folder;
        const Needles needles{Cone{threadNamed('a'), 412.5, true}, std::nullopt,
                              Cone{threadNamed('b'), std::nullopt, false}};
        QVERIFY(bool(saveNeedles("six-needle", needles, folder.path().toStdString())));
        const auto back = readNeedles(folder.path().toStdString());
        QVERIFY(bool(back));
        QVERIFY(back->at("six-needle") == needles);
        test::writeFile(folder.filePath("needles.json"),
                        R"({"needles":[{"id":"x","cones":[{"name":"a","color":"blue"}]}]})");
        const auto bad = readNeedles(folder.path().toStdString());
        QVERIFY(!bad && QString::fromStdString(bad.error().line()).contains("color"));
    }

    void namesFollowTheMachinesRulesAndNeverClash() {
        StickRules narrow;
        narrow.nameLength = 8;
        narrow.letters = lettersOf("A-Z0-9");
        const auto names = stickNames("Störche über Dünen, Teil 2", 12, narrow, {});
        QCOMPARE(names.size(), std::size_t{12});
        for (std::size_t i = 0; i < names.size(); ++i) {
            QVERIFY(names[i].size() <= 8);
            QVERIFY(names[i].find_first_not_of(narrow.letters) == std::string::npos);
            QVERIFY(
                names[i].starts_with(i < 9 ? "0" + std::to_string(i + 1) : std::to_string(i + 1)));
        }
        QVERIFY(names[0].find("ST") != std::string::npos);
        std::vector<std::string> taken{names[3] + stickEnding};
        const auto others = stickNames("Störche über Dünen, Teil 2", 12, narrow, taken);
        QVERIFY(std::find(others.begin(), others.end(), names[3]) == others.end());
        QCOMPARE(std::set<std::string>(others.begin(), others.end()).size(), others.size());
        QCOMPARE(stickNames("Banner", 1, StickRules{}, {})[0], std::string("01-Banner"));
        QCOMPARE(stickNames("Banner", 1, StickRules{}, {"01-bANNER.STITCH.csv"})[0],
                 std::string("01-Banner2"));
        QCOMPARE(stickNames("凧", 1, narrow, {})[0], std::string("01"));
    }

    void aStickHoldsWhatWasExportedAndForeignFilesSurvive() {
        QTemporaryDir stick;
        const std::string folder = stick.path().toStdString();
        test::writeFile(stick.filePath("holiday.jpg"), "picture");
        test::writeFile(stick.filePath("01-Read-room-ban.stitch.csv"), "somebody's");
        const auto lists = twoLists(8);
        const Job job = jobWith(2);
        const Machine m = *lib.machine("six-needle");
        const auto put = [&](const Job& which, const std::vector<HoopingList>& what) {
            const auto there = readStick(folder, m);
            const auto plan = planHandover(which, what, m, lib, *there);
            if (!plan) qFatal("%s", plan.error().line().c_str());
            const Status written = writeStick(folder, *plan, plan->leftOver());
            if (!written) qFatal("%s", written.error().line().c_str());
            return *plan;
        };
        const Handover first = put(job, lists);
        QVERIFY(first.outdated.empty());
        for (std::size_t i = 0; i < 2; ++i) {
            const auto back = readStitchFile(folder + "/" + first.files[i].file);
            QVERIFY(back->stitches == lists[i].list.stitches);
            QCOMPARE(originOf(*back).job, job.name);
        }
        QCOMPARE(test::readFile(stick.filePath("holiday.jpg")), QByteArray("picture"));
        QCOMPARE(test::readFile(stick.filePath("01-Read-room-ban.stitch.csv")),
                 QByteArray("somebody's"));
        // Of an earlier version goes what has no successor.
        const Handover second = put(jobWith(1), {lists[1]});
        QCOMPARE(second.outdated.size(), std::size_t{2});
        QCOMPARE(second.leftOver().size(), std::size_t{1});
        QCOMPARE(QDir(stick.path()).entryList(QDir::Files).size(), 3);
    }

    void aStickThatCannotTakeItKeepsItsEarlierState() {
        QTemporaryDir stick;
        const std::string folder = stick.path().toStdString();
        const Machine m = *lib.machine("six-needle");
        const auto lists = twoLists(9);
        auto there = readStick(folder, m);
        auto plan = planHandover(jobWith(2), lists, m, lib, *there);
        QVERIFY(bool(writeStick(folder, *plan, {})));
        const QString second = stick.filePath(QString::fromStdString(plan->files[1].file));
        const QByteArray before = test::readFile(second);
        // The read-back differs: the last of the files does not hold what was handed over.
        Handover wrong = *plan;
        wrong.files[0].text = plan->files[1].text;
        wrong.files[1].text = "no stitch list";
        const Status bad = writeStick(folder, wrong, {});
        QVERIFY(!bad);
        QVERIFY(QString::fromStdString(bad.error().line()).contains("the stick is as it was"));
        QCOMPARE(test::readFile(second), before);
        QCOMPARE(readStick(folder, m)->there, readStick(folder, m)->there);
        QVERIFY(!readStick(folder + "/gone/stick", m));
        // Too many, too large, no room: nothing is written.
        Machine small = m;
        small.stick.files = 3;
        there = readStick(folder, small);
        Job other = jobWith(2);
        other.name = "Other";
        QVERIFY(!planHandover(other, lists, small, lib, *there));
        small = m;
        small.memoryBytes = 2000;
        QVERIFY(!planHandover(other, lists, small, lib, *readStick(folder, small)));
        there->places = 100;
        there->freeBytes = 100;
        const auto full = planHandover(other, lists, m, lib, *there);
        QVERIFY(!full && full.error().reason.find("make room") != std::string::npos);
        small = m;
        small.fieldWidthMm = 80;
        const auto wide = planHandover(other, lists, small, lib, *readStick(folder, m));
        QVERIFY(!wide && wide.error().reason.find("80") != std::string::npos);
        small = m;
        small.frames = {"oval-70x50"};
        QVERIFY(!planHandover(other, lists, small, lib, *readStick(folder, m)));
    }

    void aMarkChangesWithAnyStitchThreadOrOrder() {
        const StitchList list = twoLists(12, 60)[0].list;
        std::set<std::string> marks{contentMark(list, {})};
        StitchList other = list;
        other.stitches[20].x += 1;
        marks.insert(contentMark(other, {}));
        other = list;
        other.threads[0].name += "!";
        marks.insert(contentMark(other, {}));
        other = list;
        std::swap(other.stitches[5], other.stitches[6]);
        marks.insert(contentMark(other, {}));
        other = list;
        other.stitches.pop_back();
        marks.insert(contentMark(other, {}));
        marks.insert(contentMark(list, {"another job"}));
        QCOMPARE(marks.size(), std::size_t{6});
        // The name is not what is sewn.
        other = list;
        other.name = "another";
        QCOMPARE(contentMark(other, {}), contentMark(list, {}));
    }

    void whatIsHandedOverTellsItsJobWhateverItIsCalled() {
        Job job = jobWith(1);
        for (const char* name : {"Banner, \"large\"", "Störche", "a,b,c", "x"}) {
            job.name = name;
            const StitchList list = twoLists(13, 40)[0].list;
            const auto back = parseStitchCsv(handedText(job, list, 4), "");
            QVERIFY(bool(back));
            const StoredDesign origin = originOf(*back);
            QCOMPARE(origin.job, job.name);
            QCOMPARE(origin.hooping, 5);
            QCOMPARE(origin.mark, contentMark(list, {}));
            // Handed over again, it says it once.
            const auto twice = parseStitchCsv(handedText(job, *back, 1), "");
            QCOMPARE(originOf(*twice).hooping, 2);
            QCOMPARE(twice->remarks.size(), back->remarks.size());
        }
        QVERIFY(originOf(twoLists(14, 40)[0].list).job.empty());
        QCOMPARE(differenceFrom(twoLists(15, 40)[0].list, twoLists(15, 40)[0].list), std::string());
        QVERIFY(!differenceFrom(twoLists(15, 40)[0].list, twoLists(16, 40)[0].list).empty());
    }

    void theTimeOfAListIsThatOfItsStitches() {
        const StitchList list = twoLists(17)[0].list;
        const Machine m = *lib.machine("six-needle");
        const Fabric f = *lib.fabric("canvas");
        const auto seconds = secondsUpTo(list, m, f);
        QCOMPARE(seconds.size(), measure(list).stitches);
        for (std::size_t i = 1; i < seconds.size(); ++i) QVERIFY(seconds[i] > seconds[i - 1]);
        const auto work = workOf(jobWith(1).hoopings, {{list, 0, {}}}, m, f, lib);
        const TimeParts& s = work->seconds;
        VERIFY_NEAR(seconds.back(), s.sewing + s.threadChanges + s.trims - m.trimSeconds, 0.01);
    }

    void machinesWithBadValuesAreRefusedByKey() {
        QTemporaryDir folder;
        const auto error = [&](const char* json) {
            test::writeFile(folder.filePath("machines.json"), json);
            const auto read = loadLibrary(dataFolder(), folder.path().toStdString());
            return read ? QString() : QString::fromStdString(read.error().line());
        };
        QVERIFY(error(R"({"machines":[{"id":"x","memory":{"bytes":-5}}]})").contains("bytes"));
        QVERIFY(
            error(R"({"machines":[{"id":"x","stick":{"letters":"A-Z/"}}]})").contains("letters"));
        QVERIFY(
            error(R"({"machines":[{"id":"x","stick":{"letters":"A-Z"}}]})").contains("figures"));
        QVERIFY(error(R"({"machines":[{"id":"x","field":{"width_mm":0}}]})").contains("width_mm"));
        QVERIFY(error(R"({"machines":[{"id":"x","cone_change_s":7}]})").isEmpty());
    }
};

RAPT_TEST(TestStitchOut)
#include "test_stitch_out.moc"
