#pragma once
// Where the ledger is, and how it is kept: backup, restore, CSV, clearing out.

#include "app/document/session.h"
#include "ledger/pruning.h"

#include <QCheckBox>
#include <QDialog>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSpinBox>

namespace rapt::app {

class KeepingDialog : public QDialog {
    Q_OBJECT
public:
    explicit KeepingDialog(Session& session, QWidget* parent = nullptr);

private:
    void buildPlace();
    void buildFiles();
    void buildPruning();
    QPushButton* button(const QString& text, const char* name, std::function<void()> act);
    void say(const QString& words) { done->setText(words); }
    void takePlace();
    void backUp();
    void restore();
    void exportCsv();
    void importCsv();
    PruneRule rule() const;
    void preview();
    void clearOut();
    /// Works on the ledger and says what came of it.
    template<class Work>
    void work(Work doIt);

    Session& session;
    QLineEdit* place;
    QLabel *where, *done, *going;
    QSpinBox* months;
    QCheckBox *goodOnly, *recordsToo;
    QPushButton* clear;
    std::optional<Prunable> seen; ///< what the preview showed
};

} // namespace rapt::app
