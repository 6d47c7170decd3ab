#include "support.h"

#include "formats/job_file.h"
#include "job/clip.h"
#include "job/groups.h"

#include <random>

using namespace rapt;

/// Groups that nest, and the sewing order of several pieces.
class TestGroups : public QObject {
    Q_OBJECT

    static Job jobWith(const std::vector<std::string>& groups) {
        Job job;
        job.name = "Pond";
        job.identity.text = "pond-1";
        for (std::size_t i = 0; i < groups.size(); ++i) {
            Piece p;
            p.id = std::string(1, static_cast<char>('a' + i));
            p.name = p.id;
            p.group = groups[i];
            StitchList list;
            list.threads = {{1, {31, 78, 121}, 40, "Tide"}};
            list.stitches = {{0, 0, Op::jump, 1}, {0, 0, Op::stitch, 1}, {2, 0, Op::stitch, 1}};
            p.content = DesignContent{"designs/" + p.id + ".stitch.csv",
                                      std::make_shared<const StitchList>(std::move(list))};
            job.pieces.push_back(std::move(p));
        }
        return job;
    }
    static std::vector<std::string> orderOf(const Job& job) {
        std::vector<std::string> ids;
        for (const Piece& p : job.pieces) ids.push_back(p.id);
        return ids;
    }
    static std::string groupOf(const Job& job, const std::string& id) {
        return job.piece(id)->group;
    }
    using Ids = std::vector<std::string>;

private slots:
    void pathsAreTakenApart() {
        QCOMPARE(groupBelow("pond/reeds/left", ""), std::string("pond"));
        QCOMPARE(groupBelow("pond/reeds/left", "pond"), std::string("pond/reeds"));
        QCOMPARE(groupBelow("pond", "pond"), std::string());
        QCOMPARE(groupBelow("ponds", "pond"), std::string());
        QCOMPARE(groupAround("pond/reeds"), std::string("pond"));
        QCOMPARE(groupAround("pond"), std::string());
        QCOMPARE(lastName("pond/reeds"), std::string("reeds"));
        QVERIFY(liesIn("pond/reeds", "pond") && !liesIn("ponds", "pond") && liesIn("x", ""));
        QCOMPARE(commonGroup("pond/reeds/left", "pond/ducks"), std::string("pond"));
        QCOMPARE(groupName("  left/right "), std::string("left-right"));
        QCOMPARE(normalGroup("/pond//reeds/"), std::string("pond/reeds"));
    }

    void groupingNestsAndUngroupingTakesOneLevel() {
        const Job job = jobWith({"reeds", "reeds", "", "ducks"});
        const Job pond = groupPieces({"a", "b", "c"}, "", "pond").change(job);
        QCOMPARE(groupOf(pond, "a"), std::string("pond/reeds"));
        QCOMPARE(groupOf(pond, "c"), std::string("pond"));
        QCOMPARE(groupsOf(pond), (Ids{"pond", "pond/reeds", "ducks"}));
        QCOMPARE(piecesIn(pond, "pond"), (Ids{"a", "b", "c"}));
        QVERIFY(ungroupPieces({"a", "b", "c"}, "").change(pond) == job);
        const Job inner = groupPieces({"a"}, "pond", "left").change(pond);
        QCOMPARE(groupOf(inner, "a"), std::string("pond/left/reeds"));
        const Job named = renameGroup("pond", "lake / shore").change(inner);
        QCOMPARE(groupOf(named, "a"), std::string("lake - shore/left/reeds"));
        QCOMPARE(groupOf(named, "d"), std::string("ducks"));
    }

    void aGroupIsFoundByItsPathOrItsOwnName() {
        const Job job = jobWith({"pond/reeds", "lake/reeds", "lake/ducks"});
        QCOMPARE(*findGroup(job, "lake"), std::string("lake"));
        QCOMPARE(*findGroup(job, "ducks"), std::string("lake/ducks"));
        QCOMPARE(*findGroup(job, "pond/reeds"), std::string("pond/reeds"));
        QVERIFY(findGroup(job, "reeds").error().reason.find("several") != std::string::npos);
        QVERIFY(findGroup(job, "sea").error().reason.find("lake/ducks") != std::string::npos);
    }

    void copiesKeepTheirNesting() {
        const Job job = jobWith({"pond/reeds", "pond/ducks", "other"});
        const Job both = duplicatePieces({"a", "b"}, {5, 0}).change(job);
        QCOMPARE(both.pieces.size(), std::size_t{5});
        QCOMPARE(both.pieces[3].group, std::string("pond 2/reeds"));
        QCOMPARE(both.pieces[4].group, std::string("pond 2/ducks"));
    }

    void pathsOfFilesAreMadeWhole() {
        const Job read = *unpackJob(*packJob(jobWith({"/pond//reeds/", "a/"})), "x");
        QCOMPARE(groupOf(read, "a"), std::string("pond/reeds"));
        QCOMPARE(groupOf(read, "b"), std::string("a"));
    }

    void severalPiecesAreSewnBeforeAnother() {
        const Job job = jobWith({"", "", "", "", ""});
        QCOMPARE(orderOf(sewBefore({"d", "a"}, "c").change(job)), (Ids{"b", "a", "d", "c", "e"}));
        QCOMPARE(orderOf(sewBefore({"b", "c"}, "").change(job)), (Ids{"a", "d", "e", "b", "c"}));
        QCOMPARE(orderOf(sewBefore({"b", "c"}, "b").change(job)), orderOf(job));
        QCOMPARE(orderOf(sewBefore({"e"}, "a").change(job)), (Ids{"e", "a", "b", "c", "d"}));
    }

    void ordersAndGroupsOnlyEverShuffle() {
        std::mt19937 dice(4);
        const auto below = [&](std::size_t n) { return dice() % n; };
        for (int round = 0; round < 200; ++round) {
            Job job = jobWith({"", "g", "g/h", "g/h", "k", "k/m/n", ""});
            for (int step = 0; step < 6; ++step) {
                Ids some;
                for (const Piece& p : job.pieces)
                    if (below(3) == 0) some.push_back(p.id);
                const std::string before = below(4) ? job.pieces[below(7)].id : "";
                const Job next = sewBefore(some, before).change(job);
                Ids was = orderOf(job), is = orderOf(next);
                // What stays keeps its order, what goes too, and stands together.
                const auto only = [&](Ids ids, bool goes) {
                    std::erase_if(ids, [&](const std::string& id) {
                        return (std::find(some.begin(), some.end(), id) != some.end()) != goes;
                    });
                    return ids;
                };
                QCOMPARE(only(is, true), only(was, true));
                QCOMPARE(only(is, false), only(was, false));
                const Ids block = only(is, true);
                QVERIFY(std::search(is.begin(), is.end(), block.begin(), block.end()) != is.end());
                const std::string name = unusedGroupName(next, "");
                const Job grouped = groupPieces(some, "", name).change(next);
                QVERIFY(ungroupPieces(some, "").change(grouped) == next);
                job = grouped;
            }
            const auto packed = packJob(job);
            QVERIFY(*packJob(*unpackJob(*packed, "x")) == *packed);
        }
    }
};

RAPT_TEST(TestGroups)
#include "test_groups.moc"
