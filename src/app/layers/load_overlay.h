#pragma once
// The thread load as soft steps on the cloth, with the limit as a double ink contour.

#include "app/canvas/view_map.h"
#include "load/limits.h"

#include <QImage>
#include <QLineF>
#include <QPainter>
#include <map>
#include <vector>

namespace rapt::app {

class LoadOverlay {
public:
    /// Draws the map once, a pixel a cell.
    void set(const LoadMap& map, LoadKind kind, const LoadLimits& limits);
    /// Room for a map that changes within an area (mm); nothing is drawn yet.
    void begin(const Box& area, LoadKind kind, const LoadLimits& limits);
    /// Draws some tiles again, named by their first cells.
    void renew(const LoadMap& map, const std::vector<Cell>& tiles);
    void paint(QPainter& painter, const ViewMap& view) const;

private:
    void drawTile(const LoadMap& map, Cell first);

    LoadKind kind = LoadKind::layers;
    LoadLimits limits;
    QImage image;
    Cell firstCell;
    Box area;                                                    ///< mm
    std::map<std::pair<int, int>, std::vector<QLineF>> contours; ///< mm, by tile
};

} // namespace rapt::app
