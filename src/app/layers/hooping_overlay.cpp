#include "app/layers/hooping_overlay.h"

#include "app/canvas/paint_kit.h"
#include "app/theme/theme.h"
#include "divide/ring.h"

#include <QPainterPath>

namespace rapt::app {
namespace {

QTransform toQt(const Affine& m) { return QTransform(m.a, m.c, m.b, m.d, m.tx, m.ty); }

/// Field millimetres of a hooping to pixels.
QTransform fieldToPixels(const Hooping& h, const ViewMap& view) {
    return toQt(h.pose.affine()) * QTransform::fromScale(view.scale, view.scale) *
           QTransform::fromTranslate(view.origin.x(), view.origin.y());
}

QTransform frameToPixels(const Hooping& h, const ViewMap& view) {
    return toQt(h.frame.affine()) * QTransform::fromScale(view.scale, view.scale) *
           QTransform::fromTranslate(view.origin.x(), view.origin.y());
}

QPainterPath boxPath(const Box& b, double radius) {
    QPainterPath path;
    path.addRoundedRect(QRectF(b.minX, b.minY, b.width(), b.height()), radius, radius);
    return path;
}

/// The ring that presses on the cloth: hatched, as nothing may lie below it.
void paintRing(QPainter& painter, const ViewMap& view, const Hooping& hooping, const Hoop& hoop) {
    const RingShape ring = ringOf(hoop);
    const QTransform map = frameToPixels(hooping, view);
    const QPainterPath outer = map.map(boxPath(ring.outer, 10));
    const QPainterPath pressed = outer - map.map(boxPath(ring.opening, 4));
    QColor tide = theme().tide;
    tide.setAlpha(34);
    painter.fillPath(pressed, tide);
    tide.setAlpha(90);
    painter.fillPath(pressed, QBrush(tide, Qt::BDiagPattern));
    tide.setAlpha(255);
    painter.strokePath(outer, QPen(tide, 1));
}

void paintFrame(QPainter& painter, const ViewMap& view, const Hooping& hooping, const Hoop& hoop,
                int number, bool chosen, Labels& labels) {
    painter.save();
    const QPainterPath inner = fieldToPixels(hooping, view).map(fieldPath(hoop));
    QColor tide = theme().tide;
    tide.setAlpha(chosen ? 255 : 150);
    painter.strokePath(inner,
                       QPen(tide, chosen ? 2.2 : 1.2, chosen ? Qt::SolidLine : Qt::DashLine));
    // On the ring, where it hides nothing.
    const QRectF seen = inner.boundingRect();
    QString name = chosen ? QObject::tr("Hooping %1").arg(number) : QString::number(number);
    if (chosen && hoop.positions.size() > 1)
        name += QObject::tr(", position %1").arg(hooping.position);
    if (hooping.sewn > 0)
        name += QObject::tr(" · sewn");
    else if (hooping.pinned)
        name += QObject::tr(" · pinned");
    labels.add({seen.topLeft(), seen.topLeft() + QPointF(2, -25), name,
                chosen ? theme().tide : theme().panel, chosen ? theme().panel : theme().ink,
                chosen ? 0 : 2});
    painter.restore();
}

/// Gaps of the joins: median and 95th percentile as bars, enlarged, with their numbers.
void paintJoins(QPainter& painter, const ViewMap& view, const Session& session, Labels& labels) {
    constexpr double enlarged = 20;
    const auto derived = session.derived();
    if (!derived || !derived->planned || !session.isCurrent()) return;
    for (const JoinForecast& j : derived->planned->joins) {
        const QPointF at = view.toPixels(j.join.at);
        const double half = j.p95Mm * view.scale * enlarged / 2;
        const double median = j.medianMm * view.scale * enlarged / 2;
        painter.setPen(QPen(theme().panel, 5));
        painter.drawLine(at - QPointF(half, 0), at + QPointF(half, 0));
        painter.setPen(QPen(theme().kite, 1.5));
        painter.drawLine(at - QPointF(half, 0), at + QPointF(half, 0));
        painter.setPen(QPen(theme().kite, 4));
        painter.drawLine(at - QPointF(median, 0), at + QPointF(median, 0));
        const auto chosen = static_cast<std::size_t>(session.hooping());
        if (j.join.later != chosen && j.join.earlier != chosen) continue;
        labels.keepFree(QRectF(at - QPointF(half, 4), at + QPointF(half, 4)));
        labels.add({at, at + QPointF(6, 6),
                    QObject::tr("join %1–%2: %3, at most %4 mm")
                        .arg(j.join.earlier + 1)
                        .arg(j.join.later + 1)
                        .arg(j.medianMm, 0, 'f', 1)
                        .arg(j.p95Mm, 0, 'f', 1),
                    theme().panel, theme().ink, 1});
    }
}

void paintMark(QPainter& painter, QPointF p, const QString& name, Labels& labels) {
    // The cloth has its own colours, whatever the theme: dark ink on a pale ground always shows.
    const QColor ink("#1d2a33"), pale("#fbf9f4");
    for (const auto& [colour, width] : {std::pair{pale, 3.6}, std::pair{ink, 1.4}}) {
        painter.setPen(QPen(colour, width));
        painter.drawLine(p - QPointF(8, 0), p + QPointF(8, 0));
        painter.drawLine(p - QPointF(0, 8), p + QPointF(0, 8));
    }
    labels.keepFree(QRectF(p - QPointF(9, 9), QSizeF(18, 18)));
    labels.add({p, p + QPointF(9, -25), name, pale, ink, 0});
}

} // namespace

QPainterPath fieldPath(const Hoop& hoop) {
    const QRectF r(-hoop.widthMm / 2, -hoop.heightMm / 2, hoop.widthMm, hoop.heightMm);
    QPainterPath path;
    if (hoop.shape == Hoop::Shape::oval)
        path.addEllipse(r);
    else
        path.addRoundedRect(r, std::max(3.0, hoop.cornerMm), std::max(3.0, hoop.cornerMm));
    return path;
}

void paintFieldOutline(QPainter& painter, const ViewMap& view, const Hooping& hooping,
                       const Hoop& hoop, const QColor& colour) {
    painter.strokePath(fieldToPixels(hooping, view).map(fieldPath(hoop)), QPen(colour, 2.4));
}

void paintHoopings(QPainter& painter, const ViewMap& view, const Session& session, Labels& labels) {
    const Job& job = session.job();
    if (const Derived* derived = session.checked())
        for (const PieceSpan& span : derived->stitched().spans)
            labels.avoid(view.toPixels(span.extents));
    const int chosen = session.hooping();
    for (int pass = 0; pass < 2; ++pass)
        for (int i = 0; i < static_cast<int>(job.hoopings.size()); ++i) {
            if ((i == chosen) != (pass == 1)) continue;
            const Hooping& h = job.hoopings[static_cast<std::size_t>(i)];
            const auto hoop = session.library.hoop(h.hoop);
            if (!hoop) continue;
            if (i == chosen) paintRing(painter, view, h, *hoop);
            paintFrame(painter, view, h, *hoop, i + 1, i == chosen, labels);
            if (i != chosen) continue;
            for (const Mark& m : h.marks)
                paintMark(painter, view.toPixels(m.at), QString::fromStdString(m.name), labels);
        }
    if (session.stage() == Stage::divide) paintJoins(painter, view, session, labels);
}

} // namespace rapt::app
