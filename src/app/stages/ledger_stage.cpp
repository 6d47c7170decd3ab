#include "app/stages/ledger_stage.h"

#include "app/theme/theme.h"
#include "base/paths.h"

#include <QHeaderView>

namespace rapt::app {

LedgerStage::LedgerStage(Session& s, QWidget* parent)
    : StageView(s, parent), date(new QDateEdit(QDate::currentDate())), cloth(new QLineEdit),
      hoop(new QLineEdit), outcome(new QComboBox), note(new QPlainTextEdit),
      table(new QTableWidget), remove(new QPushButton(tr("Remove the record"))) {
    const auto problem = ledger.open(QString::fromStdString(userDataFolder()) + "/ledger.sqlite");
    outcome->addItems(Ledger::outcomes());
    outcome->setObjectName("outcome");
    note->setObjectName("note");
    note->setPlaceholderText(tr("What to keep, what to change next time"));
    note->setFixedHeight(52);
    note->setTabChangesFocus(true);
    date->setDisplayFormat("yyyy-MM-dd");
    date->setButtonSymbols(QAbstractSpinBox::NoButtons);
    auto* add = mainButton(tr("Keep this record"));
    add->setObjectName("record");
    column->addWidget(headLabel(tr("This stitch-out")));
    column->addLayout(row(tr("Date"), date));
    column->addLayout(row(tr("Cloth"), cloth));
    column->addLayout(row(tr("Hoop"), hoop));
    column->addLayout(row(tr("Outcome"), outcome));
    column->addLayout(row(tr("Note"), note));
    column->addWidget(add);
    column->addWidget(hairLine());
    column->addWidget(headLabel(tr("Records")));
    table->setColumnCount(3);
    table->setHorizontalHeaderLabels({tr("Date"), tr("Job"), tr("Outcome")});
    table->horizontalHeader()->setSectionResizeMode(1, QHeaderView::Stretch);
    table->horizontalHeader()->setSectionResizeMode(0, QHeaderView::ResizeToContents);
    table->horizontalHeader()->setSectionResizeMode(2, QHeaderView::ResizeToContents);
    table->verticalHeader()->hide();
    table->setShowGrid(false);
    table->setSelectionBehavior(QAbstractItemView::SelectRows);
    table->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table->setObjectName("records");
    table->setFixedHeight(126);
    column->addWidget(table);
    column->addWidget(remove);
    column->addStretch();
    connect(add, &QPushButton::clicked, this, &LedgerStage::record);
    connect(remove, &QPushButton::clicked, this, &LedgerStage::removeChosen);
    connect(table, &QTableWidget::itemSelectionChanged, this,
            [this] { remove->setEnabled(!table->selectedItems().isEmpty()); });
    connect(&session.document, &Document::fileChanged, this, [this] { reload(); });
    if (problem) complain(tr("The ledger cannot be opened"), *problem);
    reload();
}

QString LedgerStage::clothText() const {
    const Cloth& c = session.job().cloth;
    const auto fabric = session.library.fabric(session.job().brief.fabric);
    return QString("%1, %2 × %3")
        .arg(QString::fromStdString(fabric ? fabric->name : session.job().brief.fabric))
        .arg(c.widthMm)
        .arg(c.heightMm);
}

QString LedgerStage::hoopText() const {
    const auto& hoopings = session.job().hoopings;
    if (hoopings.empty()) return {};
    return QString("%1, %2 hoopings")
        .arg(QString::fromStdString(hoopings[0].hoop))
        .arg(hoopings.size());
}

void LedgerStage::refresh() {
    if (!cloth->isModified()) cloth->setText(clothText());
    if (!hoop->isModified()) hoop->setText(hoopText());
    const int n = session.ledgerCount();
    const QString name = QString::fromStdString(session.job().name);
    if (n == 0)
        judgement->say(tr("%1 has no record yet.").arg(name),
                       tr("Keep how it came out; next time it is the first thing to look at."));
    else
        for (const StitchOutRecord& r : records) {
            if (r.job != name) continue;
            judgement->say(tr("Last time: %1.").arg(r.outcome),
                           r.date.toString(Qt::ISODate) +
                               (r.note.isEmpty() ? QString() : ": " + r.note));
            break;
        }
}

void LedgerStage::record() {
    const StitchOutRecord r{0,
                            date->date(),
                            QString::fromStdString(session.job().name),
                            cloth->text().trimmed(),
                            hoop->text().trimmed(),
                            outcome->currentText(),
                            note->toPlainText().trimmed()};
    if (const auto problem = ledger.add(r)) return complain(tr("Not kept"), *problem);
    note->clear();
    cloth->setModified(false);
    hoop->setModified(false);
    reload();
    refresh();
}

void LedgerStage::removeChosen() {
    const int i = table->currentRow();
    if (i < 0 || i >= static_cast<int>(records.size())) return;
    if (const auto problem = ledger.remove(records[static_cast<std::size_t>(i)].id))
        return complain(tr("Not removed"), *problem);
    reload();
    refresh();
}

void LedgerStage::reload() {
    records = ledger.records();
    table->setRowCount(static_cast<int>(records.size()));
    int own = 0;
    for (int i = 0; i < table->rowCount(); ++i) {
        const StitchOutRecord& r = records[static_cast<std::size_t>(i)];
        own += r.job == QString::fromStdString(session.job().name);
        const QString texts[] = {r.date.toString(Qt::ISODate), r.job, r.outcome};
        for (int c = 0; c < 3; ++c) {
            auto* cell = new QTableWidgetItem(texts[c]);
            cell->setToolTip(QString("%1\n%2\n%3").arg(r.cloth, r.hoop, r.note));
            table->setItem(i, c, cell);
        }
    }
    remove->setEnabled(false);
    session.setLedgerCount(own);
}

} // namespace rapt::app
