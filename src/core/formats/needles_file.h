#pragma once
// What is threaded on the machines of a shop: the user's needles.json.

#include "base/result.h"
#include "handover/needles.h"

#include <map>

namespace rapt {

/// By machine.
using ThreadedMachines = std::map<std::string, Needles>;

/// Reads the user's needles.json; none without the file.
Result<ThreadedMachines> readNeedles(const std::string& userFolder);

/// Keeps what is on a machine's needles.
Status saveNeedles(const std::string& machine, const Needles& needles,
                   const std::string& userFolder);

} // namespace rapt
