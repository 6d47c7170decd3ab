#include "app/window/work_order.h"

#include "app/kit/readout_parts.h"
#include "app/theme/theme.h"

#include <QPainter>

namespace rapt::app {
namespace {

constexpr double threadX = 28;

} // namespace

StageButton::StageButton(Session& s, Stage st, QWidget* parent)
    : QAbstractButton(parent), session(s), stage(st) {
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
    setObjectName("stage-" + stageName(stage));
    setToolTip(tr("%1 (Ctrl+%2)").arg(stageName(stage)).arg(static_cast<int>(stage) + 1));
    connect(this, &QAbstractButton::clicked, this, [this] { session.setStage(stage); });
}

void StageButton::show(const StageSummary& now, bool before) {
    summary = now;
    settledBefore = before;
    const char* states[] = {"open", "settled", "needs attention"};
    setAccessibleName(
        QString("%1, %2: %3")
            .arg(stageName(stage), states[static_cast<int>(summary.state)], summary.line));
    update();
}

void StageButton::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const bool open = session.stage() == stage;
    const QRectF frame = QRectF(rect()).adjusted(8.5, 2.5, -8.5, -2.5);
    // The thread is solid behind settled stages and a running stitch elsewhere.
    const QPointF centre(threadX, 23);
    const auto thread = [&](double from, double to, bool settled) {
        QPen pen(theme().tide, 2);
        if (!settled) pen.setDashPattern({3.2, 2.6});
        painter.setPen(pen);
        painter.drawLine(QPointF(threadX, from), QPointF(threadX, to));
    };
    if (stage != Stage::brief) thread(0, centre.y(), settledBefore);
    if (stage != Stage::ledger) thread(centre.y(), height(), summary.state == StageState::settled);
    if (open || underMouse()) {
        painter.setPen(open ? QPen(theme().tide, 1) : Qt::NoPen);
        QColor ground = theme().tideSoft;
        if (!open) ground.setAlpha(120);
        painter.setBrush(ground);
        painter.drawRoundedRect(frame, 8, 8);
        if (stage != Stage::brief) thread(frame.top(), centre.y(), settledBefore);
        if (stage != Stage::ledger)
            thread(centre.y(), frame.bottom(), summary.state == StageState::settled);
    }
    paintState(painter, centre);
    painter.setPen(theme().ink);
    painter.setFont(faceOf(14, true));
    painter.drawText(QRectF(48, 10, width() - 60, 22), Qt::AlignVCenter, stageName(stage));
    painter.setPen(theme().ink2);
    const QFont font = faceOf(12);
    painter.setFont(font);
    // Words that are too long for one line go on in a second.
    painter.drawText(QRectF(48, 33, width() - 58, 32), Qt::AlignTop | Qt::TextWordWrap,
                     summary.line);
    if (hasFocus()) {
        painter.setPen(QPen(theme().tide, 1, Qt::DotLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRoundedRect(frame.adjusted(2, 2, -2, -2), 6, 6);
    }
}

void StageButton::paintState(QPainter& painter, QPointF c) const {
    painter.setBrush(theme().panel);
    switch (summary.state) {
    case StageState::settled:
        painter.setPen(Qt::NoPen);
        painter.setBrush(theme().tide);
        painter.drawEllipse(c, 9, 9);
        painter.setPen(QPen(theme().panel, 2, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        painter.drawPolyline(
            QPolygonF{c + QPointF(-4, 0), c + QPointF(-1, 3.4), c + QPointF(4.4, -3)});
        break;
    case StageState::attention:
        painter.setPen(QPen(theme().stop, 2));
        painter.drawEllipse(c, 8.5, 8.5);
        painter.setPen(QPen(theme().stop, 2.2, Qt::SolidLine, Qt::RoundCap));
        painter.drawLine(c + QPointF(0, -4), c + QPointF(0, 0.6));
        painter.drawPoint(c + QPointF(0, 4.2));
        break;
    case StageState::open:
        painter.setPen(QPen(theme().tide, 2));
        painter.drawEllipse(c, 8.5, 8.5);
        break;
    }
}

WorkOrder::WorkOrder(Session& s, QWidget* parent) : QWidget(parent), session(s) {
    setFixedWidth(212);
    setAccessibleName(tr("Work order"));
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 8, 0, 10);
    layout->setSpacing(0);
    for (int k = 0; k < stageCount; ++k) {
        buttons[static_cast<std::size_t>(k)] = new StageButton(session, static_cast<Stage>(k));
        layout->addWidget(buttons[static_cast<std::size_t>(k)]);
    }
    layout->addStretch();
    auto* foot = new QVBoxLayout;
    foot->setContentsMargins(16, 0, 16, 0);
    foot->setSpacing(4);
    foot->addWidget(quietLabel(tr("Cloth")));
    clothSwatch = new QLabel;
    clothSwatch->setFixedHeight(44);
    foot->addWidget(clothSwatch);
    foot->addSpacing(6);
    foot->addWidget(quietLabel(tr("Pointer")));
    pointerPlace = new QLabel;
    pointerHem = quietLabel({});
    foot->addWidget(pointerPlace);
    foot->addWidget(pointerHem);
    layout->addLayout(foot);
    connect(&session.document, &Document::changed, this, &WorkOrder::refresh);
    connect(&session.derivation, &Derivation::ready, this, &WorkOrder::refresh);
    connect(&session, &Session::stageChanged, this, &WorkOrder::refresh);
    connect(&session, &Session::viewChanged, this, &WorkOrder::refresh);
    refresh();
    hidePointer();
}

void WorkOrder::refresh() {
    const auto summaries = summarise(session);
    for (std::size_t k = 0; k < buttons.size(); ++k)
        buttons[k]->show(summaries[k], k > 0 && summaries[k - 1].state == StageState::settled);
    const Cloth& cloth = session.job().cloth;
    const QColor colour(cloth.color.r, cloth.color.g, cloth.color.b);
    const QColor ink = colour.lightness() > 130 ? QColor("#1d2a33") : QColor("#f5f2eb");
    clothSwatch->setStyleSheet(QString("background: %1; color: %2; border: 1px solid %3; "
                                       "border-radius: 5px; padding-left: 7px;")
                                   .arg(colour.name(), ink.name(), theme().rule.name()));
    const auto fabric = session.library.fabric(session.job().brief.fabric);
    const QString name = fabric ? QString::fromStdString(fabric->name).section(" (", 0, 0)
                                : QString::fromStdString(session.job().brief.fabric);
    const QString size =
        QString("%1 × %2").arg(session.lengthText(cloth.widthMm, 0).section(' ', 0, -2),
                               session.lengthText(cloth.heightMm, 0));
    clothSwatch->setText(name + "\n" + size);
}

void WorkOrder::showPointer(Vec2 mm) {
    pointerPlace->setText(
        QString("x %1   y %2").arg(session.lengthText(mm.x), session.lengthText(mm.y)));
    const Box cloth = session.job().cloth.box();
    if (!cloth.contains(mm)) {
        pointerHem->setText(tr("off the cloth"));
        return;
    }
    const std::pair<double, QString> hems[] = {{mm.x - cloth.minX, tr("left")},
                                               {cloth.maxX - mm.x, tr("right")},
                                               {mm.y - cloth.minY, tr("far")},
                                               {cloth.maxY - mm.y, tr("near")}};
    const auto nearest = std::min_element(std::begin(hems), std::end(hems));
    pointerHem->setText(
        tr("%1 from the %2 hem").arg(session.lengthText(nearest->first), nearest->second));
}

void WorkOrder::hidePointer() {
    pointerPlace->setText(tr("not on the cloth"));
    pointerHem->setText(" ");
}

} // namespace rapt::app
