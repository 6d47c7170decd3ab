#include "app/stages/stitchout_stage.h"
#include "app/state/sewing_state.h"

#include "app/panels/page_tabs.h"
#include "app/stitchout/handover_page.h"
#include "app/stitchout/needles_page.h"
#include "app/stitchout/queue_page.h"
#include "app/stitchout/run_page.h"
#include "app/stitchout/sheets_page.h"
#include "estimate/timing.h"

namespace rapt::app {

StitchOutStage::StitchOutStage(Session& s, QWidget* parent)
    : StageView(s, parent), sheetPreview(new SheetPreview), tabs(new QButtonGroup(this)),
      tabRow(new QHBoxLayout) {
    tabRow->setSpacing(4);
    column->addLayout(tabRow);
    addPage(tr("Sheets"), new SheetsPage(session, *sheetPreview));
    addPage(tr("Needles"), new NeedlesPage(session));
    addPage(tr("Hand over"), handing = new HandoverPage(session));
    addPage(tr("Run"), running = new RunPage(session));
    addPage(tr("Queue"), new QueuePage(session));
    connect(tabs, &QButtonGroup::idClicked, this,
            [this](int id) { showPage(static_cast<Page>(id)); });
    connect(&session.sewing, &SewingState::ready, this, &StitchOutStage::refreshIfShown);
    connect(&session.sewing, &SewingState::changed, this, &StitchOutStage::refreshIfShown);
    connect(&session.sewing, &SewingState::advanced, this, [this] {
        if (isVisible() && !running->isHidden()) running->advance();
    });
    connect(&session, &Session::hoopingChanged, this, &StitchOutStage::refreshIfShown);
    connect(&session, &Session::stageChanged, this, &StitchOutStage::centreChanged);
    showPage(handover);
}

void StitchOutStage::addPage(const QString& title, ComposePage* page) {
    addTab(*tabs, *tabRow, title, "stitchOutTab");
    pages.push_back(page);
    column->addWidget(page, 1);
    connect(page, &ComposePage::failed, this,
            [this](const QString& what, const QString& why) { complain(what, why); });
}

bool StitchOutStage::wantsPreview() const {
    return session.stage() == Stage::stitchOut && tabs->checkedId() == sheets;
}

void StitchOutStage::showPage(Page page) {
    tabs->button(page)->setChecked(true);
    for (std::size_t k = 0; k < pages.size(); ++k)
        pages[k]->setVisible(k == static_cast<std::size_t>(page));
    emit centreChanged();
    refreshIfShown();
}

void StitchOutStage::refresh() {
    judge();
    for (ComposePage* page : pages)
        if (!page->isHidden()) page->refresh();
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
