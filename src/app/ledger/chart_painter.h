#pragma once
// A chart as a picture: bars or points on paper, readable without colour.

#include "learn/chart_data.h"

#include <QPainter>

namespace rapt::app {

/// Fills the rectangle, in the theme's colours and faces.
void paintChart(QPainter& painter, const QRectF& rect, const ChartData& data);

} // namespace rapt::app
