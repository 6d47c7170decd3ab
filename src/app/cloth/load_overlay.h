#pragma once
// The thread load as soft steps on the cloth, with the limit as a double ink contour.

#include "app/cloth/view_map.h"
#include "load/limits.h"

#include <QImage>
#include <QLineF>
#include <QPainter>
#include <vector>

namespace rapt::app {

class LoadOverlay {
public:
    /// Draws the map once, a pixel a cell.
    void set(const LoadMap& map, LoadKind kind, const LoadLimits& limits);
    void paint(QPainter& painter, const ViewMap& view) const;

private:
    QImage image;
    Box area;                    ///< mm
    std::vector<QLineF> contour; ///< mm
};

} // namespace rapt::app
