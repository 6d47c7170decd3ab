#pragma once
// Everything that follows from the job, worked out off the interface thread.
#include "check/check.h"
#include "divide/hooping_lists.h"
#include "estimate/timing.h"
#include "library/library.h"

#include <QObject>
#include <QThreadPool>
#include <memory>
#include <optional>
#include <stop_token>

namespace rapt::app {

/// What was derived from one revision of the job. Immutable, shared between threads.
struct Derived {
    quint64 revision = 0;
    std::shared_ptr<const CheckedJob> checked; ///< null if the job cannot be judged at all
    QString problem;                           ///< then the reason
    TimeLine time;
    /// The job with its stitches kept and nothing relieved, to compare with; null if that is how it
    /// is.
    struct Before {
        StitchedJob stitched;
        LoadMap load;
    };
    std::shared_ptr<const Before> before;
    std::vector<HoopingList> hoopings; ///< empty if none are planned or they do not suit
};

/// One worker, the newest job wins: a request makes the worker drop what it is at, and late
/// results are not reported.
class Derivation : public QObject {
    Q_OBJECT
public:
    Derivation(const Library& library, QObject* parent = nullptr);
    ~Derivation() override;

    void request(const Job& job, quint64 revision);
    /// Drops what is being worked out and waits until nothing is.
    void finish();
    /// The last good result; null before the first. It may be of an earlier revision.
    std::shared_ptr<const Derived> latest() const { return result; }
    bool isBusy() const { return !result || result->revision != wanted; }

signals:
    void started();
    void ready();

private:
    std::shared_ptr<const Derived> derive(const Job& job, quint64 revision, std::stop_token stop);

    const Library& library;
    QThreadPool pool;
    std::stop_source stopper;
    quint64 wanted = 0;
    std::shared_ptr<const Derived> result;
    StitchCache cache; ///< used by the worker only
};

} // namespace rapt::app
