#include "app/stitchout/stitchout_stage.h"
#include "app/stitchout/run_words.h"
#include "app/stitchout/sewing_state.h"

#include "app/stitchout/handover_page.h"
#include "app/stitchout/needles_page.h"
#include "app/stitchout/queue_page.h"
#include "app/stitchout/run_page.h"
#include "app/stitchout/sheets_page.h"
#include "estimate/timing.h"

namespace rapt::app {

StitchOutStage::StitchOutStage(Session& s, QWidget* parent)
    : StageView(s, parent), sheetPreview(new SheetPreview) {
    addPage(tr("Sheets"), "stitchOutTab", new SheetsPage(session, *sheetPreview));
    addPage(tr("Needles"), "stitchOutTab", new NeedlesPage(session));
    addPage(tr("Hand over"), "stitchOutTab", handing = new HandoverPage(session));
    addPage(tr("Run"), "stitchOutTab", running = new RunPage(session));
    addPage(tr("Queue"), "stitchOutTab", new QueuePage(session));
    connect(&session.sewing, &SewingState::ready, this, &StitchOutStage::refreshIfShown);
    connect(&session.sewing, &SewingState::changed, this, &StitchOutStage::refreshIfShown);
    connect(&session.sewing, &SewingState::advanced, this, [this] {
        if (isVisible() && !running->isHidden()) running->advance();
    });
    connect(&session, &Session::hoopingChanged, this, &StitchOutStage::refreshIfShown);
    showPage(handover);
}

void StitchOutStage::judge() {
    const Job& job = session.job();
    const Derived* checked = session.checked();
    const auto* known = session.handing();
    if (const MachineRun* sews = session.sewing.sewing())
        return judgement->say(tr("%1 is sewing.").arg(sews->name()),
                              tr("Hands clear while the frame moves."));
    for (const MachineRun* m : session.sewing.machines())
        if (const RunEvent* event = m->record().standing();
            event && m->record().jobId == job.identity.text)
            return judgement->say(titleOf(event->kind) + ".",
                                  tr("Hooping %1 stands at stitch %L2 of %L3; what was sewn is "
                                     "known.")
                                      .arg(m->record().hooping)
                                      .arg(m->record().sewn)
                                      .arg(m->record().of));
    if (checked && anyStop(checked->findings()))
        return judgement->say(tr("A stop is open: look at it first."),
                              QString::fromStdString(checked->findings()[0].text) + ".");
    if (job.hoopings.empty())
        return judgement->say(tr("Not ready to hand over."), tr("No hoopings are planned yet."));
    if (!known) return judgement->say(tr("The hoopings are being worked out."), {});
    if (!*known) {
        QString reason = QString::fromStdString(known->error().reason);
        reason[0] = reason[0].toUpper();
        return judgement->say(tr("Not ready to hand over."), reason + ".");
    }
    const Handing& h = ***known;
    const TimeParts& s = h.work.seconds;
    judgement->say(tr("Ready to hand over."),
                   tr("%1 in all: %2 of sewing, %3 of changes and trims, %4 of hooping and "
                      "registering.")
                       .arg(QString::fromStdString(formatDuration(s.total())),
                            QString::fromStdString(formatDuration(s.sewing)),
                            QString::fromStdString(formatDuration(s.threadChanges + s.trims)),
                            QString::fromStdString(formatDuration(s.clampings + s.registrations))));
}

} // namespace rapt::app
