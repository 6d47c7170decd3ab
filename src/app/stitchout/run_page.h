#pragma once
// One hooping at the machine: what to do before, then the run, its stops and how it goes on.

#include "app/kit/page.h"

#include <QCheckBox>
#include <QProgressBar>
#include <QSpinBox>

namespace rapt::app {

class MachineRun;

class RunPage : public Page {
    Q_OBJECT
public:
    explicit RunPage(Session& session);
    void refresh() override;
    /// Only how far it is.
    void advance();

private:
    QWidget* buildMachine();
    QWidget* buildSteps();
    QWidget* buildRun();
    QHBoxLayout* buildSteppers();
    QWidget* buildHands();
    void fillHoopings(const Handing& h);
    void fillSteps(const Handing& h);
    void fillRun();
    void fillMachine();
    void fillStart();
    void fillHands();
    QString eventText() const;
    QString whatIsLeft() const;
    void takeTask(const Handing& h);
    QStringList openSteps() const;
    std::size_t startPlace() const;
    void start();
    void goOn();
    void step(int by, const char* unit);
    MachineRun* run() const;
    const Handing* handing();
    const Hooping* sewnHooping();
    void keepWhatIsSewn();

    QComboBox* hooping;
    QLabel *machineWords, *stepsLeft, *progressWords, *threadWords, *eventWords;
    QPushButton *connectButton, *simulated, *walkBox, *walkHull, *startButton, *stopButton,
        *keepSewn, *resumeButton;
    QVBoxLayout* steps;
    QWidget *stepsBox, *runBox, *handsBox;
    QList<QCheckBox*> stepBoxes;
    QString stepsOf; ///< which list of steps the boxes show
    QProgressBar* progress;
    QComboBox* from;
    QSpinBox* fromStitch;
    QCheckBox* noCrosses;
    QList<QPushButton*> stepButtons;
    QPushButton *mount, *foot, *needle, *mend, *power;
    QComboBox* speed;
    bool startsAnyway = false;
    std::string anywayFor; ///< mark of the task that was asked about
};

} // namespace rapt::app
