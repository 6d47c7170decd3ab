#include "app/window/commands.h"

#include <QMenu>
#include <QSettings>

namespace rapt::app {
namespace {

void collect(const QMenu& menu, const QString& path, std::vector<Command>& list) {
    for (QAction* action : menu.actions()) {
        const QString text = path + action->text().remove('&');
        if (action->menu())
            collect(*action->menu(), text + " › ", list);
        else if (!action->isSeparator() && action->isVisible())
            list.push_back({action, text});
    }
}

QString settingOf(const QAction& action) { return "keys/" + commandId(action); }

} // namespace

std::vector<Command> commandsOf(const QMenuBar& menus) {
    std::vector<Command> list;
    for (const QAction* action : menus.actions())
        if (action->menu()) collect(*action->menu(), action->text().remove('&') + " › ", list);
    return list;
}

QString commandId(const QAction& action) { return action.property("command").toString(); }

void nameCommand(QAction& action, const QString& id, const QKeySequence& keys) {
    action.setProperty("command", id);
    action.setProperty("usualKeys", keys);
    const QVariant own = QSettings().value(settingOf(action));
    action.setShortcut(own.isValid() ? QKeySequence(own.toString()) : keys);
}

void setKeys(QAction& action, const QKeySequence& keys) {
    action.setShortcut(keys);
    if (keys == usualKeys(action))
        QSettings().remove(settingOf(action));
    else
        QSettings().setValue(settingOf(action), keys.toString(QKeySequence::PortableText));
}

QKeySequence usualKeys(const QAction& action) {
    return action.property("usualKeys").value<QKeySequence>();
}

} // namespace rapt::app
