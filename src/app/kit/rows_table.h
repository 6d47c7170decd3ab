#pragma once
// A table of rows that are told apart by a key: what is chosen, scrolled to or opened stays so when
// the rows are worked out anew.

#include <QAbstractTableModel>
#include <QColor>
#include <QImage>
#include <QTableView>

#include <vector>

namespace rapt::app {

struct TableRow {
    QString key;
    QStringList cells;
    QString tip{};
    QColor ink{};     ///< of the last cell, where it is to be noticed
    QImage picture{}; ///< in the first cell: framedPicture of the table's picture size
    friend bool operator==(const TableRow&, const TableRow&) = default;
};

/// A picture in the middle of a transparent one of that size, for screens of double density. Any
/// thread.
QImage framedPicture(const QImage& image, const QSize& size);

class RowsModel : public QAbstractTableModel {
    Q_OBJECT
public:
    using QAbstractTableModel::QAbstractTableModel;
    void setHeads(const QStringList& heads);
    /// Tells the views of rows that went, came, moved or changed, and of no others.
    void setRows(const std::vector<TableRow>& rows);
    /// Rows without a picture keep its room.
    void setPictureSize(const QSize& size) { noPicture = framedPicture({}, size); }
    const TableRow& at(int row) const { return rows[static_cast<std::size_t>(row)]; }

    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

private:
    QStringList heads;
    std::vector<TableRow> rows;
    QImage noPicture;
};

/// Whole rows are chosen, nothing is edited; the first column takes the room that the others leave.
class RowsTable : public QTableView {
    Q_OBJECT
public:
    explicit RowsTable(const QStringList& heads, const char* name, QWidget* parent = nullptr);
    void setHeads(const QStringList& heads) { rows.setHeads(heads); }
    void setRows(const std::vector<TableRow>& fresh) { rows.setRows(fresh); }
    /// As high as so many rows; without, as high as there is room.
    void setVisibleRows(int count);
    void setPictureSize(const QSize& size);
    int rowCount() const { return rows.rowCount(); }
    QString text(int row, int column) const { return rows.at(row).cells.value(column); }
    const TableRow& row(int row) const { return rows.at(row); }
    /// −1 if none is chosen.
    int currentRow() const { return currentIndex().isValid() ? currentIndex().row() : -1; }

signals:
    void rowChosen(int row);

private:
    RowsModel rows;
};

} // namespace rapt::app
