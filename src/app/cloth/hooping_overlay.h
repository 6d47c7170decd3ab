#pragma once
// Hoops on the cloth as translucent rings, with their marks and what was seen of them.

#include "app/canvas/view_map.h"
#include "app/document/session.h"
#include "registration/fit.h"

#include <QPainter>

namespace rapt::app {

/// The edge of one hooping's field.
void paintFieldOutline(QPainter& painter, const ViewMap& view, const Hooping& hooping,
                       const Hoop& hoop, const QColor& colour);

/// All clampings; the chosen one strong with its ring, positions and marks, the others faint; while
/// stepping, what comes later is pale. Joins with their forecast gap.
void paintHoopings(QPainter& painter, const ViewMap& view, const Session& session);

/// The scan of the chosen hooping, where its hoop is planned.
void paintScan(QPainter& painter, const ViewMap& view, Session& session);

/// Planned and seen points of the chosen hooping, residuals enlarged, and the pieces' boxes moved
/// by the correction.
void paintRegistration(QPainter& painter, const ViewMap& view, const Session& session);

} // namespace rapt::app
