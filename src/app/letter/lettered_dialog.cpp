#include "app/letter/lettered_dialog.h"

#include <QDialogButtonBox>
#include <QHeaderView>
#include <QPushButton>
#include <QVBoxLayout>

namespace rapt::app {

LetteredDialog::LetteredDialog(LetteringBook& b, QWidget* parent)
    : QDialog(parent), book(b), field(new QLineEdit), table(new QTableWidget(0, 5)),
      words(new QLabel) {
    setWindowTitle(tr("Lettered before"));
    resize(640, 380);
    auto* column = new QVBoxLayout(this);
    field->setObjectName("letteredSearch");
    field->setPlaceholderText(tr("Look for words, a face or a job"));
    column->addWidget(field);
    table->setObjectName("letteredTable");
    table->setHorizontalHeaderLabels(
        {tr("Words"), tr("Face"), tr("Capitals"), tr("Job"), tr("Saved")});
    table->verticalHeader()->hide();
    table->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    table->setSelectionBehavior(QAbstractItemView::SelectRows);
    table->setSelectionMode(QAbstractItemView::SingleSelection);
    table->setEditTriggers(QAbstractItemView::NoEditTriggers);
    column->addWidget(table);
    column->addWidget(words);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
    buttons->button(QDialogButtonBox::Ok)->setText(tr("Use face and size"));
    column->addWidget(buttons);
    connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(field, &QLineEdit::textChanged, this, &LetteredDialog::search);
    connect(table, &QTableWidget::cellDoubleClicked, this, &QDialog::accept);
    search();
}

LetteredWords LetteredDialog::chosen() const {
    const int row = table->currentRow();
    return row < 0 ? LetteredWords{} : found[static_cast<std::size_t>(row)];
}

void LetteredDialog::search() {
    found = book.find(field->text().trimmed());
    table->setRowCount(static_cast<int>(found.size()));
    for (int i = 0; i < table->rowCount(); ++i) {
        const LetteredWords& w = found[static_cast<std::size_t>(i)];
        const QString cells[] = {QString(w.text).replace('\n', ' '), w.face,
                                 tr("%1 mm").arg(w.capHeightMm, 0, 'f', 1), w.job,
                                 w.date.toString(Qt::ISODate)};
        for (int c = 0; c < 5; ++c) {
            auto* item = new QTableWidgetItem(cells[c]);
            item->setToolTip(c == 3 ? w.file : cells[c]);
            table->setItem(i, c, item);
        }
    }
    if (table->rowCount() > 0) table->selectRow(0);
    words->setText(
        found.empty()
            ? tr("Nothing like it was lettered. Words are noted here when a job is saved.")
            : tr("%1 found.").arg(found.size()));
}

} // namespace rapt::app
