#include "app/ledger/record_model.h"

#include "app/theme/theme.h"

#include <QPainter>

namespace rapt::app {
namespace {

constexpr int pageRows = 80;
const QStringList listColumns{"id",       "uid",       "date",          "job",
                              "customer", "fabric",    "outcome",       "note",
                              "width_mm", "height_mm", "picture",       "cause",
                              "job_file", "threads",   "seconds_taken", "seconds_estimated"};

/// More records than this are not added up while somebody types.
constexpr int mostSummed = 2000;
const QStringList sumColumns{"outcome", "threads", "seconds_estimated", "seconds_taken"};

struct Page {
    std::vector<StitchOut> rows;
    qint64 count = 0;
    std::optional<RecordSums> sums;
};

QString text(const std::string& s) { return QString::fromStdString(s); }

QVariant cellText(const StitchOut& r, RecordColumn column) {
    switch (column) {
    case RecordColumn::date:
        return text(r.date);
    case RecordColumn::picture:
        return {};
    case RecordColumn::job:
        return text(r.job);
    case RecordColumn::customer:
        return text(r.customer);
    case RecordColumn::cloth:
        return text(r.fabric);
    case RecordColumn::size:
        if (!r.widthMm || !r.heightMm) return {};
        return QString("%1 × %2").arg(*r.widthMm, 0, 'f', 0).arg(*r.heightMm, 0, 'f', 0);
    case RecordColumn::outcome:
        return outcomeWords(r.outcome);
    case RecordColumn::trouble:
        for (const Cause& c : causes())
            if (c.id == r.cause) return text(c.words);
        return text(r.cause);
    case RecordColumn::minutes:
        if (const auto seconds = r.secondsTaken ? r.secondsTaken : r.secondsEstimated)
            return QString("%1%2").arg(r.secondsTaken ? "" : "~").arg(*seconds / 60, 0, 'f', 0);
        return {};
    case RecordColumn::metres: {
        double metres = 0;
        for (const ThreadUsed& t : r.threads) metres += t.lengthM;
        return metres > 0 ? QObject::tr("%1 m").arg(metres, 0, 'f', 0) : QVariant();
    }
    }
    return {};
}

/// A shape and a colour for each outcome, so that neither is needed.
void paintOutcome(QPainter& p, const QPointF& at, const std::string& outcome) {
    const Theme& t = theme();
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    const QColor colour = outcome == "good"     ? t.tide
                          : outcome == "mended" ? t.caution
                          : outcome == "spoilt" ? t.stop
                                                : t.ink2;
    p.setPen(QPen(colour, 1.6));
    if (outcome == "good") {
        p.drawPolyline(QPolygonF{at + QPointF(-4, 0), at + QPointF(-1, 3), at + QPointF(4, -4)});
    } else if (outcome == "mended") {
        p.drawLine(at + QPointF(-4, 3), at + QPointF(4, -3));
        p.drawLine(at + QPointF(-3, -1), at + QPointF(-0.5, 3));
        p.drawLine(at + QPointF(0.5, -3), at + QPointF(3, 1));
    } else if (outcome == "spoilt") {
        p.drawLine(at + QPointF(-4, -4), at + QPointF(4, 4));
        p.drawLine(at + QPointF(-4, 4), at + QPointF(4, -4));
    } else {
        p.drawEllipse(at, 3.5, 3.5);
    }
    p.restore();
}

} // namespace

QString outcomeWords(const std::string& outcome) {
    return outcome.empty() ? QObject::tr("not said yet") : text(outcome);
}

RecordModel::RecordModel(LedgerState& l, QObject* parent)
    : QAbstractTableModel(parent), ledger(l) {}

void RecordModel::look(const RecordQuery& query) {
    asked = query;
    ++*current;
    fetchPage();
}

void RecordModel::fetchPage() {
    looking = true;
    const int own = *current;
    // A fresh question replaces the rows once its answer is there; the list does not blink.
    std::optional<PageEnd> after;
    if (own == shownFor && !rows.empty())
        after = PageEnd{text(rows.back().date), rows.back().id, static_cast<qint64>(rows.size())};
    ledger.ask(
        this,
        [query = asked, own, newest = current, after](SharedLedger& l) -> Result<Page> {
            if (*newest != own) return cancelled();
            return l.with([&](Ledger& records) -> Result<Page> {
                Page page;
                auto found = records.find(query, pageRows, after, listColumns);
                if (!found) return found.error();
                page.rows = std::move(*found);
                if (after) return page;
                const auto n = records.count(query);
                if (!n) return n.error();
                page.count = *n;
                if (*n == 0 || *n > mostSummed) return page;
                const auto all = records.find(query, mostSummed, {}, sumColumns);
                if (!all) return all.error();
                page.sums = sumsOf(*all);
                return page;
            });
        },
        [this, own, after](Result<Page> page) {
            if (own != *current) return;
            looking = false;
            why = page ? QString() : text(page.error().line());
            if (!page) {
                whole = true;
            } else if (after) {
                const int at = static_cast<int>(rows.size());
                whole = page->rows.size() < pageRows;
                if (!page->rows.empty()) {
                    beginInsertRows({}, at, at + static_cast<int>(page->rows.size()) - 1);
                    rows.insert(rows.end(), std::make_move_iterator(page->rows.begin()),
                                std::make_move_iterator(page->rows.end()));
                    endInsertRows();
                }
            } else {
                beginResetModel();
                rows = std::move(page->rows);
                count = page->count;
                together = page->sums;
                whole = rows.size() < pageRows;
                shownFor = own;
                endResetModel();
            }
            emit looked();
        });
}

int RecordModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(rows.size());
}

