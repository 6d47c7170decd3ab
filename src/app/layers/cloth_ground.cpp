#include "app/layers/cloth_ground.h"

#include "app/theme/theme.h"

#include <cmath>
#include <fmt/format.h>

namespace rapt::app {
namespace {

/// A few threads over and under, as a brush; the count of threads follows the zoom so that the
/// weave stays a weave.
QPixmap weave(const QColor& colour, int cell) {
    QPixmap pixmap(cell * 2, cell * 2);
    pixmap.fill(colour);
    QPainter p(&pixmap);
    for (int y = 0; y < 2; ++y)
        for (int x = 0; x < 2; ++x) {
            const QRect r(x * cell, y * cell, cell, cell);
            p.fillRect(r, (x + y) % 2 ? colour.darker(103) : colour.lighter(102));
            p.setPen(colour.darker(108));
            if ((x + y) % 2)
                p.drawLine(r.left(), r.bottom(), r.right(), r.bottom());
            else
                p.drawLine(r.right(), r.top(), r.right(), r.bottom());
        }
    return pixmap;
}

/// The least round step whose labels have room.
double stepFor(double pxPerUnit, LengthUnit unit) {
    constexpr double roomPx = 58;
    if (unit == LengthUnit::inch) {
        for (const double s : {0.125, 0.25, 0.5, 1.0, 2.0, 3.0, 6.0, 12.0, 24.0})
            if (s * pxPerUnit >= roomPx) return s;
        return 48;
    }
    for (double decade = 1;; decade *= 10)
        for (const double s : {1.0, 2.0, 5.0})
            if (s * decade * pxPerUnit >= roomPx) return s * decade;
}

QString labelOf(double value, LengthUnit unit) {
    if (unit == LengthUnit::millimetre)
        return QString::fromStdString(fmt::format("{}", std::lround(value)));
    QString text = QString::fromStdString(formatLength(value * 25.4, LengthUnit::inch));
    return text.remove(" in");
}

void paintTicks(QPainter& p, double origin, double scale, int length, bool across,
                LengthUnit unit) {
    const double pxPerUnit = unit == LengthUnit::inch ? scale * 25.4 : scale;
    const double step = stepFor(pxPerUnit, unit);
    const int parts = unit == LengthUnit::inch ? 4 : 5;
    const long first = static_cast<long>(std::floor((rulerPx - origin) / (step * pxPerUnit)));
    for (long k = first; origin + static_cast<double>(k) * step * pxPerUnit < length; ++k) {
        for (int m = 0; m < parts; ++m) {
            const double px = origin + (static_cast<double>(k) + static_cast<double>(m) / parts) *
                                           step * pxPerUnit;
            if (px < rulerPx) continue;
            const int tick = m == 0 ? 8 : 4;
            p.setPen(theme().ink2);
            if (across)
                p.drawLine(QPointF(px, rulerPx - tick), QPointF(px, rulerPx - 1));
            else
                p.drawLine(QPointF(rulerPx - tick, px), QPointF(rulerPx - 1, px));
        }
        const double px = origin + static_cast<double>(k) * step * pxPerUnit;
        if (px < rulerPx + 4) continue;
        const QString label = labelOf(static_cast<double>(k) * step, unit);
        p.setPen(theme().ink2);
        if (across) {
            p.drawText(QRectF(px - 30, 1, 60, 15), Qt::AlignCenter, label);
        } else {
            p.save();
            p.translate(9, px);
            p.rotate(-90);
            p.drawText(QRectF(-30, -8, 60, 15), Qt::AlignCenter, label);
            p.restore();
        }
    }
}

} // namespace

void paintCloth(QPainter& painter, const ViewMap& view, const Cloth& cloth, const QRect& visible) {
    const QRectF r = view.toPixels(cloth.box());
    const QColor colour(cloth.color.r, cloth.color.g, cloth.color.b);
    painter.save();
    for (int i = 3; i > 0; --i) {
        painter.setPen(Qt::NoPen);
        painter.setBrush(QColor(0, 0, 0, 12));
        painter.drawRoundedRect(r.adjusted(-i, -i + 1, i, i + 1), 3, 3);
    }
    const int cell = view.scale < 1.2 ? 2 : view.scale < 4 ? 3 : static_cast<int>(view.scale * 0.9);
    painter.setBrushOrigin(view.origin);
    painter.fillRect(r.intersected(QRectF(visible)), QBrush(weave(colour, std::min(cell, 60))));
    painter.setPen(QPen(colour.darker(125), 1));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(r);
    painter.restore();
}

namespace {

void paintZone(QPainter& painter, const ViewMap& view, const ClothZone& zone) {
    if (zone.outline.empty())
        return painter.drawEllipse(view.toPixels(zone.at), zone.radiusMm * view.scale,
                                   zone.radiusMm * view.scale);
    QPolygonF line;
    for (const Vec2& p : zone.outline) line << view.toPixels(p);
    painter.drawPolygon(line);
}

} // namespace

void paintZones(QPainter& painter, const ViewMap& view, const Cloth& cloth) {
    for (const ThickZone& z : cloth.thickZones) {
        painter.setPen(QPen(theme().caution, 1.4, Qt::DashLine));
        painter.setBrush(QBrush(QColor(120, 90, 20, 60), Qt::BDiagPattern));
        paintZone(painter, view, z);
    }
    for (const ForbiddenZone& z : cloth.forbiddenZones) {
        painter.setPen(QPen(theme().stop, 1.8));
        painter.setBrush(QBrush(QColor(179, 38, 30, 90), Qt::DiagCrossPattern));
        paintZone(painter, view, z);
    }
}

void paintGuides(QPainter& painter, const ViewMap& view, const Cloth& cloth) {
    const bool darkCloth = qGray(cloth.color.r, cloth.color.g, cloth.color.b) < 128;
    const QColor chalk = darkCloth ? QColor(250, 250, 245) : QColor(70, 80, 86);
    painter.setBrush(Qt::NoBrush);
    for (const GuideLine& guide : cloth.guides) {
        QPolygonF line;
        for (const Vec2& p : guide.line) line << view.toPixels(p);
        if (line.isEmpty()) continue;
        // A seam is a row of stitches, another line chalk.
        QPen pen(chalk, guide.seam ? 2.4 : 1.6);
        pen.setDashPattern(guide.seam ? QList<qreal>{2, 2} : QList<qreal>{6, 3});
        painter.setPen(pen);
        painter.drawPolyline(line);
        painter.setPen(chalk);
        painter.drawText(line.back() + QPointF(6, 4), QString::fromStdString(guide.name));
    }
}

void paintDatumLines(QPainter& painter, const ViewMap& view, const QRect& visible) {
    QColor tide = theme().tide;
    tide.setAlpha(170);
    QPen pen(tide, 1.4);
    pen.setDashPattern({7, 3, 1, 3});
    painter.setPen(pen);
    painter.drawLine(QPointF(visible.left(), view.origin.y()),
                     QPointF(visible.right(), view.origin.y()));
    painter.drawLine(QPointF(view.origin.x(), visible.top()),
                     QPointF(view.origin.x(), visible.bottom()));
}

void paintRulers(QPainter& painter, const ViewMap& view, const QSize& size, LengthUnit unit,
                 QPointF pointer) {
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing, false);
    painter.fillRect(0, 0, size.width(), rulerPx, theme().panel);
    painter.fillRect(0, 0, rulerPx, size.height(), theme().panel);
    painter.setFont(faceOf(10));
    paintTicks(painter, view.origin.x(), view.scale, size.width(), true, unit);
    paintTicks(painter, view.origin.y(), view.scale, size.height(), false, unit);
    painter.fillRect(0, 0, rulerPx, rulerPx, theme().panel);
    painter.setPen(theme().ink2);
    painter.drawText(QRect(0, 0, rulerPx, rulerPx), Qt::AlignCenter,
                     unit == LengthUnit::inch ? "in" : "mm");
    painter.setPen(theme().rule);
    painter.drawLine(rulerPx, rulerPx, size.width(), rulerPx);
    painter.drawLine(rulerPx, rulerPx, rulerPx, size.height());
    painter.setPen(QPen(theme().kite, 1.4));
    if (pointer.x() > rulerPx)
        painter.drawLine(QPointF(pointer.x(), 0), QPointF(pointer.x(), rulerPx));
    if (pointer.y() > rulerPx)
        painter.drawLine(QPointF(0, pointer.y()), QPointF(rulerPx, pointer.y()));
    painter.restore();
}

} // namespace rapt::app
