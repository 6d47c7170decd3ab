#pragma once
// What a person made survives a crash: a copy of every changed job, until it is saved or closed.

#include "app/document/document.h"

#include <QLockFile>
#include <QThreadPool>
#include <QTimer>
#include <memory>
#include <vector>

namespace rapt::app {

/// A job left behind by a run that did not end well.
struct RecoveredJob {
    Job job;
    QString originalPath; ///< the file it came from; empty if it was never saved
    QString copy;         ///< file name of the copy, to be removed once it is dealt with
};

/// Writes the copy a moment after a change, at least every ten seconds while changes keep coming,
/// in the user's data folder. Each run has a copy of its own, held by a lock file, so that runs
/// side by side do not touch each other's.
class Recovery : public QObject {
    Q_OBJECT
public:
    explicit Recovery(Document& document, QObject* parent = nullptr);
    ~Recovery() override;

    /// Writes the copy now, in the background, if the job is changed; removes it if it is not.
    void writeNow();
    /// Waits until what was begun is written.
    void finish() { pool.waitForDone(); }
    /// Removes this run's copy: the job was saved or given up.
    void discard();

    /// Jobs that earlier runs left behind and that no run holds.
    static std::vector<RecoveredJob> leftBehind();
    static void remove(const RecoveredJob& recovered);
    static QString folder();

signals:
    /// The copy cannot be written: why. Said once until it can be again.
    void failed(const QString& reason);

private:
    Document& document;
    QString copyPath;
    std::unique_ptr<QLockFile> lock;
    QTimer timer;
    QElapsedTimer waiting; ///< since the first change that is in no copy yet
    bool failing = false;
    QThreadPool pool; ///< one thread: copies are written in order
};

} // namespace rapt::app
