#pragma once
// What is sewn next, on which machine, and when a person is needed.

#include "app/compose/compose_page.h"
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
    void show(std::vector<QueueItem> items, QueuePlan plan, QStringList machineNames);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    std::vector<QueueItem> items;
    QueuePlan plan;
    QStringList names; ///< of each item's machine
};

class QueuePage : public ComposePage {
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
