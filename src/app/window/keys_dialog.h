#pragma once
// The keys of every command, to be changed.

#include "app/window/commands.h"

#include <QDialog>

class QKeySequenceEdit;
class QLabel;
class QPushButton;

namespace rapt::app {

class RowsTable;

class KeysDialog : public QDialog {
    Q_OBJECT
public:
    KeysDialog(const QMenuBar& menus, QWidget* parent);

private:
    void fill();
    void showChosen();
    /// Keys that another command has are refused, by its name.
    void take(const QKeySequence& keys);

    std::vector<Command> commands;
    RowsTable* table;
    QKeySequenceEdit* edit;
    QPushButton* usual;
    QLabel* words;
};

} // namespace rapt::app
