#include "load/remedy_proof.h"

#include "job/sewn_lock.h"

#include <algorithm>
#include <fmt/format.h>

namespace rapt {
namespace {

// So much more over a limit than before is within rounding.
constexpr double sameShare = 1.05, sameExcess = 0.3;

int rankOf(const Finding& f) {
    return f.severity == Severity::stop ? 2 : f.severity == Severity::caution ? 1 : 0;
}

bool sharesPiece(const Finding& a, const Finding& b) {
    return std::any_of(a.pieces.begin(), a.pieces.end(), [&](const std::string& id) {
        return std::find(b.pieces.begin(), b.pieces.end(), id) != b.pieces.end();
    });
}

/// Of the same kind, about the same pieces or some of them.
bool sameMatter(const Finding& a, const Finding& b) {
    return a.kind == b.kind && ((a.pieces.empty() && b.pieces.empty()) || sharesPiece(a, b));
}

bool samePieces(const Finding& a, const Finding& b) {
    return a.kind == b.kind &&
           std::is_permutation(a.pieces.begin(), a.pieces.end(), b.pieces.begin(), b.pieces.end());
}

/// No worse than it was: what lay over a limit by several causes may be told of one of them.
bool isCovered(const Finding& now, const std::vector<Finding>& before) {
    bool known = false;
    double excess = 0;
    for (const Finding& was : before) {
        if (!sameMatter(now, was)) continue;
        known = known || rankOf(was) >= rankOf(now);
        excess += was.excessTotal.value_or(0);
    }
    return known && now.excessTotal.value_or(0) <= excess * sameShare + sameExcess;
}

} // namespace

const std::vector<Finding>* RemedyProof::judgedBefore(const std::stop_token& stop) {
    if (!before)
        if (auto all = judge(job, cache, stop)) before = std::move(*all);
    return before ? &*before : nullptr;
}

bool RemedyProof::mends(const Finding& finding, const Edit& edit, const std::stop_token& stop) {
    if (!judgedBefore(stop)) return false;
    const Job changed = edit.change(job);
    if (changesSewn(job, changed)) return false;
    const auto after = judge(changed, cache, stop);
    if (!after) return false;
    const int left = rankOf(finding) == 0 ? 0 : 1;
    for (const Finding& now : *after) {
        const bool others = std::any_of(before->begin(), before->end(), [&](const Finding& b) {
            return samePieces(now, b) && !samePieces(b, finding);
        });
        if (!others && sameMatter(now, finding) && rankOf(now) >= left) return false;
        if (rankOf(now) >= 1 && !isCovered(now, *before)) return false;
    }
    return true;
}

std::optional<Remedy> RemedyProof::forAll(const std::vector<Finding>& findings,
                                          const std::stop_token& stop) {
    if (!judgedBefore(stop)) return std::nullopt;
    std::vector<Finding> left = *before;
    Job now = job;
    std::vector<Edit> edits;
    std::string labels;
    for (const Finding& f : findings) {
        const auto isLeft = [&](const Finding& l) { return sameMatter(l, f) && rankOf(l) >= 1; };
        if (rankOf(f) == 0 || std::none_of(left.begin(), left.end(), isLeft)) continue;
        if (f.remedies.empty()) return std::nullopt;
        edits.push_back(f.remedies[0].edit);
        labels += (labels.empty() ? "" : "; ") + f.remedies[0].label;
        now = edits.back().change(std::move(now));
        auto judged = judge(now, cache, stop);
        if (!judged) return std::nullopt;
        left = std::move(*judged);
    }
    const bool quiet =
        std::all_of(left.begin(), left.end(), [](const Finding& f) { return rankOf(f) == 0; });
    if (!quiet || edits.size() < 2) return std::nullopt;
    const std::string name = fmt::format("Do all {}", edits.size());
    return Remedy{RemedyKind::together, name, labels, together(name, std::move(edits))};
}

} // namespace rapt
