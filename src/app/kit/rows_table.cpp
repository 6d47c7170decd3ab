#include "app/kit/rows_table.h"

#include <QHeaderView>
#include <QPainter>

#include <algorithm>

namespace rapt::app {

QImage framedPicture(const QImage& image, const QSize& size) {
    QImage framed(2 * size, QImage::Format_ARGB32_Premultiplied);
    framed.setDevicePixelRatio(2);
    framed.fill(Qt::transparent);
    if (image.isNull()) return framed;
    QRect at(QPoint(), image.size().scaled(size, Qt::KeepAspectRatio));
    at.moveCenter(QRect(QPoint(), size).center());
    QPainter painter(&framed);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    painter.drawImage(at, image);
    return framed;
}

void RowsModel::setHeads(const QStringList& fresh) {
    if (fresh == heads) return;
    const bool sameCount = fresh.size() == heads.size();
    if (!sameCount) beginResetModel();
    heads = fresh;
    if (sameCount)
        emit headerDataChanged(Qt::Horizontal, 0, columnCount() - 1);
    else
        endResetModel();
}

void RowsModel::setRows(const std::vector<TableRow>& fresh) {
    const auto has = [](const std::vector<TableRow>& list, const QString& key) {
        return std::any_of(list.begin(), list.end(),
                           [&](const TableRow& r) { return r.key == key; });
    };
    for (int i = rowCount() - 1; i >= 0; --i)
        if (!has(fresh, at(i).key)) {
            beginRemoveRows({}, i, i);
            rows.erase(rows.begin() + i);
            endRemoveRows();
        }
    for (std::size_t i = 0; i < fresh.size(); ++i) {
        const auto own = rows.begin() + static_cast<std::ptrdiff_t>(i);
        const auto there =
            std::find_if(own, rows.end(), [&](const TableRow& r) { return r.key == fresh[i].key; });
        const int at = static_cast<int>(i);
        if (there == rows.end()) {
            beginInsertRows({}, at, at);
            rows.insert(own, fresh[i]);
            endInsertRows();
        } else if (there != own) {
            beginMoveRows({}, static_cast<int>(there - rows.begin()),
                          static_cast<int>(there - rows.begin()), {}, at);
            std::rotate(own, there, there + 1);
            endMoveRows();
        }
        if (rows[i] == fresh[i]) continue;
        rows[i] = fresh[i];
        emit dataChanged(index(at, 0), index(at, columnCount() - 1));
    }
}

int RowsModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(rows.size());
}

int RowsModel::columnCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(heads.size());
}

QVariant RowsModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid()) return {};
    const TableRow& r = at(index.row());
    const int column = index.column();
    switch (role) {
    case Qt::DisplayRole:
        return r.cells.value(column);
    case Qt::ToolTipRole:
        return r.tip.isEmpty() ? r.cells.value(column) : r.tip;
    case Qt::TextAlignmentRole:
        return QVariant((column > 0 ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
    case Qt::ForegroundRole:
        return r.ink.isValid() && column == columnCount() - 1 ? QVariant(r.ink) : QVariant();
    case Qt::DecorationRole:
        if (column > 0 || noPicture.isNull()) return {};
        return r.picture.isNull() ? noPicture : r.picture;
    default:
        return {};
    }
}

QVariant RowsModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (orientation == Qt::Vertical) return {};
    if (role == Qt::TextAlignmentRole)
        return QVariant((section > 0 ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
    return role == Qt::DisplayRole ? QVariant(heads.value(section)) : QVariant();
}

RowsTable::RowsTable(const QStringList& heads, const char* name, QWidget* parent)
    : QTableView(parent) {
    setObjectName(name);
    rows.setHeads(heads);
    setModel(&rows);
    horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    horizontalHeader()->setHighlightSections(false);
    verticalHeader()->hide();
    verticalHeader()->setDefaultSectionSize(24);
    setSelectionBehavior(QAbstractItemView::SelectRows);
    setSelectionMode(QAbstractItemView::SingleSelection);
    setShowGrid(false);
    setProperty("plain", true);
    setFocusPolicy(Qt::StrongFocus);
    setWordWrap(false);
    setFrameShape(QFrame::NoFrame);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    connect(selectionModel(), &QItemSelectionModel::currentRowChanged, this,
            [this](const QModelIndex& now) { emit rowChosen(now.isValid() ? now.row() : -1); });
}

void RowsTable::setVisibleRows(int count) {
    setFixedHeight(28 + verticalHeader()->defaultSectionSize() * count);
}

void RowsTable::setPictureSize(const QSize& size) {
    rows.setPictureSize(size);
    verticalHeader()->setDefaultSectionSize(size.height() + 6);
}

} // namespace rapt::app
