#include "app/compose/thread_choice.h"

#include "app/theme/theme.h"

#include <QPainter>
#include <QSignalBlocker>

namespace rapt::app {
namespace {

QString labelOf(const OwnedThread& t) {
    QString label = QString::fromStdString(t.thread.name);
    if (t.thread.weight != 40) label += QString(", %1 wt").arg(t.thread.weight);
    if (!t.cone.empty()) label += "  " + QString::fromStdString(t.cone);
    return label;
}

} // namespace

QPixmap threadSwatch(const Thread& thread, int side) {
    QPixmap pixmap(side, side);
    pixmap.fill(QColor(thread.color.r, thread.color.g, thread.color.b));
    QPainter painter(&pixmap);
    painter.setPen(theme().rule);
    painter.drawRect(0, 0, side - 1, side - 1);
    return pixmap;
}

ThreadChoice::ThreadChoice(OwnedThreads& t, QWidget* parent) : QComboBox(parent), owned(t) {
    setMaxVisibleItems(16);
    fill();
    connect(&owned, &OwnedThreads::changed, this, &ThreadChoice::fill);
    connect(this, &QComboBox::activated, this, [this](int i) {
        const auto& threads = owned.palette().threads;
        if (i >= 0 && i < static_cast<int>(threads.size()))
            emit chosen(threads[static_cast<std::size_t>(i)].thread);
    });
}

void ThreadChoice::fill() {
    const QSignalBlocker quiet(this);
    clear();
    for (const OwnedThread& t : owned.palette().threads)
        addItem(threadSwatch(t.thread), labelOf(t));
    show(shown);
}

void ThreadChoice::show(const Thread& thread) {
    shown = thread;
    const QSignalBlocker quiet(this);
    const auto& threads = owned.palette().threads;
    while (count() > static_cast<int>(threads.size())) removeItem(count() - 1);
    for (int i = 0; i < static_cast<int>(threads.size()); ++i)
        if (threads[static_cast<std::size_t>(i)].thread.sameThread(thread)) {
            setCurrentIndex(i);
            return;
        }
    addItem(threadSwatch(thread), tr("%1 (not owned)").arg(QString::fromStdString(thread.name)));
    setCurrentIndex(count() - 1);
}

} // namespace rapt::app
