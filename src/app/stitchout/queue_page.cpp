#include "app/stitchout/queue_page.h"
#include "app/state/sewing_state.h"

#include "app/theme/theme.h"
#include "estimate/timing.h"

#include <QDateTime>
#include <QPainter>
#include <QSignalBlocker>

namespace rapt::app {
namespace {

QString clockAt(double secondsFromNow) {
    return QDateTime::currentDateTime()
        .addSecs(static_cast<qint64>(secondsFromNow))
        .toString("HH:mm");
}

} // namespace

void QueueLanes::show(std::vector<QueueItem> q, QueuePlan p, QStringList machineNames) {
    items = std::move(q);
    plan = std::move(p);
    names = std::move(machineNames);
    QStringList lines = names;
    lines.removeDuplicates();
    setFixedHeight(items.empty() ? 0 : 26 * (1 + static_cast<int>(lines.size())) + 4);
    update();
}

void QueueLanes::paintEvent(QPaintEvent*) {
    if (items.empty() || plan.until <= 0) return;
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setFont(faceOf(11));
    const int label = 74, high = 16;
    const double scale = (width() - label - 4) / plan.until;
    QStringList lines = names;
    lines.removeDuplicates();
    const auto bar = [&](int line, double from, double until, const QColor& fill,
                         const QString& words) {
        const QRectF box(label + std::max(0.0, from) * scale, 26 * line + 5,
                         std::max(2.0, (until - std::max(0.0, from)) * scale), high);
        painter.setPen(QPen(theme().ink2, 1));
        painter.setBrush(fill);
        painter.drawRoundedRect(box, 3, 3);
        painter.setPen(theme().ink);
        if (painter.fontMetrics().horizontalAdvance(words) + 6 < box.width())
            painter.drawText(box, Qt::AlignCenter, words);
    };
    painter.setPen(theme().ink);
    painter.drawText(QRectF(0, 5, label - 6, high), Qt::AlignVCenter, tr("You"));
    for (int k = 0; k < lines.size(); ++k)
        painter.drawText(QRectF(0, 26 * (k + 1) + 5, label - 6, high), Qt::AlignVCenter,
                         painter.fontMetrics().elidedText(lines[k], Qt::ElideRight, label - 6));
    for (const PersonNeed& n : plan.person)
        bar(0, n.at, n.until, theme().kite, QString::number(n.item + 1));
    for (std::size_t i = 0; i < items.size(); ++i)
        bar(1 + static_cast<int>(lines.indexOf(names[static_cast<qsizetype>(i)])),
            plan.times[i].from, plan.times[i].until, theme().tideSoft, QString::number(i + 1));
}

QueuePage::QueuePage(Session& s)
    : ComposePage(s), next(wordsLabel()), lanes(new QueueLanes), list(new QListWidget),
      machine(new QComboBox), spare(new QCheckBox(tr("A second frame of each kind is at hand"))) {
    next->setObjectName("queueNext");
    column->addWidget(next);
    column->addWidget(lanes);
    list->setObjectName("queue");
    list->setAccessibleName(tr("Queue"));
    list->setDragDropMode(QAbstractItemView::InternalMove);
    list->setMinimumHeight(220);
    list->setWordWrap(true);
    list->setSpacing(1);
    list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    column->addWidget(list, 1);
    column->addWidget(quietLabel(tr("Drag to reorder; Alt with the arrow keys does the same.")));
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
        key->setShortcutContext(Qt::WidgetWithChildrenShortcut);
        addAction(key);
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
    ComposePage::showEvent(event);
}

void QueuePage::hideEvent(QHideEvent* event) {
    clock.stop();
    ComposePage::hideEvent(event);
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
