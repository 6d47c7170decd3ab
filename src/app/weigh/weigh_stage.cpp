#include "app/weigh/weigh_stage.h"

#include "app/weigh/cloth_page.h"
#include "app/weigh/findings_page.h"
#include "app/weigh/mend_page.h"
#include "app/weigh/pieces_page.h"

namespace rapt::app {
namespace {

/// Of what is sewn on this cloth; Divide and Register speak of their own. Null without one.
const Finding* worstStop(const Derived& checked) {
    const auto isOfPlan = [&](const Finding& f) {
        const auto* plan = checked.planned ? &checked.planned->findings : nullptr;
        return plan && std::any_of(plan->begin(), plan->end(),
                                   [&](const Finding& p) { return p.kind == f.kind; });
    };
    for (const Finding& f : checked.findings())
        if (f.severity == Severity::stop && !isOfPlan(f)) return &f;
    return nullptr;
}

} // namespace

WeighStage::WeighStage(Session& s, QWidget* parent) : StageView(s, parent) {
    addPage(tr("Findings"), "weighTab", new FindingsPage(s), 0);
    addPage(tr("Pieces"), "weighTab", new PiecesPage(s), 0);
    addPage(tr("Mend"), "weighTab", new MendPage(s), 0);
    addPage(tr("Cloth"), "weighTab", new ClothPage(s), 0);
    column->addStretch();
    showPage(findings);
    connect(&session.weighing, &WeighState::partingChanged, this, &WeighStage::refreshIfShown);
    connect(&session, &Session::stageChanged, this, [this] {
        // What is compared or played elsewhere would be taken for what is sewn.
        if (session.stage() != Stage::weigh) session.weighing.setParting({});
    });
}

void WeighStage::judge() {
    const Derived* checked = session.checked();
    const auto fabric = session.library.fabric(session.job().brief.fabric);
    if (!checked || !fabric) {
        const auto d = session.derived();
        judgement->say(tr("The load cannot be judged."), d ? d->problem : QString());
        return;
    }
    const QString ground = QString::fromStdString(fabric->name).toLower();
    const LoadSummary& s = checked->load().summary();
    const Finding* worst = worstStop(*checked);
    const bool isDense = worst && (worst->kind == "layers" || worst->kind == "hits");
    if (session.job().pieces.empty()) {
        judgement->say(tr("There is nothing to weigh yet."), tr("Bring in a design in Compose."));
    } else if (worst && !isDense) {
        judgement->say(QString::fromStdString(worst->text) + ".",
                       QString::fromStdString(worst->cause));
    } else if (isDense) {
        const Piece* p = worst->pieces.empty() ? nullptr : session.job().piece(worst->pieces[0]);
        judgement->say(tr("%1 is too dense for %2.")
                           .arg(p ? QString::fromStdString(p->name) : tr("The layout"), ground),
                       QString::fromStdString(worst->cause));
    } else {
        // A spot over the limit that is smaller than a stitch's share is no reason to change
        // anything.
        const bool spot = s.peakLayers > fabric->maxLayers;
        judgement->say(
            tr("%1 takes this layout.").arg(QString::fromStdString(fabric->name)),
            (spot ? tr("It takes %2 layers; %1 lie on a spot too small to matter, %3 in the mean.")
                  : tr("The most is %1 layers of %2, the mean %3."))
                .arg(s.peakLayers, 0, 'f', 1)
                .arg(fabric->maxLayers, 0, 'f', 1)
                .arg(s.meanLayers, 0, 'f', 1));
    }
}

} // namespace rapt::app
