#include "letter/stitching.h"

#include "letter/crowding.h"
#include "letter/faces.h"
#include "letter/profile.h"
#include "recipe/shape.h"
#include "thread/ties.h"

#include <algorithm>
#include <fmt/format.h>
#include <list>
#include <map>
#include <mutex>
#include <set>

namespace rapt {
namespace {

/// The thread goes on to the next part without a cut over so much bare ground.
constexpr double bareTravelMm = 0.3;
constexpr double longestTravelMm = 4;
constexpr double fineStrokeMm = 0.8;
constexpr double openCounterMm = 0.6;

/// Columns that were made lately. Holds the faces alive that its keys name.
class ColumnStore {
public:
    using Parts = std::shared_ptr<const std::vector<LetterPart>>;
    Parts find(const std::shared_ptr<const Face>& face, std::uint32_t glyph,
               const ColumnOptions& o) {
        {
            const std::lock_guard guard(lock);
            for (auto it = entries.begin(); it != entries.end(); ++it)
                if (it->face == face && it->glyph == glyph &&
                    it->options.capHeightMm == o.capHeightMm && it->options.pitchMm == o.pitchMm &&
                    it->options.changes == o.changes && it->options.mostDenser == o.mostDenser) {
                    entries.splice(entries.begin(), entries, it);
                    return it->parts;
                }
        }
        auto made = std::make_shared<const std::vector<LetterPart>>(
            columnsOf(face->outline(glyph, o.capHeightMm), o));
        const std::lock_guard guard(lock);
        entries.push_front({face, glyph, o, made});
        if (entries.size() > mostEntries) entries.pop_back();
        return made;
    }

private:
    static constexpr std::size_t mostEntries = 600;
    struct Entry {
        std::shared_ptr<const Face> face;
        std::uint32_t glyph;
        ColumnOptions options;
        Parts parts;
    };
    std::mutex lock;
    std::list<Entry> entries; // the latest first
};

LetterPart mapped(const LetterPart& part, const Affine& map) {
    LetterPart result = part;
    for (Polyline& line : result.outline)
        for (Vec2& p : line) p = map(p);
    for (Column& c : result.columns)
        for (Rung& r : c.rungs) r = {map(r.left), map(r.right)};
    return result;
}

/// Satin alone is two layers; each run below it adds a fifth of one in the middle of a column.
constexpr double satinAndEdgeRuns = 2.6;
bool isLightCloth(const Lettering& l) {
    return l.mostLayers > 0 && l.mostLayers < satinAndEdgeRuns;
}
bool underlaid(const Lettering& l) { return l.underlay && !isLightCloth(l); }

/// One connected part with its thread, ready to be sewn.
struct PartToSew {
    LetterPart part;
    Thread thread;
    Box box;
    bool main = false; ///< the largest of its letter
};

class LetteringSewer {
public:
    LetteringSewer(const Lettering& l, StitchedLettering& r) : lettering(l), result(r) {}

