#include "check/check.h"

#include "divide/hooping_lists.h"
#include "job/edit_lettering.h"
#include "job/expansion.h"
#include "letter/faces.h"
#include "letter/stitching.h"
#include "load/load_findings.h"

#include <algorithm>
#include <fmt/format.h>

namespace rapt {
namespace {

Finding finding(Severity severity, std::string kind, std::string text) {
    Finding f;
    f.severity = severity;
    f.kind = std::move(kind);
    f.text = std::move(text);
    return f;
}

/// Leaves out pieces that cannot be stitched, with a finding for each.
Result<StitchedJob> stitchWhatCan(const Job& job, StitchCache& cache,
                                  std::vector<Finding>& findings, std::stop_token stop) {
    const std::vector<PlacedPiece> placed = placedPieces(job, cache);
    std::vector<const PlacedPiece*> good;
    for (const PlacedPiece& p : placed) {
        const auto list = cache.stitch(p.piece);
        if (list) {
            good.push_back(&p);
            continue;
        }
        if (p.copy > 1 || p.outline) continue;
        findings.push_back(finding(Severity::stop, "not-stitched",
                                   fmt::format("{}: {}", p.piece.name, list.error().reason)));
        findings.back().pieces = {p.source};
    }
    return stitchPlaced(good, {{}, job.trimOverMm}, cache, stop);
}

/// What is hidden is easily forgotten.
void judgeHidden(const Job& job, std::vector<Finding>& findings) {
    std::vector<std::string> ids;
    std::string names;
    for (const Piece& p : job.pieces)
        if (p.hidden) {
            ids.push_back(p.id);
            names += (names.empty() ? "" : ", ") + p.name;
        }
    if (ids.empty()) return;
    Finding f = finding(
        Severity::note, "hidden",
        fmt::format("{} hidden and will not be sewn: {}",
                    ids.size() == 1 ? "One piece is" : fmt::format("{} pieces are", ids.size()),
                    names));
    f.pieces = ids;
    f.remedy = Remedy{"Show them", "sewn again", setHidden(ids, false)};
    findings.push_back(std::move(f));
}

/// Letters that are too fine for their thread or the cloth, and joins that do not hold.
void judgeLettering(const Job& job, const Fabric& fabric, std::vector<Finding>& findings,
                    std::stop_token stop) {
    constexpr const char* kinds[] = {"letters-fine", "letters-counter", "letters-join"};
    for (const Piece& piece : job.pieces) {
        const auto* words = std::get_if<LetteringContent>(&piece.content);
        if (!words || piece.hidden || stop.stop_requested()) continue;
        const double k = piece.keep == Keep::spacing ? sizeFactor(piece) : 1;
        const Lettering sized = scaled(*words->lettering, k);
        const auto face = openFace(sized.face);
        const auto stitched = stitchLettering(sized);
        if (!face || !stitched) continue;
        Pose placed = piece.pose;
        placed.scaleX = placed.scaleY = 1;
        const Affine map = placed.affine();
        const auto add = [&](Finding f) {
            f.pieces = {piece.id};
            findings.push_back(std::move(f));
        };
        const double least =
            leastGoodCapMm(*face, apparentWidthMm(sized.thread.weight), fabric.leastLetterMm);
        if (sized.capHeightMm < least - 1e-6) {
            Finding f = finding(Severity::caution, "letters-small",
                                fmt::format("{}: capitals of {:.1f} mm are under the least good "
                                            "height of this face, {:.1f} mm with this thread on {}",
                                            piece.name, sized.capHeightMm, least, fabric.name));
            f.value = sized.capHeightMm;
            f.limit = least;
            if (!stitched->setting.letters.empty())
                f.at = map(stitched->setting.letters.front().at);
            const double wanted = std::ceil(least * 10) / 10 / k;
            f.remedy = Remedy{fmt::format("Letter it {:.1f} mm high", std::ceil(least * 10) / 10),
                              fmt::format("{:.1f} → {:.1f} mm", sized.capHeightMm, wanted * k),
                              changeLettering(piece.id, "Letter it larger",
                                              [wanted](Lettering& l) { l.capHeightMm = wanted; })};
            add(std::move(f));
        }
        for (const LetterWarning& w : stitched->warnings) {
            const bool join = w.kind == LetterWarning::Kind::openJoin;
            // The least good height says the same of fine strokes and counters.
            if (!join && sized.capHeightMm < least) continue;
            Finding f = finding(join ? Severity::caution : Severity::note,
                                kinds[static_cast<int>(w.kind)], piece.name + ": " + w.text);
            f.value = w.value;
            f.limit = w.limit;
            for (const PlacedLetter& l : stitched->setting.letters)
                if (l.index == w.letter) f.at = map(l.at);
            add(std::move(f));
        }
    }
}

void judgeCloth(const Job& job, const StitchedJob& stitched, std::vector<Finding>& findings) {
    const Box cloth = job.cloth.box();
    for (const PieceSpan& span : stitched.spans) {
        if (span.extents.empty()) continue;
        const Box& e = span.extents;
        const double over = std::max(
            {cloth.minX - e.minX, e.maxX - cloth.maxX, cloth.minY - e.minY, e.maxY - cloth.maxY});
        if (over <= 0.001) continue;
        const Piece* piece = job.piece(span.id);
        Finding f = finding(Severity::stop, "off-cloth",
                            fmt::format("{}{} reaches {:.1f} mm over the edge of the cloth",
                                        piece ? piece->name : span.id,
                                        span.outline    ? ", its outline,"
                                        : span.copy > 1 ? fmt::format(", copy {},", span.copy)
                                                        : "",
                                        over));
        f.at = e.centre();
        f.value = over;
        f.limit = 0;
        f.pieces = {span.source};
        const Vec2 by{std::max(0.0, cloth.minX - e.minX) - std::max(0.0, e.maxX - cloth.maxX),
                      std::max(0.0, cloth.minY - e.minY) - std::max(0.0, e.maxY - cloth.maxY)};
        // Moving one copy would move them all.
        if (!job.repeatOf(span.source) && e.width() <= cloth.width() &&
            e.height() <= cloth.height())
            f.remedy =
                Remedy{"Move it onto the cloth", fmt::format("{:+.1f}, {:+.1f} mm", by.x, by.y),
                       movePieces({span.source}, by)};
        findings.push_back(std::move(f));
    }
}

void judgeHoopings(const Job& job, const Library& library, StitchCache& cache,
                   std::vector<Finding>& findings) {
    if (job.hoopings.empty()) {
        if (!job.pieces.empty())
            findings.push_back(finding(Severity::note, "hoopings", "No hoopings are planned yet"));
        return;
    }
    const auto lists = hoopingLists(job, library, &cache);
    if (!lists)
        findings.push_back(
            finding(Severity::stop, "hoopings",
                    "The hoopings no longer suit the layout: " + lists.error().reason));
}

} // namespace

Result<CheckedJob> checkJob(const Job& job, const Library& library, StitchCache* cache,
                            std::stop_token stop) {
    const Result<Fabric> fabric = library.fabric(job.brief.fabric);
    if (!fabric) return fabric.error();
    StitchCache own;
    StitchCache& stitches = cache ? *cache : own;
    CheckedJob checked;
    auto stitched = stitchWhatCan(job, stitches, checked.findings, stop);
    if (!stitched) return stitched.error();
    checked.stitched = std::move(*stitched);
    auto map = LoadMap::measure(checked.stitched.list, stop);
    if (!map) return map.error();
    checked.load = std::move(*map);
    checked.facts = pieceFacts(job, checked.stitched, checked.load, stop);
    LoadFindingsOptions options;
    options.cache = &stitches;
    for (Finding& f :
         loadFindings({job, checked.stitched, checked.load, checked.facts, *fabric}, options, stop))
        checked.findings.push_back(std::move(f));
    judgeCloth(job, checked.stitched, checked.findings);
    judgeLettering(job, *fabric, checked.findings, stop);
    judgeHidden(job, checked.findings);
    judgeHoopings(job, library, stitches, checked.findings);
    std::stable_sort(checked.findings.begin(), checked.findings.end(),
                     [](const Finding& a, const Finding& b) { return a.severity < b.severity; });
    if (stop.stop_requested()) return cannotDo("cancelled");
    return checked;
}

} // namespace rapt
