#pragma once
// The list of pieces in sewing order: walked, found, renamed and put in another order by keys and
// by dragging; what is chosen in it is chosen on the cloth.

#include "app/compose/piece_model.h"
#include "app/document/session.h"

#include <QLineEdit>
#include <QSortFilterProxyModel>
#include <QTreeView>

namespace rapt::app {

class PieceTree : public QWidget {
    Q_OBJECT
public:
    explicit PieceTree(Session& session, QWidget* parent = nullptr);
    /// Shows the job's pieces and which are chosen; scroll place, opened groups and a name that is
    /// being typed stay.
    void refresh();
    const QAbstractItemView& view() const { return *tree; }

signals:
    void contextAsked(QPoint at); ///< on the screen, for the pieces that are chosen

private:
    void fitHeight();
    void takeSelection();
    void showSelection();
    void markChosen(const QModelIndex& line, const std::set<std::string>& chosen,
                    QItemSelection& lines);
    void rename(const PieceRow& row, const QString& name);
    QModelIndex sourceOf(const QModelIndex& line) const { return shownRows.mapToSource(line); }

    Session& session;
    PieceModel model;
    QSortFilterProxyModel shownRows;
    QLineEdit* search;
    QTreeView* tree;
    std::vector<std::string> shown; ///< the pieces that are marked
    bool filling = false;
};

} // namespace rapt::app
