#pragma once
// What is left of a stretch of stitches when an area is taken out. Internal to relieving and
// cutting; millimetres.

#include "relieve/cut_list.h"
#include "respace/stretches.h"

namespace rapt {

/// Needle points that are sewn one after the other, each with the record that it is in the list.
struct Fragment {
    Polyline points;
    std::vector<std::int64_t> records; ///< −1: a new end where the thread is cut
    std::size_t firstPoint = 0; ///< of the chain: that at which it begins, or the last before it
    bool startsChain = false;   ///< where the whole chain started: nothing was cut before it
    bool endsChain = false;

    /// Adds a needle point; a copy of the last one is not added twice.
    void push(Vec2 p, std::int64_t record);
    bool cutAtStart() const { return records.front() < 0; }
    bool cutAtEnd() const { return records.back() < 0; }
};

/// All of the thread of a stretch outside the area, every needle point in it. A fragment ends where
/// the area begins; a needle point just before that end gives way to it (unless it must stay), one
/// just behind the end that begins a fragment takes its place.
std::vector<Fragment> fragmentsOf(const SewnChain& chain, const SewnStretch& stretch,
                                  const Region& removed, const CutOptions& options);

/// True if thread of the stretch lies in the area.
bool touches(const SewnChain& chain, const SewnStretch& stretch, const Region& removed);

/// True if nothing in it must stay.
bool mayGo(const Fragment& fragment, const CutOptions& options);

/// True if the thread may go from the one place to the other without a cut.
bool isSewnOn(Vec2 from, Vec2 to, const Region& removed);

/// What is left of a satin or fill, section by section: rows that part or join begin new ones, and
/// in each the rows are sewn to and fro as they were. Sections that hang together and are small and
/// hidden are left out, as are short ends.
std::vector<Fragment> leftOfBand(const SewnChain& chain, const SewnStretch& band,
                                 const Region& removed, const Region& hidden,
                                 const CutOptions& options);

} // namespace rapt
