#include "app/document/document.h"

#include "formats/job_file.h"
#include "job/sewn_lock.h"

#include <QEventLoop>
#include <QFutureWatcher>
#include <QtConcurrent>

namespace rapt::app {
namespace {

constexpr std::size_t nowhere = static_cast<std::size_t>(-1);

/// A job with scans is large: it is written off the interface thread, which goes on painting but
/// takes no input until the file is whole.
Status writeAside(const std::string& path, const Job& job) {
    QFutureWatcher<std::shared_ptr<const Status>> watcher;
    QEventLoop loop;
    QObject::connect(&watcher, &QFutureWatcherBase::finished, &loop, &QEventLoop::quit);
    watcher.setFuture(QtConcurrent::run(
        [path, job] { return std::make_shared<const Status>(writeJobFile(path, job)); }));
    loop.exec(QEventLoop::ExcludeUserInputEvents);
    return *watcher.result();
}

} // namespace

void Document::apply(const Edit& edit, const QString& mergeKey) {
    Job next = edit.change(job());
    if (next == job()) return;
    if (const auto why = changesSewn(job(), next)) {
        emit refused(QString::fromStdString(why->reason), QString::fromStdString(why->place));
        return;
    }
    const bool merge = !mergeKey.isEmpty() && mergeKey == lastMergeKey && position > 0 &&
                       position + 1 == history.size() && position != savedPosition;
    lastMergeKey = mergeKey;
    if (merge) {
        history[position].job = std::move(next);
    } else {
        if (savedPosition != nowhere && savedPosition > position) savedPosition = nowhere;
        history.resize(position + 1);
        history.push_back({QString::fromStdString(edit.name), std::move(next)});
        ++position;
    }
    ++changes;
    emit changed();
    emit fileChanged();
}

void Document::moveTo(std::size_t to) {
    position = to;
    lastMergeKey.clear();
    ++changes;
    emit changed();
    emit fileChanged();
}

void Document::undo() {
    if (canUndo()) moveTo(position - 1);
}

void Document::redo() {
    if (canRedo()) moveTo(position + 1);
}

void Document::reset(Job job, const QString& path) {
    if (job.identity.text.empty()) job.identity = newIdentity();
    history.clear();
    history.push_back({QString(), std::move(job)});
    ++jobsOpened;
    filePath = path;
    savedPosition = 0;
    moveTo(0);
}

void Document::resetRecovered(Job job, const QString& path) {
    reset(std::move(job), path);
    savedPosition = nowhere;
    emit fileChanged();
}

Status Document::open(const QString& path) {
    Result<DesignOrJob> input = readDesignOrJob(path.toStdString());
    if (!input) return input.error();
    if (input->job) {
        reset(std::move(*input->job), path);
    } else {
        reset(jobOfDesign(*input->design, "designs/design.stitch.csv"), {});
    }
    return done();
}

Status Document::saveTo(const QString& path) {
    const Job asItWas = job();
    const std::size_t at = position;
    const Status wrote = writeAside(path.toStdString(), written());
    if (!wrote) return wrote;
    filePath = path;
    savedPosition = at < history.size() && history[at].job == asItWas ? at : nowhere;
    lastMergeKey.clear();
    emit fileChanged();
    return wrote;
}

} // namespace rapt::app
