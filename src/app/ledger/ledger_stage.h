#pragma once
// Ledger: what it costs, what came of it, and what the next one should do differently.

#include "app/kit/stage_view.h"

namespace rapt::app {

class ChartsPage;
class EstimatePage;
class LessonsPage;
class RatesPage;
class RecordsPage;

class LedgerStage : public StageView {
    Q_OBJECT
public:
    enum Tab { recordsPage, lessonsPage, chartsPage, estimatePage, ratesPage };
    explicit LedgerStage(Session& session, QWidget* parent = nullptr);
    /// Asks how the open job came out.
    void keepThis();

signals:
    /// A job as it was sewn is to be opened.
    void jobAsked(const Job& job);

protected:
    void judge() override;

private:
    void lookForThisJob();

    RecordsPage* records;
    LessonsPage* lessons;
    ChartsPage* charts;
    EstimatePage* estimate;
    RatesPage* rates;
    std::string lookedFor;         ///< the job's identity
    QString lastWords, lastReason; ///< of its newest record
};

} // namespace rapt::app
