#include "app/stages/ledger_stage.h"

#include "app/ledger/estimate_page.h"
#include "app/panels/page_tabs.h"
#include "app/state/sewing_state.h"
#include "app/theme/theme.h"
#include "base/paths.h"

#include <QHeaderView>

namespace rapt::app {

LedgerStage::LedgerStage(Session& s, QWidget* parent)
    : StageView(s, parent), date(new QDateEdit(QDate::currentDate())), cloth(new QLineEdit),
      hoop(new QLineEdit), outcome(new QComboBox), note(new QPlainTextEdit),
      table(new QTableWidget), remove(new QPushButton(tr("Remove the record"))),
      tabs(new QButtonGroup(this)), estimate(new EstimatePage(s)), rates(new RatesPage(s)) {
    const auto problem = ledger.open(QString::fromStdString(userDataFolder()) + "/ledger.sqlite");
    outcome->addItems(Ledger::outcomes());
    outcome->setObjectName("outcome");
    note->setObjectName("note");
    note->setPlaceholderText(tr("What to keep, what to change next time"));
    note->setFixedHeight(52);
    note->setTabChangesFocus(true);
    date->setDisplayFormat("yyyy-MM-dd");
    date->setButtonSymbols(QAbstractSpinBox::NoButtons);
    auto* tabRow = new QHBoxLayout;
    tabRow->setSpacing(4);
    column->addLayout(tabRow);
    for (const QString& title : {tr("Records"), tr("Estimate"), tr("Rates")})
        addTab(*tabs, *tabRow, title, "ledgerTab");
    pages = {buildRecords(), estimate, rates};
    for (QWidget* page : pages) column->addWidget(page, 1);
    for (ComposePage* page : std::initializer_list<ComposePage*>{estimate, rates})
        connect(page, &ComposePage::failed, this,
                [this](const QString& what, const QString& why) { complain(what, why); });
    connect(rates, &RatesPage::changed, estimate, &EstimatePage::reloadRates);
    connect(tabs, &QButtonGroup::idClicked, this,
            [this](int id) { showPage(static_cast<Page>(id)); });
    connect(&session.sewing, &SewingState::ready, this, &LedgerStage::refreshIfShown);
    connect(remove, &QPushButton::clicked, this, &LedgerStage::removeChosen);
    connect(table, &QTableWidget::itemSelectionChanged, this,
            [this] { remove->setEnabled(!table->selectedItems().isEmpty()); });
    connect(&session.document, &Document::fileChanged, this, [this] { reload(); });
    if (problem) complain(tr("The ledger cannot be opened"), *problem);
    reload();
    showPage(recordsPage);
}

void LedgerStage::showPage(Page page) {
    tabs->button(page)->setChecked(true);
    for (std::size_t k = 0; k < pages.size(); ++k)
        pages[k]->setVisible(k == static_cast<std::size_t>(page));
    refreshIfShown();
}

QWidget* LedgerStage::buildRecords() {
    auto* page = new QWidget;
    auto* lines = new QVBoxLayout(page);
    lines->setContentsMargins(0, 0, 0, 0);
    auto* add = mainButton(tr("Keep this record"));
    add->setObjectName("record");
    lines->addWidget(headLabel(tr("This stitch-out")));
    lines->addLayout(row(tr("Date"), date));
    lines->addLayout(row(tr("Cloth"), cloth));
    lines->addLayout(row(tr("Hoop"), hoop));
    lines->addLayout(row(tr("Outcome"), outcome));
    lines->addLayout(row(tr("Note"), note));
    lines->addWidget(add);
    lines->addWidget(hairLine());
    lines->addWidget(headLabel(tr("Records")));
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
    lines->addWidget(table);
    lines->addWidget(remove);
    lines->addStretch();
    connect(add, &QPushButton::clicked, this, &LedgerStage::record);
    return page;
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
    for (ComposePage* page : std::initializer_list<ComposePage*>{estimate, rates})
        if (!page->isHidden()) page->refresh();
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
