#include "app/compose/palette_dialog.h"

#include "app/compose/thread_choice.h"
#include "base/number.h"

#include <QDialogButtonBox>
#include <QHeaderView>
#include <QPushButton>
#include <QSignalBlocker>
#include <QVBoxLayout>

namespace rapt::app {
namespace {

enum Column { nameColumn, colourColumn, weightColumn, coneColumn };

} // namespace

PaletteDialog::PaletteDialog(const Palette& palette, QWidget* parent)
    : QDialog(parent), owned(palette), table(new QTableWidget(0, 4)), complaint(new QLabel) {
    setWindowTitle(tr("Threads owned"));
    resize(520, 520);
    auto* column = new QVBoxLayout(this);
    table->setObjectName("ownedThreads");
    table->setAccessibleName(tr("Threads owned"));
    table->setHorizontalHeaderLabels({tr("Name"), tr("Colour"), tr("Weight"), tr("Cone")});
    table->horizontalHeader()->setSectionResizeMode(nameColumn, QHeaderView::Stretch);
    table->verticalHeader()->hide();
    table->setSelectionBehavior(QAbstractItemView::SelectRows);
    column->addWidget(table, 1);
    complaint->setProperty("wrong", true);
    complaint->setWordWrap(true);
    complaint->setObjectName("ownedComplaint");
    complaint->hide();
    column->addWidget(complaint);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
    auto* add = buttons->addButton(tr("Add a thread"), QDialogButtonBox::ActionRole);
    auto* remove = buttons->addButton(tr("Take out"), QDialogButtonBox::ActionRole);
    add->setObjectName("addOwned");
    remove->setObjectName("removeOwned");
    column->addWidget(buttons);
    for (const OwnedThread& t : owned.threads) addRow(t);
    connect(add, &QPushButton::clicked, this, [this] {
        addRow({{1, {128, 128, 128}, 40, tr("New thread").toStdString()}, {}});
        table->setCurrentCell(table->rowCount() - 1, nameColumn);
        table->scrollToBottom();
    });
    connect(remove, &QPushButton::clicked, this, &PaletteDialog::removeRows);
    connect(buttons, &QDialogButtonBox::accepted, this, &PaletteDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(table, &QTableWidget::cellChanged, this, [this](int row, int changed) {
        if (changed == colourColumn) showSwatch(row);
    });
}

void PaletteDialog::addRow(const OwnedThread& thread) {
    const QSignalBlocker quiet(table);
    const int row = table->rowCount();
    table->insertRow(row);
    const QString cells[] = {QString::fromStdString(thread.thread.name),
                             QString::fromStdString(formatRgb(thread.thread.color)),
                             QString::number(thread.thread.weight),
                             QString::fromStdString(thread.cone)};
    for (int c = 0; c < 4; ++c) table->setItem(row, c, new QTableWidgetItem(cells[c]));
    showSwatch(row);
}

void PaletteDialog::removeRows() {
    QList<int> rows;
    for (const QModelIndex& index : table->selectionModel()->selectedRows()) rows << index.row();
    std::sort(rows.begin(), rows.end(), std::greater<>());
    for (const int row : rows) table->removeRow(row);
}

void PaletteDialog::showSwatch(int row) {
    Thread thread;
    QTableWidgetItem* cell = table->item(row, colourColumn);
    const bool good = parseRgb(cell->text().trimmed().toStdString(), thread.color);
    const QSignalBlocker quiet(table);
    cell->setIcon(good ? QIcon(threadSwatch(thread)) : QIcon());
}

Result<OwnedThread> PaletteDialog::threadOf(int row) const {
    const auto cell = [&](Column c) { return table->item(row, c)->text().trimmed(); };
    OwnedThread t;
    t.thread.name = cell(nameColumn).toStdString();
    t.cone = cell(coneColumn).toStdString();
    if (t.thread.name.empty()) return badInput(tr("has no name").toStdString());
    if (!parseRgb(cell(colourColumn).toStdString(), t.thread.color))
        return badInput(
            tr("'%1' is not a colour of the form #rrggbb").arg(cell(colourColumn)).toStdString());
    const auto weight = parseNumber(cell(weightColumn).toStdString());
    t.thread.weight = weight.value_or(0);
    if (!weight || t.thread.weight < 1 || t.thread.weight > 1000)
        return badInput(
            tr("weight '%1' is not a number from 1 to 1000").arg(cell(weightColumn)).toStdString());
    return t;
}

void PaletteDialog::accept() {
    Palette changed = owned;
    changed.threads.clear();
    for (int row = 0; row < table->rowCount(); ++row) {
        const auto thread = threadOf(row);
        if (!thread) {
            complaint->setText(
                tr("Line %1: %2.").arg(row + 1).arg(QString::fromStdString(thread.error().reason)));
            complaint->show();
            table->setCurrentCell(row, 0);
            return;
        }
        changed.threads.push_back(*thread);
    }
    owned = std::move(changed);
    QDialog::accept();
}

} // namespace rapt::app
