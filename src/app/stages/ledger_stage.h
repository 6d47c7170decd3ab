#pragma once
// Ledger: what it costs, what came of it, and what the next one should do differently.

#include "app/stages/stage_view.h"

#include <QButtonGroup>

namespace rapt::app {

class ChartsPage;
class ComposePage;
class EstimatePage;
class LessonsPage;
class RatesPage;
class RecordsPage;

class LedgerStage : public StageView {
    Q_OBJECT
public:
    enum Page { recordsPage, lessonsPage, chartsPage, estimatePage, ratesPage };
    explicit LedgerStage(Session& session, QWidget* parent = nullptr);
    void showPage(Page page);
    /// Asks how the open job came out.
    void keepThis();

signals:
    /// A job as it was sewn is to be opened.
    void jobAsked(const Job& job);

protected:
    void refresh() override;

private:
    void lookForThisJob();

    QButtonGroup* tabs;
    RecordsPage* records;
    LessonsPage* lessons;
    ChartsPage* charts;
    EstimatePage* estimate;
    RatesPage* rates;
    std::vector<ComposePage*> pages; ///< one a tab
    std::string lookedFor;           ///< the job's identity
    QString lastWords, lastReason;   ///< of its newest record
};

} // namespace rapt::app
