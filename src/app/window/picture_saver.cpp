#include "app/window/picture_saver.h"

#include "app/kit/questions.h"

#include "base/file_io.h"
#include "picture/stitch_picture.h"
#include "thread/measures.h"

#include <algorithm>

namespace rapt::app {
namespace {

struct Format {
    const char *title, *filter, *ending;
};
Format formatOf(PictureSaver::Kind kind) {
    switch (kind) {
    case PictureSaver::Kind::thread:
        return {"Thread as a picture", "Pictures (*.png)", ".png"};
    case PictureSaver::Kind::lines:
        return {"Thread as lines", "Drawings (*.svg)", ".svg"};
    case PictureSaver::Kind::shapes:
        return {"Shapes as a drawing", "Drawings (*.svg)", ".svg"};
    case PictureSaver::Kind::film:
        break;
    }
    return {"A film of the sewing", "Films (*.png *.apng)", ".apng"};
}

/// So many pixels a millimetre, fewer where the picture would be longer than that.
PictureOptions optionsFor(const Job& job, const StitchList& list, double pxPerMm, double mostPx) {
    PictureOptions options;
    options.ground = job.cloth.color;
    const Box box = extentsOf(list).grown(options.marginMm);
    options.pxPerMm = std::min(pxPerMm, mostPx / std::max({box.width(), box.height(), 1.0}));
    return options;
}

Result<std::string> drawn(PictureSaver::Kind kind, const Job& job) {
    if (kind == PictureSaver::Kind::shapes) return shapesSvg(job);
    const auto stitched = stitchJob(job);
    if (!stitched) return stitched.error();
    const StitchList& list = stitched->list;
    if (kind == PictureSaver::Kind::lines) return threadSvg(list);
    if (kind == PictureSaver::Kind::thread) return threadPng(list, optionsFor(job, list, 12, 8000));
    return stitchFilm(list, {optionsFor(job, list, 8, 1200)});
}

} // namespace

PictureSaver::PictureSaver(Session& s, QWidget* w) : QObject(w), session(s), window(w) {}

void PictureSaver::save(Kind kind) {
    const Format format = formatOf(kind);
    const QString job = QString::fromStdString(session.job().name);
    const QString name =
        askSaveName(window, tr(format.title), job + format.ending, tr(format.filter));
    if (name.isEmpty()) return;
    auto* errand = new Errands([](const Address&) { return true; });
    errand->setParent(this);
    errand->ask(
        {},
        [kind, copy = session.job(), path = name.toStdString()](std::stop_token) -> Status {
            const auto bytes = drawn(kind, copy);
            return bytes ? writeWholeFile(path, *bytes) : Status(bytes.error());
        },
        [this, errand, title = tr(format.title)](const Status& written) {
            if (!written) emit failed(title, written.error());
            errand->deleteLater();
        });
}

} // namespace rapt::app
