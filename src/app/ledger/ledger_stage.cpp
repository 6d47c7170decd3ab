#include "app/ledger/ledger_stage.h"

#include "app/ledger/charts_page.h"
#include "app/ledger/estimate_page.h"
#include "app/ledger/lessons_page.h"
#include "app/ledger/records_page.h"
#include "app/stitchout/sewing_state.h"

namespace rapt::app {

LedgerStage::LedgerStage(Session& s, QWidget* parent)
    : StageView(s, parent), records(new RecordsPage(s)), lessons(new LessonsPage(s)),
      charts(new ChartsPage(s)), estimate(new EstimatePage(s)), rates(new RatesPage(s, *estimate)) {
    addPage(tr("Records"), "ledgerTab", records);
    addPage(tr("Lessons"), "ledgerTab", lessons);
    addPage(tr("Charts"), "ledgerTab", charts);
    addPage(tr("Estimate"), "ledgerTab", estimate);
    addPage(tr("Rates"), "ledgerTab", rates);
    connect(rates, &RatesPage::changed, estimate, &EstimatePage::reloadRates);
    connect(lessons, &LessonsPage::changed, this, [this] {
        rates->reload();
        estimate->reloadRates();
        refreshIfShown();
    });
    connect(records, &RecordsPage::jobAsked, this, &LedgerStage::jobAsked);
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

void LedgerStage::judge() { judgement->say(lastWords, lastReason); }

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
