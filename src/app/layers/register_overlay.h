#pragma once
// The scan below the design, and over it what was seen of the cloth and how far to trust it.

#include "app/canvas/labels.h"
#include "app/canvas/view_map.h"
#include "app/document/session.h"

#include <QPainter>

namespace rapt::app {

/// How strongly scan and stitches show at a fade from cloth (0) to stitches (1).
double scanShown(double fade);
double stitchesShown(double fade);

/// The scan of the chosen hooping: where its hoop is planned, or moved by the correction that the
/// person chose, so that the cloth lies below the pieces.
void paintScan(QPainter& painter, const ViewMap& view, Session& session);

/// What is proposed and what counts of the chosen hooping, residuals enlarged with their scale, the
/// corrected pieces' boxes, and the trust map while it is looked at.
void paintRegistration(QPainter& painter, const ViewMap& view, Session& session, Labels& labels);

} // namespace rapt::app
