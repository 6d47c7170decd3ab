#pragma once
// The price of one item over the quantity, and the share of a part as a bar.

#include <QStyledItemDelegate>
#include <QWidget>

#include <vector>

namespace rapt::app {

class PriceCurve : public QWidget {
    Q_OBJECT
public:
    explicit PriceCurve(QWidget* parent = nullptr);
    /// Places (items, price of one), the quantity that is asked for, and the currency.
    void show(std::vector<QPointF> places, int quantity, const QString& currency);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    std::vector<QPointF> places;
    int quantity = 0;
    QString currency;
};

/// A cell of "34 %" with a bar of that length behind it.
class ShareBar : public QStyledItemDelegate {
    Q_OBJECT
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    void paint(QPainter* painter, const QStyleOptionViewItem& option,
               const QModelIndex& index) const override;
    QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const override;
};

} // namespace rapt::app
