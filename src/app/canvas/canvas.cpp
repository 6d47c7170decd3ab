#include "app/canvas/canvas.h"

#include "app/canvas/paint_kit.h"
#include "app/theme/theme.h"

#include <QMouseEvent>
#include <QWheelEvent>

namespace rapt::app {
namespace {

constexpr double leastScale = 0.05, mostScale = 120; // pixels per mm
constexpr double marginPx = 28;
constexpr double placeScale = 6;
constexpr double startDragPx = 3;

} // namespace

Canvas::Canvas(QWidget* parent) : QWidget(parent) {
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setAttribute(Qt::WA_OpaquePaintEvent);
    setAttribute(Qt::WA_InputMethodEnabled);
}

void Canvas::addLayer(Layer* layer) {
    layer->setParent(this);
    layers.push_back(layer);
    connect(layer, &Layer::changed, this, qOverload<>(&QWidget::update));
}

bool Canvas::layersAreSettled() const {
    return std::all_of(layers.begin(), layers.end(),
                       [](const Layer* l) { return !l->isShown() || l->isSettled(); });
}

void Canvas::setOrigin(QPointF origin) {
    // Whole pixels, so that pictures and lines lie exactly on each other.
    view.origin = {std::round(origin.x()), std::round(origin.y())};
    emit zoomed();
    update();
}

void Canvas::zoomToFit() {
    const Box box = boxToFit();
    const QRectF r = QRectF(visible()).adjusted(marginPx, marginPx, -marginPx, -marginPx);
    if (r.width() < 10 || r.height() < 10) return;
    view.scale = std::clamp(std::min(r.width() / box.width(), r.height() / box.height()),
                            leastScale, mostScale);
    const Vec2 c = box.centre();
    setOrigin(r.center() - QPointF(c.x, c.y) * view.scale);
    fitted = true;
}

void Canvas::zoomBy(double factor, QPointF about) {
    const Vec2 fixed = view.toMm(about);
    view.scale = std::clamp(view.scale * factor, leastScale, mostScale);
    setOrigin(about - QPointF(fixed.x, fixed.y) * view.scale);
    fitted = false;
}

void Canvas::showPlace(Vec2 at) {
    view.scale = std::max(view.scale, placeScale);
    setOrigin(QRectF(visible()).center() - QPointF(at.x, at.y) * view.scale);
    fitted = false;
}

void Canvas::resizeEvent(QResizeEvent*) {
    if (fitted || view.origin.isNull()) zoomToFit();
}

void Canvas::setCursorShape(std::optional<Qt::CursorShape> shape) {
    setCursor(shape.value_or(tool().cursor()));
}

Pointer Canvas::pointerOf(const QMouseEvent& event) const {
    return {event.position(), view.toMm(event.position()), event.modifiers()};
}

void Canvas::cancelGesture() {
    if (!held) return;
    Tool* gone = std::exchange(held, nullptr);
    moved = false;
    gone->cancel();
    setCursorShape({});
    update();
}

void Canvas::mousePressEvent(QMouseEvent* event) {
    setFocus();
    if (held) return;
    pressedPx = lastPx = event->position();
    moved = false;
    if (event->button() == Qt::MiddleButton || event->button() == Qt::RightButton) {
        panning = true;
        setCursor(Qt::ClosedHandCursor);
        return;
    }
    if (event->button() != Qt::LeftButton) return;
    std::vector<Tool*> asked = toolsBefore();
    asked.push_back(&tool());
    for (Tool* one : asked)
        if (one->press(pointerOf(*event))) {
            held = one;
            break;
        }
    update();
}

void Canvas::mouseMoveEvent(QMouseEvent* event) {
    const QPointF px = event->position();
    pointerPx = px;
    moved = moved || QLineF(pressedPx, px).length() > startDragPx;
    if (panning) {
        setOrigin(view.origin + px - lastPx);
        fitted = false;
    } else if (held) {
        if (moved) held->drag(pointerOf(*event));
    } else {
        for (Tool* one : toolsBefore()) one->hover(pointerOf(*event));
        tool().hover(pointerOf(*event));
    }
    lastPx = px;
    emit pointerMoved(view.toMm(px));
    update();
}

void Canvas::mouseReleaseEvent(QMouseEvent* event) {
    if (std::exchange(panning, false)) {
        setCursorShape({});
        if (event->button() == Qt::RightButton && !moved) emit contextAsked(event->position());
        return;
    }
    if (!held) return;
    Tool* done = std::exchange(held, nullptr);
    done->release(pointerOf(*event));
    moved = false;
    setCursorShape({});
    update();
}

void Canvas::mouseDoubleClickEvent(QMouseEvent* event) {
    if (event->button() == Qt::LeftButton && tool().doubleClick(pointerOf(*event))) return update();
    mousePressEvent(event);
}

void Canvas::wheelEvent(QWheelEvent* event) {
    const double steps = event->angleDelta().y() / 120.0;
    if (steps != 0) zoomBy(std::pow(1.2, steps), event->position());
    event->accept();
}

void Canvas::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape && held) return cancelGesture();
    if (tool().key(*event)) return update();
    QWidget::keyPressEvent(event);
}

/// What dead keys and input methods compose is typed like anything else.
void Canvas::inputMethodEvent(QInputMethodEvent* event) {
    const QString text = event->commitString();
    if (!tool().ownsText() || text.isEmpty()) return QWidget::inputMethodEvent(event);
    const QKeyEvent typed(QEvent::KeyPress, Qt::Key_unknown, Qt::NoModifier, text);
    if (tool().key(typed)) update();
    event->accept();
}

QVariant Canvas::inputMethodQuery(Qt::InputMethodQuery query) const {
    if (query == Qt::ImEnabled) return tool().ownsText();
    if (query == Qt::ImCursorRectangle) return QRectF(pointerPx, QSizeF(1, 20));
    return QWidget::inputMethodQuery(query);
}

/// While words are typed, Delete and the like belong to the text and not to the menus; F-keys and
/// what goes with Ctrl or Alt stay the menus'.
bool Canvas::event(QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride) {
        const auto& key = *static_cast<QKeyEvent*>(event);
        const bool cancels = held && key.key() == Qt::Key_Escape;
        const bool menus = key.modifiers() & (Qt::ControlModifier | Qt::AltModifier) ||
                           (key.key() >= Qt::Key_F1 && key.key() <= Qt::Key_F35);
        if (cancels || (tool().ownsText() && !menus)) {
            event->accept();
            return true;
        }
    }
    return QWidget::event(event);
}

void Canvas::leaveEvent(QEvent*) {
    pointerPx = {-1, -1};
    for (Tool* one : toolsBefore()) one->leave();
    tool().leave();
    emit pointerLeft();
    update();
}

void Canvas::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), surround());
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setClipRect(visible());
    labels = {};
    const Layer::Canvas canvas{view, visible(), devicePixelRatioF(), labels};
    for (Layer* layer : layers) {
        if (!layer->isShown()) continue;
        painter.save();
        layer->paint(painter, canvas);
        painter.restore();
    }
    labels.paint(painter, visible(), pointerPx);
    tool().paint(painter);
    for (Tool* one : toolsBefore()) one->paint(painter);
    if (const QStringList words = gestureWords(); !words.isEmpty())
        paintNote(painter, lastPx + QPointF(18, 18), words, visible(), theme().ink);
    painter.setClipping(false);
    paintEdges(painter, pointerPx);
    if (hasFocus()) {
        painter.setPen(QPen(theme().tide, 1));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(rect().adjusted(0, 0, -1, -1));
    }
}

} // namespace rapt::app
