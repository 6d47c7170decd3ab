// Pictures of the Ledger: records, lessons, estimate.

#include "app/shots/album.h"

#include "app/ledger/ledger_stage.h"
#include "app/ledger/new_record.h"

#include <QLineEdit>
#include <QTableView>
#include <QThread>

namespace rapt::app {
namespace {

/// Keeps how the open job came out, as the dialog does.
void keepOutcome(MainWindow& window) {
    Session& session = window.session();
    session.ledger.ask(
        &window,
        [sewn = jobSewn(session)](SharedLedger& l) -> Result<std::optional<qint64>> {
            auto filled = fillRecord(sewn);
            if (!filled) return filled.error();
            StitchOut& r = filled->record;
            r.date = "2026-11-28";
            r.outcome = "mended";
            r.cause = "thread-break";
            r.note = "Green tail broke twice where it crosses the kite; move it 3 mm.";
            r.gapsMm = {0.35, 0.2};
            r.spotX = 205;
            r.spotY = -20;
            return l.add(r, filled->files);
        },
        [&session](const Result<std::optional<qint64>>&) { session.ledger.changedSomething(); });
    settle(window);
}

} // namespace

void shootLedger(Album& album) {
    MainWindow& window = album.window;
    LedgerStage& stage = window.ledgerStage();
    if (window.session().ledgerCount() == 0 || !window.session().job().hoopings.empty())
        keepOutcome(window);
    album.shoot(Stage::ledger, "7-ledger", [&] {
        stage.showPage(LedgerStage::recordsPage);
        window.findChild<QLineEdit*>("recordSearch")->setText("tail");
        // Typing is waited for.
        QThread::msleep(150);
        settle(window);
        auto* list = window.findChild<QTableView*>("recordList");
        list->setCurrentIndex(list->model()->index(0, 0));
    });
    window.findChild<QLineEdit*>("recordSearch")->clear();
    album.shoot(Stage::ledger, "33-lessons", [&] { stage.showPage(LedgerStage::lessonsPage); });
    album.shoot(Stage::ledger, "34-estimate", [&] { stage.showPage(LedgerStage::estimatePage); });
    stage.showPage(LedgerStage::recordsPage);
}

} // namespace rapt::app
