// The ledger with 100,000 records: words found, pages read, against plain SQL for the same.

#include "bench_app.h"

#include "app/theme/theme.h"
#include "app/window/main_window.h"
#include "ledger/ledger.h"
#include "library/library.h"
#include "record/columns.h"
#include "standins/year_of_records.h"

#include <QElapsedTimer>
#include <QListView>
#include <QScrollBar>
#include <QTemporaryDir>
#include <base/paths.h>
#include <benchmark/benchmark.h>

namespace {

using namespace rapt;

constexpr std::size_t many = 100'000;

struct Filled {
    QTemporaryDir dir;
    Ledger ledger;
    Database plain{"plain-"};

    Filled() {
        LedgerPlace place;
        place.file = dir.filePath("ledger.sqlite");
        const auto library = *loadLibrary(dataFolder(), "/nonexistent");
        if (!ledger.open(place) || !plain.open(place)) std::abort();
        const auto all = standins::yearOfRecords("2026-11-27", many, 1, library);
        for (std::size_t i = 0; i < all.size(); i += 5000)
            if (!ledger.add({all.begin() + static_cast<long>(i),
                             all.begin() + static_cast<long>(i + 5000)}))
                std::abort();
    }
};

Filled& filled() {
    static Filled made;
    return made;
}

const QStringList listColumns{"id", "uid", "date", "job", "customer", "outcome", "note"};
const char* const words[] = {"canvas", "reed marigold", "frayed", "2026-03-14", "kite bag harbour"};

/// A word as a person types it: the first page and the count.
void searchWord(benchmark::State& state) {
    filled();
    const QString text = words[state.range(0)];
    for (auto _ : state) {
        auto page = filled().ledger.find({text}, 200, {}, listColumns);
        auto count = filled().ledger.count({text});
        benchmark::DoNotOptimize(page);
        state.counters["found"] = static_cast<double>(*count);
    }
    state.SetLabel(text.toStdString());
}
BENCHMARK(searchWord)->DenseRange(0, 4)->Unit(benchmark::kMillisecond);

/// The same by LIKE on the same words.
void searchPlainSql(benchmark::State& state) {
    QStringList parts;
    for (const std::string& t : searchTerms(words[state.range(0)]))
        parts << "words LIKE '%" + QString::fromStdString(t) + "%'";
    const QString where = " WHERE " + parts.join(" AND ");
    for (auto _ : state) {
        auto page = filled().plain.run("SELECT " + listColumns.join(", ") + " FROM record" + where +
                                       " ORDER BY date DESC, id DESC LIMIT 200");
        while (page->next()) benchmark::DoNotOptimize(page->value(6).toString());
        auto count = filled().plain.run("SELECT count(*) FROM record" + where);
        count->next();
        state.counters["found"] = count->value(0).toDouble();
    }
}
BENCHMARK(searchPlainSql)->DenseRange(0, 4)->Unit(benchmark::kMillisecond);

/// The next page while the list is scrolled, in the middle of everything.
void nextPage(benchmark::State& state) {
    const PageEnd middle{"2026-05-20", 50'000};
    for (auto _ : state) {
        auto page = filled().ledger.find({}, 200, middle, listColumns);
        benchmark::DoNotOptimize(page);
    }
}
BENCHMARK(nextPage)->Unit(benchmark::kMillisecond);

/// Opening the file and reading the first page, as the stage does.
void openLedger(benchmark::State& state) {
    const LedgerPlace place = filled().ledger.place();
    for (auto _ : state) {
        Ledger fresh;
        if (!fresh.open(place)) std::abort();
        auto page = fresh.find({}, 200, {}, listColumns);
        auto count = fresh.count({});
        benchmark::DoNotOptimize(page);
    }
}
BENCHMARK(openLedger)->Unit(benchmark::kMillisecond);

/// A window whose ledger is that file, at the stage.
struct OpenWindow {
    std::unique_ptr<app::MainWindow> window;

    OpenWindow() {
        bench::application();
        qputenv("RAPT_LEDGER", "sqlite:" + filled().ledger.place().file.toUtf8());
        app::loadFaces();
        app::applyTheme(app::Theme::light());
        window = std::make_unique<app::MainWindow>(*loadLibrary(dataFolder(), "/nonexistent"));
        window->resize(1280, 800);
        window->show();
        settle();
    }
    void settle() {
        while (window->session().ledger.isBusy() || window->session().derivation.isSeeking())
            QCoreApplication::processEvents(QEventLoop::AllEvents, 5);
    }
};

/// The stage is shown and its list looks anew, until both stand.
void openStage(benchmark::State& state) {
    OpenWindow open;
    for (auto _ : state) {
        state.PauseTiming();
        open.window->session().setStage(app::Stage::brief);
        open.window->repaint();
        state.ResumeTiming();
        open.window->session().ledger.changedSomething();
        open.window->session().setStage(app::Stage::ledger);
        open.window->repaint();
        open.settle();
    }
}
BENCHMARK(openStage)->Unit(benchmark::kMillisecond);

/// One frame while the list is scrolled by the wheel; pages come in meanwhile.
void scrollFrame(benchmark::State& state) {
    OpenWindow open;
    open.window->session().setStage(app::Stage::ledger);
    open.settle();
    auto* list = open.window->findChild<QListView*>("recordList");
    double worst = 0;
    QElapsedTimer clock;
    for (auto _ : state) {
        clock.start();
        QScrollBar* bar = list->verticalScrollBar();
        bar->setValue(bar->value() + 60);
        list->viewport()->repaint();
        QCoreApplication::processEvents();
        worst = std::max(worst, static_cast<double>(clock.nsecsElapsed()) / 1e6);
    }
    state.counters["worst_ms"] = worst;
    state.counters["rows"] = list->model()->rowCount();
}
BENCHMARK(scrollFrame)->Unit(benchmark::kMillisecond);

} // namespace
