#include "job/relieving.h"

#include "recipe/flatten.h"
#include "relieve/cut_list.h"
#include "thread/measures.h"
#include "thread/ties.h"

namespace rapt {
namespace {

/// From the frame of a piece's stitches to the cloth frame.
Affine placeOf(const Piece& piece) { return piece.pose.unscaled().affine(); }

Contours mapped(const Contours& contours, const Affine& map) {
    Contours result = contours;
    for (Polyline& line : result)
        for (Vec2& p : line) p = map(p);
    return result;
}

Box mapped(const Box& box, const Affine& map) {
    Box result;
    for (const Vec2 p : box.corners()) result.add(map(p));
    return result;
}

/// Sews the list after another one, behind a trim and a jump.
void append(StitchList& to, const StitchList& from) {
    std::array<std::uint8_t, 256> index{};
    for (const Thread& t : from.threads) {
        const auto known = std::find_if(to.threads.begin(), to.threads.end(),
                                        [&](const Thread& k) { return k.sameThread(t); });
        if (known != to.threads.end()) {
            index[t.index] = known->index;
            continue;
        }
        to.threads.push_back(t);
        to.threads.back().index = index[t.index] = static_cast<std::uint8_t>(to.threads.size());
    }
    bool first = true;
    for (Stitch s : from.stitches) {
        s.thread = index[s.thread];
        if (first && s.op == Op::stitch && !to.stitches.empty()) {
            Stitch trim = to.stitches.back(), jump = s;
            trim.op = Op::trim;
            jump.op = Op::jump;
            if (to.stitches.back().op != Op::trim) to.stitches.push_back(trim);
            to.stitches.push_back(jump);
        }
        first = first && s.op != Op::stitch;
        to.stitches.push_back(s);
    }
}

TracedList laidAfresh(StitchList list) {
    TracedList laid;
    static_cast<StitchList&>(laid) = std::move(list);
    for (std::size_t i = 0; i < laid.stitches.size(); ++i) laid.origins.make(NewRecord::laid);
    return laid;
}

/// Relieves one piece; everything in the frame of its stitches.
class Reliever {
public:
    Reliever(const Contours& c, const Relief& relief)
        : hidden(c), removed(offsetContours(c, -relief.tuckMm)) {}

    /// Nothing if all of it stays.
    std::shared_ptr<const TracedList> relieved(const PlacedPiece& placed,
                                               const StitchList& list) const {
        if (removed.empty()) return nullptr;
        const bool afresh = std::holds_alternative<ShapeContent>(placed.piece.content) &&
                            placed.piece.keep == Keep::spacing && placed.piece.leftOutRuns.empty();
        TracedList cut = afresh ? laidAfresh(relievedShape(shapeOf(placed.piece)))
                                : cutOut(list, removed, hidden, options);
        if (cut.stitches == list.stitches) return nullptr;
        cut.name = list.name;
        cut.origins.explain(list, afresh ? WhyGone::laidAfresh : WhyGone::hidden);
        return std::make_shared<const TracedList>(std::move(cut));
    }

private:
    /// The outlines of fills change; of other parts the stitches are cut.
    StitchList relievedShape(const Shape& shape) const {
        StitchList result;
        Shape whole; // parts that are sewn on from one to the next
        const auto flush = [&] {
            if (!whole.parts.empty()) append(result, stitchShape(whole));
            whole.parts.clear();
        };
        for (const ShapePart& part : shape.parts) {
            const Box box = boundsOf(part.lines).grown(part.pullMm);
            if (!box.overlaps(removed.bounds())) {
                whole.parts.push_back(part);
            } else if (part.kind == StitchKind::fill) {
                if (ShapePart left = leftOf(part); !left.lines.empty())
                    whole.parts.push_back(std::move(left));
            } else {
                flush();
                append(result, cutOut(stitchShape({{part}, {}}), removed, hidden, options));
            }
        }
        flush();
        return result;
    }

    ShapePart leftOf(const ShapePart& part) const {
        ShapePart left = flattened(part);
        left.smooth = false;
        Contours lines;
        for (const Contours& component :
             componentsOf(differenceOf(left.lines, removed.contours()))) {
            if (areaOf(component) < options.leastRemainMm2 &&
                areaOf(differenceOf(component, hidden.contours())) < mostSeenMm2)
                continue;
            lines.insert(lines.end(), component.begin(), component.end());
        }
        left.lines = std::move(lines);
        return left;
    }

    static constexpr double mostSeenMm2 = 0.5;
    Region hidden, removed;
    CutOptions options;
};

} // namespace

void relieve(std::vector<PlacedPiece>& placed, StitchCache& cache, std::stop_token stop) {
    for (std::size_t i = 0; i < placed.size(); ++i) {
        if (stop.stop_requested()) return;
        PlacedPiece& low = placed[i];
        if (!low.piece.relief || low.outline) continue;
        const auto list = cache.stitch(low.piece);
        if (!list) continue;
        const Affine toCloth = placeOf(low.piece), fromCloth = toCloth.inverse();
        const Box reach = mapped(extentsOf(**list), toCloth);
        StitchCache::ReliefKey key{*list, *low.piece.relief, {}};
        for (std::size_t j = i + 1; j < placed.size(); ++j) {
            // What is sewn already gives way to nothing that comes later.
            if (placed[j].outline || (low.sewn && !placed[j].sewn)) continue;
            const auto above = cache.stitch(placed[j].piece);
            if (!above) continue;
            const Affine map = placeOf(placed[j].piece);
            if (mapped(extentsOf(**above), map).overlaps(reach))
                key.covers.emplace_back(*above, map.then(fromCloth));
        }
        if (key.covers.empty()) continue;
        const auto made = cache.relieved(key, [&]() -> std::shared_ptr<const TracedList> {
            Contours cover;
            for (const auto& [above, map] : key.covers)
                cover = unionOf(cover, mapped(*cache.cover(above, key.relief.coverLayers), map));
            return Reliever(cover, key.relief).relieved(low, **list);
        });
        low.relieved = made;
    }
}

} // namespace rapt
