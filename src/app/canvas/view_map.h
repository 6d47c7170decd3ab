#pragma once
// From cloth millimetres to pixels of the view and back.

#include "geometry/pose.h"

#include <QPointF>
#include <QRectF>

namespace rapt::app {

struct ViewMap {
    double scale = 2;     ///< pixels per mm
    QPointF origin{0, 0}; ///< where the cloth datum is, in pixels

    QPointF toPixels(Vec2 mm) const {
        return {origin.x() + mm.x * scale, origin.y() + mm.y * scale};
    }
    Vec2 toMm(QPointF px) const {
        return {(px.x() - origin.x()) / scale, (px.y() - origin.y()) / scale};
    }
    QRectF toPixels(const Box& b) const {
        return {toPixels(Vec2{b.minX, b.minY}), toPixels(Vec2{b.maxX, b.maxY})};
    }
    Box toMm(const QRectF& r) const {
        const Vec2 a = toMm(r.topLeft());
        const Vec2 b = toMm(r.bottomRight());
        return {a.x, a.y, b.x, b.y};
    }
    friend bool operator==(const ViewMap&, const ViewMap&) = default;
};

} // namespace rapt::app
