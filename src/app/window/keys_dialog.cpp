#include "app/window/keys_dialog.h"

#include "app/kit/readout_parts.h"
#include "app/kit/rows_table.h"

#include <QDialogButtonBox>
#include <QKeySequenceEdit>

namespace rapt::app {

KeysDialog::KeysDialog(const QMenuBar& menus, QWidget* parent)
    : QDialog(parent), commands(commandsOf(menus)),
      table(new RowsTable({tr("Command"), tr("Keys")}, "keys")), edit(new QKeySequenceEdit),
      usual(new QPushButton(tr("As it came"))), words(wordsLabel()) {
    setWindowTitle(tr("Keys of the commands"));
    resize(560, 620);
    std::erase_if(commands, [](const Command& c) { return commandId(*c.action).isEmpty(); });
    edit->setObjectName("newKeys");
    usual->setObjectName("usualKeys");
    words->setObjectName("keysWords");
    auto* column = new QVBoxLayout(this);
    column->addWidget(table, 1);
    auto* line = new QHBoxLayout;
    line->addWidget(new QLabel(tr("New keys")));
    line->addWidget(edit, 1);
    line->addWidget(usual);
    column->addLayout(line);
    column->addWidget(words);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close);
    column->addWidget(buttons);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(table, &RowsTable::rowChosen, this, &KeysDialog::showChosen);
    connect(edit, &QKeySequenceEdit::editingFinished, this, [this] { take(edit->keySequence()); });
    connect(usual, &QPushButton::clicked, this, [this] {
        if (table->currentRow() >= 0)
            take(usualKeys(*commands[static_cast<std::size_t>(table->currentRow())].action));
    });
    fill();
    table->selectRow(0);
}

void KeysDialog::fill() {
    std::vector<TableRow> rows;
    for (const Command& c : commands) {
        const QString keys = c.action->shortcut().toString(QKeySequence::NativeText);
        const bool own = c.action->shortcut() != usualKeys(*c.action);
        rows.push_back({commandId(*c.action), {c.path, own ? keys + " *" : keys}});
    }
    table->setRows(rows);
}

void KeysDialog::showChosen() {
    const int row = table->currentRow();
    edit->setEnabled(row >= 0);
    usual->setEnabled(row >= 0);
    words->setText({});
    if (row >= 0) edit->setKeySequence(commands[static_cast<std::size_t>(row)].action->shortcut());
}

void KeysDialog::take(const QKeySequence& keys) {
    const int row = table->currentRow();
    if (row < 0) return;
    QAction& action = *commands[static_cast<std::size_t>(row)].action;
    for (const Command& c : commands)
        if (c.action != &action && !keys.isEmpty() && c.action->shortcut() == keys) {
            edit->setKeySequence(action.shortcut());
            return words->setText(tr("%1 has %2 already; give that one other keys first.")
                                      .arg(c.path, keys.toString(QKeySequence::NativeText)));
        }
    setKeys(action, keys);
    edit->setKeySequence(keys);
    words->setText({});
    fill();
}

} // namespace rapt::app
