#include "support.h"

#include "formats/stitch_csv.h"
#include "scan/image.h"
#include "standins/machine.h"

#include <nlohmann/json.hpp>

using namespace rapt;
using nlohmann::json;

namespace {

StitchList strip(int stitches, double pitch = 2) {
    StitchList list = test::listThrough({});
    list.threads.push_back({2, {200, 90, 40}, 40, "Ember"});
    list.stitches.push_back(stitchAt(Op::jump, {-40, 0}, 1));
    for (int i = 0; i < stitches; ++i)
        list.stitches.push_back(stitchAt(Op::stitch,
                                         {-40 + std::fmod(i * pitch, 80.0), 3.0 * (i % 2)},
                                         static_cast<std::uint8_t>(i < stitches / 2 ? 1 : 2)));
    return list;
}

/// A machine and a person in front of it.
struct Bench {
    standins::SimulatedMachine machine;
    explicit Bench(standins::Faults faults = standins::Faults::none, std::uint64_t seed = 1)
        : machine({*test::library().machine("six-needle"), test::library(), faults, seed}) {}

    json ask(json request) { return machine.answer(request); }
    std::string refusal(const json& request) {
        const json r = ask(request);
        return r["ok"].get<bool>() ? "" : r["reason"].get<std::string>();
    }
    void store(const char* name, const StitchList& list, const char* frame = "field-100x100",
               std::vector<int> stops = {}) {
        const json r = ask({{"do", "store"},
                            {"name", name},
                            {"text", formatStitchCsv(list)},
                            {"frame", frame},
                            {"stops", stops}});
        if (!r["ok"].get<bool>()) qFatal("%s", r.dump().c_str());
    }
    void makeReady(const char* frame = "field-100x100") {
        ask({{"do", "hands"}, {"mount", frame}, {"foot", "down"}});
    }
    /// Goes on until it stands; gives what was told.
    std::vector<json> run(double step = 5) {
        std::vector<json> told;
        for (int i = 0; i < 20'000; ++i) {
            for (json& t : machine.tick(step)) told.push_back(std::move(t));
            if (ask({{"do", "status"}})["state"] != "sewing") break;
        }
        return told;
    }
};

} // namespace

class TestSimulatedMachine : public QObject {
    Q_OBJECT
private slots:
    void itStoresListsShowsAndForgets() {
        Bench b;
        b.store("a.stitch.csv", strip(100));
        b.store("b.stitch.csv", strip(40));
        QCOMPARE(b.ask({{"do", "list"}})["designs"].size(), std::size_t{2});
        const json shown =
            b.ask({{"do", "preview"}, {"name", "a.stitch.csv"}, {"text", true}, {"id", 7}});
        QCOMPARE(shown["id"].get<int>(), 7);
        QCOMPARE(shown["stitches"].get<int>(), 100);
        QCOMPARE(shown["threads"].size(), std::size_t{2});
        const auto png =
            QByteArray::fromBase64(QByteArray::fromStdString(shown["picture"].get<std::string>()));
        QVERIFY(bool(decodeImage(png.toStdString(), "picture")));
        const auto back = parseStitchCsv(shown["text"].get<std::string>(), "");
        QVERIFY(back->threads == strip(100).threads);
        QCOMPARE(Penetrations(*back).count(), std::size_t{100});
        QVERIFY(b.refusal({{"do", "preview"}, {"name", "c"}}).find("no design") !=
                std::string::npos);
        QVERIFY(b.ask({{"do", "delete"}, {"name", "a.stitch.csv"}})["ok"].get<bool>());
        QCOMPARE(b.ask({{"do", "list"}})["designs"].size(), std::size_t{1});
    }

    void memoryAndNamesHaveTheirLimits() {
        Machine small = *test::library().machine("six-needle");
        small.places = 2;
        small.memoryBytes = 9000;
        standins::SimulatedMachine m({small, test::library()});
        const auto store = [&](const char* name, int stitches) {
            return m
                .answer({{"do", "store"},
                         {"name", name},
                         {"text", formatStitchCsv(strip(stitches))}})["ok"]
                .get<bool>();
        };
        QVERIFY(store("a", 100));
        QVERIFY(!store("b", 900));
        QVERIFY(store("b", 20));
        QVERIFY(!store("c", 20));
        QVERIFY(store("b", 30)); // in the place of the older one
        QVERIFY(!store("../b", 20));
        QVERIFY(
            !m.answer({{"do", "store"}, {"name", "a"}, {"text", "nonsense"}})["ok"].get<bool>());
        QVERIFY(!m.answer({{"do", 7}})["ok"].get<bool>());
        QVERIFY(!m.answer(json::array())["ok"].get<bool>());
        QVERIFY(!m.answer({{"do", "dance"}})["ok"].get<bool>());
    }

