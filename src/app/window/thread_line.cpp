#include "app/window/thread_line.h"

#include "app/theme/theme.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolTip>
#include <cmath>

namespace rapt::app {
namespace {

constexpr double sideMargin = 16;
constexpr double segmentTop = 42, segmentHeight = 26;
constexpr double playheadTop = 36;
constexpr double rowBelow = segmentTop + segmentHeight + 15; ///< foot of minutes and stops
constexpr int lineHeight = 90;
constexpr double gap = 2;

QColor threadColour(const StitchList& list, std::uint8_t index) {
    const Thread* t = list.find(index);
    return t ? QColor(t->color.r, t->color.g, t->color.b) : QColor(Qt::gray);
}

QString threadName(const StitchList& list, std::uint8_t index) {
    const Thread* t = list.find(index);
    return t ? QString::fromStdString(t->name) : QString();
}

} // namespace

ThreadLine::ThreadLine(Session& s, QWidget* parent)
    : QWidget(parent), session(s), player(new Transport(s, this)) {
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Thread line"));
    setFixedHeight(lineHeight);
    connect(&session.derivation, &Derivation::ready, this, qOverload<>(&QWidget::update));
    connect(&session.derivation, &Derivation::started, this, qOverload<>(&QWidget::update));
    connect(&session.selection, &Selection::changed, this, qOverload<>(&QWidget::update));
    connect(&session.playback, &PlaybackState::changed, this, qOverload<>(&QWidget::update));
}

const TimeLine* ThreadLine::time() const {
    const auto d = session.derived();
    return d && d->isWhole() && d->time().totalSeconds > 0 ? &d->time() : nullptr;
}

double ThreadLine::xOf(double seconds) const {
    return sideMargin + (width() - 2 * sideMargin) * seconds / time()->totalSeconds;
}

QRectF ThreadLine::segmentRect(std::size_t run) const {
    const TimeLine* line = time();
    if (!line || run >= line->runs.size()) return {};
    const ThreadRun& r = line->runs[run];
    const double left = xOf(r.startSeconds) + gap / 2;
    const double right = xOf(r.startSeconds + r.seconds) - gap / 2;
    return {left, segmentTop, std::max(1.5, right - left), segmentHeight};
}

int ThreadLine::runAt(QPointF px) const {
    const TimeLine* line = time();
    if (!line || px.y() < segmentTop - 6 || px.y() > segmentTop + segmentHeight + 6) return -1;
    for (std::size_t i = 0; i < line->runs.size(); ++i)
        if (segmentRect(i).adjusted(-gap, -6, gap, 6).contains(px)) return static_cast<int>(i);
    return -1;
}

void ThreadLine::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), theme().panel);
    painter.setPen(theme().ink);
    painter.setFont(faceOf(13, true));
    painter.drawText(QRectF(sideMargin, 6, 120, 22), Qt::AlignVCenter, tr("Thread line"));
    const TimeLine* line = time();
    painter.setFont(faceOf(13));
    painter.setPen(theme().ink2);
    if (!line) {
        painter.drawText(QRectF(sideMargin + 92, 6, width() - 200, 22), Qt::AlignVCenter,
                         tr("nothing to sew yet"));
        return;
    }
    const QString text = (line->threadChanges == 1 ? tr("%L1 stitches · %2 thread change · %3")
                                                   : tr("%L1 stitches · %2 thread changes · %3"))
                             .arg(line->stitches)
                             .arg(line->threadChanges)
                             .arg(QString::fromStdString(formatDuration(line->totalSeconds)));
    painter.drawText(QRectF(sideMargin + 92, 6, player->x() - sideMargin - 100, 22),
                     Qt::AlignVCenter,
                     session.isCurrent() ? text : text + tr(" · being worked out…"));
    paintSegments(painter, *line);
    paintScale(painter, *line, paintBreaks(painter, *line));
    paintPlayhead(painter);
    if (dragging) {
        painter.setPen(QPen(theme().kite, 2.4));
        painter.drawLine(QPointF(dragNow.x(), segmentTop - 6),
                         QPointF(dragNow.x(), segmentTop + segmentHeight + 6));
    }
}

