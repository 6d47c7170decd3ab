#pragma once
// Ledger: what was stitched, on what, how it came out.

#include "app/stages/stage_view.h"
#include "ledger/ledger.h"

#include <QDateEdit>
#include <QPlainTextEdit>
#include <QTableWidget>

namespace rapt::app {

class LedgerStage : public StageView {
    Q_OBJECT
public:
    explicit LedgerStage(Session& session, QWidget* parent = nullptr);

protected:
    void refresh() override;

private:
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
};

} // namespace rapt::app