    void itStartsOnlyWhenAllIsInOrder() {
        Bench b;
        b.store("a", strip(60));
        QVERIFY(!b.refusal({{"do", "start"}}).empty());
        b.ask({{"do", "select"}, {"name", "a"}});
        QVERIFY(b.refusal({{"do", "start"}}).find("foot") != std::string::npos);
        b.ask({{"do", "hands"}, {"foot", "down"}});
        QVERIFY(b.refusal({{"do", "start"}}).find("no frame") != std::string::npos);
        b.makeReady("oval-70x50");
        QVERIFY(b.refusal({{"do", "start"}}).find("oval-70x50 is on") != std::string::npos);
        b.makeReady();
        QVERIFY(b.refusal({{"do", "start"}, {"from", 61}}).find("fewer") != std::string::npos);
        QCOMPARE(b.refusal({{"do", "start"}}), std::string());
        QVERIFY(!b.refusal({{"do", "hands"}, {"foot", "up"}}).empty());
        QVERIFY(!b.refusal({{"do", "delete"}, {"name", "a"}}).empty());
        QVERIFY(!b.refusal({{"do", "jog"}, {"dx", 1}}).empty());
        const auto told = b.run();
        QCOMPARE(told.back()["event"].get<std::string>(), std::string("done"));
        QCOMPARE(b.ask({{"do", "ranges"}})["ranges"], json({{0, 60}}));
    }

    void aBreakMustBeMendedAndNothingIsLost() {
        Bench b;
        b.store("a", strip(400));
        b.ask({{"do", "select"}, {"name", "a"}});
        b.makeReady();
        b.ask({{"do", "start"}});
        b.machine.tick(4);
        b.ask({{"do", "provoke"}, {"kind", "thread-break"}});
        const auto told = b.run(0.2);
        QCOMPARE(told.back()["kind"].get<std::string>(), std::string("thread-break"));
        const int sewn = told.back()["sewn"].get<int>();
        QVERIFY(sewn > 20 && sewn < 390);
        QVERIFY(b.refusal({{"do", "start"}}).find("mended") != std::string::npos);
        b.ask({{"do", "hands"}, {"mend", true}});
        QCOMPARE(b.refusal({{"do", "start"}, {"from", sewn - 3}}), std::string());
        b.run();
        QCOMPARE(b.ask({{"do", "ranges"}})["ranges"], json({{0, sewn}, {sewn - 3, 400}}));
    }

    void aPowerCutLeavesAnOlderCounter() {
        Bench b;
        b.store("a", strip(400));
        b.ask({{"do", "select"}, {"name", "a"}});
        b.makeReady();
        b.ask({{"do", "start"}});
        b.machine.tick(4.4);
        b.ask({{"do", "provoke"}, {"kind", "power-cut"}});
        const auto told = b.run(0.1);
        const int sewn = told.back()["sewn"].get<int>();
        QVERIFY(b.refusal({{"do", "list"}}).find("power") != std::string::npos);
        QVERIFY(b.refusal({{"do", "start"}}).find("power") != std::string::npos);
        const json on = b.ask({{"do", "hands"}, {"power", "on"}});
        QCOMPARE(on["sewn"].get<int>(), sewn / 10 * 10);
        QCOMPARE(on["why"].get<std::string>(), std::string("power-cut"));
        QCOMPARE(b.refusal({{"do", "start"}, {"from", sewn - 3}}), std::string());
        b.run();
        QCOMPARE(b.ask({{"do", "ranges"}})["ranges"], json({{0, sewn}, {sewn - 3, 400}}));
    }

