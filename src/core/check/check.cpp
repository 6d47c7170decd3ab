#include "check/check.h"

#include "check/choice_findings.h"
#include "divide/ring.h"
#include "job/edit_lettering.h"
#include "job/expansion.h"
#include "letter/faces.h"
#include "letter/stitching.h"
#include "load/remedies.h"
#include "registration/registration_findings.h"

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
    f.remedies = {{RemedyKind::show, "Show them", "sewn again", setHidden(ids, false)}};
    findings.push_back(std::move(f));
}

/// Letters that are too fine for their thread or the cloth, and joins that do not hold.
void judgeLettering(const Job& job, const Fabric& fabric, StitchCache& cache,
                    std::vector<Finding>& findings, std::stop_token stop) {
    constexpr const char* kinds[] = {"letters-fine", "letters-counter", "letters-join"};
    for (const Piece& piece : job.pieces) {
        const auto* words = std::get_if<LetteringContent>(&piece.content);
        if (!words || piece.hidden || stop.stop_requested()) continue;
        const double k = piece.keep == Keep::spacing ? sizeFactor(piece) : 1;
        const Lettering sized = scaled(*words->lettering, k);
        const auto face = openFace(sized.face);
        const auto made = cache.words(words->lettering, k);
        if (!face || !made) continue;
        const StitchedLettering* stitched = made->get();
        const Affine map = piece.pose.unscaled().affine();
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
            f.remedies = {{RemedyKind::size,
                           fmt::format("Letter it {:.1f} mm high", std::ceil(least * 10) / 10),
                           fmt::format("{:.1f} → {:.1f} mm", sized.capHeightMm, wanted * k),
                           changeLettering(piece.id, "Letter it larger",
                                           [wanted](Lettering& l) { l.capHeightMm = wanted; }),
                           sized.capHeightMm, wanted * k}};
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
            f.remedies = {{RemedyKind::move, "Move it onto the cloth",
                           fmt::format("{:+.1f}, {:+.1f} mm", by.x, by.y),
                           movePieces({span.source}, by)}};
        findings.push_back(std::move(f));
    }
}

/// Names of a hooping's pieces, three at most.
std::string namesIn(const Job& job, const Hooping& hooping) {
    std::string names;
    for (std::size_t i = 0; i < hooping.pieces.size() && i < 3; ++i) {
        const Piece* p = job.piece(hooping.pieces[i]);
        names += (i ? ", " : "") + (p ? p->name : hooping.pieces[i]);
    }
    return hooping.pieces.size() > 3 ? names + ", …" : names;
}

/// Joins that will be seen: of hoopings that were found on the cloth by their fits, of others only
/// where the forecast is far beyond what care can make good.
void judgeJoins(const Job& job, const std::vector<JoinCheck>& checks,
                std::vector<Finding>& findings) {
    constexpr double hopeless = 4; // times the limit
    const double limit = job.brief.joinLimitMm;
    for (const JoinCheck& c : checks) {
        const bool known = c.earlierKnown && c.laterKnown;
        // Of one that was found and one that was not, nothing is sure until both are.
        const bool forecast = !c.earlierKnown && !c.laterKnown;
        if (c.held || !(known || (forecast && c.medianMm >= hopeless * limit))) continue;
        const Hooping &a = job.hoopings[c.join.earlier], &b = job.hoopings[c.join.later];
        Finding f = finding(
            known && c.medianMm > limit ? Severity::stop : Severity::caution, "join",
            fmt::format(
                "Hoopings {} ({}) and {} ({}) meet with a gap of {:.1f} mm, {:.1f} at most; "
                "over {:.1f} mm it is seen",
                c.join.earlier + 1, namesIn(job, a), c.join.later + 1, namesIn(job, b), c.medianMm,
                c.p95Mm, limit));
        f.at = c.join.at;
        f.value = c.p95Mm;
        f.limit = limit;
        f.pieces = a.pieces;
        for (const std::string& id : b.pieces)
            if (std::find(f.pieces.begin(), f.pieces.end(), id) == f.pieces.end())
                f.pieces.push_back(id);
        f.cause = known ? "So they lie by what was seen of the cloth."
                        : "So the plan forecasts it for the way the cloth is found.";
        f.advice = known
                       ? fmt::format("Sew hooping {} with its correction, or hoop it again nearer "
                                     "to its marks.",
                                     c.join.later + 1)
                       : "Plan it with marks that both hoopings see, or with a frame that holds "
                         "both.";
        findings.push_back(std::move(f));
    }
}

/// Records that the job names and nobody knows.
void judgeRecords(const Job& job, const Library& library, std::vector<Finding>& findings) {
    const auto unknown = [&](const char* kind, const std::string& what, const Error& error) {
        Finding f = finding(Severity::caution, kind, "The job names " + what + ": " + error.reason);
        f.advice = "Choose one in Brief that is known, or add its record.";
        findings.push_back(std::move(f));
    };
    if (const auto machine = library.machine(job.brief.machine);
        !job.brief.machine.empty() && !machine)
        unknown("machine-unknown", "a machine that is not known", machine.error());
    for (const std::string& id : job.brief.hoops)
        if (const auto hoop = library.hoop(id); !hoop)
            unknown("frame-unknown", "a frame as owned that is not known", hoop.error());
}

} // namespace

