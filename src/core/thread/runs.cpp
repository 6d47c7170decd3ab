#include "thread/runs.h"

#include <algorithm>

namespace rapt {

std::vector<StitchList> runsOf(const StitchList& list) {
    std::vector<StitchList> runs;
    Stitch needle;
    for (const Stitch& s : list.stitches) {
        if (s.op == Op::stitch && (runs.empty() || runs.back().threads[0].index != s.thread)) {
            runs.emplace_back();
            runs.back().name = list.name;
            if (const Thread* t = list.find(s.thread)) runs.back().threads = {*t};
            Stitch jump = needle;
            jump.op = Op::jump;
            jump.thread = s.thread;
            if (jump.x != 0 || jump.y != 0) runs.back().stitches.push_back(jump);
        }
        if (s.op == Op::stitch || s.op == Op::jump) needle = s;
        // What stands at a change of thread belongs to neither run.
        if (!runs.empty() && runs.back().threads[0].index == s.thread)
            runs.back().stitches.push_back(s);
    }
    return runs;
}

StitchList withoutRuns(const StitchList& list, const std::vector<int>& leftOut) {
    StitchList result = list;
    result.stitches.clear();
    int number = 0;
    for (const StitchList& run : runsOf(list)) {
        if (std::find(leftOut.begin(), leftOut.end(), ++number) != leftOut.end()) continue;
        auto& stitches = result.stitches;
        if (!stitches.empty() && stitches.back().op != Op::trim) {
            Stitch trim = stitches.back();
            trim.op = Op::trim;
            stitches.push_back(trim);
        }
        if (!stitches.empty() && !run.stitches.empty() && run.stitches[0].op != Op::jump) {
            Stitch jump = run.stitches[0];
            jump.op = Op::jump;
            stitches.push_back(jump);
        }
        stitches.insert(stitches.end(), run.stitches.begin(), run.stitches.end());
    }
    return result;
}

} // namespace rapt
