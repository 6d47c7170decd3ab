#include "load/remedy_proof.h"

#include "job/sewn_lock.h"

#include <algorithm>

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

/// Not worse than it was.
bool isCovered(const Finding& now, const Finding& was) {
    if (!sameMatter(now, was) || rankOf(now) > rankOf(was)) return false;
    if (now.excessTotal && was.excessTotal)
        return *now.excessTotal <= *was.excessTotal * sameShare + sameExcess;
    return true;
}

} // namespace

bool RemedyProof::mends(const Finding& finding, const Edit& edit, const std::stop_token& stop) {
    if (!judge) return true;
    if (!before) {
        auto all = judge(job, cache, stop);
        if (!all) return false;
        before = std::move(*all);
    }
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
        if (rankOf(now) >= 1 && std::none_of(before->begin(), before->end(),
                                             [&](const Finding& b) { return isCovered(now, b); }))
            return false;
    }
    return true;
}

} // namespace rapt
