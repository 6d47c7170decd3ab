#include "relieve/cut_list.h"

#include "relieve/fragments.h"
#include "thread/ties.h"

namespace rapt {
namespace {

/// Writes fragments of one chain: sewn on where they touch, else cut and begun anew.
class FragmentWriter {
public:
    FragmentWriter(TracedList& o, const StitchList& i, const Region& r, const CutOptions& opt,
                   const SewnChain& c)
        : list(o), input(i), removed(r), options(opt), chain(c),
          written(c.lastRecord - c.firstRecord, false) {}

    void add(Fragment f) {
        if (f.points.size() < 2 && !(f.startsChain && f.endsChain) && mayGo(f, options)) return;
        if (open && isSewnOn(last.points.back(), f.points.front(), removed)) {
            const bool same = last.points.back() == f.points.front();
            for (std::size_t i = same ? 1 : 0; i < f.points.size(); ++i) push(f, i);
        } else {
            begin(f);
            for (std::size_t i = 0; i < f.points.size(); ++i) push(f, i);
        }
        last = std::move(f);
        open = true;
    }

private:
    void begin(const Fragment& f) {
        if (open)
            make(Op::trim, last.points.back(), NewRecord::move);
        else if (!f.startsChain && !list.stitches.empty() && list.stitches.back().op == Op::jump)
            list.drop(); // the jump that led to the chain leads here now
        if (open || !f.startsChain) make(Op::jump, f.points[0], NewRecord::move);
    }

    /// A needle point of the input is written once; sewn again it is a new one.
    void push(const Fragment& f, std::size_t i) {
        const std::int64_t known = f.records[i];
        const auto record = static_cast<std::size_t>(std::max<std::int64_t>(0, known));
        if (known < 0 || written[record - chain.firstRecord])
            return make(Op::stitch, f.points[i], NewRecord::cutEnd);
        written[record - chain.firstRecord] = true;
        list.keep(input.stitches[record], record);
    }
    void make(Op op, Vec2 p, NewRecord why) { list.make(stitchAt(op, p, chain.thread), why); }

    TracedList& list;
    const StitchList& input;
    const Region& removed;
    const CutOptions& options;
    const SewnChain& chain;
    std::vector<bool> written; ///< records of the chain
    Fragment last;
    bool open = false;
};

/// The parts of a line outside the area; short ones only where the line itself begins or ends.
std::vector<Fragment> leftOfLine(const SewnChain& chain, const SewnStretch& s,
                                 const Region& removed, const CutOptions& options) {
    std::vector<Fragment> parts = fragmentsOf(chain, s, removed, options);
    std::erase_if(parts, [&](const Fragment& f) {
        return f.cutAtStart() && f.cutAtEnd() && lengthOf(f.points) < options.leastRunMm &&
               mayGo(f, options);
    });
    return parts;
}

/// Writes what is left of one chain.
void cutChain(const SewnChain& chain, const StitchList& input, const Region& removed,
              const Region& hidden, const CutOptions& options, TracedList& result) {
    FragmentWriter writer(result, input, removed, options, chain);
    for (const SewnStretch& s : chain.stretches) {
        std::vector<Fragment> parts = s.isBand() ? leftOfBand(chain, s, removed, hidden, options)
                                                 : leftOfLine(chain, s, removed, options);
        for (Fragment& f : parts) {
            f.startsChain = !chain.ledIn && f.records.front() == chain.recordOf(0);
            f.endsChain = f.records.back() == chain.recordOf(chain.points.size() - 1);
            writer.add(std::move(f));
        }
    }
}

} // namespace

TracedList cutOut(const StitchList& list, const Region& removed, const Region& hidden,
                  const CutOptions& options) {
    TracedList result = tracedLike(list);
    std::size_t record = 0;
    const auto copy = [&](std::size_t to) {
        for (; record < to; ++record) result.keep(list.stitches[record], record);
    };
    bool cut = false;
    for (const SewnChain& chain : recogniseStretches(list)) {
        copy(chain.firstRecord);
        const bool touched =
            std::any_of(chain.stretches.begin(), chain.stretches.end(),
                        [&](const SewnStretch& s) { return touches(chain, s, removed); });
        if (!touched) {
            // The first stitch of a list lays no thread from where it is led in.
            if (chain.ledIn && cut && !sews(result))
                result.make(stitchAt(Op::stitch, chain.points[0], chain.thread), NewRecord::cutEnd);
            copy(chain.lastRecord);
            continue;
        }
        cut = true;
        cutChain(chain, list, removed, hidden, options, result);
        record = chain.lastRecord;
    }
    copy(list.stitches.size());
    return cut ? tieMadeEnds(list, withoutIdleMoves(std::move(result))) : result;
}

} // namespace rapt
