#include "app/canvas/labels.h"

#include "app/canvas/paint_kit.h"
#include "app/theme/theme.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <optional>

namespace rapt::app {
namespace {

constexpr double pointedPx = 12;  ///< so near a place is pointed at
constexpr double hairFromPx = 26; ///< words that stand farther off get a hair line
constexpr double rings[] = {14, 30, 52, 80};
constexpr double crowdedCost = 120; ///< of words that lie wholly on what is sewn, pixels off

double area(const QRectF& r) { return r.isEmpty() ? 0 : r.width() * r.height(); }

/// How far a box is from a place.
double distance(const QRectF& box, QPointF p) {
    const double dx = std::max({box.left() - p.x(), 0.0, p.x() - box.right()});
    const double dy = std::max({box.top() - p.y(), 0.0, p.y() - box.bottom()});
    return std::hypot(dx, dy);
}

} // namespace

std::optional<QRectF> Labels::roomFor(const Label& label, const QSizeF& size,
                                      const QRect& inside) const {
    std::optional<QRectF> best;
    double least = 0;
    const auto attempt = [&](const QRectF& box, double cost) {
        if (!QRectF(inside).contains(box)) return;
        const QRectF own = box.adjusted(-1, -1, 1, 1);
        for (const auto* list : {&taken, &placed})
            for (const QRectF& t : *list)
                if (t.intersects(own)) return;
        double covered = 0;
        for (const QRectF& c : crowded) covered += area(c & box);
        cost += crowdedCost * std::min(1.0, covered / area(box));
        if (best && cost >= least) return;
        best = box;
        least = cost;
    };
    attempt(QRectF(label.topLeft, size), 0);
    if (best && least == 0) return best;
    for (const double off : rings)
        for (int k = 0; k < 12; ++k) {
            const double a = k * std::numbers::pi / 6;
            QRectF box(QPointF(), size);
            // Its nearest edge or corner stands on the ring.
            box.moveCenter(label.at + QPointF(std::cos(a) * (off + size.width() / 2),
                                              std::sin(a) * (off + size.height() / 2)));
            attempt(box, off);
        }
    return best;
}

void Labels::paint(QPainter& painter, const QRect& inside, QPointF pointer) {
    const QFontMetricsF metrics(faceOf(12, true));
    std::stable_sort(wanted.begin(), wanted.end(),
                     [](const Label& a, const Label& b) { return a.rank < b.rank; });
    QStringList pointed;
    for (const Label& label : wanted) {
        const QSizeF size = metrics.size(0, label.text) + QSizeF(12, 6);
        const auto room = roomFor(label, size, inside);
        if (!room) {
            if (QLineF(pointer, label.at).length() < pointedPx) pointed << label.text;
            continue;
        }
        placed.push_back(*room);
        if (distance(*room, label.at) > hairFromPx) {
            const QPointF end(std::clamp(label.at.x(), room->left(), room->right()),
                              std::clamp(label.at.y(), room->top(), room->bottom()));
            paintHalo(painter, QPolygonF{label.at, end}, theme().ink2, 1);
        }
        paintLabel(painter, room->topLeft() + QPointF(6, 3), label.text, label.ground, label.ink);
    }
    if (!pointed.isEmpty())
        paintNote(painter, pointer + QPointF(18, 18), pointed, inside, theme().ink);
}

} // namespace rapt::app
