#include "divide/batch.h"

#include "divide/frames.h"
#include "estimate/handling.h"
#include "estimate/timing.h"
#include "job/groups.h"
#include "letter/name_list.h"
#include "thread/measures.h"

#include <algorithm>
#include <fmt/format.h>
#include <map>
#include <set>

namespace rapt {
namespace {

// Items of less cloth each are no items.
constexpr double leastPitchMm2 = 4;

/// The most items in a rectangle by cuts from edge to edge: every block is all of one direction, or
/// is cut again where a row or a column of items ends.
class Packer {
public:
    Packer(double w, double h, double g) : width(w), height(h), gap(g) {}

    std::vector<BatchPlace> pack(double areaWidth, double areaHeight) {
        std::vector<BatchPlace> places;
        place(areaWidth, areaHeight, 0, {0, 0}, places);
        return places;
    }

private:
    static constexpr int deepest = 2;
    // Rows of more items hardly gain by being cut again, and there are too many places to cut them.
    static constexpr int mostCut = 150;

    int fits(double size, double item) const {
        return static_cast<int>(std::floor((size + gap) / (item + gap) + 1e-9));
    }
    int grid(double w, double h, bool turned) const {
        const int n = fits(w, turned ? height : width) * fits(h, turned ? width : height);
        return std::max(0, n);
    }

    struct Split {
        int count = 0;
        bool turned = false;
        double x = 0, y = 0; ///< where it is cut; 0 for a block of one direction
    };

    Split best(double w, double h, int depth) {
        const auto key = std::tuple{std::lround(w * 100), std::lround(h * 100), depth};
        if (const auto known = memory.find(key); known != memory.end()) return known->second;
        Split most{grid(w, h, false), false, 0, 0};
        if (grid(w, h, true) > most.count) most = {grid(w, h, true), true, 0, 0};
        const double least = std::min(width, height);
        if (depth < deepest && std::max(fits(w, least), fits(h, least)) <= mostCut) {
            for (const double item : {width, height}) {
                for (int k = 1; k * (item + gap) < w; ++k)
                    offer(most, {best(k * (item + gap) - gap, h, depth + 1).count +
                                     best(w - k * (item + gap), h, depth + 1).count,
                                 false, k * (item + gap), 0});
                for (int k = 1; k * (item + gap) < h; ++k)
                    offer(most, {best(w, k * (item + gap) - gap, depth + 1).count +
                                     best(w, h - k * (item + gap), depth + 1).count,
                                 false, 0, k * (item + gap)});
            }
        }
        return memory[key] = most;
    }
    static void offer(Split& most, const Split& other) {
        if (other.count > most.count) most = other;
    }

    void place(double w, double h, int depth, Vec2 at, std::vector<BatchPlace>& places) {
        const Split split = best(w, h, depth);
        if (split.x > 0) {
            place(split.x - gap, h, depth + 1, at, places);
            return place(w - split.x, h, depth + 1, at + Vec2{split.x, 0}, places);
        }
        if (split.y > 0) {
            place(w, split.y - gap, depth + 1, at, places);
            return place(w, h - split.y, depth + 1, at + Vec2{0, split.y}, places);
        }
        const double itemW = split.turned ? height : width, itemH = split.turned ? width : height;
        for (int j = 0; j < fits(h, itemH); ++j)
            for (int i = 0; i < fits(w, itemW); ++i)
                places.push_back(
                    {at + Vec2{i * (itemW + gap) + itemW / 2, j * (itemH + gap) + itemH / 2},
                     split.turned, 1});
    }

