// Composing: fills, linked copies under the mouse, and the shelf.

#include "bench_app.h"
#include "bench_data.h"

#include "app/shelf/shelf_model.h"
#include "app/window/main_window.h"
#include "base/paths.h"
#include "divide/division.h"
#include "divide/ring.h"
#include "formats/stitch_csv.h"
#include "job/edit_copies.h"
#include "job/stitching.h"
#include "place/clearance.h"
#include "recipe/shape.h"

#include <QDirIterator>
#include <QFile>
#include <QMouseEvent>
#include <benchmark/benchmark.h>
#include <clipper.hpp>

namespace {

using namespace rapt;
using namespace rapt::app;

Polyline ring(Vec2 c, double r) {
    Polyline line;
    for (int i = 0; i < 90; ++i) {
        const Turn t = turnOf(4.0 * i);
        line.push_back(c + Vec2{r * t.cosine, r * t.sine});
    }
    return line;
}

/// 200 × 200 mm with sixteen holes.
ShapePart holedSquare() {
    ShapePart part;
    part.angleDeg = 20;
    part.lines = {{{0, 0}, {200, 0}, {200, 200}, {0, 200}}};
    for (int k = 0; k < 16; ++k)
        part.lines.push_back(ring({28.0 + 48 * (k % 4), 28.0 + 48 * (k / 4)}, 9 + k % 3));
    return part;
}

void fillWithHoles(benchmark::State& state) {
    const ShapePart part = holedSquare();
    std::size_t points = 0;
    for (auto _ : state)
        for (const Polyline& stretch : stitchFill(part)) points += stretch.size();
    state.counters["stitches"] =
        static_cast<double>(points) / static_cast<double>(state.iterations());
}
BENCHMARK(fillWithHoles)->Unit(benchmark::kMillisecond);

/// The comparison: the same rows, cut at the same outlines by Clipper. No travel, no stitches.
void clipperRowsWithHoles(benchmark::State& state) {
    const ShapePart part = holedSquare();
    const Turn t = turnOf(-part.angleDeg);
    ClipperLib::Paths outline;
    Box box;
    for (const Polyline& line : part.lines) {
        ClipperLib::Path path;
        for (const Vec2& p : line) {
            const Vec2 q{t.cosine * p.x - t.sine * p.y, t.sine * p.x + t.cosine * p.y};
            box.add(q);
            path.emplace_back(std::llround(q.x * 1e4), std::llround(q.y * 1e4));
        }
        outline.push_back(path);
    }
    for (auto _ : state) {
        ClipperLib::Clipper clipper;
        clipper.AddPaths(outline, ClipperLib::ptClip, true);
        for (double y = box.minY; y < box.maxY; y += 0.4)
            clipper.AddPath({{std::llround(box.minX * 1e4), std::llround(y * 1e4)},
                             {std::llround(box.maxX * 1e4), std::llround(y * 1e4)}},
                            ClipperLib::ptSubject, false);
        ClipperLib::PolyTree rows;
        clipper.Execute(ClipperLib::ctIntersection, rows, ClipperLib::pftEvenOdd,
                        ClipperLib::pftEvenOdd);
        benchmark::DoNotOptimize(rows.Total());
    }
}
BENCHMARK(clipperRowsWithHoles)->Unit(benchmark::kMillisecond);

/// 200 linked copies of a piece of 5,000 stitches.
Job twoHundredCopies() {
    Job job = bench::manyPieces(1, 5'000);
    job.cloth.widthMm = job.cloth.heightMm = 2'000;
    Repeat grid;
    grid.pieces = {job.pieces[0].id};
    grid.columns = 20;
    grid.rows = 10;
    grid.acrossMm = grid.downMm = 4;
    return setRepeat(grid).change(job);
}

/// The window with all of them, drawn and measured.
struct CopiesWindow {
    MainWindow window;
    CopiesWindow() : window((bench::application(), *loadLibrary(dataFolder(), "/nonexistent"))) {
        window.resize(1280, 800);
        window.show();
        window.session().document.reset(twoHundredCopies(), {});
        window.cloth().zoomToFit();
        while (!window.cloth().isSettled()) {
            QApplication::processEvents();
            window.cloth().repaint();
        }
    }
};

/// One frame while all of them are dragged: the mouse event, the gaps, the painting.
void dragFrameOfCopies(benchmark::State& state) {
    CopiesWindow shown;
    MainWindow& window = shown.window;
    ClothView& cloth = window.cloth();
    const PieceSpan& span = window.session().checked()->stitched().spans[45];
    const auto send = [&](QEvent::Type type, QPointF at, Qt::MouseButtons buttons) {
        QMouseEvent event(type, at, cloth.mapToGlobal(at),
                          type == QEvent::MouseMove ? Qt::NoButton : Qt::LeftButton, buttons, {});
        QApplication::sendEvent(&cloth, &event);
    };
    const QPointF from = cloth.map().toPixels(span.extents.centre());
    send(QEvent::MouseButtonPress, from, Qt::LeftButton);
    int step = 0;
    for (auto _ : state) {
        send(QEvent::MouseMove, from + QPointF(10 + step % 40, 5 + step % 17), Qt::LeftButton);
        cloth.repaint();
        ++step;
    }
    QKeyEvent escape(QEvent::KeyPress, Qt::Key_Escape, {});
    QApplication::sendEvent(&cloth, &escape);
}
BENCHMARK(dragFrameOfCopies)->Unit(benchmark::kMillisecond);

/// One frame while a hoop's frame is dragged over 100,000 stitches in Divide.
void dragHoopFrame(benchmark::State& state) {
    bench::application();
    const Library library = *loadLibrary(dataFolder(), "/nonexistent");
    Job job = bench::manyPieces(20, 5'000);
    StitchCache cache;
    const auto plan = divideIntoHoopings(job, cache, {{*library.hoop("field-300x200")}}, library);
    job = setHoopings(plan->hoopings, 0, plan->cuts).change(job);
    MainWindow window(library);
    window.resize(1280, 800);
    window.show();
    window.session().document.reset(job, {});
    window.session().setStage(Stage::divide);
    ClothView& cloth = window.cloth();
    cloth.zoomToFit();
    while (!cloth.isSettled()) {
        QApplication::processEvents();
        cloth.repaint();
    }
    const auto send = [&](QEvent::Type type, QPointF at) {
        QMouseEvent event(type, at, cloth.mapToGlobal(at),
                          type == QEvent::MouseMove ? Qt::NoButton : Qt::LeftButton, Qt::LeftButton,
                          {});
        QApplication::sendEvent(&cloth, &event);
    };
    const RingShape ring = ringOf(*library.hoop("field-300x200"));
    const QPointF from = cloth.map().toPixels(
        job.hoopings[0].frame.affine()({(ring.opening.maxX + ring.outer.maxX) / 2, 0}));
    send(QEvent::MouseButtonPress, from);
    int step = 0;
    for (auto _ : state) {
        send(QEvent::MouseMove, from + QPointF(10 + step % 40, 5 + step % 17));
        cloth.repaint();
        ++step;
    }
    QKeyEvent escape(QEvent::KeyPress, Qt::Key_Escape, {});
    QApplication::sendEvent(&cloth, &escape);
}
BENCHMARK(dragHoopFrame)->Unit(benchmark::kMillisecond);

/// The comparison: the cloth painted as it lies, nothing dragged.
void stillFrameOfCopies(benchmark::State& state) {
    CopiesWindow shown;
    for (auto _ : state) shown.window.cloth().repaint();
}
BENCHMARK(stillFrameOfCopies)->Unit(benchmark::kMillisecond);

QString fiveHundredDesigns() {
    static QTemporaryDir dir;
    static const bool written = [] {
        const StitchList list = bench::rows(2'000);
        const QByteArray text = QByteArray::fromStdString(formatStitchCsv(list));
        for (int i = 0; i < 500; ++i) {
            QFile file(dir.filePath(QString("d%1.stitch.csv").arg(i)));
            if (file.open(QIODevice::WriteOnly)) file.write(text);
        }
        return true;
    }();
    return written ? dir.path() : QString();
}

/// Argument 0: until the 500 names can be used; 1: until every picture is there the first time;
/// 2: the same out of the cache.
void shelfOfFiveHundred(benchmark::State& state) {
    bench::application();
    const QString folder = fiveHundredDesigns();
    QTemporaryDir kept;
    int run = 0;
    const auto load = [&](const QString& cache, bool all) {
        ShelfModel shelf(cache);
        shelf.setFolders({folder});
        while (shelf.rowCount() == 0 || (all && !shelf.isSettled()))
            QApplication::processEvents(QEventLoop::AllEvents, 5);
    };
    if (state.range(0) == 2) load(kept.path(), true);
    for (auto _ : state)
        load(state.range(0) == 2 ? kept.path() : kept.filePath(QString::number(++run)),
             state.range(0) > 0);
}
BENCHMARK(shelfOfFiveHundred)->DenseRange(0, 2)->UseRealTime()->Unit(benchmark::kMillisecond);

/// The comparison: the same files read from the disk and parsed, one after the other.
void parseFiveHundred(benchmark::State& state) {
    const QString folder = fiveHundredDesigns();
    for (auto _ : state) {
        QDirIterator files(folder, QDir::Files);
        while (files.hasNext())
            benchmark::DoNotOptimize(readStitchFile(files.next().toStdString()));
    }
}
BENCHMARK(parseFiveHundred)->UseRealTime()->Unit(benchmark::kMillisecond);

} // namespace