int RecordModel::columnCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : recordColumnCount;
}

QVariant RecordModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (orientation == Qt::Vertical || role != Qt::DisplayRole) return {};
    const QString heads[] = {tr("Date"),    "",          tr("Job"),     tr("For"),
                             tr("Cloth"),   tr("Size"),  tr("Outcome"), tr("Trouble"),
                             tr("Minutes"), tr("Thread")};
    return heads[section];
}

void RecordModel::sort(int column, Qt::SortOrder order) {
    const char* columns[] = {"date",     "",        "job",   "customer",      "fabric",
                             "width_mm", "outcome", "cause", "seconds_taken", ""};
    if (column < 0 || !*columns[column]) return;
    RecordQuery query = asked;
    query.sortBy = column == 0 && order == Qt::DescendingOrder ? "" : columns[column];
    query.ascending = order == Qt::AscendingOrder;
    if (!(query == asked)) look(query);
}

QVariant RecordModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid()) return {};
    const StitchOut& r = at(index.row());
    const auto column = static_cast<RecordColumn>(index.column());
    if (role == Qt::AccessibleTextRole)
        return QString("%1, %2, %3, %4")
            .arg(text(r.job), text(r.date), outcomeWords(r.outcome), text(r.fabric));
    if (role == Qt::ToolTipRole && !r.note.empty()) return text(r.note);
    if (role == Qt::TextAlignmentRole && column >= RecordColumn::minutes)
        return QVariant(Qt::AlignRight | Qt::AlignVCenter);
    return role == Qt::DisplayRole ? cellText(r, column) : QVariant();
}

bool RecordModel::canFetchMore(const QModelIndex& parent) const {
    return !parent.isValid() && !whole && !looking;
}

void RecordModel::fetchMore(const QModelIndex&) {
    if (canFetchMore({})) fetchPage();
}

