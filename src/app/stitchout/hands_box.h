#pragma once
// A person's hands at the simulated machine: frame, foot, needle, mending, power and time.

#include "app/stitchout/machine_run.h"

#include <QComboBox>
#include <QPushButton>

namespace rapt::app {

class HandsBox : public QWidget {
    Q_OBJECT
public:
    /// `run` gives the machine that the job is sewn on, or null.
    explicit HandsBox(std::function<MachineRun*()> run);
    void fill(const MachineRun& run);
    /// How many times as fast as life the simulated machine sews.
    double speed() const { return times->currentData().toDouble(); }

private:
    QPushButton* button(const QString& text, const char* name,
                        std::function<void(MachineRun&)> act);

    std::function<MachineRun*()> run;
    QPushButton *mount, *foot, *needle, *mend, *power;
    QComboBox* times;
};

} // namespace rapt::app