    void sew(std::vector<PartToSew> parts) {
        for (std::size_t i = 0; i < parts.size(); ++i) {
            const Vec2 entry = i > 0 && !pending.empty() ? pending.back() : startOf(parts[i]);
            const Vec2 exit = i + 1 < parts.size()
                                  ? nearestPoint(parts[i + 1], parts[i].box.centre())
                                  : endOf(parts[i]);
            const SewOptions options{lettering.pullMm, underlaid(lettering),
                                     isLightCloth(lettering)};
            Polyline points = sewPart(parts[i].part, entry, exit, options);
            if (points.size() < 2) continue;
            const bool goesOn =
                i > 0 && !pending.empty() && sameThread(parts[i - 1].thread, parts[i].thread) &&
                hidden(pending.back(), points.front(), parts[i - 1].part, parts[i].part);
            // Begun where it ends, a part has one run below its satin and not two.
            if (!goesOn && isLightCloth(lettering))
                points = sewPart(parts[i].part, {}, exit, options);
            if (!goesOn) finish();
            thread = parts[i].thread;
            if (goesOn) {
                const Polyline way = runThrough({{pending.back(), points.front()}}, 2.5);
                if (way.size() > 2) pending.insert(pending.end(), way.begin() + 1, way.end() - 1);
            }
            pending.insert(pending.end(), points.begin(), points.end());
        }
        finish();
    }

private:
    static bool sameThread(const Thread& a, const Thread& b) { return a.sameThread(b); }
    static Vec2 startOf(const PartToSew& p) { return {p.box.minX, p.box.maxY}; }
    static Vec2 endOf(const PartToSew& p) { return {p.box.maxX, p.box.maxY}; }
    static Vec2 nearestPoint(const PartToSew& p, Vec2 to) {
        Vec2 best = p.box.centre();
        double least = 1e18;
        for (const Column& c : p.part.columns)
            for (const Rung& r : c.rungs)
                if (const double d = distance(r.middle(), to); d < least) {
                    least = d;
                    best = r.middle();
                }
        return best;
    }
    /// True if a thread from a to b would lie on one of the two parts all the way but a crumb.
    static bool hidden(Vec2 a, Vec2 b, const LetterPart& one, const LetterPart& other) {
        const double size = distance(a, b);
        if (size > longestTravelMm) return false;
        const int steps = std::max(1, static_cast<int>(size / 0.05));
        int bare = 0;
        for (int i = 0; i <= steps; ++i) {
            const Vec2 p = lerp(a, b, static_cast<double>(i) / steps);
            bare += !contains(one.outline, p) && !contains(other.outline, p);
        }
        return bare * size / steps <= bareTravelMm;
    }
    static void addTies(Polyline& points) {
        const auto before = tieBefore(points), after = tieAfter(points);
        points.insert(points.begin(), before.begin(), before.end());
        points.insert(points.end(), after.begin(), after.end());
    }
    void finish() {
        if (pending.empty()) return;
        addTies(pending);
        auto& stitches = result.list.stitches;
        const std::uint8_t index = threadIndex();
        if (!stitches.empty()) {
            const Stitch& before = stitches.back();
            stitches.push_back(stitchAt(Op::trim, before.at(), before.thread));
        }
        stitches.push_back(stitchAt(Op::jump, pending.front(), index));
        for (const Vec2& p : pending) stitches.push_back(stitchAt(Op::stitch, p, index));
        pending.clear();
    }
    std::uint8_t threadIndex() {
        for (const Thread& t : result.list.threads)
            if (t.sameThread(thread)) return t.index;
        Thread added = thread;
        added.index =
            static_cast<std::uint8_t>(std::min<std::size_t>(255, result.list.threads.size() + 1));
        result.list.threads.push_back(added);
        return added.index;
    }

    const Lettering& lettering;
    StitchedLettering& result;
    Polyline pending;
    Thread thread;
};

/// The parts of a letter in an order that keeps ways short.
void orderParts(std::vector<PartToSew>& parts, std::size_t from) {
    std::sort(parts.begin() + static_cast<std::ptrdiff_t>(from), parts.end(),
              [](const PartToSew& a, const PartToSew& b) {
                  return a.box.minX < b.box.minX ||
                         (a.box.minX == b.box.minX && a.box.minY < b.box.minY);
              });
}

/// In a joined script the thread runs on through a word; dots and accents come after it, the
/// nearest first.
void runThroughWord(std::vector<PartToSew>& parts, std::size_t from) {
    const auto begin = parts.begin() + static_cast<std::ptrdiff_t>(from);
    const auto dots =
        std::stable_partition(begin, parts.end(), [](const PartToSew& p) { return p.main; });
    std::reverse(dots, parts.end());
}

/// Letters of one thread are sewn together, in the order in which the threads are first used.
void sortByThread(std::vector<PartToSew>& parts) {
    std::vector<Thread> order;
    const auto rank = [&order](const Thread& t) {
        const auto it = std::find_if(order.begin(), order.end(),
                                     [&](const Thread& o) { return o.sameThread(t); });
        return it - order.begin();
    };
    for (const PartToSew& p : parts)
        if (rank(p.thread) == static_cast<std::ptrdiff_t>(order.size())) order.push_back(p.thread);
    if (order.size() < 2) return;
    std::stable_sort(parts.begin(), parts.end(), [&](const PartToSew& a, const PartToSew& b) {
        return rank(a.thread) < rank(b.thread);
    });
}

void markMain(std::vector<PartToSew>& parts, std::size_t from) {
    std::size_t largest = from;
    for (std::size_t i = from; i < parts.size(); ++i)
        if (parts[i].box.width() * parts[i].box.height() >
            parts[largest].box.width() * parts[largest].box.height())
            largest = i;
    if (largest < parts.size()) parts[largest].main = true;
}

/// The thinnest stroke that is more than a crumb of the letter; 0 if there is none.
double thinnestStroke(const std::vector<LetterPart>& parts) {
    double least = 0;
    for (const LetterPart& p : parts)
        for (const Column& c : p.columns)
            if (c.rungs.size() > 6 && (least == 0 || c.strokeMm < least)) least = c.strokeMm;
    return least;
}

/// The narrow way across the smallest hole of a glyph's parts; 0 if it has none.
double smallestCounter(const std::vector<LetterPart>& parts) {
    double least = 0;
    for (const LetterPart& p : parts)
        for (std::size_t k = 1; k < p.outline.size(); ++k) {
            const Box box = boundsOf(p.outline[k]);
            const double across = std::min(box.width(), box.height());
            if (least == 0 || across < least) least = across;
        }
    return least;
}

/// What is too fine in the letters, gathered while they are made into columns.
struct FineThings {
    std::set<std::string> strokes, counters;
    double thinnest = 1e9, narrowest = 1e9;
    int firstStroke = -1, firstCounter = -1;

