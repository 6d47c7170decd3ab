// The cloth as a scan in the window: fading, dragging over it, and saving a job that holds ten.

#include "bench_app.h"

#include "app/register/register_stage.h"
#include "app/register/scan_reader.h"
#include "app/shots/album.h"
#include "app/window/main_window.h"
#include "base/paths.h"
#include "divide/division.h"
#include "formats/demo_jobs.h"
#include "formats/job_file.h"
#include "job/edit.h"
#include "standins/camera.h"

#include <QElapsedTimer>
#include <QMouseEvent>
#include <QTimer>
#include <benchmark/benchmark.h>

namespace {

using namespace rapt;
using namespace rapt::app;

/// The banner with a scan of about 12 megapixels under its first hooping.
struct ScannedWindow {
    QTemporaryDir dir;
    MainWindow window;

    ScannedWindow() : window((bench::application(), *loadLibrary(dataFolder(), "/nonexistent"))) {
        const Library& library = window.session().library;
        (void)!writeDemoJobs(dataFolder() + "/demo", dir.path().toStdString());
        Job job = *readJobFile(dir.filePath("reading-room-banner.rapt").toStdString());
        StitchCache cache;
        const auto plan =
            divideIntoHoopings(job, cache, {{*library.hoop("field-300x200")}}, library);
        job = setHoopings(plan->hoopings, 0, plan->cuts).change(job);
        PhotographOptions options;
        options.pxPerMm = 11;
        const auto photo = photograph(job, library, options);
        const Image& p = photo->picture;
        const QImage image(p.pixels.data(), p.width, p.height, p.width * 3, QImage::Format_RGB888);
        image.save(dir.filePath("scan.jpg"), "JPG", 92);
        window.resize(1280, 800);
        window.show();
        window.session().document.reset(job, {});
        window.session().setStage(Stage::registration);
        window.registerStage().readScanFile(dir.filePath("scan.jpg"));
        settle();
        click(window, "takeProposed");
        window.cloth().zoomToFit();
        settle();
    }
    void settle() {
        do {
            QApplication::processEvents();
            window.cloth().repaint();
        } while (!window.cloth().isSettled() || window.registerStage().isReading() ||
                 window.session().isLooking() || window.session().derivation.isSeeking());
    }
    void send(QEvent::Type type, QPointF at) {
        QMouseEvent event(type, at, window.cloth().mapToGlobal(at),
                          type == QEvent::MouseMove ? Qt::NoButton : Qt::LeftButton, Qt::LeftButton,
                          {});
        QApplication::sendEvent(&window.cloth(), &event);
    }
};

/// A frame while the slider between cloth and stitches is drawn.
void fadeOverScan(benchmark::State& state) {
    ScannedWindow shown;
    int step = 0;
    for (auto _ : state) {
        shown.window.session().registering.setFade(0.2 + 0.6 * (++step % 50) / 50);
        shown.window.cloth().repaint();
    }
}
BENCHMARK(fadeOverScan)->Unit(benchmark::kMillisecond);

/// A frame while a piece is dragged over the scan.
void dragOverScan(benchmark::State& state) {
    ScannedWindow shown;
    Session& session = shown.window.session();
    session.selection.choose({session.job().pieces[0].id});
    const QPointF from = shown.window.cloth().map().toPixels(session.selectionBox().centre());
    shown.send(QEvent::MouseButtonPress, from);
    int step = 0;
    for (auto _ : state) {
        shown.send(QEvent::MouseMove, from + QPointF(10 + step % 40, 5 + step % 17));
        shown.window.cloth().repaint();
        ++step;
    }
    QKeyEvent escape(QEvent::KeyPress, Qt::Key_Escape, {});
    QApplication::sendEvent(&shown.window.cloth(), &escape);
}
BENCHMARK(dragOverScan)->Unit(benchmark::kMillisecond);

/// A job with ten such scans is saved: the whole of it, and as `gap_ms` the longest that the
/// interface thread did not turn to its events meanwhile.
void saveTenScans(benchmark::State& state) {
    ScannedWindow shown;
    Document& document = shown.window.session().document;
    document.apply({"ten scans", [](Job job) {
                        const auto scan = job.members.at("scans/hooping-01.jpg");
                        for (int i = 2; i <= 10; ++i)
                            job.members["scans/again-" + std::to_string(i) + ".jpg"] = scan;
                        return job;
                    }});
    shown.settle();
    QElapsedTimer since;
    qint64 longest = 0;
    QTimer beat;
    QObject::connect(&beat, &QTimer::timeout, &beat,
                     [&] { longest = std::max(longest, since.restart()); });
    beat.start(1);
    for (auto _ : state) {
        since.start();
        if (!document.saveTo(shown.dir.filePath("ten.rapt"))) state.SkipWithError("not saved");
        longest = std::max(longest, since.elapsed());
    }
    state.counters["gap_ms"] = static_cast<double>(longest);
}
BENCHMARK(saveTenScans)->Unit(benchmark::kMillisecond)->UseRealTime();

} // namespace
