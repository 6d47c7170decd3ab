#include "app/ledger/new_record.h"

#include "app/raster/thread_raster.h"
#include "app/stitchout/sewing_state.h"
#include "base/file_io.h"
#include "base/paths.h"
#include "check/check.h"
#include "formats/job_file.h"
#include "formats/run_journal.h"
#include "record/describe.h"

#include <QBuffer>
#include <QDate>
#include <QImageReader>
#include <QPainter>
#include <QSysInfo>
#include <QUuid>

namespace rapt::app {
namespace {

constexpr QSize pictureSize(360, 270);
constexpr std::size_t mostPhotoBytes = 64'000'000;

QByteArray pngOf(const QImage& image) {
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    image.save(&buffer, "PNG");
    return bytes;
}

/// What the journals tell of the runs of its hoopings.
std::vector<RunRecord> runsOf(const Handing& h) {
    std::vector<RunRecord> runs;
    for (const auto& task : h.tasks)
        if (auto run = readRunJournal(userDataFolder() + "/runs", task->mark); run && *run)
            runs.push_back(std::move(**run));
    return runs;
}

/// Who keeps it, and when.
void stamp(StitchOut& record) {
    record.uid = QUuid::createUuid().toString(QUuid::WithoutBraces).toStdString();
    record.date = QDate::currentDate().toString(Qt::ISODate).toStdString();
    record.bench = QSysInfo::machineHostName().toStdString();
}

/// A picture's bytes, shrunk if that is wanted.
Result<QByteArray> photoBytes(const QString& path, int mostPixels) {
    const std::string name = path.toStdString();
    if (mostPixels <= 0) {
        const auto bytes = readWholeFile(name, mostPhotoBytes);
        if (!bytes) return bytes.error();
        const QByteArray photo = QByteArray::fromStdString(*bytes);
        if (QImage::fromData(photo).isNull()) return badInput("is no picture", {}, name);
        return photo;
    }
    QImageReader reader(path);
    reader.setAutoTransform(true);
    QImage image = reader.read();
    if (image.isNull()) return badInput(reader.errorString().toStdString(), {}, name);
    if (std::max(image.width(), image.height()) > mostPixels)
        image = image.scaled(mostPixels, mostPixels, Qt::KeepAspectRatio, Qt::SmoothTransformation);
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    image.save(&buffer, "JPEG", 85);
    return bytes;
}

void forgetFinishedRuns(const Handing& h) {
    const std::string folder = userDataFolder() + "/runs";
    for (const auto& task : h.tasks)
        if (const auto run = readRunJournal(folder, task->mark); run && *run && (*run)->finished)
            removeRunJournal(folder, task->mark);
}

} // namespace

JobSewn jobSewn(Session& session) {
    JobSewn sewn{session.job(), session.sharedLibrary(), nullptr};
    if (const auto* handing = session.handing(); handing && *handing) sewn.handing = **handing;
    return sewn;
}

Result<FilledRecord> fillRecord(const JobSewn& sewn) {
    const auto shop = loadShop(dataFolder(), userDataFolder());
    if (!shop) return shop.error();
    const auto machine = sewn.library->machine(sewn.job.brief.machine);
    if (!machine) return machine.error();
    const auto fabric = sewn.library->fabric(sewn.job.brief.fabric);
    if (!fabric) return fabric.error();
    static const std::vector<HoopingList> none;
    const auto& lists = sewn.handing ? sewn.handing->lists : none;
    StitchCache cache;
    auto record =
        describeStitchOut({sewn.job, lists, *machine, *fabric, *sewn.library, *shop}, cache);
    if (!record) return record.error();
    if (sewn.handing) addRuns(*record, runsOf(*sewn.handing), lists);
    stamp(*record);
    const auto packed = packJob(sewn.job);
    if (!packed) return packed.error();
    FilledRecord filled{std::move(*record), {}};
    filled.files = {ledgerFile("job", QByteArray::fromStdString(*packed)),
                    ledgerFile("picture", pngOf(jobPicture(sewn.job, pictureSize)))};
    filled.record.jobFile = filled.files[0].hash.toStdString();
    filled.record.picture = filled.files[1].hash.toStdString();
    return filled;
}

QImage jobPicture(const Job& job, QSize most) {
    const Box box = job.cloth.box();
    StitchCache cache;
    const auto sewable = stitchWhatCan(job, cache);
    const double scale = std::min(most.width() / std::max(1.0, box.width()),
                                  most.height() / std::max(1.0, box.height()));
    const Rgb c = job.cloth.color;
    QImage image(std::max(1, static_cast<int>(box.width() * scale)),
                 std::max(1, static_cast<int>(box.height() * scale)), QImage::Format_RGB32);
    image.fill(QColor(c.r, c.g, c.b));
    if (sewable) {
        const QImage thread = drawThread(StitchIndex(sewable->stitched.list), box, scale);
        QPainter(&image).drawImage(0, 0, thread);
    }
    image.setText(mmPerPixelKey, QString::number(1 / scale, 'g', 9));
    return image;
}

Status addPhoto(const QString& path, int mostPixels, StitchOut& record,
                std::vector<LedgerFile>& files) {
    if (path.isEmpty()) return done();
    const auto bytes = photoBytes(path, mostPixels);
    if (!bytes) return bytes.error();
    files.push_back(ledgerFile("photo", *bytes));
    record.photo = files.back().hash.toStdString();
    return done();
}

Result<std::optional<qint64>> keepRecord(SharedLedger& ledger, const JobSewn& sewn,
                                         Result<FilledRecord> filled, const Said& said) {
    FilledRecord full;
    if (filled) {
        full = std::move(*filled);
    } else {
        stamp(full.record);
        full.record.job = sewn.job.name;
        full.record.jobId = sewn.job.identity.text;
        full.record.fabric = sewn.job.brief.fabric;
    }
    StitchOut& r = full.record;
    const StitchOut& s = said.record;
    r.outcome = s.outcome;
    r.cause = s.cause;
    r.note = s.note;
    r.customer = s.customer;
    r.gapsMm = s.gapsMm;
    r.labourMinutes = s.labourMinutes;
    r.spotX = s.spotX;
    r.spotY = s.spotY;
    if (!filled) r.note += (r.note.empty() ? "" : "; ") + filled.error().line();
    if (const Status added = addPhoto(said.photo, said.photoPixels, r, full.files); !added)
        return added.error();
    auto kept = ledger.add(r, full.files);
    if (kept && sewn.handing) forgetFinishedRuns(*sewn.handing);
    return kept;
}

} // namespace rapt::app
