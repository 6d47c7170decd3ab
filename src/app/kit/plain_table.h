#pragma once
// A table of numbers to choose a row of.

#include <QHeaderView>
#include <QTableWidget>

namespace rapt::app {

/// The first column takes the room that the others leave; whole rows are chosen, nothing is edited.
inline void makePlain(QTableWidget& table, const QStringList& heads, int rows) {
    table.setColumnCount(static_cast<int>(heads.size()));
    table.setHorizontalHeaderLabels(heads);
    table.horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    table.horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    table.verticalHeader()->hide();
    table.verticalHeader()->setDefaultSectionSize(21);
    table.setSelectionBehavior(QAbstractItemView::SelectRows);
    table.setSelectionMode(QAbstractItemView::SingleSelection);
    table.setEditTriggers(QAbstractItemView::NoEditTriggers);
    table.setShowGrid(false);
    table.setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    table.setFixedHeight(26 + 21 * rows);
}

/// `1:05` for an hour and five minutes.
inline QString hoursText(double seconds) {
    const int minutes = static_cast<int>(seconds / 60 + 0.5);
    return QString("%1:%2").arg(minutes / 60).arg(minutes % 60, 2, 10, QChar('0'));
}

} // namespace rapt::app
