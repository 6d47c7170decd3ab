#include "app/canvas/paint_kit.h"

#include "app/theme/theme.h"

namespace rapt::app {

void paintNote(QPainter& painter, QPointF at, const QStringList& lines, const QRect& inside,
               const QColor& first) {
    const QFont bold = faceOf(13, true);
    const QFont plain = faceOf(12);
    double width = 0;
    for (int i = 0; i < lines.size(); ++i)
        width = std::max(width, QFontMetricsF(i == 0 ? bold : plain).horizontalAdvance(lines[i]));
    QRectF box(at, QSizeF(width + 22, 12 + 18.0 * static_cast<double>(lines.size())));
    if (box.right() > inside.right() - 6) box.moveRight(at.x() - 46);
    if (box.bottom() > inside.bottom() - 6) box.moveBottom(at.y() - 46);
    if (box.left() < inside.left() + 6) box.moveLeft(inside.left() + 6);
    if (box.top() < inside.top() + 6) box.moveTop(inside.top() + 6);
    painter.setPen(QPen(theme().ink, 1));
    painter.setBrush(theme().panel);
    painter.drawRoundedRect(box, 6, 6);
    for (int i = 0; i < lines.size(); ++i) {
        painter.setFont(i == 0 ? bold : plain);
        painter.setPen(i == 0 ? first : theme().ink);
        painter.drawText(QRectF(box.left() + 11, box.top() + 6 + 18.0 * i, width + 2, 18),
                         Qt::AlignVCenter | Qt::AlignLeft, lines[i]);
    }
}

void paintLabel(QPainter& painter, QPointF topLeft, const QString& text, const QColor& ground,
                const QColor& ink) {
    const QFont font = faceOf(12, true);
    painter.setFont(font);
    const QRectF box = QRectF(topLeft, QFontMetricsF(font).size(0, text)).adjusted(-6, -3, 6, 3);
    painter.setPen(Qt::NoPen);
    painter.setBrush(ground);
    painter.drawRoundedRect(box, 4, 4);
    painter.setPen(ink);
    painter.drawText(box, Qt::AlignCenter, text);
}

void paintHalo(QPainter& painter, const QPolygonF& line, const QColor& ink, double width,
               Qt::PenStyle style) {
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme().panel, width + 1.8));
    painter.drawPolyline(line);
    painter.setPen(QPen(ink, width, style));
    painter.drawPolyline(line);
}

void paintSquareGrip(QPainter& painter, QPointF at, double halfPx, const QColor& colour) {
    painter.setPen(QPen(theme().panel, 1.4));
    painter.setBrush(colour);
    painter.drawRect(QRectF(at - QPointF(halfPx, halfPx), QSizeF(2 * halfPx, 2 * halfPx)));
}

void paintRoundGrip(QPainter& painter, QPointF at, double radiusPx, const QColor& colour) {
    painter.setPen(QPen(theme().panel, 1.4));
    painter.setBrush(colour);
    painter.drawEllipse(at, radiusPx, radiusPx);
}

} // namespace rapt::app
