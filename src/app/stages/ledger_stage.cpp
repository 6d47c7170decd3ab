#include "app/stages/ledger_stage.h"

#include "app/ledger/charts_page.h"
#include "app/ledger/estimate_page.h"
#include "app/ledger/lessons_page.h"
#include "app/ledger/records_page.h"
#include "app/panels/page_tabs.h"
#include "app/state/sewing_state.h"

namespace rapt::app {

LedgerStage::LedgerStage(Session& s, QWidget* parent)
    : StageView(s, parent), tabs(new QButtonGroup(this)), records(new RecordsPage(s)),
      lessons(new LessonsPage(s)), charts(new ChartsPage(s)), estimate(new EstimatePage(s)),
      rates(new RatesPage(s)), pages{records, lessons, charts, estimate, rates} {
    auto* tabRow = new QHBoxLayout;
    tabRow->setSpacing(4);
    column->addLayout(tabRow);
    for (const QString& title :
         {tr("Records"), tr("Lessons"), tr("Charts"), tr("Estimate"), tr("Rates")})
        addTab(*tabs, *tabRow, title, "ledgerTab");
    for (ComposePage* page : pages) {
        column->addWidget(page, 1);
        connect(page, &ComposePage::failed, this,
                [this](const QString& what, const QString& why) { complain(what, why); });
    }
    connect(rates, &RatesPage::changed, estimate, &EstimatePage::reloadRates);
    connect(lessons, &LessonsPage::changed, this, [this] {
        rates->reload();
        estimate->reloadRates();
        refreshIfShown();
    });
    connect(records, &RecordsPage::jobAsked, this, &LedgerStage::jobAsked);
    connect(tabs, &QButtonGroup::idClicked, this,
            [this](int id) { showPage(static_cast<Page>(id)); });
    connect(&session.sewing, &SewingState::ready, this, &LedgerStage::refreshIfShown);
    connect(&session.document, &Document::changed, this, [this] {
        if (session.job().identity.text != lookedFor) lookForThisJob();
    });
    connect(&session.ledger, &LedgerState::changed, this, &LedgerStage::lookForThisJob);
    lookForThisJob();
    showPage(recordsPage);
}

void LedgerStage::keepThis() {
    showPage(recordsPage);
    records->keepThis();
}

void LedgerStage::showPage(Page page) {
    tabs->button(page)->setChecked(true);
    for (std::size_t k = 0; k < pages.size(); ++k)
        pages[k]->setVisible(k == static_cast<std::size_t>(page));
    refreshIfShown();
}

void LedgerStage::refresh() {
    for (ComposePage* page : pages)
        if (!page->isHidden()) page->refresh();
    judgement->say(lastWords, lastReason);
}

void LedgerStage::lookForThisJob() {
    lookedFor = session.job().identity.text;
    struct Seen {
        qint64 count = 0;
        std::vector<StitchOut> newest;
    };
    const QString id = QString::fromStdString(lookedFor);
    const QString name = QString::fromStdString(session.job().name);
    session.ledger.ask(
        this,
        [name, id](SharedLedger& l) {
            return l.with([&](Ledger& r) -> Result<Seen> {
                RecordQuery query;
                query.job = name;
                query.jobId = id;
                const auto n = r.count(query);
                auto newest = r.find(query, 1, {}, {"date", "outcome", "note"});
                if (!n) return n.error();
                if (!newest) return newest.error();
                return Seen{*n, std::move(*newest)};
            });
        },
        [this, id, name](const Result<Seen>& seen) {
            if (QString::fromStdString(lookedFor) != id) return;
            if (!seen) {
                lastWords = tr("The ledger cannot be read.");
                lastReason = QString::fromStdString(seen.error().line());
            } else if (seen->newest.empty()) {
                lastWords = tr("%1 has no record yet.").arg(name);
                lastReason =
                    tr("Keep how it came out; next time it is the first thing to look at.");
            } else {
                const StitchOut& r = seen->newest.front();
                lastWords = tr("Last time: %1.").arg(outcomeWords(r.outcome));
                lastReason = QString::fromStdString(r.date + (r.note.empty() ? "" : ": " + r.note));
            }
            session.setLedgerCount(seen ? static_cast<int>(seen->count) : 0);
            refreshIfShown();
        });
}

} // namespace rapt::app
