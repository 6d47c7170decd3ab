#include "divide/hooping_lists.h"

#include "base/file_io.h"
#include "formats/stitch_csv.h"
#include "job/expansion.h"
#include "thread/measures.h"

#include <filesystem>
#include <fmt/format.h>
#include <map>

namespace rapt {
namespace {

/// Everything that is sewn, by its id.
using Placed = std::map<std::string, const PlacedPiece*>;

/// Every piece in exactly one hooping, and every piece that a hooping names in the job.
std::optional<Error> planMismatch(const Job& job, const std::vector<PlacedPiece>& placed,
                                  const Placed& byId, StitchCache& cache) {
    if (job.hoopings.empty()) return cannotDo("no hoopings are planned; divide the job first");
    std::map<std::string, int> uses;
    for (const Hooping& h : job.hoopings)
        for (const std::string& id : h.pieces) {
            if (!byId.contains(id))
                return cannotDo(fmt::format("a hooping names piece '{}', which the job no longer "
                                            "has; divide again",
                                            id));
            if (++uses[id] > 1)
                return cannotDo(fmt::format("piece '{}' is in two hoopings; divide again", id));
        }
    for (const PlacedPiece& p : placed)
        if (!uses.contains(p.piece.id)) {
            const auto list = cache.stitch(p.piece);
            if (list && extentsOf(**list).empty()) continue;
            return cannotDo(fmt::format("{} is in no hooping; divide again",
                                        p.copy > 1 ? p.piece.id : p.piece.name),
                            p.source);
        }
    return std::nullopt;
}

std::optional<Error> outsideField(const StitchedJob& stitched, const Hoop& hoop, std::size_t n) {
    for (const PieceSpan& span : stitched.spans)
        for (std::size_t i = span.first; i < span.last; ++i) {
            const Stitch& s = stitched.list.stitches[i];
            if (s.op == Op::stitch && !hoop.reaches(s.at()))
                return cannotDo(fmt::format("piece '{}' reaches out of the field of hooping {} "
                                            "({}); divide again",
                                            span.id, n, hoop.id),
                                span.id);
        }
    return std::nullopt;
}

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
    if (const auto error = planMismatch(job, placed, byId, stitches)) return *error;
    std::vector<HoopingList> lists;
    for (const Hooping& h : job.hoopings) {
        const Result<Hoop> hoop = library.hoop(h.hoop);
        if (!hoop) return hoop.error();
        std::vector<const PlacedPiece*> pieces;
        for (const std::string& id : h.pieces) pieces.push_back(byId.at(id));
        auto stitched =
            stitchPlaced(pieces, {h.pose.affine().inverse(), job.trimOverMm}, stitches, stop);
        if (!stitched) return stitched.error();
        if (const auto error = outsideField(*stitched, *hoop, lists.size() + 1)) return *error;
        HoopingList list;
        list.list = std::move(stitched->list);
        list.list.name = fmt::format("{} - hooping {}", job.name, lists.size() + 1);
        const Measures m = measure(list.list);
        list.stitches = m.stitches;
        list.extents = m.extents;
        lists.push_back(std::move(list));
    }
    return lists;
}

std::string hoopingFileName(std::size_t number) {
    return fmt::format("hooping-{:02}.stitch.csv", number);
}

Result<std::vector<std::string>> exportHoopings(const std::vector<HoopingList>& lists,
                                                const std::string& folder) {
    std::vector<FileToWrite> files;
    std::vector<std::string> names;
    for (const HoopingList& list : lists) {
        names.push_back(hoopingFileName(files.size() + 1));
        files.push_back({names.back(), formatStitchCsv(list.list)});
    }
    std::vector<std::string> obsolete;
    std::error_code ec;
    for (const auto& entry : std::filesystem::directory_iterator(folder, ec)) {
        const std::string name = entry.path().filename().string();
        if (isExportName(name) && std::find(names.begin(), names.end(), name) == names.end())
            obsolete.push_back(name);
    }
    const Status written = writeFilesTogether(folder, files, obsolete);
    if (!written) return written.error();
    return names;
}

} // namespace rapt
