#pragma once
// What a shop learnt from its own stitch-outs and accepted: learnt.json in the user's folder, laid
// over the library.

#include "base/result.h"

#include <optional>
#include <string>
#include <vector>

namespace rapt {

struct Library;
struct Fabric;
struct ShopRates;

/// A value that took the place of another, or was refused.
struct LearntValue {
    /// layers or hits (of a fabric), draw-in (of a fabric, mm), placing (by a method, mm per axis),
    /// time (of a machine, a factor), setup (of the shop, minutes)
    std::string kind;
    std::string subject; ///< id of the fabric or machine, or the method; empty for the shop
    double value = 0;
    double before = 0;        ///< the value that it stands for
    int cases = 0;            ///< stitch-outs, or gaps
    double low = 0, high = 0; ///< interval of the value
    std::string date{};
    bool refused = false;
    friend bool operator==(const LearntValue&, const LearntValue&) = default;
};

/// Reads learnt.json; none without the file.
Result<std::vector<LearntValue>> readLearnt(const std::string& userFolder);
/// Adds it, in place of one of the same kind and subject. Whole or not at all.
Status saveLearnt(const LearntValue& value, const std::string& userFolder);
/// Takes it away, so that the value before counts again.
Status dropLearnt(const std::string& kind, const std::string& subject,
                  const std::string& userFolder);

/// The one of that kind and subject, or null.
const LearntValue* findLearnt(const std::vector<LearntValue>& values, const std::string& kind,
                              const std::string& subject);

/// Accepted values in their places.
void applyLearnt(const std::vector<LearntValue>& values, Library& library);
void applyLearnt(const std::vector<LearntValue>& values, ShopRates& shop);

/// Before a person's own values are kept: learnt ones that were left alone go back to what they
/// stand for, those that were changed by hand are forgotten.
Status settleLearnt(Fabric& fabric, const std::string& userFolder);
Status settleLearnt(ShopRates& shop, const std::string& userFolder);

} // namespace rapt
