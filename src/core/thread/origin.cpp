#include "thread/origin.h"

#include <fmt/format.h>

namespace rapt {

void Origins::explain(const StitchList& input, WhyGone why) {
    if (gone.empty()) gone.assign(input.stitches.size(), WhyGone::no);
    std::vector<bool> here(input.stitches.size(), false);
    for (const std::uint32_t o : of)
        if (o < firstMade) here[o] = true;
    for (std::size_t i = 0; i < here.size(); ++i)
        if (!here[i] && gone[i] == WhyGone::no && input.stitches[i].op == Op::stitch) gone[i] = why;
}

Origins Origins::after(const Origins& earlier) const {
    Origins result;
    result.of.reserve(of.size());
    for (const std::uint32_t o : of) result.of.push_back(o < firstMade ? earlier.of[o] : o);
    result.gone = earlier.gone;
    for (std::size_t i = 0; i < gone.size(); ++i) {
        if (gone[i] == WhyGone::no || earlier.of[i] >= firstMade) continue;
        const std::size_t first = earlier.of[i];
        if (result.gone.size() <= first) result.gone.resize(first + 1, WhyGone::no);
        result.gone[first] = gone[i];
    }
    return result;
}

void TracedList::append(const TracedList& other) {
    for (std::size_t i = 0; i < other.stitches.size(); ++i) {
        stitches.push_back(other.stitches[i]);
        origins.copy(other.origins, i);
    }
}

TracedList tracedLike(const StitchList& input) {
    TracedList result;
    result.name = input.name;
    result.threads = input.threads;
    result.remarks = input.remarks;
    return result;
}

TracedList tracedWhole(StitchList list) {
    TracedList result;
    static_cast<StitchList&>(result) = std::move(list);
    for (std::size_t i = 0; i < result.stitches.size(); ++i) result.origins.keep(i);
    return result;
}

std::optional<std::string> brokenAccount(const StitchList& input,
                                         const std::vector<const TracedList*>& parts) {
    std::vector<std::uint8_t> times(input.stitches.size(), 0);
    for (const TracedList* part : parts) {
        if (part->origins.size() != part->stitches.size())
            return fmt::format("{} records, but {} origins", part->stitches.size(),
                               part->origins.size());
        for (std::size_t i = 0; i < part->stitches.size(); ++i) {
            const Stitch& s = part->stitches[i];
            const auto from = part->origins.at(i);
            if (s.op != Op::stitch || !from) continue;
            if (*from >= input.stitches.size() || input.stitches[*from] != s)
                return fmt::format("stitch {} is not the one that it is said to be", i);
            if (++times[*from] > 1) return fmt::format("stitch {} is sewn twice", *from);
        }
    }
    for (std::size_t i = 0; i < times.size(); ++i) {
        if (input.stitches[i].op != Op::stitch || times[i] > 0) continue;
        const bool said = std::any_of(parts.begin(), parts.end(), [&](const TracedList* part) {
            const WhyGone why = part->origins.goneAt(i);
            return why != WhyGone::no && why != WhyGone::otherPart;
        });
        if (!said)
            return fmt::format("stitch {} at {:.2f}, {:.2f} is lost", i, input.stitches[i].at().x,
                               input.stitches[i].at().y);
    }
    return std::nullopt;
}

TracedList withoutIdleMoves(TracedList list) {
    TracedList result = tracedLike(list);
    result.origins.inheritGone(list.origins);
    const auto add = [&](const Stitch& s, std::size_t i) {
        result.stitches.push_back(s);
        result.origins.copy(list.origins, i);
    };
    const auto begin = std::find_if(list.stitches.begin(), list.stitches.end(),
                                    [](const Stitch& s) { return s.op == Op::stitch; });
    if (begin == list.stitches.end()) return result;
    Stitch needle = *begin; // what waits before anything is sewn waits where that will begin
    std::optional<std::size_t> jump;
    bool sewn = false, cut = false;
    for (std::size_t i = 0; i < list.stitches.size(); ++i) {
        Stitch s = list.stitches[i];
        switch (s.op) {
        case Op::jump:
            jump = i;
            break;
        case Op::trim:
        case Op::stop:
            s.x = needle.x;
            s.y = needle.y;
            if (s.op == Op::stop || (sewn && !cut)) add(s, i);
            cut = cut || s.op == Op::trim;
            break;
        case Op::stitch:
            if (jump) add(list.stitches[*jump], *jump);
            jump.reset();
            sewn = true;
            cut = false;
            needle = s;
            add(s, i);
            break;
        }
    }
    return result;
}

} // namespace rapt
