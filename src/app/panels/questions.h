#pragma once
// Questions about files, by dialogs that can also be driven from outside.

#include <QString>

class QWidget;

namespace rapt::app {

/// Each gives an empty text if the person thought better of it.
QString askOpenName(QWidget* over, const QString& title, const QString& filter);
QString askSaveName(QWidget* over, const QString& title, const QString& suggestion,
                    const QString& filter);
QString askFolder(QWidget* over, const QString& title);

} // namespace rapt::app
