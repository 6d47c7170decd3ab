#pragma once
// Questions about files, by dialogs that can also be driven from outside.

#include <QStringList>

class QWidget;

namespace rapt::app {

/// Each gives an empty text if the person thought better of it.
QString askOpenName(QWidget* over, const QString& title, const QString& filter);
QString askSaveName(QWidget* over, const QString& title, const QString& suggestion,
                    const QString& filter);
QString askFolder(QWidget* over, const QString& title);

/// True if none of these files is there yet, or the person says that they may be replaced.
bool mayReplace(QWidget* over, const QString& folder, const QStringList& names);

} // namespace rapt::app
