#pragma once
// How well this person finds cloth that was misplaced unseen: what practice showed.

#include "base/result.h"

#include <map>
#include <string>
#include <vector>

namespace rapt {

inline constexpr double defaultPlacingSigmaMm = 0.3; ///< of a point placed by hand, each axis

/// One try: the cloth lay somewhere, the person said where.
struct PracticeTry {
    std::string id;               ///< when, as ISO 8601
    std::string method;           ///< how: typed, needle, card, line, …
    std::vector<double> errorsMm; ///< from the true place, radial, at each place that was revealed
    friend bool operator==(const PracticeTry&, const PracticeTry&) = default;
};

struct Practice {
    std::vector<PracticeTry> tries;

    std::map<std::string, double> learntMm; ///< by method, from measured joins (library/learnt.h)

    /// σ per axis of the points that this person placed or measured by hand; 0.3 mm until there are
    /// six (docs/measures.md).
    double placingSigmaMm() const;
    /// What measured joins taught of a method (divide/forecast.h); else as above.
    double placingSigmaMm(const std::string& method) const;
    /// How many places that is from; 0 while the starting value is used.
    std::size_t cases() const;
    friend bool operator==(const Practice&, const Practice&) = default;
};

/// Adds the try to the user's practice.json.
Status savePractice(const PracticeTry& attempt, const std::string& userFolder);

/// Reads the user's practice.json; none without the file.
Result<Practice> readPractice(const std::string& userFolder);

} // namespace rapt