void ThreadLine::paintSegments(QPainter& painter, const TimeLine& line) {
    const StitchList& list = session.checked()->stitched().list;
    for (std::size_t i = 0; i < line.runs.size(); ++i) {
        const ThreadRun& run = line.runs[i];
        const QRectF r = segmentRect(i);
        const QColor colour = threadColour(list, run.thread);
        QPainterPath shape;
        shape.addRoundedRect(r, std::min(4.0, r.width() / 2), 4);
        painter.fillPath(shape, colour);
        painter.save();
        painter.setClipPath(shape);
        QColor light = colour.lighter(128);
        light.setAlpha(150);
        painter.setPen(QPen(light, 1));
        for (double x = r.left() + 4; x < r.right(); x += 6)
            painter.drawLine(QPointF(x, r.top() + 5), QPointF(x - 1.5, r.bottom() - 5));
        painter.restore();
        // A pale thread must not vanish on pale paper.
        painter.setPen(
            QPen(session.selection.contains(run.piece) ? theme().kite : colour.darker(130),
                 session.selection.contains(run.piece) ? 2 : 0.8));
        painter.setBrush(Qt::NoBrush);
        painter.drawPath(shape);
        if (hasFocus() && static_cast<int>(i) == current) {
            painter.setPen(QPen(theme().tide, 1.5, Qt::DotLine));
            painter.drawRoundedRect(r.adjusted(-3, -3, 3, 3), 5, 5);
        }
        // The name stands on its thread; where there is no room the tool tip has it.
        const QString name = threadName(list, run.thread);
        const QFont font = faceOf(11, true);
        if (QFontMetricsF(font).horizontalAdvance(name) + 12 > r.width()) continue;
        painter.setFont(font);
        const bool dark = qGray(colour.rgb()) < 140;
        QColor ground = colour;
        ground.setAlpha(190);
        painter.fillRect(
            QRectF(r.left() + 4, r.top() + 5, QFontMetricsF(font).horizontalAdvance(name) + 6, 16),
            ground);
        painter.setPen(dark ? QColor("#fbf9f4") : QColor("#1d2a33"));
        painter.drawText(r.adjusted(7, 0, 0, 0), Qt::AlignVCenter | Qt::AlignLeft, name);
    }
}

/// Where the next hooping begins, if hoopings follow each other in sewing order.
std::vector<QRectF> ThreadLine::paintBreaks(QPainter& painter, const TimeLine& line) {
    std::vector<QRectF> taken;
    const auto& hoopings = session.job().hoopings;
    const auto hoopingOf = [&](const std::string& piece) {
        for (std::size_t h = 0; h < hoopings.size(); ++h)
            for (const std::string& id : hoopings[h].pieces)
                if (id == piece) return static_cast<int>(h);
        return -1;
    };
    int last = -1;
    for (const ThreadRun& run : line.runs) {
        const int h = hoopingOf(run.piece);
        if (last >= 0 && h >= 0 && h != last) {
            const double x = xOf(run.startSeconds) - gap / 2;
            painter.setPen(QPen(theme().ink, 1.6, Qt::DashLine));
            painter.drawLine(QPointF(x, segmentTop - 8),
                             QPointF(x, segmentTop + segmentHeight + 6));
            painter.setFont(faceOf(11));
            const QRectF words(x - 26, rowBelow - 12, 52, 16);
            const bool clamps = hoopings[static_cast<std::size_t>(h)].clamping !=
                                hoopings[static_cast<std::size_t>(last)].clamping;
            painter.drawText(words, Qt::AlignCenter, clamps ? tr("re-hoop") : tr("turn"));
            taken.push_back(words);
        }
        if (h >= 0) last = h;
    }
    return taken;
}

/// Minutes stand in the same row, where no stop does.
void ThreadLine::paintScale(QPainter& painter, const TimeLine& line,
                            const std::vector<QRectF>& taken) {
    const double minutes = line.totalSeconds / 60;
    double step = 1;
    for (const double s : {1.0, 2.0, 5.0, 10.0, 20.0, 30.0, 60.0, 120.0}) {
        step = s;
        if (minutes / s <= 8) break;
    }
    painter.setFont(faceOf(11));
    painter.setPen(theme().ink2);
    for (double m = 0; m <= minutes; m += step) {
        const double x = xOf(m * 60);
        const QString text = tr("%1 min").arg(m);
        const double wide = QFontMetricsF(painter.font()).horizontalAdvance(text);
        const QRectF words(std::min(x, width() - sideMargin - wide), rowBelow - 12, wide, 16);
        if (std::any_of(taken.begin(), taken.end(),
                        [&](const QRectF& t) { return t.intersects(words); }))
            continue;
        painter.drawText(words, Qt::AlignCenter, text);
    }
}

QPointF ThreadLine::playheadGrip() const {
    const TimeLine* line = time();
    if (!line) return {};
    const StitchList& list = session.checked()->stitched().list;
    const double seconds = session.playback.head()
                               ? secondsAt(*line, list, *session.playback.head())
                               : line->totalSeconds;
    return {xOf(seconds), playheadTop};
}

