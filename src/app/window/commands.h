#pragma once
// Every command of the menus as a list: what the search, the dialog of keys and tests read.

#include <QAction>
#include <QMenuBar>

#include <vector>

namespace rapt::app {

struct Command {
    QAction* action = nullptr;
    QString path; ///< "Edit › Undo", without keys
};

/// In the order of the menus; separators and menus themselves are none.
std::vector<Command> commandsOf(const QMenuBar& menus);

/// What keys are kept under: stays the same whatever language or state a command shows.
QString commandId(const QAction& action);
/// Gives the command its id and the keys that it comes with, or those that the person chose.
void nameCommand(QAction& action, const QString& id, const QKeySequence& keys);
/// Keeps other keys for it, and uses them at once; those that it came with are not kept.
void setKeys(QAction& action, const QKeySequence& keys);
QKeySequence usualKeys(const QAction& action);

} // namespace rapt::app