QImage RecordModel::picture(const QModelIndex& index) {
    const QString hash = text(at(index.row()).picture);
    if (hash.isEmpty()) return {};
    if (const QImage* known = pictures.object(hash)) return *known;
    if (fetching.contains(hash)) return {};
    fetching.insert(hash);
    ledger.ask(
        this,
        [hash](SharedLedger& l) -> Result<QImage> {
            const auto bytes = l.with([&](Ledger& records) { return records.file(hash); });
            if (!bytes) return bytes.error();
            return QImage::fromData(*bytes);
        },
        [this, hash](const Result<QImage>& image) {
            fetching.remove(hash);
            pictures.insert(hash, new QImage(image ? *image : QImage()));
            if (!rows.empty())
                emit dataChanged(this->index(0, 1),
                                 this->index(static_cast<int>(rows.size()) - 1, 1));
        });
    return {};
}

namespace {

void paintImage(QPainter& p, const QRect& frame, const QImage& image) {
    const QSize size = image.size().scaled(frame.size() - QSize(6, 6), Qt::KeepAspectRatio);
    QRect at(QPoint(), size);
    at.moveCenter(frame.center());
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    p.drawImage(at, image);
}

RecordModel& modelOf(const QModelIndex& index) {
    return *const_cast<RecordModel*>(static_cast<const RecordModel*>(index.model()));
}

} // namespace

void RecordCard::paint(QPainter* painter, const QStyleOptionViewItem& option,
                       const QModelIndex& index) const {
    QPainter& p = *painter;
    p.save();
    const Theme& t = theme();
    if (option.state & QStyle::State_Selected) {
        p.setRenderHint(QPainter::Antialiasing);
        p.setPen(QPen(t.tide, 1));
        p.setBrush(t.tideSoft);
        p.drawRoundedRect(QRectF(option.rect).adjusted(1.5, 1.5, -1.5, -1.5), 4, 4);
        p.setRenderHint(QPainter::Antialiasing, false);
    }
    const StitchOut& record = modelOf(index).at(index.row());
    const QImage image = modelOf(index).picture(index);
    const QRect frame = option.rect.adjusted(5, 5, -5, -38);
    p.setPen(t.rule);
    p.setBrush(t.paper);
    p.drawRoundedRect(frame, 3, 3);
    if (!image.isNull()) {
        paintImage(p, frame, image);
    } else {
        p.setPen(t.ink2);
        p.setFont(faceOf(11));
        p.drawText(frame, Qt::AlignCenter, tr("no picture"));
    }
    const QRect words(option.rect.left() + 5, frame.bottom() + 3, option.rect.width() - 10, 34);
    paintOutcome(p, QPointF(words.left() + 6, words.top() + 9), record.outcome);
    p.setPen(t.ink);
    p.setFont(faceOf(12, true));
    p.drawText(words.adjusted(16, 0, 0, 0), Qt::AlignLeft | Qt::AlignTop,
               p.fontMetrics().elidedText(text(record.job), Qt::ElideRight, words.width() - 16));
    p.setFont(faceOf(11));
    p.setPen(t.ink2);
    p.drawText(words.adjusted(16, 0, 0, 0), Qt::AlignLeft | Qt::AlignBottom, text(record.date));
    p.restore();
}

QSize RecordCard::sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const {
    return {168, 156};
}

void RecordCell::paint(QPainter* p, const QStyleOptionViewItem& option,
                       const QModelIndex& index) const {
    const auto column = static_cast<RecordColumn>(index.column());
    if (column == RecordColumn::outcome) {
        QStyledItemDelegate::paint(p, option, index.siblingAtColumn(1)); // its ground, no words
        paintOutcome(*p, QPointF(option.rect.left() + 12, option.rect.center().y() + 1),
                     modelOf(index).at(index.row()).outcome);
        p->save();
        p->setPen(theme().ink);
        p->drawText(option.rect.adjusted(24, 0, -2, 0), Qt::AlignVCenter, index.data().toString());
        p->restore();
        return;
    }
    QStyledItemDelegate::paint(p, option, index);
    if (column == RecordColumn::picture) {
        const QImage image = modelOf(index).picture(index);
        p->save();
        if (!image.isNull()) paintImage(*p, option.rect, image);
        p->restore();
    }
}

} // namespace rapt::app
