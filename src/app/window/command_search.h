#pragma once
// Every command by a few letters of what one wants.

#include <QDialog>

class QAction;
class QLineEdit;
class QListView;
class QMenuBar;
class QSortFilterProxyModel;

namespace rapt::app {

/// Lists the commands of a menu bar that can be used now, with their keys; Enter carries out the
/// one that is marked, after the dialog has closed.
class CommandSearch : public QDialog {
    Q_OBJECT
public:
    CommandSearch(QMenuBar& menus, QWidget* parent);
    /// The one that was chosen, or null.
    QAction* chosen() const;

private:
    bool eventFilter(QObject* watched, QEvent* event) override;

    QLineEdit* words;
    QListView* list;
    QSortFilterProxyModel* found;
};

} // namespace rapt::app
