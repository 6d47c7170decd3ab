#include "app/window/stage_summary.h"
#include "app/stitchout/sewing_state.h"

#include "app/weigh/findings_list.h"
#include "registration/correction.h"

namespace rapt::app {
namespace {

QString sizeText(const Session& s, double w, double h) {
    const QString width = s.lengthText(w, 0);
    return QString("%1 × %2").arg(width.section(' ', 0, -2), s.lengthText(h, 0));
}

StageSummary brief(const Session& s) {
    const Brief& b = s.job().brief;
    const auto fabric = s.library.fabric(b.fabric);
    if (!fabric)
        return {QObject::tr("fabric %1 is unknown").arg(QString::fromStdString(b.fabric)),
                StageState::attention};
    const auto hoops = b.hoops.size();
    const QString line = QString("%1, %2 %3")
                             .arg(QString::fromStdString(fabric->name).section(" (", 0, 0))
                             .arg(hoops)
                             .arg(hoops == 1 ? QObject::tr("hoop") : QObject::tr("hoops"));
    return {line, hoops > 0 ? StageState::settled : StageState::open};
}

StageSummary compose(const Session& s) {
    if (s.job().pieces.empty()) return {QObject::tr("no pieces yet"), StageState::open};
    Box box;
    if (s.checked())
        for (const PieceSpan& span : s.checked()->stitched().spans) box.add(span.extents);
    const auto n = s.job().pieces.size();
    QString line =
        QString("%1 %2").arg(n).arg(n == 1 ? QObject::tr("piece") : QObject::tr("pieces"));
    if (!box.empty()) line += ", " + sizeText(s, box.width(), box.height());
    bool off = false;
    if (s.checked())
        for (const Finding& f : s.checked()->findings())
            off = off || f.kind == "off-cloth" || f.kind == "not-stitched";
    return {line, off ? StageState::attention : StageState::settled};
}

StageSummary weigh(const Session& s) {
    const Derived* c = s.checked();
    if (!c) {
        const auto d = s.derived();
        return {d && !d->problem.isEmpty() ? d->problem : QObject::tr("being worked out"),
                d ? StageState::attention : StageState::open};
    }
    if (s.job().pieces.empty()) return {QObject::tr("nothing to weigh yet"), StageState::open};
    // What is wrong with the plan or with where the cloth lies is told in its own line.
    std::vector<Finding> load;
    for (const Finding& f : c->findings())
        if (f.kind != "hoopings" && !f.kind.starts_with("register-")) load.push_back(f);
    const QString peak =
        QObject::tr("peak %1 layers").arg(c->load().summary().peakLayers, 0, 'f', 1);
    if (load.empty()) return {peak, StageState::settled};
    const bool stop = anyStop(load);
    // Counted as in the list on the page.
    return {FindingsList::countText(c->findings()),
            stop ? StageState::attention : StageState::settled};
}

StageSummary divide(const Session& s) {
    const auto& hoopings = s.job().hoopings;
    if (hoopings.empty()) return {QObject::tr("not planned yet"), StageState::open};
    const auto d = s.derived();
    const auto hoop = s.library.hoop(hoopings[0].hoop);
    const QString size =
        hoop ? QString("%1 × %2").arg(hoop->widthMm).arg(hoop->heightMm) : QString();
    const QString count = hoopings.size() == 1 ? QObject::tr("1 hooping")
                                               : QObject::tr("%1 hoopings").arg(hoopings.size());
    if (d && d->planned && d->hoopings().empty() && s.isCurrent())
        return {QObject::tr("plan no longer suits"), StageState::attention};
    return {count + ", " + size, StageState::settled};
}

StageSummary registration(const Session& s) {
    const Job& job = s.job();
    if (job.hoopings.empty()) return {QObject::tr("needs hoopings"), StageState::open};
    int clampings = 0, found = 0, ready = 0;
    bool bad = false;
    for (const Hooping& h : job.hoopings) clampings = std::max(clampings, h.clamping);
    for (const Registration& r : job.registrations) {
        if (r.observations.empty() || r.hooping > static_cast<int>(job.hoopings.size())) continue;
        const auto report = fitOf(r);
        if (!report) continue;
        ++found;
        if (r.choice != CorrectionChoice::open) ++ready;
        bad = bad || report->verdict != Verdict::good || isOutdated(job, r);
    }
    if (const Derived* c = s.checked())
        for (const Finding& f : c->findings())
            bad = bad || (f.kind.starts_with("register-") && f.severity == Severity::stop);
    if (found == 0) return {QObject::tr("none of %1 found").arg(clampings), StageState::open};
    const QString words =
        QObject::tr("%1 of %2 found, %3 ready").arg(found).arg(clampings).arg(ready);
    return {words, bad                 ? StageState::attention
                   : ready < clampings ? StageState::open
                                       : StageState::settled};
}

StageSummary stitchOut(Session& s) {
    const auto d = s.derived();
    if (!d || !d->weighed || d->time().stitches == 0)
        return {QObject::tr("nothing to sew yet"), StageState::open};
    for (const MachineRun* run : s.sewing.machines()) {
        const RunRecord& known = run->record();
        if (!run->task() || known.jobId != s.job().identity.text || known.sewn == 0) continue;
        if (known.finished)
            return {QObject::tr("hooping %1 sewn").arg(known.hooping),
                    known.hooping == static_cast<int>(s.job().hoopings.size()) ? StageState::settled
                                                                               : StageState::open};
        const int percent = static_cast<int>(100 * known.sewn / std::max<std::size_t>(1, known.of));
        const bool stands = known.standing() && run->state() != MachineRun::State::sewing;
        return {stands ? QObject::tr("hooping %1 stands at %2 %").arg(known.hooping).arg(percent)
                       : QObject::tr("hooping %1 sews, %2 %").arg(known.hooping).arg(percent),
                stands ? StageState::attention : StageState::open};
    }
    const auto* handing = s.handing();
    const double seconds =
        handing && *handing ? (**handing)->work.seconds.total() : d->time().totalSeconds;
    const QString time = QString::fromStdString(formatDuration(seconds));
    return {handing && *handing ? QObject::tr("%1 in all").arg(time)
                                : QObject::tr("%1 of sewing").arg(time),
            StageState::open};
}

StageSummary ledger(const Session& s) {
    const int n = s.ledgerCount();
    if (n == 0) return {QObject::tr("no record yet"), StageState::open};
    return {n == 1 ? QObject::tr("1 record of this job")
                   : QObject::tr("%1 records of this job").arg(n),
            StageState::settled};
}

} // namespace

QString stageName(Stage stage) {
    switch (stage) {
    case Stage::brief:
        return QObject::tr("Brief");
    case Stage::compose:
        return QObject::tr("Compose");
    case Stage::weigh:
        return QObject::tr("Weigh");
    case Stage::divide:
        return QObject::tr("Divide");
    case Stage::registration:
        return QObject::tr("Register");
    case Stage::stitchOut:
        return QObject::tr("Stitch-out");
    case Stage::ledger:
        return QObject::tr("Ledger");
    }
    return {};
}

std::array<StageSummary, stageCount> summarise(Session& s) {
    return {brief(s), compose(s), weigh(s), divide(s), registration(s), stitchOut(s), ledger(s)};
}

} // namespace rapt::app
