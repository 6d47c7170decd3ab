#include "app/ledger/price_curve.h"

#include "app/theme/theme.h"

#include <QPainter>

namespace rapt::app {

PriceCurve::PriceCurve(QWidget* parent) : QWidget(parent) {
    setMinimumHeight(220);
    setObjectName("priceCurve");
}

void PriceCurve::show(std::vector<QPointF> fresh, int asked, const QString& money) {
    places = std::move(fresh);
    quantity = asked;
    currency = money;
    update();
}

void PriceCurve::paintEvent(QPaintEvent*) {
    if (places.size() < 2) return;
    const Theme& t = theme();
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setFont(faceOf(12));
    double most = 0;
    for (const QPointF& q : places) most = std::max(most, q.y());
    const QRectF plot = QRectF(rect()).adjusted(48, 10, -18, -36);
    // Few items are what people ask about: the axis is logarithmic.
    const double end = std::log(places.back().x());
    const auto at = [&](QPointF q) {
        return QPointF(plot.left() + std::log(std::max(1.0, q.x())) / end * plot.width(),
                       plot.bottom() - q.y() / most * plot.height());
    };
    for (const double n : {1.0, 2.0, 5.0, 10.0, 20.0, 50.0, 100.0}) {
        const double x = at({n, 0}).x();
        p.setPen(t.rule);
        p.drawLine(QPointF(x, plot.top()), QPointF(x, plot.bottom()));
        p.setPen(t.ink);
        p.drawText(QRectF(x - 20, plot.bottom() + 3, 40, 15), Qt::AlignHCenter, QString::number(n));
    }
    for (const double share : {0.0, 0.5, 1.0}) {
        const double y = at({1, share * most}).y();
        p.setPen(t.rule);
        p.drawLine(QPointF(plot.left(), y), QPointF(plot.right(), y));
        p.setPen(t.ink);
        p.drawText(QRectF(0, y - 8, 42, 16), Qt::AlignRight | Qt::AlignVCenter,
                   QString::number(share * most, 'f', most < 10 ? 1 : 0));
    }
    p.setPen(t.ink2);
    p.drawText(QRectF(plot.left(), plot.bottom() + 18, plot.width(), 16), Qt::AlignHCenter,
               tr("items; price of one, %1").arg(currency));
    QPolygonF line;
    for (const QPointF& q : places) line << at(q);
    p.setPen(QPen(t.tide, 2));
    p.drawPolyline(line);
    const auto own = std::min_element(places.begin(), places.end(), [&](QPointF a, QPointF b) {
        return std::abs(a.x() - quantity) < std::abs(b.x() - quantity);
    });
    p.setPen(QPen(t.ink, 1.4));
    p.setBrush(t.kite);
    p.drawEllipse(at(*own), 5, 5);
}

void ShareBar::paint(QPainter* p, const QStyleOptionViewItem& option,
                     const QModelIndex& index) const {
    const double share = index.data().toString().section(' ', 0, 0).toDouble() / 100;
    QRectF bar = QRectF(option.rect).adjusted(4, 5, -44, -5);
    bar.setWidth(std::max(0.0, bar.width() * std::min(1.0, share)));
    p->fillRect(bar, theme().tideSoft);
    p->setPen(theme().ink);
    p->drawText(option.rect.adjusted(0, 0, -4, 0), Qt::AlignRight | Qt::AlignVCenter,
                index.data().toString());
}

QSize ShareBar::sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const {
    return {150, 20};
}

} // namespace rapt::app
