#pragma once
// The simulated machine behind its socket: what it stores, what it is asked, what it does
// (docs/machine-protocol.md). No clock and no socket of its own.

#include "standins/sewing_head.h"

#include <map>
#include <nlohmann/json_fwd.hpp>

namespace rapt::standins {

/// How a machine is set up.
struct MachineSetup {
    Machine machine;
    Library library; ///< frames and fabrics
    Faults faults = Faults::none;
    std::uint64_t seed = 1;
};

class SimulatedMachine {
public:
    explicit SimulatedMachine(MachineSetup setup);
    ~SimulatedMachine();

    /// One request; gives the reply. `id` of the request is given back.
    nlohmann::json answer(const nlohmann::json& request);
    /// Time goes on. Gives what is told to everyone who is connected.
    std::vector<nlohmann::json> tick(double seconds);

private:
    struct Design;
    struct State;
    std::unique_ptr<State> state;
};

} // namespace rapt::standins
