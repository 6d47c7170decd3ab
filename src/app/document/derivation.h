#pragma once
// Everything that follows from the job, worked out off the interface thread, in the order of its
// use. Each part is published as soon as it is there.
#include "check/check.h"
#include "estimate/timing.h"
#include "library/library.h"

#include <QObject>
#include <QThreadPool>
#include <array>
#include <memory>
#include <optional>
#include <stop_token>

namespace rapt::app {

/// The parts, in order; each depends on some of those before it.
enum class Phase { stitches, weight, findings, hoopings, comparison, remedies };
inline constexpr std::size_t phaseCount = 6;

/// How heavy the thread lies and how long it takes.
struct WeighedThread {
    LoadMap load;
    std::vector<PieceFacts> facts;
    TimeLine time;
};

/// What is known of the job. Immutable, shared between threads; parts may be of an earlier job
/// while newer ones are worked out.
struct Derived {
    std::shared_ptr<const StitchedJob> sewn; ///< null if the job cannot be stitched at all
    QString problem;                         ///< then the reason
    std::shared_ptr<const WeighedThread> weighed;
    std::shared_ptr<const std::vector<Finding>> judged; ///< all findings, the worst first
    /// What these are made of, besides that of the plan.
    std::vector<Finding> unsewable, found;
    std::shared_ptr<const PlannedLists> planned;
    /// The job with its stitches kept and nothing relieved, to compare with; null if that is how it
    /// is, or nobody compares.
    struct Before {
        StitchedJob stitched;
        LoadMap load;
    };
    std::shared_ptr<const Before> before;

    /// True once there is something of each; only then may the rest be asked for.
    bool isWhole() const { return sewn && weighed && judged && planned; }
    const StitchedJob& stitched() const { return *sewn; }
    const LoadMap& load() const { return weighed->load; }
    const std::vector<PieceFacts>& facts() const { return weighed->facts; }
    const TimeLine& time() const { return weighed->time; }
    const std::vector<Finding>& findings() const { return *judged; }
    /// Empty if none are planned or they do not suit.
    const std::vector<HoopingList>& hoopings() const { return planned->lists; }
};

/// One worker. A request stops only the part that is being worked out from something that changed;
/// parts whose input is the same are kept.
class Derivation : public QObject {
    Q_OBJECT
public:
    explicit Derivation(QObject* parent = nullptr);
    ~Derivation() override;

    void request(const Job& job, std::shared_ptr<const Library> library);
    /// The comparison is worked out only while somebody looks at it.
    void setComparing(bool on);
    /// Remedies of this finding are looked for before those of the others.
    void seekFirst(const Finding& finding);
    using Place = std::pair<std::string, std::optional<Vec2>>; ///< kind and place of a finding

    /// What is known; null before the first part is there.
    std::shared_ptr<const Derived> latest() const { return result; }
    /// True while a part is missing or of an earlier request; remedies do not count.
    bool isBusy() const;
    /// True while remedies are being looked for, too.
    bool isSeeking() const;

signals:
    void started();
    void ready(Phase phase);

private:
    /// All that a part is made from.
    struct Input {
        Job job;
        std::shared_ptr<const Library> library;
        friend bool operator==(const Input&, const Input&) = default;
    };
    struct RemedyWork;
    using Publish = std::function<void(Derived&)>;

    static Input inputOf(Phase phase, const Input& all);
    struct Task {
        Phase phase;
        Input input;
        Derived known; ///< what was there when it began
        Place first;   ///< the finding to begin with
        std::stop_token stop;
    };
    Publish work(const Task& task);
    static Publish refuse(const Error& error);
    Publish sew(const Input& input, std::stop_token stop);
    Publish weigh(const Input& input, const Derived& known, std::stop_token stop);
    Publish judge(const Input& input, const Derived& known, std::stop_token stop);
    Publish plan(const Input& input, std::stop_token stop);
    Publish compare(const Input& input, std::stop_token stop);
    Publish seek(const Input& input, const Derived& known, const Place& first,
                 std::stop_token stop);
    bool isWanted(Phase phase) const;
    bool isDone(Phase phase) const;
    std::optional<Phase> next() const;
    void startNext();
    void finished(Phase phase, const Input& input, const Publish& publish);

    std::optional<Input> wanted;
    std::array<std::optional<Input>, phaseCount> done;
    std::optional<Phase> running;
    Input runningOn;
    bool comparing = false;
    Place preferred;
    bool stitchedAnew = false; ///< since the cache was last pruned
    std::stop_source stopper;
    QThreadPool pool;
    std::shared_ptr<const Derived> result;
    StitchCache cache;                  ///< used by the worker only
    std::unique_ptr<RemedyWork> remedy; ///< the same; made anew for new findings
};

} // namespace rapt::app