    void look(const PlacedLetter& letter, const std::vector<LetterPart>& parts) {
        if (const double stroke = thinnestStroke(parts); stroke > 0 && stroke < fineStrokeMm) {
            strokes.insert(letter.text);
            thinnest = std::min(thinnest, stroke);
            if (firstStroke < 0) firstStroke = letter.index;
        }
        if (const double counter = smallestCounter(parts); counter > 0 && counter < openCounterMm) {
            counters.insert(letter.text);
            narrowest = std::min(narrowest, counter);
            if (firstCounter < 0) firstCounter = letter.index;
        }
    }
};

void addWarnings(StitchedLettering& result, const FineThings& things) {
    const auto joinedText = [](const std::set<std::string>& all) {
        std::string text;
        for (const std::string& s : all) text += (text.empty() ? "" : " ") + s;
        return text;
    };
    using Kind = LetterWarning::Kind;
    if (!things.strokes.empty())
        result.warnings.push_back({Kind::fineStroke,
                                   fmt::format("strokes down to {:.2f} mm in {} are too fine for "
                                               "satin at this size and are sewn wider",
                                               things.thinnest, joinedText(things.strokes)),
                                   things.thinnest, fineStrokeMm, things.firstStroke});
    if (!things.counters.empty())
        result.warnings.push_back(
            {Kind::smallCounter,
             fmt::format("the counters of {} are only {:.2f} mm wide and will close",
                         joinedText(things.counters), things.narrowest),
             things.narrowest, openCounterMm, things.firstCounter});
    for (const LetterJoin& join : result.setting.joins) {
        // What holds but for a hair is worth no word.
        if (join.closed || join.overlapMm > 0.8 * leastJoinMm) continue;
        std::string left, right;
        for (const PlacedLetter& l : result.setting.letters) {
            if (l.index == join.left) left = l.text;
            if (l.index == join.right) right = l.text;
        }
        result.warnings.push_back(
            {Kind::openJoin,
             fmt::format("'{}' and '{}' do not join: {}", left, right,
                         join.overlapMm > 0
                             ? fmt::format("they overlap by {:.2f} mm, {:.1f} mm hold",
                                           join.overlapMm, leastJoinMm)
                             : fmt::format("a gap of {:.2f} mm stays", -join.overlapMm)),
             join.overlapMm, leastJoinMm, join.right});
    }
}

} // namespace

std::shared_ptr<const std::vector<LetterPart>> glyphColumns(const std::shared_ptr<const Face>& face,
                                                            std::uint32_t glyph,
                                                            const ColumnOptions& options) {
    static ColumnStore store; // derived values only; nothing of a job is in it
    return store.find(face, glyph, options);
}

std::vector<LetterPart> letterParts(const PlacedLetter& letter,
                                    const std::shared_ptr<const Face>& face,
                                    const Lettering& lettering) {
    std::vector<LetterPart> result;
    const LetterChange* change = lettering.change(letter.index);
    int counted = 0;
    for (const auto& g : letter.glyphs) {
        ColumnOptions options;
        options.capHeightMm = lettering.capHeightMm * letter.scale;
        options.pitchMm = lettering.pitchMm;
        // Satin alone is nearly all that a light cloth takes.
        if (isLightCloth(lettering)) options.mostDenser = 1;
        // Columns are counted through the glyphs of a letter.
        if (change)
            for (ColumnChange c : change->columns) {
                c.column -= counted;
                if (c.column >= 0) options.changes.push_back(c);
            }
        const auto parts = glyphColumns(face, g.glyph, options);
        // The columns are at their real size already.
        const double k = 1 / letter.scale;
        const Affine& m = letter.map;
        const Affine map{m.a * k,
                         m.b * k,
                         m.c * k,
                         m.d * k,
                         m.tx + m.a * g.dxMm + m.b * g.dyMm,
                         m.ty + m.c * g.dxMm + m.d * g.dyMm};
        for (const LetterPart& part : *parts) {
            result.push_back(mapped(part, map));
            counted += static_cast<int>(part.columns.size());
        }
    }
    return result;
}

Result<StitchedLettering> stitchLettering(const Lettering& lettering,
                                          const std::shared_ptr<const Face>& face, bool joined) {
    Result<Setting> setting = setLettering(lettering, *face, joined);
    if (!setting) return setting.error();
    StitchedLettering result;
    result.setting = std::move(*setting);
    std::vector<PartToSew> parts;
    FineThings things;
    double satin = 0, all = 0;
    std::size_t word = 0;
    int line = 0;
    for (const PlacedLetter& letter : result.setting.letters) {
        if (joined && (letter.glyphs.empty() || letter.line != line)) {
            runThroughWord(parts, word);
            word = parts.size();
            line = letter.line;
        }
        const std::size_t first = parts.size();
        const LetterChange* change = lettering.change(letter.index);
        std::vector<LetterPart> own = letterParts(letter, face, lettering);
        things.look(letter, own);
        for (LetterPart& part : own) {
            for (const Column& c : part.columns) {
                ++result.columns;
                for (const Rung& r : c.rungs) {
                    all += r.width();
                    if (!c.thin && !c.filled) satin += r.width();
                }
            }
            ++result.parts;
            const Box box = boundsOf(part.outline);
            parts.push_back({std::move(part),
                             change && change->thread ? *change->thread : lettering.thread, box});
        }
        orderParts(parts, first);
        markMain(parts, first);
    }
    if (joined) runThroughWord(parts, word);
    sortByThread(parts);
    result.satinShare = all > 0 ? satin / all : 0;
    result.list.name = lettering.text;
    std::replace(result.list.name.begin(), result.list.name.end(), '\n', ' ');
    LetteringSewer(lettering, result).sew(std::move(parts));
    thinCrowdedRows(result.list, thinningTarget(lettering.mostLayers));
    addWarnings(result, things);
    return result;
}

Result<StitchedLettering> stitchLettering(const Lettering& lettering) {
    const auto face = openFace(lettering.face);
    if (!face) return face.error();
    return stitchLettering(lettering, *face, isJoined(lettering.face));
}

double leastGoodCapMm(const std::shared_ptr<const Face>& face, double threadWidthMm,
                      double fabricLeastMm) {
    double least = fabricLeastMm;
    constexpr double large = 20;
    for (const char c : std::string("nHaesg")) {
        const ShapedLine line = face->shape(std::string(1, c));
        if (line.glyphs.empty() || !line.missing.empty()) continue;
        const auto parts = glyphColumns(face, line.glyphs[0].glyph, {large, 0.40, {}});
        // A stroke of half a thread can be widened to sew; a counter needs one and a half.
        if (const double stroke = thinnestStroke(*parts); stroke > 0)
            least = std::max(least, 0.5 * threadWidthMm * large / stroke);
        if (const double counter = smallestCounter(*parts); counter > 0)
            least = std::max(least, 1.5 * threadWidthMm * large / counter);
    }
    return least;
}

} // namespace rapt
