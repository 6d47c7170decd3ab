#include "registration/registration_findings.h"

#include "registration/correction.h"
#include "registration/guided.h"

#include <fmt/format.h>

namespace rapt {
namespace {

constexpr double squareNoteDeg = 0.5, squareCautionDeg = 1.0;

class Judging {
public:
    Judging(const Job& j, const std::vector<HoopingList>& l, const Library& lib)
        : job(j), lists(l), library(lib) {}

    std::vector<Finding> run() {
        for (const Registration& r : job.registrations) {
            if (r.observations.empty() || r.hooping > static_cast<int>(job.hoopings.size()))
                continue;
            // What was seen of another plan says nothing of this one.
            if (isOutdated(job, r)) {
                outdated(r);
                continue;
            }
            const auto report = fitOf(r);
            if (!report) {
                unfit(r, report.error());
                continue;
            }
            suspect(r, *report);
            redo(r, *report);
            square(r, *report);
            stretch(r, *report);
            field(r);
        }
        return std::move(findings);
    }

private:
    Finding& add(const Registration& r, Severity severity, const char* kind, std::string text) {
        Finding f;
        f.severity = severity;
        f.kind = kind;
        const Hooping& h = job.hoopings[static_cast<std::size_t>(r.hooping) - 1];
        f.at = Vec2{h.pose.x, h.pose.y};
        f.text = fmt::format("Hooping {}: {}", r.hooping, text);
        findings.push_back(std::move(f));
        return findings.back();
    }

    void outdated(const Registration& r) {
        add(r, Severity::caution, "register-outdated",
            "it was registered before its place in the plan changed")
            .cause = "Scan or measure it again; what was seen belongs to the old place";
    }

    /// What was seen gives no correction; it is sewn as planned then, if anybody says so.
    void unfit(const Registration& r, const Error& error) {
        if (r.choice == CorrectionChoice::asPlanned) return;
        Finding& f = add(r, Severity::caution, "register-unfit",
                         "what was seen gives no correction: " + error.reason);
        f.advice = "Measure another mark or take a wrong one out; or choose to sew it as planned.";
    }

    void redo(const Registration& r, const ObservationReport& report) {
        if (report.verdict != Verdict::redo) return;
        const bool asPlanned = r.choice == CorrectionChoice::asPlanned;
        Finding& f = add(r, asPlanned ? Severity::caution : Severity::stop, "register-redo",
                         fmt::format("what was seen does not fit the plan: {:.2f} mm RMS, {:.1f} "
                                     "times what its uncertainty explains",
                                     report.fit.rmsMm, report.fit.chi));
        f.value = report.fit.rmsMm;
        f.cause = "The cloth is drawn out of shape, or something was measured wrongly";
        f.advice = "Hoop it again or measure again; nothing is sewn with this correction.";
    }

    void suspect(const Registration& r, const ObservationReport& report) {
        if (!report.suspectIsSerious) return;
        const Observation& o = r.observations[*report.suspect];
        Finding& f = add(r, Severity::caution, "register-suspect",
                         fmt::format("{} does not fit the others, {:.2f} mm RMS with it and {:.2f} "
                                     "mm without",
                                     o.name, report.fit.rmsMm, report.withoutSuspect->rmsMm));
        f.cause = "Look at it again before you sew";
        f.value = report.fit.rmsMm;
        f.remedies = {
            {RemedyKind::leaveOutSeen, fmt::format("Leave {} out", o.name),
             fmt::format("{:.2f} → {:.2f} mm", report.fit.rmsMm, report.withoutSuspect->rmsMm),
             leaveOut(r.hooping, *report.suspect, true)}};
    }

    void square(const Registration& r, const ObservationReport& report) {
        std::vector<const Observation*> lines;
        for (const Observation& o : r.observations)
            if (o.kind == Observation::Kind::line && !o.leftOut) lines.push_back(&o);
        // By the lines alone: cards a hand apart tell angles far less surely than their places.
        const auto askew = report.linesSquareErrorDeg;
        if (!askew || *askew < squareNoteDeg) return;
        const auto span = [](const Observation* o) {
            return distance(o->seenLine.front(), o->seenLine.back());
        };
        const Observation* shorter = span(lines[0]) < span(lines[1]) ? lines[0] : lines[1];
        Finding& f = add(r, *askew < squareCautionDeg ? Severity::note : Severity::caution,
                         "register-square",
                         fmt::format("the datum lines are {:.1f}° out of square", *askew));
        f.value = *askew;
        f.limit = squareNoteDeg;
        f.cause = fmt::format("Draw the {} again: it is the shorter one, and told less surely",
                              shorter->name);
    }

    void stretch(const Registration& r, const ObservationReport& report) {
        const auto fabric = library.fabric(job.brief.fabric);
        if (!fabric || !report.scale) return;
        const double percent = std::abs(*report.scale - 1) * 100;
        // Two hand-placed points a hand's width apart say nothing of half a percent.
        if (percent <= fabric->usualStretchPercent || percent <= 2 * scaleSigma(r) * 100) return;
        Finding& f = add(r, Severity::caution, "register-stretch",
                         fmt::format("the cloth lies {:.1f} % {}; {} is hooped within {:g} % as a "
                                     "rule",
                                     percent, *report.scale > 1 ? "longer" : "shorter",
                                     fabric->name, fabric->usualStretchPercent));
        f.value = percent;
        f.limit = fabric->usualStretchPercent;
        f.cause = "Hoop it again without pulling, or allow stretch in the fit and sew as it lies";
    }

    /// σ of the scale from the observations' own σ and how far they are spread.
    static double scaleSigma(const Registration& r) {
        Vec2 middle;
        double n = 0, spread = 0, sigma = 0;
        for (const Observation& o : r.observations)
            if (o.kind != Observation::Kind::line && !o.leftOut) {
                middle = middle + o.planned;
                sigma = std::max(sigma, o.sigmaMm);
                ++n;
            }
        middle = middle * (1 / std::max(1.0, n));
        for (const Observation& o : r.observations)
            if (o.kind != Observation::Kind::line && !o.leftOut)
                spread += dot(o.planned - middle, o.planned - middle);
        return sigma / std::sqrt(std::max(1e-9, spread));
    }

    void field(const Registration& r) {
        if (r.choice == CorrectionChoice::asPlanned) return;
        const int clamping = job.hoopings[static_cast<std::size_t>(r.hooping) - 1].clamping;
        for (std::size_t i = 0; i < lists.size(); ++i) {
            if (job.hoopings[i].clamping != clamping) continue;
            const int number = static_cast<int>(i) + 1;
            const auto hoop = library.hoop(job.hoopings[i].hoop);
            const auto motion = correctionOf(job, number);
            if (!hoop || !motion) continue;
            const auto miss =
                fieldMiss(lists[i].list, *motion, *hoop, fieldToFrame(job.hoopings[i]));
            if (!miss) continue;
            Registration at = r;
            at.hooping = number;
            Finding& f = add(at, Severity::stop, "register-field", miss->text);
            f.value = miss->edges.front().overMm;
            f.limit = 0;
            return;
        }
    }

    const Job& job;
    const std::vector<HoopingList>& lists;
    const Library& library;
    std::vector<Finding> findings;
};

} // namespace

std::vector<Finding> registrationFindings(const Job& job, const std::vector<HoopingList>& lists,
                                          const Library& library) {
    return Judging(job, lists, library).run();
}

} // namespace rapt
