#include "divide/sewn_hoopings.h"

#include "formats/stitch_csv.h"
#include "run/sewn.h"
#include "thread/measures.h"
#include "thread/ties.h"

#include <fmt/format.h>

namespace rapt {
namespace {

std::string memberFor(int hooping, const Job& job) {
    std::string name = fmt::format("sewn/hooping-{:02}.stitch.csv", hooping);
    for (int n = 2; job.members.contains(name); ++n)
        name = fmt::format("sewn/hooping-{:02}-{}.stitch.csv", hooping, n);
    return name;
}

void keep(Job& job, std::size_t hooping, const StitchList& list) {
    Hooping& h = job.hoopings[hooping];
    if (!h.sewnList.empty()) return;
    h.sewnList = memberFor(static_cast<int>(hooping) + 1, job);
    job.members[h.sewnList] = std::make_shared<const std::string>(formatStitchCsv(list));
}

/// What comes after so many penetrations. Thread that goes on is tied where it begins again.
StitchList rest(const StitchList& list, std::size_t sewn) {
    const Penetrations all(list);
    StitchList left = list;
    const std::size_t last = all.record(sewn - 1);
    left.stitches.assign(list.stitches.begin() + static_cast<std::ptrdiff_t>(last) + 1,
                         list.stitches.end());
    const auto goesOn = std::find_if(left.stitches.begin(), left.stitches.end(),
                                     [](const Stitch& s) { return s.op != Op::stop; });
    if (goesOn == left.stitches.end()) return left;
    if (goesOn->op == Op::trim) { // the thread was cut there
        left.stitches.erase(goesOn);
        return left;
    }
    if (goesOn->op != Op::stitch) return left;
    const Vec2 from = list.stitches[last].at();
    const auto tie = tieBefore({from, goesOn->at()});
    std::vector<Stitch> again{stitchAt(Op::jump, from, goesOn->thread)};
    for (const Vec2 p : tie) again.push_back(stitchAt(Op::stitch, p, goesOn->thread));
    again.push_back(stitchAt(Op::stitch, from, goesOn->thread));
    left.stitches.insert(goesOn, again.begin(), again.end());
    return left;
}

} // namespace

Edit markSewn(int hooping, std::size_t upTo, const HoopingList& list) {
    const std::size_t sewn = upTo >= list.stitches ? allSewn : upTo;
    return {fmt::format("Hooping {} is {}", hooping, sewn > 0 ? "sewn" : "not sewn"),
            [hooping, sewn, own = list.list](Job job) {
                const auto index = static_cast<std::size_t>(hooping - 1);
                if (hooping < 1 || index >= job.hoopings.size()) return job;
                Hooping& h = job.hoopings[index];
                h.sewn = sewn;
                if (sewn > 0) {
                    keep(job, index, own);
                } else if (!h.sewnList.empty()) {
                    job.members.erase(h.sewnList);
                    h.sewnList.clear();
                }
                return job;
            }};
}

Result<Job> withSewnListsKept(Job job, const Library& library, StitchCache& cache) {
    const auto loose = [](const Hooping& h) { return h.sewn > 0 && h.sewnList.empty(); };
    if (std::none_of(job.hoopings.begin(), job.hoopings.end(), loose)) return job;
    const auto lists = hoopingLists(job, library, &cache);
    if (!lists) return lists.error();
    for (std::size_t i = 0; i < job.hoopings.size(); ++i)
        if (loose(job.hoopings[i])) keep(job, i, (*lists)[i].list);
    return job;
}

Result<std::optional<StitchList>> keptList(const Job& job, const Hooping& hooping) {
    const auto member = job.members.find(hooping.sewnList);
    if (hooping.sewnList.empty() || member == job.members.end()) return std::optional<StitchList>();
    auto list = parseStitchCsv(*member->second, hooping.sewnList);
    if (!list) return list.error();
    return std::optional(std::move(*list));
}

bool isOpen(const Job& job, const std::vector<HoopingList>& lists, std::size_t hooping) {
    return job.hoopings[hooping].sewn < lists[hooping].stitches;
}

std::vector<HoopingList> openLists(const Job& job, std::vector<HoopingList> lists) {
    for (std::size_t i = 0; i < lists.size() && i < job.hoopings.size(); ++i) {
        const std::size_t sewn = job.hoopings[i].sewn;
        if (sewn == 0) continue;
        StitchList& list = lists[i].list;
        if (isOpen(job, lists, i))
            list = rest(list, sewn);
        else
            list.stitches.clear();
        const Measures m = measure(list);
        lists[i].stitches = m.stitches;
        lists[i].extents = m.extents;
    }
    return lists;
}

} // namespace rapt
