#include "library/practice.h"

#include "base/file_io.h"
#include "base/json_fields.h"
#include "library/records.h"

#include <cmath>
#include <filesystem>
#include <fmt/format.h>

namespace rapt {
using nlohmann::json;
namespace {

constexpr std::size_t maxBytes = 8'000'000;
constexpr std::size_t leastCases = 6;

/// Scans measure by themselves; what they find says nothing of a person's hand.
bool isByHand(const PracticeTry& t) { return t.method == "typed" || t.method == "needle"; }

} // namespace

std::size_t Practice::cases() const {
    std::size_t n = 0;
    for (const PracticeTry& t : tries)
        if (isByHand(t)) n += t.errorsMm.size();
    return n < leastCases ? 0 : n;
}

double Practice::placingSigmaMm() const {
    const std::size_t n = cases();
    if (n == 0) return defaultPlacingSigmaMm;
    double squares = 0;
    for (const PracticeTry& t : tries)
        if (isByHand(t))
            for (const double e : t.errorsMm) squares += e * e;
    return std::max(0.02, std::sqrt(squares / (2 * static_cast<double>(n))));
}

double Practice::placingSigmaMm(const std::string& method) const {
    const auto learnt = learntMm.find(method);
    return learnt == learntMm.end() ? placingSigmaMm() : learnt->second;
}

Status savePractice(const PracticeTry& attempt, const std::string& userFolder) {
    return saveRecord(
        userFolder, "practice",
        {{"id", attempt.id}, {"method", attempt.method}, {"errors_mm", attempt.errorsMm}});
}

Result<Practice> readPractice(const std::string& userFolder) {
    const std::string path = userFolder + "/practice.json";
    Practice practice;
    std::error_code ec;
    if (!std::filesystem::exists(path, ec)) return practice;
    const Result<std::string> text = readWholeFile(path, maxBytes);
    if (!text) return text.error();
    const Result<json> root = parseJson(*text, path);
    if (!root) return root.error();
    try {
        const json& list = Fields(*root, "").array("practice");
        for (std::size_t i = 0; i < list.size(); ++i) {
            const Fields f(list[i], fmt::format("practice[{}]", i));
            PracticeTry t{f.text("id"), f.text("method"), {}};
            for (const json& e : f.array("errors_mm"))
                t.errorsMm.push_back(numberOf(e, f.path("errors_mm"), 0, 1000));
            practice.tries.push_back(std::move(t));
        }
    } catch (const FieldError& e) {
        return badInput(e.reason, e.place, path);
    }
    return practice;
}

} // namespace rapt
