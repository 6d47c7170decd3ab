#include "divide/hooping_lists.h"

#include "base/file_io.h"
#include "divide/marks.h"
#include "divide/parts.h"
#include "divide/sewn_hoopings.h"
#include "formats/stitch_csv.h"
#include "job/expansion.h"
#include "recipe/shape.h"
#include "thread/measures.h"
#include "thread/ties.h"

#include <filesystem>
#include <fmt/format.h>
#include <fstream>
#include <map>

namespace rapt {
namespace {

// Smaller crosses cannot be found again.
constexpr double leastArmMm = 1.5;
constexpr double bastingStitchMm = 2;

/// The parts of a piece that a hooping sews; null for all of it.
const std::vector<int>* numbersIn(const Hooping& hooping, const std::string& id) {
    for (const PieceParts& p : hooping.parts)
        if (p.piece == id) return &p.numbers;
    return nullptr;
}

/// How long the arms of a cross may be so that all of it lies in the field.
double armWithin(const Hoop& hoop, Vec2 at) {
    for (double arm = crossArmMm; arm >= leastArmMm; arm -= 0.25) {
        const Vec2 tips[] = {{arm, 0}, {-arm, 0}, {0, arm}, {0, -arm}};
        if (std::all_of(std::begin(tips), std::end(tips),
                        [&](Vec2 tip) { return hoop.reaches(at + tip); }))
            return arm;
    }
    return 0;
}

/// Basting crosses at the marks of later clampings, last and in a thread of their own, so that they
/// can be taken out again. At the field's edge they are smaller, or left out.
void addWitnessCrosses(const Hooping& hooping, const Hoop& hoop, StitchList& list) {
    if (hooping.witness.empty()) return;
    int index = 1;
    while (index < 255 && list.find(static_cast<std::uint8_t>(index))) ++index;
    const auto thread = static_cast<std::uint8_t>(index);
    list.threads.push_back({thread, {150, 150, 150}, 40, witnessThreadName});
    const Affine toField = hooping.pose.affine().inverse();
    for (const Mark& m : hooping.witness) {
        const Vec2 at = toField(m.at);
        const double reach = armWithin(hoop, at);
        if (reach == 0) continue;
        for (const Vec2 arm : {Vec2{reach, 0}, Vec2{0, reach}}) {
            if (!list.stitches.empty()) {
                const Stitch& last = list.stitches.back();
                list.stitches.push_back({last.x, last.y, Op::trim, last.thread});
            }
            Polyline points = runThrough({{at - arm, at + arm}}, bastingStitchMm);
            const auto before = tieBefore(points), after = tieAfter(points);
            points.insert(points.begin(), before.begin(), before.end());
            points.insert(points.end(), after.begin(), after.end());
            list.stitches.push_back(stitchAt(Op::jump, points[0], thread));
            for (const Vec2 p : points) list.stitches.push_back(stitchAt(Op::stitch, p, thread));
        }
    }
}

/// Everything that is sewn, by its id.
using Placed = std::map<std::string, const PlacedPiece*>;

/// How often each part of each piece is sewn; number 0 stands for the whole.
using Uses = std::map<std::string, std::map<int, int>>;

std::optional<Error> usesOf(const Job& job, const Placed& byId, Uses& uses) {
    if (job.hoopings.empty()) return cannotDo("no hoopings are planned; divide the job first");
    for (const Hooping& h : job.hoopings)
        for (const std::string& id : h.pieces) {
            if (!byId.contains(id))
                return cannotDo(fmt::format("a hooping names piece '{}', which the job no longer "
                                            "has; divide again",
                                            id));
            const auto* numbers = numbersIn(h, id);
            for (const int n : numbers ? *numbers : std::vector<int>{0}) ++uses[id][n];
        }
    return std::nullopt;
}

/// Every piece, or every part of it, in exactly one hooping, and every piece that a hooping names
/// in the job.
std::optional<Error> planMismatch(const Job& job, const std::vector<PlacedPiece>& placed,
                                  const Placed& byId, PartCache& cache) {
    Uses uses;
    if (auto error = usesOf(job, byId, uses)) return error;
    for (const PlacedPiece& p : placed) {
        const std::string name = p.copy > 1 ? p.piece.id : p.piece.name;
        const auto list = cache.stitches.stitch(p.piece);
        const auto own = uses.find(p.piece.id);
        if (own == uses.end()) {
            if (list && extentsOf(**list).empty()) continue;
            return cannotDo(fmt::format("{} is in no hooping; divide again", name), p.source);
        }
        std::size_t wanted = 1;
        if (!own->second.contains(0)) {
            const auto parts = cache.of(job, p);
            if (!parts) return parts.error();
            wanted = (*parts)->size();
        }
        if (own->second.size() < wanted)
            return cannotDo(fmt::format("parts of {} are in no hooping; divide again", name),
                            p.source);
        for (const auto& [number, times] : own->second)
            if (times > 1 || own->second.size() > wanted)
                return cannotDo(
                    fmt::format("piece '{}' is in two hoopings; divide again", p.piece.id));
    }
    return std::nullopt;
}

/// What is handed over, checked record by record, moves too.
std::optional<Error> outsideField(const TracedList& list, const std::vector<PieceSpan>& spans,
                                  const Hoop& hoop, std::size_t n) {
    for (std::size_t i = 0; i < list.stitches.size(); ++i) {
        if (hoop.reaches(list.stitches[i].at())) continue;
        const std::size_t from = list.origins.at(i).value_or(0);
        const auto span = std::find_if(spans.begin(), spans.end(),
                                       [&](const PieceSpan& s) { return from < s.last; });
        const std::string id = span == spans.end() ? std::string() : span->id;
        return cannotDo(fmt::format("piece '{}' reaches out of the field of hooping {} ({}) at "
                                    "{:.1f}, {:.1f}; divide again",
                                    id, n, hoop.id, list.stitches[i].at().x,
                                    list.stitches[i].at().y),
                        id);
    }
    return std::nullopt;
}

/// The account of every piece that is sewn in parts: each penetration once, cut ends tied.
std::optional<Error> brokenAccounts(const std::vector<PlacedPiece>& some, const Placed& byId,
                                    StitchCache& stitches) {
    std::map<std::string, std::vector<const TracedList*>> parts;
    for (const PlacedPiece& p : some) parts[p.piece.id].push_back(p.relieved.get());
    for (const auto& [id, lists] : parts) {
        const auto whole = stitchesOf(*byId.at(id), stitches);
        if (!whole) return whole.error();
        auto broken = brokenAccount(**whole, lists);
        for (const TracedList* list : lists)
            if (const auto end = untiedEnd(**whole, *list); end && !broken)
                broken = fmt::format("the thread that ends at {:.2f}, {:.2f} is not tied",
                                     list->stitches[*end].at().x, list->stitches[*end].at().y);
        if (broken)
            return cannotDo(fmt::format("piece '{}' cannot be parted here: {}; move its cuts, or "
                                        "divide again",
                                        id, *broken),
                            byId.at(id)->source);
    }
    return std::nullopt;
}

HoopingList measured(StitchList list) {
    const Measures m = measure(list);
    return {std::move(list), m.stitches, m.extents};
}

/// True if one of the comment lines that a file begins with is this one.
bool hasMark(const std::filesystem::path& path, const std::string& mark) {
    constexpr int mostHeadLines = 600;
    std::ifstream file(path);
    std::string line;
    for (int i = 0; i < mostHeadLines && file.peek() == '#' && std::getline(file, line); ++i)
        if (line == mark) return true;
    return false;
}

std::string exportMark(const Job& job) { return "# exported," + job.identity.text; }

bool isExportName(const std::string& name) {
    constexpr std::string_view head = "hooping-", tail = ".stitch.csv";
    if (!name.starts_with(head) || !name.ends_with(tail)) return false;
    const std::string digits = name.substr(head.size(), name.size() - head.size() - tail.size());
    return digits.size() >= 2 && digits.find_first_not_of("0123456789") == std::string::npos;
}

} // namespace

Result<std::vector<HoopingList>> hoopingLists(const Job& job, const Library& library,
                                              StitchCache* cache, std::stop_token stop) {
    StitchCache own;
    StitchCache& stitches = cache ? *cache : own;
    const std::vector<PlacedPiece> placed = placedPieces(job, stitches, stop);
    if (stop.stop_requested()) return cancelled();
    Placed byId;
    for (const PlacedPiece& p : placed) byId[p.piece.id] = &p;
    PartCache partCache(stitches);
    if (const auto error = planMismatch(job, placed, byId, partCache)) return *error;
    std::vector<HoopingList> lists;
    std::vector<PlacedPiece> parted;
    for (const Hooping& h : job.hoopings) {
        const Result<Hoop> hoop = library.hoop(h.hoop);
        if (!hoop) return hoop.error();
        std::vector<PlacedPiece> some;
        std::vector<const PlacedPiece*> pieces;
        some.reserve(h.pieces.size());
        for (const std::string& id : h.pieces) {
            const auto* numbers = numbersIn(h, id);
            if (!numbers) {
                pieces.push_back(byId.at(id));
                continue;
            }
            auto parts = someParts(job, *byId.at(id), *numbers, partCache);
            if (!parts) return parts.error();
            some.push_back(std::move(*parts));
            pieces.push_back(&some.back());
        }
        if (auto kept = keptList(job, h); !kept) {
            return kept.error();
        } else if (*kept) { // it is sewn, whatever became of the layout
            std::move(some.begin(), some.end(), std::back_inserter(parted));
            lists.push_back(measured(std::move(**kept)));
            continue;
        }
        auto stitched =
            stitchPlaced(pieces, {h.pose.affine().inverse(), job.trimOverMm}, stitches, stop);
        if (!stitched) return stitched.error();
        TracedList tidy = withoutIdleMoves(tracedWhole(std::move(stitched->list)));
        if (const auto error = outsideField(tidy, stitched->spans, *hoop, lists.size() + 1))
            return *error;
        std::move(some.begin(), some.end(), std::back_inserter(parted));
        StitchList list = std::move(tidy);
        addWitnessCrosses(h, *hoop, list);
        list.name = fmt::format("{} - hooping {}", job.name, lists.size() + 1);
        lists.push_back(measured(std::move(list)));
    }
    if (const auto error = brokenAccounts(parted, byId, stitches)) return *error;
    return lists;
}

StitchList sewnOnCloth(const std::vector<Hooping>& hoopings, const std::vector<HoopingList>& lists,
                       std::size_t count) {
    StitchList all;
    for (std::size_t i = 0; i < std::min({count, hoopings.size(), lists.size()}); ++i) {
        const StitchList& own = lists[i].list;
        const Affine toCloth = hoopings[i].pose.affine();
        std::array<std::uint8_t, 256> index{};
        for (const Thread& t : own.threads) {
            const auto same = std::find_if(all.threads.begin(), all.threads.end(),
                                           [&](const Thread& o) { return o.sameThread(t); });
            if (same != all.threads.end()) {
                index[t.index] = same->index;
            } else if (all.threads.size() < 255) {
                index[t.index] = static_cast<std::uint8_t>(all.threads.size() + 1);
                all.threads.push_back(t);
                all.threads.back().index = index[t.index];
            }
        }
        for (const Stitch& s : own.stitches)
            all.stitches.push_back(stitchAt(s.op, toCloth(s.at()), index[s.thread]));
    }
    return all;
}

std::string hoopingFileName(std::size_t number) {
    return fmt::format("hooping-{:02}.stitch.csv", number);
}

std::vector<std::string> foreignFiles(const Job& job, std::size_t hoopings,
                                      const std::string& folder) {
    std::vector<std::string> names;
    for (std::size_t n = 1; n <= hoopings; ++n) {
        const std::filesystem::path path = std::filesystem::path(folder) / hoopingFileName(n);
        std::error_code ec;
        if (std::filesystem::exists(path, ec) && !hasMark(path, exportMark(job)))
            names.push_back(hoopingFileName(n));
    }
    return names;
}

Result<std::vector<std::string>>
exportHoopings(const Job& job, const std::vector<HoopingList>& lists, const std::string& folder) {
    const std::string mark = exportMark(job);
    std::vector<FileToWrite> files;
    std::vector<std::string> names;
    for (std::size_t i = 0; i < lists.size(); ++i) {
        if (lists[i].stitches == 0) continue;
        names.push_back(hoopingFileName(i + 1));
        std::string text = formatStitchCsv(lists[i].list);
        if (!job.identity.text.empty()) text.insert(text.find('\n') + 1, mark + "\n");
        files.push_back({names.back(), std::move(text)});
    }
    std::vector<std::string> obsolete;
    std::error_code ec;
    for (const auto& entry : std::filesystem::directory_iterator(folder, ec)) {
        const std::string name = entry.path().filename().string();
        if (isExportName(name) && std::find(names.begin(), names.end(), name) == names.end() &&
            hasMark(entry.path(), mark))
            obsolete.push_back(name);
    }
    const Status written = writeFilesTogether(folder, files, obsolete);
    if (!written) return written.error();
    return names;
}

} // namespace rapt
