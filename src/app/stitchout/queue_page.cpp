#include "app/stitchout/queue_page.h"
#include "app/stitchout/sewing_state.h"

#include "app/theme/theme.h"
#include "estimate/timing.h"

#include <QDateTime>
#include <QMouseEvent>
#include <QPainter>
#include <QSignalBlocker>

namespace rapt::app {
namespace {

constexpr int labelWide = 128, laneHigh = 38, axisHigh = 24;

QString clockAt(double secondsFromNow) {
    return QDateTime::currentDateTime()
        .addSecs(static_cast<qint64>(secondsFromNow))
        .toString("HH:mm");
}

} // namespace

void QueueLanes::show(std::vector<QueueItem> q, QueuePlan p, const QStringList& machineNames) {
    items = std::move(q);
    plan = std::move(p);
    lines = machineNames;
    lines.removeDuplicates();
    lineOf.clear();
    for (const QString& name : machineNames)
        lineOf.push_back(1 + static_cast<int>(lines.indexOf(name)));
    setFixedHeight(items.empty() ? 0 : axisHigh + laneHigh * (1 + static_cast<int>(lines.size())));
    update();
}

double QueueLanes::scale() const { return (width() - labelWide - 12) / std::max(1.0, plan.until); }

QRectF QueueLanes::bar(int line, double from, double until) const {
    const double start = std::max(0.0, from);
    return {labelWide + start * scale(), axisHigh + laneHigh * line + 7.0,
            std::max(3.0, (until - start) * scale()), laneHigh - 14.0};
}

/// Round steps of time, so that eight of them fill the width at most.
int QueueLanes::tickSeconds() const {
    for (const int minutes : {1, 2, 5, 10, 15, 30, 60, 120, 240, 480})
        if (plan.until / (60 * minutes) <= 8) return 60 * minutes;
    return 24 * 3600;
}

void QueueLanes::paintEvent(QPaintEvent*) {
    if (items.empty() || plan.until <= 0) return;
    const Theme& t = theme();
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setFont(faceOf(12));
    const int tick = tickSeconds();
    const QDateTime now = QDateTime::currentDateTime();
    for (qint64 at = (now.toSecsSinceEpoch() / tick + 1) * tick - now.toSecsSinceEpoch();
         at < plan.until; at += tick) {
        const double x = labelWide + static_cast<double>(at) * scale();
        p.setPen(t.rule);
        p.drawLine(QPointF(x, axisHigh - 2), QPointF(x, height()));
        p.setPen(t.ink2);
        p.drawText(QRectF(x - 30, 2, 60, axisHigh - 4), Qt::AlignCenter,
                   clockAt(static_cast<double>(at)));
    }
    QStringList heads{tr("You")};
    heads += lines;
    for (int k = 0; k < heads.size(); ++k) {
        const double y = axisHigh + laneHigh * k;
        p.setPen(t.rule);
        p.drawLine(QPointF(0, y), QPointF(width(), y));
        p.setPen(t.ink);
        p.drawText(QRectF(0, y, labelWide - 8, laneHigh), Qt::AlignVCenter,
                   p.fontMetrics().elidedText(heads[k], Qt::ElideRight, labelWide - 8));
    }
    const auto draw = [&](const QRectF& box, const QColor& fill, const QString& words,
                          bool isHeld) {
        p.setPen(QPen(isHeld ? t.ink : t.ink2, isHeld ? 2 : 1));
        p.setBrush(fill);
        p.drawRoundedRect(box, 4, 4);
        p.setPen(t.ink);
        const int room = static_cast<int>(box.width()) - 8;
        if (room > 12)
            p.drawText(box, Qt::AlignCenter,
                       p.fontMetrics().elidedText(words, Qt::ElideRight, room));
    };
    for (const PersonNeed& n : plan.person)
        draw(bar(0, n.at, n.until), t.kite, QString::number(n.item + 1), false);
    for (std::size_t i = 0; i < items.size(); ++i)
        draw(bar(lineOf[i], plan.times[i].from, plan.times[i].until), t.tideSoft,
             tr("%1  %2, hooping %3")
                 .arg(i + 1)
                 .arg(QString::fromStdString(items[i].job))
                 .arg(items[i].hooping),
             held == static_cast<int>(i));
    p.setPen(QPen(t.stop, 1.6));
    p.drawLine(QPointF(labelWide, axisHigh - 4), QPointF(labelWide, height()));
}

int QueueLanes::itemAt(QPointF at) const {
    for (std::size_t i = 0; i < items.size(); ++i)
        if (bar(lineOf[i], plan.times[i].from, plan.times[i].until).contains(at))
            return static_cast<int>(i);
    return -1;
}

void QueueLanes::mousePressEvent(QMouseEvent* event) {
    held = itemAt(event->position());
    if (held >= 0) emit chosen(held);
    update();
}

/// Dropped on the first half of a bar it goes before that item, else after it.
void QueueLanes::mouseReleaseEvent(QMouseEvent* event) {
    const int from = std::exchange(held, -1);
    update();
    if (from < 0) return;
    const double seconds = (event->position().x() - labelWide) / scale();
    int to = 0;
    for (std::size_t i = 0; i < items.size(); ++i)
        if (static_cast<int>(i) != from && (plan.times[i].from + plan.times[i].until) / 2 < seconds)
            ++to;
    if (to != from) emit moved(from, to);
}

QueuePage::QueuePage(Session& s)
    : Page(s), next(wordsLabel()), lanes(new QueueLanes), list(new QListWidget),
      machine(new QComboBox), spare(new QCheckBox(tr("A second frame of each kind is at hand"))) {
    next->setObjectName("queueNext");
    column->addWidget(next);
    auto* middle = makeCentre();
    middle->addWidget(headLabel(tr("When each machine sews, and when you are needed")));
    middle->addWidget(lanes);
    middle->addWidget(headLabel(tr("In this order")));
    list->setObjectName("queue");
    list->setAccessibleName(tr("Queue"));
    list->setDragDropMode(QAbstractItemView::InternalMove);
    list->setMinimumHeight(220);
    list->setWordWrap(true);
    list->setSpacing(1);
    list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list->setFrameShape(QFrame::NoFrame);
    middle->addWidget(list, 1);
    column->addWidget(quietLabel(tr("Drag in the list to reorder; Alt with the arrow keys does the "
                                    "same. In the lanes, drag a bar before or after another.")));
    machine->setObjectName("queueMachine");
    for (const Machine& m : session.library.machines)
        machine->addItem(QString::fromStdString(m.name), QString::fromStdString(m.id));
    column->addLayout(row(tr("On"), machine));
    remove = button(tr("Take it out"), "queueRemove", [this] { removeChosen(); });
    column->addLayout(
        sideBySide({button(tr("Add this job"), "queueAdd", [this] { addJob(); }), remove}));
    spare->setObjectName("spareFrames");
    spare->setChecked(true);
    column->addWidget(spare);
    column->addStretch();
    connect(lanes, &QueueLanes::chosen, list, qOverload<int>(&QListWidget::setCurrentRow));
    connect(lanes, &QueueLanes::moved, this, [this](int from, int to) {
        auto queue = session.sewing.queue();
        if (std::max(from, to) >= static_cast<int>(queue.size())) return;
        const Queued item = queue[static_cast<std::size_t>(from)];
        queue.erase(queue.begin() + from);
        queue.insert(queue.begin() + to, item);
        session.sewing.setQueue(std::move(queue));
        list->setCurrentRow(to);
    });
    connect(spare, &QCheckBox::clicked, this, &QueuePage::refresh);
    connect(list->model(), &QAbstractItemModel::rowsMoved, this, &QueuePage::takeOrder);
    connect(list, &QListWidget::currentRowChanged, this,
            [this] { remove->setEnabled(list->currentRow() >= 0); });
    connect(machine, &QComboBox::activated, this, &QueuePage::moveToMachine);
    clock.setInterval(1000);
    connect(&clock, &QTimer::timeout, this, &QueuePage::refresh);
    for (const int by : {-1, 1}) {
        auto* key = new QAction(this);
        key->setShortcut(QKeySequence(by < 0 ? "Alt+Up" : "Alt+Down"));
        key->setShortcutContext(Qt::WidgetShortcut);
        list->addAction(key);
        connect(key, &QAction::triggered, this, [this, by] {
            const int at = list->currentRow(), to = at + by;
            auto queue = session.sewing.queue();
            if (at < 0 || to < 0 || to >= static_cast<int>(queue.size())) return;
            std::swap(queue[static_cast<std::size_t>(at)], queue[static_cast<std::size_t>(to)]);
            session.sewing.setQueue(std::move(queue));
            list->setCurrentRow(to);
        });
    }
}

void QueuePage::showEvent(QShowEvent* event) {
    clock.start();
    Page::showEvent(event);
}

void QueuePage::hideEvent(QHideEvent* event) {
    clock.stop();
    Page::hideEvent(event);
}

QString QueuePage::lineFor(int number, const QueueItem& item, const QueueTimes& t) const {
    QString on = QString::fromStdString(item.machine);
    if (const auto m = session.library.machine(item.machine)) on = QString::fromStdString(m->name);
    const QString head = tr("%1  %2, hooping %3 — %4")
                             .arg(number)
                             .arg(QString::fromStdString(item.job))
                             .arg(item.hooping)
                             .arg(on);
    if (item.running) return head + "\n" + tr("on the machine, done %1").arg(clockAt(t.until));
    return head + "\n" +
           tr("hands %1–%2, sews %3–%4%5")
               .arg(clockAt(t.handsFrom), clockAt(t.handsUntil), clockAt(t.from), clockAt(t.until),
                    item.stops.empty()       ? QString()
                    : item.stops.size() == 1 ? tr(", one stop for a cone")
                                             : tr(", %1 stops for cones").arg(item.stops.size()));
}

void QueuePage::refresh() {
    const auto items = session.sewing.queueNow();
    const QueuePlan plan = planQueue(items, spare->isChecked());
    {
        const QSignalBlocker quiet(list);
        const int row = list->currentRow();
        while (list->count() > static_cast<int>(items.size()))
            delete list->takeItem(list->count() - 1);
        while (list->count() < static_cast<int>(items.size())) list->addItem(QString());
        for (std::size_t i = 0; i < items.size(); ++i) {
            QListWidgetItem* line = list->item(static_cast<int>(i));
            line->setText(lineFor(static_cast<int>(i) + 1, items[i], plan.times[i]));
            line->setData(Qt::UserRole, static_cast<int>(i));
        }
        list->setCurrentRow(std::min(row, list->count() - 1));
    }
    remove->setEnabled(list->currentRow() >= 0);
    QStringList names;
    for (const QueueItem& item : items) {
        const auto m = session.library.machine(item.machine);
        names << QString::fromStdString(m ? m->name : item.machine);
    }
    lanes->show(items, plan, names);
    if (items.empty()) {
        next->setText(tr("Nothing waits. Add this job's hoopings, then other jobs'."));
        return;
    }
    QStringList words;
    for (const PersonNeed& n : plan.person) {
        const QueueItem& item = items[n.item];
        words << tr("<b>%1</b> %2: %3, hooping %4")
                     .arg(n.at < 30 ? tr("Now") : clockAt(n.at), QString::fromStdString(n.what),
                          QString::fromStdString(item.job).toHtmlEscaped())
                     .arg(item.hooping);
        if (words.size() == 3) break;
    }
    words << tr("All is done at %1, in %2.")
                 .arg(clockAt(plan.until), QString::fromStdString(formatDuration(plan.until)));
    next->setText(words.join("<br>"));
}

void QueuePage::addJob() {
    const auto* known = session.handing();
    if (!known || !*known)
        return emit failed(tr("Nothing to add"),
                           known ? QString::fromStdString(known->error().reason)
                                 : tr("The hoopings are being worked out; try again."));
    auto queue = session.sewing.queue();
    const Handing& h = ***known;
    const auto chosen = session.library.machine(machine->currentData().toString().toStdString());
    if (!chosen) return;
    const auto needles = planNeedles(h.steps, session.sewing.needlesOf(*chosen));
    if (!needles)
        return emit failed(tr("Nothing to add"), QString::fromStdString(needles.error().reason));
    const auto items = queueItemsOf(session.job(), h.lists, *needles, *chosen, h.fabric);
    for (const QueueItem& item : items) {
        const bool there = std::any_of(queue.begin(), queue.end(),
                                       [&](const Queued& q) { return q.item.id == item.id; });
        if (!there) queue.push_back({item, session.document.path()});
    }
    session.sewing.setQueue(std::move(queue));
}

void QueuePage::takeOrder() {
    const auto before = session.sewing.queue();
    std::vector<Queued> queue;
    for (int i = 0; i < list->count(); ++i) {
        const int at = list->item(i)->data(Qt::UserRole).toInt();
        if (at >= 0 && at < static_cast<int>(before.size()))
            queue.push_back(before[static_cast<std::size_t>(at)]);
    }
    if (queue.size() == before.size()) session.sewing.setQueue(std::move(queue));
}

void QueuePage::removeChosen() {
    auto queue = session.sewing.queue();
    const int at = list->currentRow();
    if (at < 0 || at >= static_cast<int>(queue.size())) return;
    queue.erase(queue.begin() + at);
    session.sewing.setQueue(std::move(queue));
}

/// The chosen item goes to another machine.
void QueuePage::moveToMachine(int) {
    auto queue = session.sewing.queue();
    const int at = list->currentRow();
    if (at < 0 || at >= static_cast<int>(queue.size())) return;
    QueueItem& item = queue[static_cast<std::size_t>(at)].item;
    const std::string id = machine->currentData().toString().toStdString();
    const auto to = session.library.machine(id), was = session.library.machine(item.machine);
    if (!to || !was || to->id == was->id) return;
    // Sewing goes by the top speeds; changes and trims are near enough.
    item.sewing *= static_cast<double>(was->topSpeed) / to->topSpeed;
    item.machine = id;
    session.sewing.setQueue(std::move(queue));
}

} // namespace rapt::app
