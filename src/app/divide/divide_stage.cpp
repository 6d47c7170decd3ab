#include "app/divide/divide_stage.h"

#include "app/divide/batch_page.h"
#include "app/divide/frames_page.h"
#include "app/divide/marks_page.h"
#include "app/divide/plan_page.h"
#include "job/hooping_name.h"

namespace rapt::app {
namespace {

constexpr const char* words[] = {"No", "One", "Two", "Three", "Four", "Five", "Six", "Seven"};

QString countWord(int n) { return n < 8 ? QString(words[n]) : QString::number(n); }

} // namespace

DivideStage::DivideStage(Session& s, QWidget* parent)
    : StageView(s, parent), offers(new FrameOffers(s, this)) {
    auto* batches = new BatchPage(session);
    addPage(tr("Plan"), "divideTab", new PlanPage(session, *offers), 0);
    addPage(tr("Marks"), "divideTab", new MarksPage(session), 0);
    addPage(tr("Batch"), "divideTab", batches, 0);
    addPage(tr("Frames"), "divideTab", new FramesPage(session), 0);
    column->addStretch();
    connect(batches, &BatchPage::jobMade, this, &DivideStage::jobMade);
    connect(&session.dividing, &DivideState::choicesChanged, this, &DivideStage::refreshIfShown);
    showPage(plan);
}

void DivideStage::refresh() {
    if (!session.job().pieces.empty()) offers->request();
    StageView::refresh();
}

void DivideStage::judge() {
    const Job& job = session.job();
    const auto derived = session.derived();
    if (job.pieces.empty()) {
        judgement->say(tr("There is nothing to hoop yet."), tr("Bring in a design in Compose."));
        return;
    }
    if (job.hoopings.empty()) {
        judgement->say(tr("No hoopings are planned yet."),
                       tr("Choose a frame below; the table says what each would take."));
        return;
    }
    if (session.isCurrent() && derived && derived->planned && derived->hoopings().empty()) {
        QString reason = tr("The layout was changed since. Plan it again.");
        for (const Finding& f : derived->planned->findings)
            if (f.kind == "hoopings") reason = QString::fromStdString(f.text);
        judgement->say(tr("The plan no longer suits the layout."), reason);
        return;
    }
    int clampings = 0;
    for (const Hooping& h : job.hoopings) clampings = std::max(clampings, h.clamping);
    const auto n = static_cast<int>(job.hoopings.size());
    const QString cuts = job.cuts.empty() ? tr("nothing is cut") : tr("what fits no field is cut");
    judgement->say(clampings == 1 && n == 1 ? tr("One hooping takes it all.")
                   : n == clampings
                       ? tr("%1 hoopings, %2.").arg(countWord(clampings), cuts)
                       : tr("%1 hoopings, the cloth is hooped %2; %3.")
                             .arg(countWord(n), QString::fromStdString(timesText(clampings)), cuts),
                   reason(clampings));
}

/// What is wrong with where the frames stand, else what the joins will be like.
QString DivideStage::reason(int clampings) const {
    const auto derived = session.derived();
    if (derived && derived->planned)
        for (const Finding& f : derived->planned->findings)
            if (f.severity != Severity::note)
                return "△ " + QString::fromStdString(f.text) + ". " +
                       (f.remedy() ? QString::fromStdString(f.remedy()->label)
                                   : QString::fromStdString(f.cause).section('.', 0, 0)) +
                       ".";
    if (clampings == 1) return tr("Mark the cloth at its marks, then register it.");
    return tr("Where two of them meet, expect %1 mm (RMS) between them.")
        .arg(session.job().predictedJoinRmsMm, 0, 'f', 2);
}

} // namespace rapt::app
