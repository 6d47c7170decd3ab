#pragma once
// One hooping at the machine: what to do before, then the run, its stops and how it goes on.

#include "app/kit/page.h"

#include <QCheckBox>
#include <QProgressBar>
#include <QSpinBox>

namespace rapt::app {

class HandsBox;
class MachineRun;
class StepsList;
struct RunTask;

class RunPage : public Page {
    Q_OBJECT
public:
    explicit RunPage(Session& session);
    void refresh() override;
    /// Only how far it is.
    void advance();

private:
    QWidget* buildMachine();
    QWidget* buildRun();
    QHBoxLayout* buildSteppers();
    void fillHoopings(const Handing& h);
    void fillSteps(const Handing& h);
    void fillRun();
    void fillMachine();
    void fillStart();
    void takeTask(const Handing& h);
    std::size_t startPlace() const;
    void start();
    void goOn();
    void step(int by, const char* unit);
    MachineRun* run() const;
    const Handing* handing();
    const Hooping* sewnHooping();
    void keepWhatIsSewn();

    QComboBox* hooping;
    QLabel *machineWords, *progressWords, *threadWords, *eventWords;
    QPushButton *connectButton, *simulated, *walkBox, *walkHull, *startButton, *stopButton,
        *keepSewn, *resumeButton;
    StepsList* steps;
    QWidget* runBox;
    HandsBox* hands;
    QProgressBar* progress;
    QComboBox* from;
    QSpinBox* fromStitch;
    QCheckBox* noCrosses;
    QList<QPushButton*> stepButtons;
    std::shared_ptr<const RunTask> crossesOf, uncrossed; ///< a task, and it without its crosses
    bool startsAnyway = false;
    std::string anywayFor; ///< mark of the task that was asked about
};

} // namespace rapt::app