    void conesAreChangedWhereItWasAsked() {
        Bench b;
        b.store("a", strip(100), "field-100x100", {50, 80});
        b.ask({{"do", "select"}, {"name", "a"}});
        b.makeReady();
        for (const int at : {50, 80}) {
            b.ask({{"do", "start"}});
            const auto told = b.run();
            QCOMPARE(told.back()["kind"].get<std::string>(), std::string("cone-change"));
            QCOMPARE(told.back()["sewn"].get<int>(), at);
            b.ask({{"do", "hands"}, {"mend", true}});
        }
        b.ask({{"do", "start"}});
        QCOMPARE(b.run().back()["event"].get<std::string>(), std::string("done"));
    }

    void itStepsJogsWalksAndPlaces() {
        Bench b;
        b.store("a", strip(100, 0.4));
        b.ask({{"do", "select"}, {"name", "a"}});
        b.makeReady();
        QCOMPARE(b.ask({{"do", "step"}, {"by", 30}})["sewn"].get<int>(), 30);
        QCOMPARE(b.ask({{"do", "step"}, {"by", 1}, {"unit", "thread"}})["sewn"].get<int>(), 50);
        QCOMPARE(b.ask({{"do", "step"}, {"by", -1}, {"unit", "thread"}})["sewn"].get<int>(), 0);
        const json walk = b.ask({{"do", "walk"}, {"what", "box"}});
        QCOMPARE(walk["way"].size(), std::size_t{4});
        VERIFY_NEAR(walk["way"][0][0].get<double>(), -40, 1e-6);
        QVERIFY(b.ask({{"do", "walk"}, {"what", "hull"}})["way"].size() >= 3);
        b.ask({{"do", "hands"}, {"needle", "down"}});
        QVERIFY(b.refusal({{"do", "jog"}, {"dx", 1}}).find("needle") != std::string::npos);
        b.ask({{"do", "hands"}, {"needle", "up"}});
        // From the corner where the walk ended, to 10 mm right of the middle's far edge.
        const json at = b.ask({{"do", "jog"}, {"dx", 30}, {"dy", -20}});
        QVERIFY(at["ok"].get<bool>());
        QVERIFY(!b.refusal({{"do", "jog"}, {"dx", 500}}).empty());
        const json to = b.ask({{"do", "jog"}, {"x", 4.5}, {"y", -6}});
        QCOMPARE(to["pointer"], json({4.5, -6.0}));
        b.ask({{"do", "jog"}, {"x", at["pointer"][0]}, {"y", at["pointer"][1]}});
        const json placed = b.ask({{"do", "place"}, {"point", "far-left"}});
        VERIFY_NEAR(placed["offset"][0].get<double>(), at["pointer"][0].get<double>() + 40, 1e-6);
        QVERIFY(!b.refusal({{"do", "place"}, {"point", "middle"}}).empty());
        b.ask({{"do", "jog"}, {"dx", 40}});
        QVERIFY(b.refusal({{"do", "place"}, {"point", "far-left"}}).find("leave the field") !=
                std::string::npos);
    }

    void randomRunsWithEveryFaultEndWhole() {
        for (std::uint64_t seed = 1; seed <= 25; ++seed) {
            Bench b(standins::Faults::many, seed);
            const StitchList list = strip(900, 0.7);
            const Penetrations points(list);
            b.store("a", list);
            b.ask({{"do", "select"}, {"name", "a"}});
            b.makeReady();
            std::vector<int> times(900), stated(900, 1);
            b.ask({{"do", "start"}});
            for (int stops = 0; stops < 200; ++stops) {
                const auto told = b.run(3);
                QVERIFY(!told.empty());
                if (told.back()["event"] == "done") break;
                StopKind kind{};
                QVERIFY(parseStopKind(told.back()["kind"].get<std::string>(), kind));
                const auto sewn = told.back()["sewn"].get<std::size_t>();
                b.ask({{"do", "hands"}, {"power", "on"}, {"mend", true}});
                const Resume r = resumeAfter(list, points, sewn, kind);
                for (std::size_t n = r.from; n < sewn; ++n) ++stated[n];
                QCOMPARE(b.refusal({{"do", "start"}, {"from", r.from}}), std::string());
            }
            const json done = b.ask({{"do", "ranges"}});
            for (const json& r : done["ranges"])
                for (auto n = r[0].get<std::size_t>(); n < r[1].get<std::size_t>(); ++n) ++times[n];
            QVERIFY(times == stated);
        }
    }
};

RAPT_TEST(TestSimulatedMachine)
#include "test_simulated_machine.moc"