Result<SewableJob> stitchWhatCan(const Job& job, StitchCache& cache, std::stop_token stop) {
    SewableJob sewable;
    const std::vector<PlacedPiece> placed = placedPieces(job, cache, stop);
    std::vector<const PlacedPiece*> good;
    for (const PlacedPiece& p : placed) {
        const auto list = cache.stitch(p.piece);
        if (list) {
            good.push_back(&p);
            continue;
        }
        if (p.copy > 1 || p.outline) continue;
        Finding f = finding(Severity::stop, "not-stitched",
                            fmt::format("{}: {}", p.piece.name, list.error().reason));
        f.pieces = {p.source};
        sewable.problems.push_back(std::move(f));
    }
    auto stitched = stitchPlaced(good, {{}, job.trimOverMm}, cache, stop);
    if (!stitched) return stitched.error();
    sewable.stitched = std::move(*stitched);
    sewable.stitched.list.name = job.name;
    return sewable;
}

Result<std::vector<Finding>> judgeJob(const WeighedJob& weighed, StitchCache& cache,
                                      std::stop_token stop) {
    std::vector<Finding> findings = loadFindings(weighed, {}, stop);
    judgeCloth(weighed.job, weighed.stitched, findings);
    judgeLettering(weighed.job, weighed.fabric, cache, findings, stop);
    judgeHidden(weighed.job, findings);
    for (Finding& f : choiceFindings(weighed, cache)) findings.push_back(std::move(f));
    // What a finding brings along is tried before it is offered.
    for (Finding& f : findings)
        if (!f.remedies.empty()) f.remediesOpen = true;
    if (stop.stop_requested()) return cancelled();
    return findings;
}

Result<PlannedLists> plannedLists(const Job& job, const Library& library, StitchCache& cache,
                                  std::stop_token stop) {
    PlannedLists planned;
    if (job.hoopings.empty()) {
        if (!job.pieces.empty())
            planned.findings = {finding(Severity::note, "hoopings", "No hoopings are planned yet")};
        return planned;
    }
    auto lists = hoopingLists(job, library, &cache, stop);
    if (!lists && lists.error().fault == Fault::cancelled) return lists.error();
    if (lists) {
        planned.lists = std::move(*lists);
        planned.findings = ringFindings(job, planned.lists, library);
        if (auto joins = forecastPlan(job, library, cache, stop)) planned.joins = std::move(*joins);
        planned.checks =
            checkJoins(job, planned.joins, placingNoise(job, methodOf(job.hoopings), library));
        for (Finding& f : registrationFindings(job, planned.lists, library))
            planned.findings.push_back(std::move(f));
        judgeJoins(job, planned.checks, planned.findings);
        if (const auto machine = library.machine(job.brief.machine))
            for (Finding& f : bobbinFindings(job, planned.lists, *machine))
                planned.findings.push_back(std::move(f));
    } else {
        planned.findings = {
            finding(Severity::stop, "hoopings",
                    "The hoopings no longer suit the layout: " + lists.error().reason)};
    }
    return planned;
}

Judge judgeWith(const Fabric& fabric) {
    return [fabric](const Job& job, StitchCache& cache,
                    std::stop_token stop) -> Result<std::vector<Finding>> {
        auto sewable = stitchWhatCan(job, cache, stop);
        if (!sewable) return sewable.error();
        const auto map = LoadMap::measure(sewable->stitched.list, stop);
        if (!map) return map.error();
        const auto facts = pieceFacts(job, sewable->stitched, *map, stop);
        auto findings = judgeJob({job, sewable->stitched, *map, facts, fabric}, cache, stop);
        if (findings)
            findings->insert(findings->end(), sewable->problems.begin(), sewable->problems.end());
        return findings;
    };
}

Result<CheckedJob> checkJob(const Job& job, const Library& library, StitchCache* cache,
                            std::stop_token stop) {
    const Result<Fabric> fabric = library.fabric(job.brief.fabric);
    if (!fabric) return fabric.error();
    StitchCache own;
    StitchCache& stitches = cache ? *cache : own;
    auto sewable = stitchWhatCan(job, stitches, stop);
    if (!sewable) return sewable.error();
    CheckedJob checked;
    checked.stitched = std::move(sewable->stitched);
    auto map = LoadMap::measure(checked.stitched.list, stop);
    if (!map) return map.error();
    checked.load = std::move(*map);
    checked.facts = pieceFacts(job, checked.stitched, checked.load, stop);
    const WeighedJob weighed{job, checked.stitched, checked.load, checked.facts, *fabric};
    auto findings = judgeJob(weighed, stitches, stop);
    if (!findings) return findings.error();
    auto planned = plannedLists(job, library, stitches, stop);
    if (!planned) return planned.error();
    checked.findings = std::move(sewable->problems);
    judgeRecords(job, library, checked.findings);
    for (Finding& f : *findings) checked.findings.push_back(std::move(f));
    for (Finding& f : planned->findings) checked.findings.push_back(std::move(f));
    std::stable_sort(checked.findings.begin(), checked.findings.end(), worseThan);
    return checked;
}

Status findRemedies(CheckedJob& checked, const Job& job, const Library& library, StitchCache& cache,
                    std::stop_token stop) {
    const Result<Fabric> fabric = library.fabric(job.brief.fabric);
    if (!fabric) return fabric.error();
    findRemedies({job, checked.stitched, checked.load, checked.facts, *fabric}, checked.findings,
                 cache, judgeWith(*fabric), stop);
    return done();
}

} // namespace rapt
