#include "app/weigh/scale_ruler.h"

#include "app/theme/theme.h"

#include <QPainter>
#include <cmath>

namespace rapt::app {
namespace {

constexpr double leastShown = 0.25, mostShown = 4;
constexpr double barTop = 24, barHeight = 12;

} // namespace

ScaleRuler::ScaleRuler(QWidget* parent) : QWidget(parent) {
    setMinimumHeight(64);
    setAccessibleName(tr("Safe range of scale"));
}

void ScaleRuler::show(const SafeRange& range, double now, bool laidAfresh) {
    shown = range;
    present = now;
    afresh = laidAfresh;
    setToolTip(tr("With its stitches kept: %1 to %2 %")
                   .arg(100 * shown.least.scale, 0, 'f', 0)
                   .arg(100 * shown.most.scale, 0, 'f', 0));
    update();
}

/// Halving and doubling are equally far.
double ScaleRuler::xOf(double scale) const {
    const double share = std::log(std::clamp(scale, leastShown, mostShown) / leastShown) /
                         std::log(mostShown / leastShown);
    return 10 + (width() - 20) * share;
}

void ScaleRuler::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QRectF whole(10, barTop, width() - 20, barHeight);
    painter.setPen(QPen(theme().rule, 1));
    painter.setBrush(theme().paper);
    painter.drawRoundedRect(whole, 3, 3);
    if (!shown.empty()) {
        const QRectF safe(QPointF(xOf(shown.least.scale), barTop),
                          QPointF(xOf(shown.most.scale), barTop + barHeight));
        painter.setPen(QPen(theme().ink, 1));
        painter.setBrush(theme().tide);
        painter.drawRect(safe);
    }
    // Outside the range hatched: it reads without colour.
    painter.setPen(Qt::NoPen);
    painter.setBrush(QBrush(theme().ink2, Qt::BDiagPattern));
    const double left = shown.empty() ? whole.right() : xOf(shown.least.scale);
    const double right = shown.empty() ? whole.right() : xOf(shown.most.scale);
    painter.drawRect(QRectF(whole.left(), barTop, left - whole.left(), barHeight));
    painter.drawRect(QRectF(right, barTop, whole.right() - right, barHeight));
    painter.setFont(faceOf(11));
    painter.setPen(theme().ink2);
    for (const double mark : {0.25, 0.5, 1.0, 2.0, 4.0}) {
        const double x = xOf(mark);
        painter.drawLine(QPointF(x, barTop + barHeight), QPointF(x, barTop + barHeight + 4));
        const QString text = QString("%1 %").arg(100 * mark);
        const double wide = QFontMetricsF(painter.font()).horizontalAdvance(text);
        painter.drawText(
            QPointF(std::clamp(x - wide / 2, 0.0, width() - wide), barTop + barHeight + 17), text);
    }
    const double x = xOf(present);
    painter.setPen(QPen(theme().panel, 1.5));
    painter.setBrush(theme().kite);
    painter.drawPolygon(
        QPolygonF{QPointF(x, barTop + 2), QPointF(x - 7, barTop - 8), QPointF(x + 7, barTop - 8)});
    painter.setPen(QPen(theme().kite, 2));
    painter.drawLine(QPointF(x, barTop), QPointF(x, barTop + barHeight));
    painter.setPen(theme().ink);
    painter.setFont(faceOf(12, true));
    const QString text = tr("now %1 %").arg(100 * present, 0, 'f', 0);
    const double wide = QFontMetricsF(painter.font()).horizontalAdvance(text);
    painter.drawText(QPointF(x + 11 + wide < width() ? x + 11 : x - 11 - wide, barTop - 7), text);
}

} // namespace rapt::app
