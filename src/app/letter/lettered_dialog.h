#pragma once
// What was lettered before, to be found and used again.

#include "ledger/lettering_book.h"

#include <QDialog>
#include <QLabel>
#include <QLineEdit>
#include <QTableWidget>

namespace rapt::app {

class LetteredDialog : public QDialog {
    Q_OBJECT
public:
    explicit LetteredDialog(LetteringBook& book, QWidget* parent = nullptr);
    /// The chosen words; empty text if none are.
    LetteredWords chosen() const;

private:
    void search();

    LetteringBook& book;
    std::vector<LetteredWords> found;
    QLineEdit* field;
    QTableWidget* table;
    QLabel* words;
};

} // namespace rapt::app
