#include "app/document/recovery.h"

#include "base/file_io.h"
#include "base/paths.h"
#include "formats/job_file.h"

#include <QDir>
#include <QFile>
#include <QUuid>

namespace rapt::app {
namespace {

constexpr int pauseMs = 1500, longestWaitMs = 8000;

QString pathNoteOf(const QString& copy) { return copy + ".path"; }
QString lockOf(const QString& copy) { return copy + ".lock"; }

} // namespace

QString Recovery::folder() { return QString::fromStdString(userDataFolder()) + "/recovery"; }

Recovery::Recovery(Document& d, QObject* parent) : QObject(parent), document(d) {
    QDir().mkpath(folder());
    copyPath = folder() + "/" + QUuid::createUuid().toString(QUuid::WithoutBraces) + ".rapt";
    lock = std::make_unique<QLockFile>(lockOf(copyPath));
    lock->setStaleLockTime(0);
    lock->tryLock(0);
    pool.setMaxThreadCount(1);
    timer.setSingleShot(true);
    timer.setInterval(pauseMs);
    connect(&timer, &QTimer::timeout, this, &Recovery::writeNow);
    connect(&document, &Document::fileChanged, this, [this] {
        if (!waiting.isValid()) waiting.start();
        timer.start(
            std::clamp<int>(static_cast<int>(longestWaitMs - waiting.elapsed()), 0, pauseMs));
    });
}

Recovery::~Recovery() { discard(); }

void Recovery::writeNow() {
    timer.stop();
    waiting.invalidate();
    pool.start([this, copy = copyPath, changed = document.isChanged(),
                path = QFileInfo(document.path()).absoluteFilePath().toStdString(),
                isNew = document.path().isEmpty(), job = document.written()] {
        if (!changed) {
            QFile::remove(copy);
            QFile::remove(pathNoteOf(copy));
            return;
        }
        // The note goes first: a copy without its note would lose the file's name.
        Status wrote = writeWholeFile(pathNoteOf(copy).toStdString(), isNew ? "" : path);
        if (wrote) wrote = writeJobFile(copy.toStdString(), job);
        QMetaObject::invokeMethod(this, [this, wrote] {
            if (!wrote && !failing) emit failed(QString::fromStdString(wrote.error().line()));
            failing = !wrote;
        });
    });
}

void Recovery::discard() {
    timer.stop();
    finish();
    QFile::remove(copyPath);
    QFile::remove(pathNoteOf(copyPath));
}

std::vector<RecoveredJob> Recovery::leftBehind() {
    std::vector<RecoveredJob> found;
    const QDir dir(folder());
    for (const QString& name : dir.entryList({"*.rapt"}, QDir::Files, QDir::Time)) {
        const QString copy = dir.filePath(name);
        QLockFile holder(lockOf(copy));
        holder.setStaleLockTime(0);
        if (!holder.tryLock(0)) continue; // its run is still alive
        Result<Job> job = readJobFile(copy.toStdString());
        if (!job) continue;
        QFile note(pathNoteOf(copy));
        const QString path =
            note.open(QIODevice::ReadOnly) ? QString::fromUtf8(note.readAll()) : QString();
        found.push_back({std::move(*job), path, copy});
    }
    return found;
}

void Recovery::remove(const RecoveredJob& recovered) {
    QFile::remove(recovered.copy);
    QFile::remove(pathNoteOf(recovered.copy));
}

} // namespace rapt::app
