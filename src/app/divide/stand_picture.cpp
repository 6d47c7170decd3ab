#include "app/divide/stand_picture.h"

#include "app/theme/theme.h"
#include "divide/frames.h"

#include <QPainter>
#include <QPainterPath>

namespace rapt::app {
namespace {

QPointF point(Vec2 p, double turnDeg, double scale) {
    const Vec2 q = turned(p, turnDeg) * scale;
    return {q.x, q.y};
}

} // namespace

StandPicture::StandPicture(Session& s, QWidget* parent) : QWidget(parent), session(s) {
    setFixedHeight(66);
    setAccessibleName(tr("Frame and cloth before you"));
}

double StandPicture::scaleOf(const Hoop& hoop) const {
    const Box outer = hoop.outer();
    return 0.92 * height() / std::hypot(outer.width(), outer.height());
}

void StandPicture::paintEvent(QPaintEvent*) {
    const int i = session.hooping();
    if (i < 0) return;
    const Hooping& h = session.job().hoopings[static_cast<std::size_t>(i)];
    const auto hoop = session.library.hoop(h.hoop);
    if (!hoop) return;
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.translate(height() * 0.75, height() / 2.0);
    paintFrame(painter, h, *hoop);
    paintFarEdge(painter, h, *hoop);
    painter.resetTransform();
    painter.setPen(theme().ink);
    painter.setFont(faceOf(12));
    painter.drawText(QRectF(height() * 1.5, 0, width() - height() * 1.5, height()),
                     Qt::AlignVCenter | Qt::TextWordWrap, wordsFor(h, *hoop));
}

/// Ring, field and arm: the frame stands so that this position's field is upright at the machine.
void StandPicture::paintFrame(QPainter& painter, const Hooping& h, const Hoop& hoop) const {
    const double frameTurn = h.frame.rotationDeg - h.pose.rotationDeg;
    const Box outer = hoop.outer();
    const double k = scaleOf(hoop);
    QPolygonF frame, field;
    for (const Vec2& c : outer.corners()) frame << point(c, frameTurn, k);
    for (const Vec2& c : Box::centredAt({0, 0}, hoop.widthMm, hoop.heightMm).corners()) {
        const Vec2 inFrame =
            turned(turned(c, h.pose.rotationDeg) + Vec2{h.pose.x - h.frame.x, h.pose.y - h.frame.y},
                   -h.frame.rotationDeg);
        field << point(inFrame, frameTurn, k);
    }
    QPainterPath ring;
    ring.addPolygon(frame);
    ring.closeSubpath();
    painter.fillPath(ring, theme().tideSoft);
    painter.setPen(QPen(theme().ink2, 1.2));
    painter.drawPath(ring);
    painter.setBrush(theme().panel);
    painter.setPen(QPen(theme().tide, 1.6));
    painter.drawPolygon(field);
    const Vec2 arms[] = {{outer.minX, 0}, {outer.maxX, 0}, {0, outer.minY}, {0, outer.maxY}};
    const char* sides[] = {"left", "right", "back", "front"};
    for (int s = 0; s < 4; ++s)
        if (hoop.arm == sides[s]) {
            painter.setPen(QPen(theme().ink, 5, Qt::SolidLine, Qt::FlatCap));
            painter.drawLine(point(arms[s], frameTurn, k), point(arms[s] * 1.14, frameTurn, k));
        }
}

/// An arrow to where the cloth's far edge is.
void StandPicture::paintFarEdge(QPainter& painter, const Hooping& h, const Hoop& hoop) const {
    painter.setPen(QPen(theme().kite, 2));
    const QPointF tail = point({0, 0}, -h.pose.rotationDeg, scaleOf(hoop));
    const QPointF head = point({0, -hoop.heightMm * 0.36}, -h.pose.rotationDeg, scaleOf(hoop));
    painter.drawLine(tail, head);
    const QLineF arrow(head, tail);
    for (const double a : {25.0, -25.0}) {
        QLineF barb = arrow;
        barb.setLength(7);
        barb.setAngle(arrow.angle() + a);
        painter.drawLine(barb);
    }
}

QString StandPicture::wordsFor(const Hooping& h, const Hoop& hoop) const {
    const double clothTurn = normalizedDegrees(-h.pose.rotationDeg);
    const QString cloths = clothTurn == 0     ? tr("cloth: far edge away from you")
                           : clothTurn == 180 ? tr("cloth: far edge towards you")
                           : clothTurn > 0    ? tr("cloth: far edge to the right")
                                              : tr("cloth: far edge to the left");
    const QString frames =
        hoop.isSingle() ? tr("frame: its one position")
        : hoop.slide
            ? tr("frame: the field slid %1 from its middle")
                  .arg(session.lengthText(distance({h.pose.x, h.pose.y}, {h.frame.x, h.frame.y})))
            : tr("frame: position %1 of %2 is on")
                  .arg(h.position)
                  .arg(static_cast<int>(hoop.positions.size()));
    return frames + "\n" + cloths + "\n" + tr("as you stand before the machine");
}

} // namespace rapt::app
