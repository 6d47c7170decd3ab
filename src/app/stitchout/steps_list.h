#pragma once
// The steps before the needle moves, each with a box to confirm it.

#include "run/run_steps.h"

#include <QCheckBox>
#include <QLabel>
#include <QVBoxLayout>
#include <set>

namespace rapt::app {

class StepsList : public QWidget {
    Q_OBJECT
public:
    StepsList();
    /// Shows these steps; a box that stays keeps its focus. `startsAnyway`: the person was told
    /// once that steps are open, and they are named now.
    void show(const std::vector<RunStep>& wanted, const std::set<std::string>& done,
              bool startsAnyway);
    /// What is not confirmed, in words.
    QStringList open() const;

signals:
    void confirmed(const std::string& id, bool on);

private:
    void rebuild(const std::vector<RunStep>& wanted);

    QVBoxLayout* lines;
    QLabel* left;
    QList<QCheckBox*> boxes;
    QString shown; ///< which steps the boxes are for
};

} // namespace rapt::app
