#pragma once
// Records as a table that grows as it is scrolled.

#include "app/ledger/ledger_state.h"
#include "record/record_sums.h"

#include <QAbstractTableModel>
#include <QCache>
#include <QImage>
#include <QStyledItemDelegate>

namespace rapt::app {

/// Columns of the table. Sorted by a head, records whose value is not known come last.
enum class RecordColumn {
    date,
    picture,
    job,
    customer,
    cloth,
    size,
    outcome,
    trouble,
    minutes,
    metres
};
inline constexpr int recordColumnCount = 10;

class RecordModel : public QAbstractTableModel {
    Q_OBJECT
public:
    explicit RecordModel(LedgerState& ledger, QObject* parent = nullptr);

    /// Looks anew. Earlier questions that are not answered yet are dropped.
    void look(const RecordQuery& query);
    const RecordQuery& query() const { return asked; }
    qint64 total() const { return count; }
    /// What all of them took together; nothing where they are too many to add up at once.
    const std::optional<RecordSums>& sums() const { return together; }
    const QString& problem() const { return why; }
    bool isLooking() const { return looking; }
    /// The record of a row, as far as a list needs it.
    const StitchOut& at(int row) const { return rows[static_cast<std::size_t>(row)]; }

    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
    /// Asks again in that order.
    void sort(int column, Qt::SortOrder order) override;
    QVariant data(const QModelIndex& index, int role) const override;
    bool canFetchMore(const QModelIndex& parent) const override;
    void fetchMore(const QModelIndex& parent) override;
    /// The record's picture; null while it is fetched.
    QImage picture(const QModelIndex& index);

signals:
    void looked();

private:
    void fetchPage();

    LedgerState& ledger;
    RecordQuery asked;
    std::vector<StitchOut> rows;
    qint64 count = 0;
    std::optional<RecordSums> together;
    bool whole = true, looking = false;
    int shownFor = -1; ///< the question that the rows answer
    QString why;
    /// Grows with every question, so that old ones are seen to be old.
    std::shared_ptr<std::atomic<int>> current = std::make_shared<std::atomic<int>>(0);
    QCache<QString, QImage> pictures{300};
    QSet<QString> fetching;
};

/// A record under its picture, as a card of the gallery.
class RecordCard : public QStyledItemDelegate {
    Q_OBJECT
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    void paint(QPainter* painter, const QStyleOptionViewItem& option,
               const QModelIndex& index) const override;
    QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const override;
};

/// A cell of the table: pictures and outcomes are drawn, the rest is text.
class RecordCell : public QStyledItemDelegate {
    Q_OBJECT
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    void paint(QPainter* painter, const QStyleOptionViewItem& option,
               const QModelIndex& index) const override;
};

/// "good", "mended", "spoilt", or what is there instead before somebody said.
QString outcomeWords(const std::string& outcome);

} // namespace rapt::app
