#pragma once
// Hoops on the cloth as translucent rings, with their marks.

#include "app/canvas/labels.h"
#include "app/canvas/view_map.h"
#include "app/document/session.h"

#include <QPainter>
#include <QPainterPath>

namespace rapt::app {

/// The edge of the field, mm about its middle.
QPainterPath fieldPath(const Hoop& hoop);

/// The edge of one hooping's field.
void paintFieldOutline(QPainter& painter, const ViewMap& view, const Hooping& hooping,
                       const Hoop& hoop, const QColor& colour);

/// All clampings; the chosen one strong with its ring, positions and marks, the others faint; while
/// stepping, what comes later is pale. Joins with their forecast gap.
void paintHoopings(QPainter& painter, const ViewMap& view, const Session& session, Labels& labels);

} // namespace rapt::app
