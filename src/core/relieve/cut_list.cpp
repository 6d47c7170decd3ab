#include "relieve/cut_list.h"

#include "relieve/cut_rows.h"
#include "relieve/tie_cuts.h"

namespace rapt {
namespace {

// Thread may go on over the cloth for so far without a cut.
constexpr double nearMm = 1.5;

/// Writes fragments of one chain: sewn on where they touch, else tied, cut and begun anew.
class FragmentWriter {
public:
    FragmentWriter(StitchList& l, const Region& r, std::uint8_t t)
        : list(l), removed(r), thread(t) {}

    void add(Fragment f) {
        if (f.points.size() < 2 && !(f.startsChain && f.endsChain)) return;
        if (open && reachable(f.points.front())) {
            const bool same = list.stitches.back() == stitchAt(Op::stitch, f.points[0], thread);
            for (std::size_t i = same ? 1 : 0; i < f.points.size(); ++i) push(f.points[i]);
        } else {
            close();
            begin(f);
            for (const Vec2& p : f.points) push(p);
        }
        last = std::move(f);
        open = true;
    }

    /// Ties the end of the last fragment if it was cut there.
    void close() {
        if (!open || last.endsChain) return;
        const Vec2 end = last.points.back();
        const Vec2 back = tiePoint(end, last.points[last.points.size() - 2]);
        for (const Vec2 p : {back, end, back}) push(p);
    }

    bool wrote() const { return open; }

private:
    bool reachable(Vec2 to) const {
        const Vec2 from = last.points.back();
        return distance(from, to) < nearMm ||
               (distance(from, to) < 2 * nearMm && removed.insideMm(from, to) == 0);
    }

    void begin(const Fragment& f) {
        if (open) {
            list.stitches.push_back(stitchAt(Op::trim, last.points.back(), thread));
            list.stitches.push_back(stitchAt(Op::jump, f.points[0], thread));
        } else if (!f.startsChain) {
            // The jump that led to the chain leads here now.
            if (!list.stitches.empty() && list.stitches.back().op == Op::jump)
                list.stitches.pop_back();
            list.stitches.push_back(stitchAt(Op::jump, f.points[0], thread));
        }
        if (f.startsChain) return;
        push(f.points[0]);
        push(tiePoint(f.points[0], f.points[1]));
    }

    void push(Vec2 p) {
        const Stitch s = stitchAt(Op::stitch, p, thread);
        list.stitches.push_back(s);
    }

    StitchList& list;
    const Region& removed;
    std::uint8_t thread;
    Fragment last;
    bool open = false;
};

/// The parts of a line outside the area.
std::vector<Fragment> cutLine(const SewnChain& chain, const SewnStretch& stretch,
                              const Region& removed, double leastMm) {
    std::vector<Fragment> parts;
    Fragment now;
    const auto finish = [&] {
        if (!now.points.empty()) parts.push_back(std::move(now));
        now = {};
    };
    if (!removed.contains(chain.points[stretch.first]))
        now.points.push_back(chain.points[stretch.first]);
    for (std::size_t i = stretch.first; i < stretch.last; ++i) {
        removed.eachPart(chain.points[i], chain.points[i + 1], [&](Vec2 from, Vec2 to, bool gone) {
            if (gone) return finish();
            if (now.points.empty()) now.points.push_back(from);
            now.points.push_back(to);
        });
    }
    finish();
    std::erase_if(parts, [&](const Fragment& f) {
        const bool whole = f.points.front() == chain.points[stretch.first] ||
                           f.points.back() == chain.points[stretch.last];
        return !whole && lengthOf(f.points) < leastMm;
    });
    return parts;
}

bool touches(const SewnChain& chain, const SewnStretch& stretch, const Region& removed) {
    std::vector<double> at;
    for (std::size_t i = stretch.first; i < stretch.last; ++i) {
        removed.crossings(chain.points[i], chain.points[i + 1], at);
        if (!at.empty()) return true;
    }
    return removed.contains(chain.points[stretch.first]) ||
           removed.contains(chain.points[stretch.last]);
}

Fragment wholeOf(const SewnChain& chain, const SewnStretch& stretch) {
    Fragment f;
    f.points.assign(chain.points.begin() + static_cast<std::ptrdiff_t>(stretch.first),
                    chain.points.begin() + static_cast<std::ptrdiff_t>(stretch.last) + 1);
    return f;
}

} // namespace

StitchList cutOut(const StitchList& list, const Region& removed, const Region& hidden,
                  const CutOptions& options) {
    StitchList result = list;
    result.stitches.clear();
    std::size_t record = 0;
    const auto copy = [&](std::size_t from, std::size_t to) {
        result.stitches.insert(result.stitches.end(),
                               list.stitches.begin() + static_cast<std::ptrdiff_t>(from),
                               list.stitches.begin() + static_cast<std::ptrdiff_t>(to));
    };
    for (const SewnChain& chain : recogniseStretches(list)) {
        copy(record, chain.firstRecord);
        record = chain.lastRecord;
        const bool touched =
            std::any_of(chain.stretches.begin(), chain.stretches.end(),
                        [&](const SewnStretch& s) { return touches(chain, s, removed); });
        if (!touched) {
            copy(chain.firstRecord, chain.lastRecord);
            continue;
        }
        FragmentWriter writer(result, removed, chain.thread);
        for (const SewnStretch& s : chain.stretches) {
            std::vector<Fragment> parts;
            if (!touches(chain, s, removed))
                parts.push_back(wholeOf(chain, s));
            else if (s.isBand())
                parts = cutRows(chain, s, removed, hidden, options);
            else
                parts = cutLine(chain, s, removed, options.leastRunMm);
            if (parts.empty()) continue;
            parts.front().startsChain =
                s.first == 0 && parts.front().points.front() == chain.points[0] && !chain.ledIn;
            parts.back().endsChain = s.last + 1 == chain.points.size() &&
                                     parts.back().points.back() == chain.points.back();
            for (Fragment& f : parts) writer.add(std::move(f));
        }
        writer.close();
    }
    copy(record, list.stitches.size());
    return result;
}

} // namespace rapt
