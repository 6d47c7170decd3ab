#pragma once
// Hoops on the cloth as translucent rings, with their marks and what was seen of them.

#include "app/canvas/view_map.h"
#include "app/document/session.h"
#include "registration/fit.h"

#include <QPainter>

namespace rapt::app {

/// All hoopings; the chosen one strong, the others faint.
void paintHoopings(QPainter& painter, const ViewMap& view, const Session& session);

/// The scan of the chosen hooping, where its hoop is planned.
void paintScan(QPainter& painter, const ViewMap& view, Session& session);

/// Planned and seen points of the chosen hooping, residuals enlarged, and the pieces' boxes moved
/// by the correction.
void paintRegistration(QPainter& painter, const ViewMap& view, const Session& session);

} // namespace rapt::app
