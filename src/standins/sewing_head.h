#pragma once
// The head of the simulated machine: sews one list stitch by stitch in its own time, and what can
// go wrong goes wrong. The same seed and the same calls give the same run.

#include "estimate/work.h"
#include "load/load_map.h"
#include "run/sewn.h"

#include <limits>
#include <memory>
#include <random>

namespace rapt::standins {

/// How much goes wrong.
enum class Faults { none, some, many };

/// What one list is sewn with.
struct SewingSetup {
    std::shared_ptr<const StitchList> list;
    Machine machine;
    Fabric fabric;
    std::array<std::size_t, 256> threadOf{}; ///< of the job, by the list's numbers
    std::optional<std::size_t> threadBefore; ///< of the job, sewn last
    Faults faults = Faults::none;
    std::uint64_t seed = 0;
};

/// One penetration.
struct SewnStitch {
    double seconds = 0;     ///< of the head's own time
    std::size_t number = 0; ///< of the penetration, from 0
};

class SewingHead {
public:
    explicit SewingHead(SewingSetup setup);

    const StitchList& list() const { return *setup.list; }
    const Penetrations& penetrations() const { return points; }
    /// Penetrations that are done for good.
    std::size_t sewn() const { return done; }
    bool isDone() const { return done == points.count(); }
    double seconds() const { return now; }

    /// Sews for so many seconds at most, adding every penetration to `log`. Gives the reason if it
    /// stopped; ends early when the list is done, or so many penetrations are.
    std::optional<StopKind> advance(double seconds, std::vector<SewnStitch>& log,
                                    std::size_t until = std::numeric_limits<std::size_t>::max());
    /// Goes on with that penetration (from 0).
    void goTo(std::size_t penetration);
    /// What a person's hands take; the head's clock goes on.
    void wait(double seconds) { now = stand = now + seconds; }
    /// A full bobbin is in.
    void fillBobbin();
    /// The next penetration is followed by this.
    void provoke(StopKind kind) { provoked = kind; }
    /// The thread of the job that is on now.
    std::optional<std::size_t> threadOn() const { return onThread; }

private:
    double dueSeconds(std::size_t penetration) const;
    std::optional<StopKind> chance(std::size_t penetration);
    double strain(Vec2 at) const;

    SewingSetup setup;
    Penetrations points;
    std::optional<LoadMap> load; ///< only where something may go wrong
    std::mt19937_64 dice;
    std::size_t done = 0;
    std::optional<std::size_t> onThread;
    bool jumped = true; ///< the needle was moved without sewing
    double now = 0;     ///< how far the clock has been let run
    double stand = 0;   ///< when the last stitch ended
    double bobbinMm = 0;
    std::optional<StopKind> provoked;
};

/// Seconds that a person's hands take after a stop (docs/measures.md, "The simulated machine").
double mendingSeconds(StopKind kind, const Machine& machine);

/// `none`, `some` or `many`; false for anything else.
bool parseFaults(const std::string& name, Faults& faults);

} // namespace rapt::standins
