#pragma once
// What is sewing, told from anywhere in the window.

#include "app/document/session.h"

#include <QProgressBar>

namespace rapt::app {

class MachineRun;

/// Shown while a machine sews or stands in the middle of a hooping.
class RunStrip : public QWidget {
    Q_OBJECT
public:
    explicit RunStrip(Session& session, QWidget* parent = nullptr);

private:
    void refresh();
    void show(const MachineRun& run);
    MachineRun* busy() const;

    Session& session;
    QLabel* words;
    QProgressBar* bar;
    QPushButton *look, *stop;
};

} // namespace rapt::app
