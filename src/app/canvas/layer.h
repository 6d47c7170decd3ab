#pragma once
// One thing that is painted on a canvas.

#include "app/canvas/labels.h"
#include "app/canvas/view_map.h"

#include <QObject>
#include <QPainter>

namespace rapt::app {

/// A layer owns what it keeps to paint quickly; it never computes what it shows. Interface thread.
class Layer : public QObject {
    Q_OBJECT
public:
    using QObject::QObject;

    /// Where it is painted and how finely.
    struct Canvas {
        ViewMap map;
        QRect visible; ///< pixels that are seen
        qreal pixelRatio = 1;
        Labels& labels; ///< of all layers; placed when all have painted
    };

    virtual bool isShown() const { return true; }
    virtual void paint(QPainter& painter, const Canvas& canvas) = 0;
    /// False while something better is on its way.
    virtual bool isSettled() const { return true; }

signals:
    /// It looks different now.
    void changed();
};

} // namespace rapt::app
