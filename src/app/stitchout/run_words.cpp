#include "app/stitchout/run_words.h"

#include "run/run_steps.h"

namespace rapt::app {
namespace {

/// The steps after a hooping that is sewn.
QString whatIsLeft(Session& session, const RunRecord& known) {
    const auto derived = session.derived();
    const auto index = static_cast<std::size_t>(known.hooping) - 1;
    if (known.jobId != session.job().identity.text || !derived || !derived->planned ||
        index >= derived->hoopings().size() || index >= session.job().hoopings.size())
        return {};
    QString words;
    for (const RunStep& step :
         stepsAfter(session.job(), index, derived->hoopings(), session.library)) {
        words += "<br>· " + QString::fromStdString(step.words);
        if (!step.caution.empty()) words += " ⚠ " + QString::fromStdString(step.caution);
    }
    return words;
}

} // namespace

QString titleOf(StopKind kind) {
    switch (kind) {
    case StopKind::threadBreak:
        return QObject::tr("The thread broke");
    case StopKind::bobbinEmpty:
        return QObject::tr("The bobbin is empty");
    case StopKind::needleBreak:
        return QObject::tr("The needle broke");
    case StopKind::jam:
        return QObject::tr("The thread is jammed");
    case StopKind::powerCut:
        return QObject::tr("The power went");
    case StopKind::coneChange:
        return QObject::tr("A cone must be changed");
    case StopKind::asked:
        return QObject::tr("Stopped");
    }
    return {};
}

QString wordsOf(MachineRun::State state) {
    switch (state) {
    case MachineRun::State::apart:
        return QObject::tr("not connected");
    case MachineRun::State::idle:
        return QObject::tr("idle");
    case MachineRun::State::ready:
        return QObject::tr("ready");
    case MachineRun::State::sewing:
        return QObject::tr("sewing");
    case MachineRun::State::standing:
        return QObject::tr("standing");
    case MachineRun::State::off:
        return QObject::tr("switched off");
    }
    return {};
}

QString wordsAfterStop(Session& session, const MachineRun& r) {
    const RunRecord& known = r.record();
    const RunEvent* event = known.standing();
    if (!event || r.state() == MachineRun::State::sewing)
        return known.finished ? QObject::tr("<b>Hooping %1 is sewn.</b>").arg(known.hooping) +
                                    whatIsLeft(session, known)
                              : QString();
    QString words = QObject::tr("<b>%1</b> after stitch %L2. %3")
                        .arg(titleOf(event->kind))
                        .arg(event->sewn)
                        .arg(QString::fromStdString(adviceAfter(event->kind)));
    const Derived* checked = session.checked();
    const auto fabric = session.library.fabric(session.job().brief.fabric);
    if (const auto at = r.needle(); at && checked && fabric && r.task()) {
        const Cell cell = cellAt(r.task()->toCloth(*at));
        const std::string reason = reasonOfBreak(event->kind, checked->load().layers(cell),
                                                 checked->load().hits(cell), *fabric);
        if (!reason.empty())
            words += " " + QObject::tr("Why there: %1.").arg(QString::fromStdString(reason));
    }
    const Resume resume =
        r.task() ? resumeAfter(*r.task()->list, *r.task()->points, known.sewn, event->kind)
                 : Resume{};
    if (resume.overlap > 0)
        words += " " + (resume.overlap == 1
                            ? QObject::tr("It goes on one stitch back.")
                            : QObject::tr("It goes on %1 stitches back.").arg(resume.overlap));
    if (r.isConnected() && !r.status()["mended"].toBool(true))
        words += " " + QObject::tr("Say below when it is mended.");
    return words;
}

} // namespace rapt::app
