#pragma once
// The cloth itself: its colour and weave, thick places, datum lines; and the rulers along it.

#include "app/canvas/view_map.h"
#include "geometry/lengths.h"
#include "job/job.h"

#include <QPainter>

namespace rapt::app {

inline constexpr int rulerPx = 26;

void paintCloth(QPainter& painter, const ViewMap& view, const Cloth& cloth, const QRect& visible);
void paintZones(QPainter& painter, const ViewMap& view, const Cloth& cloth);
/// The garment's lines, in chalk, with their names.
void paintGuides(QPainter& painter, const ViewMap& view, const Cloth& cloth);
void paintDatumLines(QPainter& painter, const ViewMap& view, const QRect& visible);

/// Rulers along the top and left edge, with numbers at round values for the zoom.
void paintRulers(QPainter& painter, const ViewMap& view, const QSize& size, LengthUnit unit,
                 QPointF pointer);

} // namespace rapt::app
