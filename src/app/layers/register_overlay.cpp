#include "app/layers/register_overlay.h"

#include "app/canvas/paint_kit.h"
#include "app/theme/theme.h"

namespace rapt::app {
namespace {

constexpr double residualsEnlarged = 20;
constexpr double ringPx = 6;

QTransform toQt(const Affine& m) { return QTransform(m.a, m.c, m.b, m.d, m.tx, m.ty); }

QTransform toPixels(const Affine& toCloth, const ViewMap& view) {
    return toQt(toCloth) * QTransform::fromScale(view.scale, view.scale) *
           QTransform::fromTranslate(view.origin.x(), view.origin.y());
}

QPointF at(const QTransform& map, Vec2 p) { return map.map(QPointF(p.x, p.y)); }

void paintArrow(QPainter& painter, QPointF from, QPointF to, const QColor& colour) {
    painter.setPen(QPen(colour, 2));
    painter.drawLine(from, to);
    const QLineF line(to, from);
    if (line.length() < 4) return;
    for (const double turn : {24.0, -24.0}) {
        QLineF barb = line;
        barb.setLength(8);
        barb.setAngle(line.angle() + turn);
        painter.drawLine(barb);
    }
}

/// One thing that was found: a ring at a point, a ring with a pointer at a card, the places of a
/// line. Shapes differ, so that colour is not needed.
void paintSeen(QPainter& painter, const QTransform& map, const Observation& o, const QColor& ink,
               bool certain) {
    const auto each = [&](const auto& draw) {
        for (const auto& [colour, width] : {std::pair{theme().panel, 4.0}, {ink, 2.0}}) {
            QPen pen(colour, width);
            if (!certain && width < 3) pen.setStyle(Qt::DotLine);
            painter.setPen(pen);
            painter.setBrush(Qt::NoBrush);
            draw();
        }
    };
    if (o.kind == Observation::Kind::line) {
        QPolygonF line;
        for (const Vec2& p : o.seenLine) line << at(map, p);
        each([&] {
            painter.drawPolyline(line);
            for (const QPointF& p : line) painter.drawRect(QRectF(p - QPointF(4, 4), QSizeF(8, 8)));
        });
        return;
    }
    const QPointF p = at(map, o.seen);
    each([&] {
        painter.drawEllipse(p, ringPx, ringPx);
        if (o.kind != Observation::Kind::card) return;
        const double turn = o.seenTurnDeg * 3.14159265358979 / 180;
        const QPointF up = at(map, o.seen + Vec2{std::sin(turn), -std::cos(turn)} * 9);
        painter.drawLine(p + (up - p) * 0.35, up);
    });
}

void paintCounting(QPainter& painter, const QTransform& map, const Registration& r,
                   const ObservationReport* report) {
    for (std::size_t i = 0; i < r.observations.size(); ++i) {
        const Observation& o = r.observations[i];
        QColor ink = o.leftOut ? theme().ink2 : theme().kite;
        const bool suspect = report && report->suspectIsSerious && report->suspect == i;
        if (suspect) ink = theme().stop;
        paintSeen(painter, map, o, ink, !o.leftOut);
        if (!report || o.leftOut) continue;
        const bool line = o.kind == Observation::Kind::line;
        const Vec2 place = line ? lerp(o.seenLine.front(), o.seenLine.back(), 0.5) : o.seen;
        const Vec2 d = report->fit.residuals[i] * residualsEnlarged;
        paintArrow(painter, at(map, place), at(map, place + d), ink);
    }
}

/// The scale of the arrows, where it hides nothing.
void paintArrowScale(QPainter& painter, const ViewMap& view, const QTransform& map,
                     const Box& field, Labels& labels) {
    const QPointF corner = at(map, {field.minX, field.maxY}) + QPointF(8, 10);
    const double px = residualsEnlarged * 0.2 * view.scale;
    paintArrow(painter, corner + QPointF(0, 9), corner + QPointF(px, 9), theme().kite);
    labels.add({corner + QPointF(px, 9), corner + QPointF(px, -3),
                QObject::tr("0.2 mm, arrows %1 times enlarged").arg(residualsEnlarged),
                theme().panel, theme().ink});
}

/// The hooping's pieces where the correction puts them on the machine.
void paintCorrected(QPainter& painter, const QTransform& map, Session& session, const Hooping& h,
                    const MotionFit& fit) {
    const Derived* derived = session.checked();
    if (!derived) return;
    painter.setPen(QPen(theme().kite, 1.6, Qt::DashLine));
    painter.setBrush(Qt::NoBrush);
    const Affine toField = h.pose.affine().inverse();
    for (const PieceSpan& span : derived->stitched().spans) {
        if (std::find(h.pieces.begin(), h.pieces.end(), span.id) == h.pieces.end()) continue;
        QPolygonF box;
        for (const Vec2 corner : span.extents.corners()) box << at(map, fit(toField(corner)));
        painter.drawPolygon(box);
    }
}

/// Contours with their millimetres; the one at the join limit is double, as limits are.
void paintTrust(QPainter& painter, const QTransform& map, const Assessment& a, Labels& labels) {
    // The cloth has its own colours, whatever the theme.
    const QColor pale("#fbf9f4"), ink("#1d2a33"), tide("#0f6e78"), stop("#b3261e");
    for (const Assessment::Contour& c : a.contours) {
        const bool limit = std::abs(c.level - a.limitMm) < 1e-9;
        QVector<QLineF> lines;
        for (const auto& line : c.lines) lines << QLineF(at(map, line[0]), at(map, line[1]));
        painter.setPen(QPen(pale, limit ? 5 : 3));
        painter.drawLines(lines);
        painter.setPen(QPen(c.level > a.limitMm ? stop : tide, limit ? 2.6 : 1.2));
        painter.drawLines(lines);
        if (lines.isEmpty()) continue;
        const QPointF label = lines[lines.size() / 3].p1();
        labels.add({label, label - QPointF(20, 12), QObject::tr("%1 mm").arg(c.level), pale, ink,
                    limit ? 1 : 2});
    }
    for (const Assessment::Place& p : a.places) {
        const QPointF px = at(map, p.at);
        painter.setPen(QPen(ink, 1.4));
        painter.setBrush(pale);
        painter.drawRect(QRectF(px - QPointF(3, 3), QSizeF(6, 6)));
        labels.keepFree(QRectF(px - QPointF(4, 4), QSizeF(8, 8)));
        labels.add({px, px + QPointF(5, -11), QString::number(p.errorMm, 'f', 2), pale,
                    p.errorMm > a.limitMm ? stop : ink});
    }
    if (!a.advice) return;
    const QPointF px = at(map, a.advice->at);
    painter.setPen(QPen(theme().kite, 2, Qt::DashLine));
    painter.setBrush(Qt::NoBrush);
    painter.drawEllipse(px, 13, 13);
    labels.add({px, px + QPointF(-50, 14), QObject::tr("one more here"), theme().kite, ink, 0});
}

} // namespace

double scanShown(double fade) { return std::min(1.0, 2 * (1 - fade)); }
double stitchesShown(double fade) { return std::min(1.0, 2 * fade); }

void paintScan(QPainter& painter, const ViewMap& view, Session& session) {
    const auto* scan = session.scan();
    if (!scan) return;
    const int number = session.hooping() + 1;
    const Hooping& h = session.job().hoopings[static_cast<std::size_t>(number) - 1];
    const Affine frameToField = h.frame.affine().then(h.pose.affine().inverse());
    painter.save();
    painter.setTransform(toPixels(frameToField.then(fieldToCloth(session.job(), number)), view),
                         true);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    painter.setOpacity(scanShown(session.registering.fade()));
    painter.drawImage(
        QRectF(scan->area.minX, scan->area.minY, scan->area.width(), scan->area.height()),
        scan->image);
    painter.restore();
}

void paintRegistration(QPainter& painter, const ViewMap& view, Session& session, Labels& labels) {
    if (session.hooping() < 0) return;
    const int number = session.hooping() + 1;
    const Hooping& h = session.job().hoopings[static_cast<std::size_t>(number) - 1];
    const QTransform map = toPixels(fieldToCloth(session.job(), number), view);
    const ProposedScan* proposed = session.registering.proposed();
    if (proposed && proposed->hooping == number && session.registering.showsSeen())
        for (std::size_t i = 0; i < proposed->proposals.found.size(); ++i)
            if (proposed->ticked[i])
                paintSeen(painter, map, proposed->proposals.found[i], theme().tide, false);
    const Registration* r = session.job().registration(number);
    if (!r || r->hooping != number) return;
    const auto* known = session.assessment();
    const Assessment* a = known && *known ? &**known : nullptr;
    const bool same = a && a->report.fit.residuals.size() == r->observations.size();
    if (same && session.registering.showsTrust()) paintTrust(painter, map, *a, labels);
    if (same && r->choice == CorrectionChoice::open)
        paintCorrected(painter, map, session, h, a->report.fit);
    if (!session.registering.showsSeen() || (same && session.registering.showsTrust())) return;
    paintCounting(painter, map, *r, same ? &a->report : nullptr);
    if (same) paintArrowScale(painter, view, map, a->trust.area, labels);
}

} // namespace rapt::app
