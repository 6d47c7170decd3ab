#include "thread/runs.h"

#include <algorithm>

namespace rapt {

std::vector<int> runNumbers(const StitchList& list) {
    std::vector<int> numbers(list.stitches.size(), 0);
    int run = 0;
    std::size_t open = 0; // first record that belongs to no run yet
    std::uint8_t thread = 0;
    for (std::size_t i = 0; i < list.stitches.size(); ++i) {
        const Stitch& s = list.stitches[i];
        if (s.op != Op::stitch) continue;
        const bool changes = run == 0 || s.thread != thread;
        // What cuts the last thread belongs to it.
        while (run > 0 && changes && open < i && list.stitches[open].op == Op::trim)
            numbers[open++] = run;
        run += changes;
        thread = s.thread;
        while (open <= i) numbers[open++] = run;
    }
    while (open < numbers.size()) numbers[open++] = run;
    return numbers;
}

std::vector<TracedList> runsOf(const StitchList& list) {
    const std::vector<int> numbers = runNumbers(list);
    std::vector<TracedList> runs;
    const Stitch* needle = nullptr;
    bool begun = false; // the run has a stitch
    for (std::size_t i = 0; i < list.stitches.size(); ++i) {
        Stitch s = list.stitches[i];
        if (numbers[i] == 0) continue;
        if (numbers[i] > static_cast<int>(runs.size())) {
            runs.emplace_back().name = list.name;
            begun = false;
        }
        TracedList& run = runs.back();
        if (s.op == Op::stitch && !begun) {
            begun = true;
            if (const Thread* t = list.find(s.thread)) run.threads = {*t};
            const Stitch& from = needle ? *needle : s;
            run.make({from.x, from.y, Op::jump, s.thread}, NewRecord::move);
        }
        if (s.op == Op::stitch || s.op == Op::jump) needle = &list.stitches[i];
        if (s.op == Op::jump && !begun) continue;
        if (begun && !run.threads.empty()) s.thread = run.threads[0].index;
        run.keep(s, i);
    }
    return runs;
}

TracedList withoutRuns(const StitchList& list, const std::vector<int>& leftOut) {
    const std::vector<int> numbers = runNumbers(list);
    TracedList result = tracedLike(list);
    int last = 0;
    for (std::size_t i = 0; i < list.stitches.size(); ++i) {
        if (std::find(leftOut.begin(), leftOut.end(), numbers[i]) != leftOut.end()) continue;
        Stitch s = list.stitches[i];
        // Where runs went between two of them a trim and a jump lead on.
        if (last > 0 && numbers[i] > last + 1) {
            if (const Stitch& before = result.stitches.back(); before.op != Op::trim)
                result.make({before.x, before.y, Op::trim, before.thread}, NewRecord::move);
            if (s.op == Op::stitch) result.make({s.x, s.y, Op::jump, s.thread}, NewRecord::move);
        }
        last = numbers[i];
        result.keep(s, i);
    }
    result.origins.explain(list, WhyGone::leftOut);
    return withoutIdleMoves(std::move(result));
}

std::vector<int> originalRuns(const TracedList& made, const StitchList& input) {
    const std::vector<int> now = runNumbers(made), before = runNumbers(input);
    std::vector<int> original(now.empty() ? 0 : static_cast<std::size_t>(now.back()), 0);
    for (std::size_t i = 0; i < made.stitches.size(); ++i) {
        const auto from = made.origins.at(i);
        if (made.stitches[i].op != Op::stitch || !from) continue;
        int& number = original[static_cast<std::size_t>(now[i]) - 1];
        if (number == 0) number = before[*from];
    }
    return original;
}

} // namespace rapt
