#include "app/ledger/chart_painter.h"

#include "app/theme/theme.h"

#include <cmath>

namespace rapt::app {
namespace {

QString text(const std::string& s) { return QString::fromStdString(s); }

/// A round step that gives four to eight ticks.
double stepFor(double most) {
    const double rough = most / 5, power = std::pow(10, std::floor(std::log10(rough)));
    for (const double m : {1.0, 2.0, 2.5, 5.0, 10.0})
        if (m * power >= rough) return m * power;
    return 10 * power;
}

/// One axis of numbers, from 0.
struct Axis {
    double most = 1, step = 0.2;

    explicit Axis(double largest, double fixed = 0) {
        const double end = fixed > 0 ? fixed : std::max(largest, 1e-6);
        step = stepFor(end);
        most = fixed > 0 ? fixed : step * std::ceil(end / step - 1e-9);
    }
    QString label(double v) const { return QString::number(v, 'g', 4); }
};

class ChartPainter {
public:
    ChartPainter(QPainter& painter, const QRectF& r, const ChartData& data)
        : p(painter), rect(r), d(data) {}

    void paint() {
        p.fillRect(rect, t.panel);
        p.setRenderHint(QPainter::Antialiasing);
        p.setFont(faceOf(isLarge ? 16 : 13, true));
        p.setPen(t.ink);
        p.drawText(rect.adjusted(4, 2, -4, 0), Qt::AlignHCenter | Qt::AlignTop, text(d.title));
        p.setFont(faceOf(isLarge ? 12 : 10));
        if (d.rows.empty()) return;
        if (d.points)
            points();
        else if (d.wide)
            lying();
        else
            standing();
    }

private:
    double textWidth(const QString& s) const { return p.fontMetrics().horizontalAdvance(s); }

    void horizontalAxis(const Axis& axis, const std::string& title) {
        for (double v = 0; v <= axis.most * 1.0001; v += axis.step) {
            const double x = plot.left() + v / axis.most * plot.width();
            p.setPen(t.rule);
            p.drawLine(QPointF(x, plot.top()), QPointF(x, plot.bottom()));
            p.setPen(t.ink);
            p.drawText(QRectF(x - 30, plot.bottom() + 3, 60, 14), Qt::AlignHCenter, axis.label(v));
        }
        p.setPen(t.ink2);
        p.drawText(QRectF(plot.left(), plot.bottom() + 17, plot.width(), 14), Qt::AlignHCenter,
                   text(title));
    }
    void verticalAxis(const Axis& axis, const std::string& title) {
        for (double v = 0; v <= axis.most * 1.0001; v += axis.step) {
            const double y = plot.bottom() - v / axis.most * plot.height();
            p.setPen(t.rule);
            p.drawLine(QPointF(plot.left(), y), QPointF(plot.right(), y));
            p.setPen(t.ink);
            p.drawText(QRectF(rect.left(), y - 7, plot.left() - rect.left() - 5, 14),
                       Qt::AlignRight | Qt::AlignVCenter, axis.label(v));
        }
        p.setPen(t.ink2);
        p.save();
        p.translate(rect.left() + 10, plot.center().y());
        p.rotate(-90);
        p.drawText(QRectF(-plot.height() / 2, -7, plot.height(), 14), Qt::AlignCenter, text(title));
        p.restore();
    }
    void bar(const QRectF& r) {
        p.setPen(QPen(t.tide, 1.2));
        p.setBrush(QBrush(t.tide, Qt::BDiagPattern));
        p.drawRect(r);
        p.setBrush(Qt::NoBrush);
    }
    double mostValue() const {
        double most = 0;
        for (const ChartRow& r : d.rows) most = std::max(most, r.value);
        return most;
    }

