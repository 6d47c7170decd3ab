#pragma once
// Small things that several layers and tools paint alike.

#include <QPainter>
#include <QRect>
#include <QStringList>

namespace rapt::app {

/// A small label on paper ground beside a place, kept inside the view; the first line is strong.
void paintNote(QPainter& painter, QPointF at, const QStringList& lines, const QRect& inside,
               const QColor& first);

/// One line of words on a ground of its own, its top left corner at a place.
void paintLabel(QPainter& painter, QPointF topLeft, const QString& text, const QColor& ground,
                const QColor& ink);

/// A line that shows on any cloth: paper below, ink above.
void paintHalo(QPainter& painter, const QPolygonF& line, const QColor& ink, double width,
               Qt::PenStyle style = Qt::SolidLine);

/// Grips that are dragged.
inline constexpr double gripReachPx = 9;
void paintSquareGrip(QPainter& painter, QPointF at, double halfPx, const QColor& colour);
void paintRoundGrip(QPainter& painter, QPointF at, double radiusPx, const QColor& colour);

} // namespace rapt::app
