#pragma once
// What is sewn next, on which machine, and when a person is needed.

#include "app/kit/page.h"
#include "run/queue.h"

#include <QCheckBox>
#include <QListWidget>
#include <QTimer>

namespace rapt::app {

/// The queue as lines of time: one for the person, one a machine.
class QueueLanes : public QWidget {
    Q_OBJECT
public:
    using QWidget::QWidget;
    /// `machineNames`: of each item.
    void show(std::vector<QueueItem> items, QueuePlan plan, const QStringList& machineNames);

signals:
    void chosen(int item);
    /// Dragged in time: to come at place `to` of the queue without it.
    void moved(int from, int to);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;

private:
    double scale() const; ///< pixels a second
    QRectF bar(int line, double from, double until) const;
    int tickSeconds() const;
    int itemAt(QPointF at) const;

    std::vector<QueueItem> items;
    QueuePlan plan;
    QStringList lines;       ///< machines, below the person
    std::vector<int> lineOf; ///< of each item
    int held = -1;           ///< under the mouse button
};

class QueuePage : public Page {
    Q_OBJECT
public:
    explicit QueuePage(Session& session);
    void refresh() override;

protected:
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;

private:
    void addJob();
    void takeOrder();
    void removeChosen();
    void moveToMachine(int choice);
    QString lineFor(int number, const QueueItem& item, const QueueTimes& times) const;

    QLabel* next;
    QueueLanes* lanes;
    QListWidget* list;
    QComboBox* machine;
    QCheckBox* spare;
    QPushButton* remove;
    QTimer clock;
};

} // namespace rapt::app
