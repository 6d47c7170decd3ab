#pragma once
// What is sewn next, on which machine, and when a person is needed.

#include "app/compose/compose_page.h"
#include "run/queue.h"

#include <QCheckBox>
#include <QListWidget>
#include <QTimer>

namespace rapt::app {

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
    QString lineFor(const QueueItem& item, const QueueTimes& times) const;

    QLabel* next;
    QListWidget* list;
    QComboBox* machine;
    QCheckBox* spare;
    QPushButton* remove;
    QTimer clock;
};

} // namespace rapt::app