    double width, height, gap;
    std::map<std::tuple<long, long, int>, Split> memory;
};

/// Rows of items in a field that is no rectangle: each row as long as the field is there.
std::vector<BatchPlace> rowsIn(const Hoop& hoop, double w, double h, double gap, bool turned) {
    if (turned) std::swap(w, h);
    std::vector<BatchPlace> best;
    constexpr int shifts = 24;
    for (int s = 0; s < shifts; ++s) {
        std::vector<BatchPlace> places;
        const double first = -hoop.heightMm / 2 + (h + gap) * s / shifts;
        for (double y = first; y + h <= hoop.heightMm / 2 + 1e-9; y += h + gap) {
            const auto fits = [&](double half) {
                return holds(hoop, {{-half, y}, {half, y}, {-half, y + h}, {half, y + h}});
            };
            int n = 0;
            while (fits(((n + 1) * (w + gap) - gap) / 2)) ++n;
            for (int i = 0; i < n; ++i)
                places.push_back(
                    {{-(n * (w + gap) - gap) / 2 + i * (w + gap) + w / 2, y + h / 2}, turned, 1});
        }
        if (places.size() > best.size()) best = std::move(places);
    }
    return best;
}

std::vector<BatchPlace> inOneField(const Hoop& hoop, double w, double h, double gap) {
    if (hoop.shape == Hoop::Shape::rect) {
        auto places = Packer(w, h, gap).pack(hoop.widthMm, hoop.heightMm);
        for (BatchPlace& p : places) p.at = p.at - Vec2{hoop.widthMm / 2, hoop.heightMm / 2};
        return places;
    }
    auto upright = rowsIn(hoop, w, h, gap, false), level = rowsIn(hoop, w, h, gap, true);
    return upright.size() >= level.size() ? upright : level;
}

Box boxOf(const BatchPlace& p, double w, double h) {
    return p.turned ? Box::centredAt(p.at, h, w) : Box::centredAt(p.at, w, h);
}

/// Positions whose fields lie over each other: each takes what the others leave.
std::vector<BatchPlace> inPositions(const Hoop& hoop, double w, double h, double gap) {
    const auto field = inOneField(hoop, w, h, gap);
    std::vector<BatchPlace> best;
    for (std::size_t first = 0; first < hoop.positions.size(); ++first) {
        std::vector<BatchPlace> places;
        for (std::size_t k = 0; k < hoop.positions.size(); ++k) {
            const std::size_t s = (first + k) % hoop.positions.size();
            const FramePosition& at = hoop.positions[s];
            const bool quarter = std::abs(std::remainder(at.turnDeg, 180)) > 1;
            for (BatchPlace p : field) {
                p.at = turned(p.at, at.turnDeg) + at.at;
                p.turned = p.turned != quarter;
                p.position = static_cast<int>(s) + 1;
                const Box box = boxOf(p, w, h).grown(gap - 1e-6);
                const bool free =
                    std::none_of(places.begin(), places.end(),
                                 [&](const BatchPlace& o) { return boxOf(o, w, h).overlaps(box); });
                if (free) places.push_back(p);
            }
        }
        if (places.size() > best.size()) best = std::move(places);
    }
    return best;
}

/// Fields side by side on one line, or a slide: columns of items from left to right, each as far
/// left as some field lets it.
std::vector<BatchPlace> inColumns(const Hoop& hoop, double w, double h, double gap, bool turned) {
    if (turned) std::swap(w, h);
    if (w > hoop.widthMm + 1e-9) return {};
    const int rows = static_cast<int>(std::floor((hoop.heightMm + gap) / (h + gap) + 1e-9));
    const Box reach = hoop.reach();
    std::vector<BatchPlace> places;
    double x = reach.minX;
    while (x + w <= reach.maxX + 1e-9) {
        double next = std::numeric_limits<double>::infinity();
        int position = 1;
        for (std::size_t s = 0; s < hoop.positions.size(); ++s) {
            const double from = hoop.slide ? hoop.slide->fromMm : 0;
            const double to = hoop.slide ? hoop.slide->toMm : 0;
            const double low = hoop.positions[s].at.x + from - hoop.widthMm / 2;
            const double high = hoop.positions[s].at.x + to + hoop.widthMm / 2;
            const double at = std::max(x, low);
            if (at + w > high + 1e-9 || at >= next) continue;
            next = at;
            position = static_cast<int>(s) + 1;
        }
        if (!std::isfinite(next)) break;
        for (int j = 0; j < rows; ++j)
            places.push_back(
                {{next + w / 2, hoop.positions[0].at.y - hoop.heightMm / 2 + j * (h + gap) + h / 2},
                 turned,
                 position});
        x = next + w + gap;
    }
    return places;
}

/// All fields upright on one level line.
bool isRow(const Hoop& hoop) {
    return hoop.shape == Hoop::Shape::rect &&
           std::all_of(hoop.positions.begin(), hoop.positions.end(), [&](const FramePosition& p) {
               return p.at.y == hoop.positions[0].at.y &&
                      std::abs(std::remainder(p.turnDeg, 180)) < 1e-6;
           });
}

/// Fewest thread changes of a clamping with several items: those of one item.
double secondsFor(const BatchOffer& offer, int quantity, const TimeLine& one,
                  const Machine& machine) {
    std::vector<int> used;
    for (const BatchPlace& p : offer.places)
        if (std::find(used.begin(), used.end(), p.position) == used.end())
            used.push_back(p.position);
    const double changes = static_cast<double>(one.threadChanges) * machine.threadChangeSeconds;
    const int hoopings = offer.clampings * static_cast<int>(used.size());
    return quantity * (one.totalSeconds - changes) + hoopings * changes +
           handlingSeconds(offer.clampings, hoopings, machine);
}

double outerCm2(const Hoop& h) { return h.outerWidthMm * h.outerHeightMm / 100; }

} // namespace

std::vector<BatchPlace> batchPlaces(const Hoop& hoop, double widthMm, double heightMm,
                                    double gapMm) {
    if (hoop.isSingle() && hoop.positions[0] == FramePosition{})
        return inOneField(hoop, widthMm, heightMm, gapMm);
    std::vector<BatchPlace> best;
    if (!hoop.slide) best = inPositions(hoop, widthMm, heightMm, gapMm);
    if (isRow(hoop))
        for (const bool level : {false, true}) {
            auto places = inColumns(hoop, widthMm, heightMm, gapMm, level);
            if (places.size() > best.size()) best = std::move(places);
        }
    return best;
}

Result<std::vector<BatchOffer>> planBatch(const Job& job, const std::vector<Hoop>& hoops,
                                          const Library& library, const BatchRequest& request) {
    if (request.quantity < 1) return cannotDo("a batch has at least one item");
    if (request.quantity > mostBatchItems)
        return cannotDo(fmt::format("a batch has at most {} items", mostBatchItems));
    if (!(request.gapMm >= 0 && request.gapMm < 1000)) return cannotDo("a gap is 0 to 1000 mm");
    const auto stitched = stitchJob(job);
    if (!stitched) return stitched.error();
    const Box item = extentsOf(stitched->list);
    if (item.empty()) return cannotDo("there are no stitches to repeat");
    if ((item.width() + request.gapMm) * (item.height() + request.gapMm) < leastPitchMm2)
        return cannotDo(
            fmt::format("items of {:.1f} × {:.1f} mm with a gap of {:g} mm lie too close "
                        "to be told apart; give a wider gap",
                        item.width(), item.height(), request.gapMm));
    const auto fabric = library.fabric(job.brief.fabric);
    if (!fabric) return fabric.error();
    const auto machine = library.machine(job.brief.machine);
    if (!machine) return machine.error();
    const TimeLine one = timeLineOf(stitched->list, stitched->spans, *machine, *fabric);
    std::vector<BatchOffer> offers;
    for (const Hoop& hoop : hoops) {
        BatchOffer offer;
        offer.hoop = hoop.id;
        offer.places = batchPlaces(hoop, item.width(), item.height(), request.gapMm);
        const int per = offer.perClamping();
        if (per == 0) continue;
        offer.clampings = (request.quantity + per - 1) / per;
        offer.leftOver = offer.clampings * per - request.quantity;
        offer.stabilizerCm2 = offer.clampings * outerCm2(hoop) * fabric->stabilizerLayers;
        offer.seconds = secondsFor(offer, request.quantity, one, *machine);
        const int last = per - offer.leftOver;
        for (const Hoop& other : hoops) {
            const double saves = (outerCm2(hoop) - outerCm2(other)) * fabric->stabilizerLayers;
            if (offer.leftOver == 0 || saves <= offer.lastSavesCm2) continue;
            if (static_cast<int>(
                    batchPlaces(other, item.width(), item.height(), request.gapMm).size()) < last)
                continue;
            offer.lastIn = other.id;
            offer.lastSavesCm2 = saves;
        }
        offers.push_back(std::move(offer));
    }
    if (offers.empty())
        return cannotDo(fmt::format("no frame takes the item, {:.1f} × {:.1f} mm", item.width(),
                                    item.height()));
    std::stable_sort(offers.begin(), offers.end(), [](const BatchOffer& a, const BatchOffer& b) {
        return a.clampings != b.clampings ? a.clampings < b.clampings
                                          : a.stabilizerCm2 < b.stabilizerCm2;
    });
    return offers;
}

namespace {

/// The words of each name, as high as those of the layout or as their length lets them be.
Result<std::vector<Lettering>> namedWords(const Piece& piece,
                                          const std::vector<std::string>& names) {
    const Lettering& look = *std::get<LetteringContent>(piece.content).lettering;
    const auto own = stitchPiece(piece);
    if (!own) return own.error();
    const auto plan = planNames(names, look, extentsOf(**own).width(), 0.4 * look.capHeightMm,
                                NameSizing::eachFits);
    if (!plan) return plan.error();
    std::vector<Lettering> words;
    for (const NamedLettering& n : plan->names) {
        if (!n.usable)
            return cannotDo(fmt::format("the name '{}' cannot be lettered: {}", n.name,
                                        n.doubts.empty() ? "it is too long" : n.doubts[0]));
        Lettering l = look;
        l.text = n.name;
        l.capHeightMm = n.capHeightMm;
        words.push_back(std::move(l));
    }
    return words;
}

/// The piece at a place: the layout's middle goes there, turned with the item. Its id is one that
/// is not used yet.
Piece placedItem(Piece piece, Vec2 middle, const BatchPlace& place, std::size_t number,
                 std::set<std::string>& ids) {
    const double turn = place.turned ? 90 : 0;
    const Vec2 at = place.at + turned(Vec2{piece.pose.x, piece.pose.y} - middle, turn);
    piece.pose.x = at.x;
    piece.pose.y = at.y;
    piece.pose.rotationDeg = normalizedDegrees(piece.pose.rotationDeg + turn);
    if (number > 1) {
        std::string id = fmt::format("{}-{}", piece.id, number);
        while (!ids.insert(id).second) id += "x";
        piece.id = std::move(id);
        piece.name += fmt::format(" {}", number);
    }
    if (!piece.group.empty()) {
        const std::string outer = groupBelow(piece.group, {});
        piece.group.insert(outer.size(), fmt::format("-{}", number));
    }
    return piece;
}

} // namespace

Result<Job> batchJob(const Job& job, const BatchOffer& offer, const Library& library,
                     const std::vector<std::string>& names) {
    if (!job.repeats.empty())
        return cannotDo("the layout has linked copies; unlink them before it is repeated");
    const auto hoop = library.hoop(offer.hoop);
    if (!hoop) return hoop.error();
    const auto stitched = stitchJob(job);
    if (!stitched) return stitched.error();
    const Vec2 middle = extentsOf(stitched->list).centre();
    const auto isWords = [](const Piece& p) {
        return std::holds_alternative<LetteringContent>(p.content);
    };
    const auto words = std::count_if(job.pieces.begin(), job.pieces.end(), isWords);
    if (!names.empty() && words != 1)
        return cannotDo("names go onto a layout with exactly one piece of lettering");
    Job laid = job;
    laid.pieces.clear();
    laid.hoopings.clear();
    laid.cuts.clear();
    laid.registrations.clear();
    const std::size_t count =
        names.empty() ? offer.places.size() : std::min(names.size(), offer.places.size());
    std::vector<Lettering> named;
    if (!names.empty()) {
        const auto piece = std::find_if(job.pieces.begin(), job.pieces.end(), isWords);
        auto made =
            namedWords(*piece, {names.begin(), names.begin() + static_cast<std::ptrdiff_t>(count)});
        if (!made) return made.error();
        named = std::move(*made);
    }
    std::set<std::string> ids;
    for (const Piece& p : job.pieces) ids.insert(p.id);
    // Thread after thread over all items, not item after item.
    for (const Piece& p : job.pieces)
        for (std::size_t i = 0; i < count; ++i) {
            Piece item = placedItem(p, middle, offer.places[i], i + 1, ids);
            if (!names.empty() && isWords(p)) {
                item.content = LetteringContent{std::make_shared<const Lettering>(named[i])};
                item.name = names[i];
            }
            laid.pieces.push_back(std::move(item));
        }
    laid.cloth.widthMm = std::max(laid.cloth.widthMm, hoop->outerWidthMm + 20);
    laid.cloth.heightMm = std::max(laid.cloth.heightMm, hoop->outerHeightMm + 20);
    laid.cloth.thickZones.clear();
    laid.cloth.forbiddenZones.clear();
    laid.name = fmt::format("{}, {} at once", job.name, count);
    StitchCache cache;
    DivideOptions options{{*hoop}};
    options.mayPart = options.mayCut = false;
    const auto division = divideIntoHoopings(laid, cache, options, library);
    if (!division) return division.error();
    laid.hoopings = division->hoopings;
    laid.predictedJoinRmsMm = division->predictedJoinRmsMm;
    return laid;
}

} // namespace rapt
