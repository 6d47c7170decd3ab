#include "app/register/register_stage.h"

#include "app/kit/frame_name.h"
#include "app/register/fit_page.h"
#include "app/register/points_page.h"
#include "app/register/practice_page.h"
#include "app/register/scan_page.h"
#include "app/register/trace_page.h"
#include "app/stitchout/sewing_state.h"
#include "registration/guided.h"

#include <QDropEvent>
#include <QMimeData>
#include <QSignalBlocker>

namespace rapt::app {

RegisterStage::RegisterStage(Session& s, QWidget* parent)
    : StageView(s, parent), reader(new ScanReader(s, this)), hooping(new QComboBox),
      guide(new GuideStrip(s)) {
    setAcceptDrops(true);
    column->addLayout(row(tr("Hooping"), hooping));
    hooping->setAccessibleName(tr("Hooping"));
    hooping->setObjectName("registeredHooping");
    column->addWidget(guide);
    addPage(tr("Scan"), "registerTab", scans = new ScanPage(session, *reader));
    addPage(tr("Points"), "registerTab", new PointsPage(session));
    addPage(tr("Fit"), "registerTab", new FitPage(session));
    addPage(tr("Draw"), "registerTab", new TracePage(session));
    addPage(tr("Practice"), "registerTab", new PracticePage(session));
    connect(hooping, &QComboBox::activated, this, [this](int i) { session.setHooping(i); });
    connect(&session.registering, &RegisterState::ready, this, &RegisterStage::refreshIfShown);
    connect(&session, &Session::chosenReady, this, &RegisterStage::refreshIfShown);
    connect(&session, &Session::hoopingChanged, this, &RegisterStage::refreshIfShown);
    connect(&session.registering, &RegisterState::changed, this, &RegisterStage::followPointer);
    // What was found is first looked at on the cloth, then taken.
    connect(reader, &ScanReader::proposed, this, [this] { showPage(scan); });
    showPage(scan);
}

/// A connected machine's pointer goes where the needle's does.
void RegisterStage::followPointer() {
    const auto at = session.registering.pointer();
    if (at == followed) return;
    followed = at;
    const auto machine = session.library.machine(session.job().brief.machine);
    if (!at || !machine) return;
    MachineRun& run = session.sewing.machine(*machine);
    if (run.isConnected() && run.state() != MachineRun::State::sewing) run.pointAt(*at);
}

void RegisterStage::onPage(int page) {
    if (!tabs->button(page)->isChecked()) session.setTool(ToolKind::select);
    session.registering.setShowsSeen(page != trace);
    if (page != fit && session.registering.showsTrust()) session.registering.setShowsTrust(false);
}

void RegisterStage::refresh() {
    fillHoopings();
    guide->refresh();
    StageView::refresh();
}

void RegisterStage::fillHoopings() {
    const QSignalBlocker quiet(hooping);
    hooping->clear();
    const auto& hoopings = session.job().hoopings;
    for (std::size_t i = 0; i < hoopings.size(); ++i) {
        const Registration* r = session.job().registration(static_cast<int>(i) + 1);
        const bool found = r && bool(fitOf(*r));
        const bool chosen = found && r->choice != CorrectionChoice::open;
        hooping->addItem(tr("%1, %2%3")
                             .arg(i + 1)
                             .arg(frameName(session.library, hoopings[i].hoop))
                             .arg(chosen  ? tr(" — ready")
                                  : found ? tr(" — found")
                                          : QString()));
    }
    hooping->setCurrentIndex(session.hooping());
    hooping->setVisible(!hoopings.empty());
    for (QAbstractButton* b : tabs->buttons()) b->setEnabled(!hoopings.empty());
    for (Page* page : pages) page->setEnabled(!hoopings.empty());
}

void RegisterStage::judge() {
    if (session.job().hoopings.empty()) {
        judgement->say(tr("There is nothing to register yet."),
                       tr("Plan the hoopings in Divide first."));
        return;
    }
    const int number = session.hooping() + 1;
    const Registration* r = session.job().registration(number);
    if (!r || r->observations.empty()) {
        judgement->say(tr("Hooping %1 is not found yet.").arg(number),
                       tr("Two marks give the correction; a third tells whether to trust it."));
        return;
    }
    const auto* known = session.assessment();
    if (!known) return judgement->say(tr("Hooping %1 is being fitted.").arg(number), {});
    if (!*known) {
        QString reason = QString::fromStdString((*known).error().reason);
        reason[0] = reason[0].toUpper();
        return judgement->say(tr("This gives no correction yet."), reason + ".");
    }
    judgeFit(*r, **known);
}

void RegisterStage::judgeFit(const Registration& r, const Assessment& a) {
    const QString text = QString::fromStdString(a.report.text);
    if (isOutdated(session.job(), r))
        return judgement->say(tr("Register it again."),
                              tr("The plan of this hooping changed since it was found."));
    // What one wrong observation makes of the correction is not worth judging.
    if (a.report.suspectIsSerious) return judgement->say(tr("Look again before you sew."), text);
    if (a.miss) {
        QString reason = QString::fromStdString(a.miss->text);
        reason[0] = reason[0].toUpper();
        return judgement->say(tr("The corrected design does not fit."),
                              reason.section(". At most", 0, 0) + ".");
    }
    if (a.report.verdict == Verdict::redo)
        return judgement->say(tr("Do not sew: hoop or measure again."), text);
    if (a.report.verdict == Verdict::doubt)
        return judgement->say(tr("Look again before you sew."), text);
    for (const JoinCheck& j : a.joins)
        if (!j.held && j.earlierKnown && j.laterKnown)
            return judgement->say(tr("The join may show."),
                                  text + " " +
                                      tr("Join %1–%2 may gape %3 mm, over the limit of %4.")
                                          .arg(j.join.earlier + 1)
                                          .arg(j.join.later + 1)
                                          .arg(j.p95Mm, 0, 'f', 2)
                                          .arg(a.limitMm, 0, 'f', 2));
    const char* sentences[] = {"Sew it with the correction.", "Ready: sewn with the correction.",
                               "Ready: sewn as planned."};
    judgement->say(tr(sentences[static_cast<int>(r.choice)]), text);
}

void RegisterStage::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasUrls() && event->mimeData()->urls().first().isLocalFile())
        event->acceptProposedAction();
}

void RegisterStage::dropEvent(QDropEvent* event) {
    event->acceptProposedAction();
    reader->readFile(event->mimeData()->urls().first().toLocalFile());
}

} // namespace rapt::app
