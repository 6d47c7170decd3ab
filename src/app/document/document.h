#pragma once
// The job that is open, its history, and its file. The only door for edits.

#include "base/result.h"
#include "job/edit.h"

#include <QObject>
#include <QString>
#include <vector>

namespace rapt::app {

/// Lives on the interface thread. Values handed out stay valid until the next change.
class Document : public QObject {
    Q_OBJECT
public:
    explicit Document(QObject* parent = nullptr) : QObject(parent) {}

    const Job& job() const { return history[position].job; }
    /// Grows with every change, also by undo and redo.
    quint64 revision() const { return changes; }
    /// Grows whenever another job takes the place of this one.
    quint64 opened() const { return jobsOpened; }

    /// Makes an undo entry named after the edit. An edit that changes nothing is dropped, one that
    /// changes what is sewn is refused. Edits
    /// with the same non-empty `mergeKey` in a row become one entry (a burst of arrow keys).
    void apply(const Edit& edit, const QString& mergeKey = {});
    /// Ends a burst: the next edit starts an entry of its own.
    void endMerge() { lastMergeKey.clear(); }

    bool canUndo() const { return position > 0; }
    bool canRedo() const { return position + 1 < history.size(); }
    QString undoName() const { return canUndo() ? history[position].name : QString(); }
    QString redoName() const { return canRedo() ? history[position + 1].name : QString(); }
    void undo();
    void redo();

    /// Starts afresh with a job that came from `path` (empty: not saved yet).
    void reset(Job job, const QString& path);
    /// Opens a job, or a design as a new job. The job stays as it is if that fails.
    Status open(const QString& path);
    /// Writes it. What is edited meanwhile is not in the file and is not taken for saved.
    Status saveTo(const QString& path);
    /// What is written in the job's place, and kept for recovery: the job without what is only
    /// there for a while.
    void setWritten(std::function<Job(const Job&)> of) { writtenOf = std::move(of); }
    Job written() const { return writtenOf ? writtenOf(job()) : job(); }
    /// A recovered job: it differs from its file, if it has one.
    void resetRecovered(Job job, const QString& path);

    const QString& path() const { return filePath; }
    bool isChanged() const { return position != savedPosition; }

signals:
    void changed();
    /// An edit would have changed what is sewn; nothing was done. `piece` may be empty.
    void refused(const QString& reason, const QString& piece);
    /// The file, its name, or whether it is saved changed.
    void fileChanged();

private:
    struct Entry {
        QString name; ///< of the edit that led here
        Job job;
    };
    void moveTo(std::size_t to);

    std::vector<Entry> history{{QString(), Job{}}};
    std::size_t position = 0;
    /// Where the saved job stands in the history; past its end if it is in none.
    std::size_t savedPosition = 0;
    quint64 changes = 0, jobsOpened = 0;
    QString filePath;
    QString lastMergeKey;
    std::function<Job(const Job&)> writtenOf;
};

} // namespace rapt::app
