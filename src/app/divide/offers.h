#pragma once
// What every frame would take, worked out off the interface thread, frame after frame.

#include "app/document/session.h"
#include "divide/near_miss.h"

#include <QThreadPool>

namespace rapt::app {

/// What one frame would come to.
struct FrameOffer {
    std::string hoop;
    bool owned = false;
    std::optional<Division> division;
    QString reason; ///< why not
    double seconds = 0, stabilizerCm2 = 0;
    std::vector<JoinForecast> joins;
    std::vector<NearMiss> misses;
    bool done = false;
    bool improving = false; ///< a plan is there, and fewer clampings are still looked for
    /// Which way to find the clampings serves best here and why, and what would help most.
    QString advice;
    double worstJoinMm() const { return worstOf(joins); }
};

/// Owned frames first; each offer is announced when it is there. What a short search does not prove
/// is searched longer once every frame has an offer. A new request stops the old one. Interface
/// thread.
class FrameOffers : public QObject {
    Q_OBJECT
public:
    explicit FrameOffers(Session& session, QObject* parent = nullptr);
    ~FrameOffers() override;

    /// Starts anew unless it is about the same job, choices and library.
    void request();
    void stop();
    bool isBusy() const { return running; }
    /// True once the offers belong to the job as it is now.
    bool isCurrent() const;
    const std::vector<FrameOffer>& list() const { return offers; }

signals:
    void changed();

private:
    /// All that the offers of one round share.
    struct Round {
        int number = 0;
        std::shared_ptr<const Job> job;
        std::shared_ptr<const Library> library;
        DivideState::Choices choices;
        std::stop_token stop;
    };
    void start(const Round& round, std::size_t index, const Hoop& hoop, double seconds);
    static FrameOffer workOut(const Round& round, const Hoop& hoop, double seconds);
    static QString adviceFor(const Job& job, const DivideOptions& options, const Division& division,
                             StitchCache& cache, const Library& library, std::stop_token stop);
    void take(int round, std::size_t index, FrameOffer offer);

    Session& session;
    std::vector<FrameOffer> offers;
    std::optional<Job> about; ///< all of the job that matters
    DivideState::Choices choices;
    std::size_t hoops = 0;
    int rounds = 0;
    std::size_t open = 0;
    bool running = false;
    std::stop_source stopper;
    QThreadPool pool;
};

} // namespace rapt::app
