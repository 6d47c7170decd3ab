#pragma once
// What the mouse and the keys do on a canvas.

#include "app/canvas/view_map.h"
#include "job/edit.h"

#include <QKeyEvent>
#include <QPainter>
#include <QString>
#include <QStringList>
#include <optional>

namespace rapt::app {

/// Where the mouse is and how.
struct Pointer {
    QPointF px;
    Vec2 mm; ///< the same on the cloth
    Qt::KeyboardModifiers modifiers{};
};

/// What is sewn uppermost at a place.
struct Hit {
    std::string piece;
    int copy = 1; ///< counted from 1
};

/// What a tool sees of the world. No widget, so that tools can be tried without a window.
class ToolHost {
public:
    virtual ~ToolHost() = default;
    virtual const ViewMap& map() const = 0;
    virtual QRect visible() const = 0;
    virtual qreal pixelRatio() const = 0;
    virtual std::optional<Hit> hitAt(QPointF px) const = 0;
    /// Makes one undo entry; entries with the same key in a row become one.
    virtual void apply(const Edit& edit, const QString& mergeKey = {}) = 0;
    virtual void redraw() = 0;
    virtual void setCursorShape(std::optional<Qt::CursorShape> shape) = 0;
    /// What is chosen is dragged so far (cloth frame), or no longer.
    virtual void follow(const std::optional<Affine>& change) = 0;
};

/// Turns gestures into edits. Only release, double click and keys edit; a gesture can always be
/// cancelled, and then nothing has happened.
class Tool {
public:
    explicit Tool(ToolHost& h) : host(h) {}
    virtual ~Tool() = default;
    Tool(const Tool&) = delete;
    Tool& operator=(const Tool&) = delete;

    /// True if the gesture is this tool's; drag and release follow then.
    virtual bool press(const Pointer& pointer) = 0;
    virtual void drag(const Pointer&) {}
    virtual void release(const Pointer&) {}
    /// Gives up the gesture that goes on.
    virtual void cancel() {}
    virtual bool doubleClick(const Pointer&) { return false; }
    /// The mouse moves with no button down.
    virtual void hover(const Pointer&) {}
    virtual void leave() {}
    /// True if the key is this tool's.
    virtual bool key(const QKeyEvent&) { return false; }
    /// True while keys are text and not shortcuts.
    virtual bool ownsText() const { return false; }
    /// Another tool was taken.
    virtual void putDown() { cancel(); }
    virtual void paint(QPainter&) {}
    /// Words about what goes on, beside the pointer; the first is strong.
    virtual QStringList words() const { return {}; }
    virtual Qt::CursorShape cursor() const { return Qt::ArrowCursor; }

protected:
    ToolHost& host;
};

} // namespace rapt::app