    void standing() {
        plot = rect.adjusted(52, 26, -10, -36);
        const Axis axis(mostValue(), d.most);
        verticalAxis(axis, d.yTitle);
        const double slot = plot.width() / static_cast<double>(d.rows.size());
        for (std::size_t i = 0; i < d.rows.size(); ++i) {
            const double x = plot.left() + static_cast<double>(i) * slot;
            const double h = std::min(1.0, d.rows[i].value / axis.most) * plot.height();
            bar({x + 0.15 * slot, plot.bottom() - h, 0.7 * slot, h});
            const QString name = text(d.rows[i].name);
            // Where they would touch, every second one is left out.
            if (textWidth(name) > slot - 2 && i % 2) continue;
            p.setPen(t.ink);
            p.drawText(QRectF(x - slot, plot.bottom() + 3, 3 * slot, 14), Qt::AlignHCenter, name);
        }
        p.setPen(t.ink2);
        p.drawText(QRectF(plot.left(), plot.bottom() + 17, plot.width(), 14), Qt::AlignHCenter,
                   text(d.xTitle));
        p.setPen(t.ink);
        p.drawLine(plot.bottomLeft(), plot.bottomRight());
        if (!d.line) return;
        const double x =
            std::clamp(plot.left() + (*d.line + 0.5) * slot, plot.left(), plot.right());
        limit({x, plot.top()}, {x, plot.bottom()}, text(d.lineName));
    }
    void limit(const QPointF& a, const QPointF& b, const QString& name) {
        p.setPen(QPen(t.stop, 1.8, Qt::DashLine));
        p.drawLine(a, b);
        const double w = textWidth(name) + 8;
        QRectF box(a.x() - w - 4, a.y() + 2, w, 15);
        if (box.left() < plot.left()) box.moveLeft(a.x() + 4);
        p.fillRect(box, t.panel);
        p.setPen(t.stop);
        p.drawText(box, Qt::AlignCenter, name);
    }

    void lying() {
        double names = 0;
        for (const ChartRow& r : d.rows) names = std::max(names, textWidth(text(r.name)));
        names = std::min(names, rect.width() * 0.5);
        plot = rect.adjusted(names + 14, 24, -34, -34);
        const Axis axis(mostValue(), d.most);
        horizontalAxis(axis, d.yTitle);
        const double slot = plot.height() / static_cast<double>(d.rows.size());
        for (std::size_t i = 0; i < d.rows.size(); ++i) {
            const double y = plot.top() + static_cast<double>(i) * slot;
            const double w = d.rows[i].value / axis.most * plot.width();
            bar({plot.left(), y + 0.15 * slot, w, 0.7 * slot});
            p.setPen(t.ink);
            p.drawText(QRectF(rect.left() + 4, y, names + 4, slot),
                       Qt::AlignRight | Qt::AlignVCenter,
                       p.fontMetrics().elidedText(text(d.rows[i].name), Qt::ElideRight,
                                                  static_cast<int>(names) + 4));
            p.drawText(QRectF(plot.left() + w + 4, y, 60, slot), Qt::AlignLeft | Qt::AlignVCenter,
                       axis.label(std::round(d.rows[i].value)));
        }
        p.drawLine(plot.topLeft(), plot.bottomLeft());
    }

    void points() {
        plot = rect.adjusted(52, 26, -14, -36);
        double most = 0;
        for (const ChartRow& r : d.rows) most = std::max({most, r.value, r.second});
        const Axis axis(most);
        horizontalAxis(axis, d.xTitle);
        verticalAxis(axis, d.yTitle);
        p.setPen(QPen(t.stop, 1.8, Qt::DashLine));
        p.drawLine(plot.bottomLeft(), plot.topRight());
        p.setPen(QPen(t.panel, 1));
        p.setBrush(t.tide);
        for (const ChartRow& r : d.rows)
            p.drawEllipse(QPointF(plot.left() + r.value / axis.most * plot.width(),
                                  plot.bottom() - r.second / axis.most * plot.height()),
                          3.2, 3.2);
        p.setBrush(Qt::NoBrush);
        p.setPen(t.stop);
        p.drawText(plot.adjusted(0, 0, -6, -6), Qt::AlignRight | Qt::AlignBottom,
                   QObject::tr("dashed: as estimated"));
    }

    QPainter& p;
    const QRectF rect;
    const ChartData& d;
    const Theme& t = theme();
    const bool isLarge = rect.width() > 560;
    QRectF plot;
};

} // namespace

void paintChart(QPainter& painter, const QRectF& rect, const ChartData& data) {
    ChartPainter(painter, rect, data).paint();
}

} // namespace rapt::app
