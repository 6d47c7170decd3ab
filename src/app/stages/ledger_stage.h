#pragma once
// Ledger: what was stitched, on what, how it came out.

#include "app/stages/stage_view.h"
#include "ledger/ledger.h"

#include <QButtonGroup>
#include <QDateEdit>
#include <QPlainTextEdit>
#include <QTableWidget>

namespace rapt::app {

class EstimatePage;
class RatesPage;

class LedgerStage : public StageView {
    Q_OBJECT
public:
    enum Page { recordsPage, estimatePage, ratesPage };
    void showPage(Page page);
    explicit LedgerStage(Session& session, QWidget* parent = nullptr);

protected:
    void refresh() override;

private:
    QWidget* buildRecords();
    void record();
    void removeChosen();
    void reload();
    QString clothText() const;
    QString hoopText() const;

    Ledger ledger;
    std::vector<StitchOutRecord> records;
    QDateEdit* date;
    QLineEdit* cloth;
    QLineEdit* hoop;
    QComboBox* outcome;
    QPlainTextEdit* note;
    QTableWidget* table;
    QPushButton* remove;
    QButtonGroup* tabs;
    EstimatePage* estimate;
    RatesPage* rates;
    std::vector<QWidget*> pages; ///< one a tab
};

} // namespace rapt::app