/// What is not sewn yet lies under a veil; the playhead stands at its edge.
void ThreadLine::paintPlayhead(QPainter& painter) {
    const QPointF grip = playheadGrip();
    if (session.playback.head()) {
        QColor veil = theme().panel;
        veil.setAlpha(150);
        painter.fillRect(QRectF(grip.x(), segmentTop - 2, width() - grip.x(), segmentHeight + 4),
                         veil);
    }
    painter.setPen(QPen(theme().kite, 2));
    painter.drawLine(grip, QPointF(grip.x(), segmentTop + segmentHeight + 6));
    painter.setPen(QPen(theme().panel, 1));
    painter.setBrush(theme().kite);
    painter.drawPolygon(QPolygonF{grip + QPointF(-6, -5), grip + QPointF(6, -5),
                                  grip + QPointF(6, 1), grip + QPointF(0, 7),
                                  grip + QPointF(-6, 1)});
}

void ThreadLine::scrubTo(double px) {
    const TimeLine* line = time();
    if (!line) return;
    player->pause();
    const double share =
        std::clamp((px - sideMargin) / std::max(1.0, width() - 2 * sideMargin), 0.0, 1.0);
    if (share >= 1) return session.playback.setHead({});
    session.playback.setHead(
        placeAt(*line, session.checked()->stitched().list, share * line->totalSeconds));
}

void ThreadLine::resizeEvent(QResizeEvent*) {
    player->adjustSize();
    player->setGeometry(width() - player->sizeHint().width() - 10, 2, player->sizeHint().width(),
                        32);
}

void ThreadLine::selectRun(int run) {
    const TimeLine* line = time();
    if (!line || run < 0 || run >= static_cast<int>(line->runs.size())) return;
    current = run;
    session.selection.choose({line->runs[static_cast<std::size_t>(run)].piece});
    update();
}

void ThreadLine::mousePressEvent(QMouseEvent* event) {
    const QPointF px = event->position();
    const QPointF grip = playheadGrip();
    scrubbing =
        time() && (px.y() > segmentTop + segmentHeight + 6 ||
                   (px.y() > 30 && px.y() < segmentTop - 1 && std::abs(px.x() - grip.x()) < 12));
    if (scrubbing) return scrubTo(px.x());
    pressedRun = runAt(event->position());
    dragging = false;
    if (pressedRun >= 0) selectRun(pressedRun);
}

void ThreadLine::mouseMoveEvent(QMouseEvent* event) {
    if (scrubbing) return scrubTo(event->position().x());
    if (pressedRun < 0 || !(event->buttons() & Qt::LeftButton)) return;
    dragNow = event->position();
    dragging =
        dragging ||
        std::abs(dragNow.x() - segmentRect(static_cast<std::size_t>(pressedRun)).center().x()) > 8;
    update();
}

void ThreadLine::mouseReleaseEvent(QMouseEvent* event) {
    if (std::exchange(scrubbing, false)) return;
    if (dragging) dropAt(event->position());
    dragging = false;
    pressedRun = -1;
    update();
}

void ThreadLine::dropAt(QPointF px) {
    const TimeLine* line = time();
    if (!line || session.selection.ids().size() != 1) return;
    const std::string& moved = session.selection.ids()[0];
    // Its new place: after every other piece whose middle lies before the pointer.
    std::size_t place = 0;
    for (const Piece& p : session.job().pieces) {
        if (p.id == moved) continue;
        double from = -1, to = -1;
        for (const ThreadRun& run : line->runs) {
            if (run.piece != p.id) continue;
            if (from < 0) from = run.startSeconds;
            to = run.startSeconds + run.seconds;
        }
        if (from >= 0 && xOf((from + to) / 2) < px.x()) ++place;
    }
    session.document.apply(reorderPiece(moved, place));
}

void ThreadLine::moveSelected(int by) {
    if (session.selection.ids().size() == 1)
        session.document.apply(shiftPiece(session.selection.ids()[0], by));
}

void ThreadLine::keyPressEvent(QKeyEvent* event) {
    if (player->takeKey(event->key(), event->modifiers())) return;
    const int by = event->key() == Qt::Key_Left ? -1 : event->key() == Qt::Key_Right ? 1 : 0;
    if (by == 0)
        QWidget::keyPressEvent(event);
    else if (event->modifiers() & Qt::ControlModifier)
        moveSelected(by);
    else
        selectRun(current + by);
}

bool ThreadLine::event(QEvent* event) {
    if (event->type() == QEvent::ToolTip) {
        auto* help = static_cast<QHelpEvent*>(event);
        const int run = runAt(help->pos());
        const TimeLine* line = time();
        if (run >= 0 && line) {
            const ThreadRun& r = line->runs[static_cast<std::size_t>(run)];
            const Piece* p = session.job().piece(r.piece);
            QToolTip::showText(help->globalPos(),
                               tr("%1, %2: %L3 stitches, %4. Drag to change the sewing order.")
                                   .arg(p ? QString::fromStdString(p->name) : QString(),
                                        threadName(session.checked()->stitched().list, r.thread))
                                   .arg(r.stitches)
                                   .arg(QString::fromStdString(formatDuration(r.seconds))));
            return true;
        }
    }
    return QWidget::event(event);
}

} // namespace rapt::app
