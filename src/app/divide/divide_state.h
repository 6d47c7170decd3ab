#pragma once
// How the layout is divided: what the person allows, and how the plan is looked at.

#include "divide/forecast.h"

#include <QObject>

namespace rapt::app {

/// View state of Divide; nothing of it is saved with the job.
class DivideState : public QObject {
    Q_OBJECT
public:
    struct Choices {
        Method method = Method::datum;
        double marginMm = 0;
        int mostHoopings = 0;
        bool mayPart = true, mayCut = true, straight = false;
        friend bool operator==(const Choices&, const Choices&) = default;
    };
    const Choices& choices() const { return chosen; }
    void choose(const Choices& choices) {
        if (choices == chosen) return;
        chosen = choices;
        emit choicesChanged();
    }

    /// Stepping: what earlier hoopings sewed is thread, what later ones sew is pale.
    bool isStepping() const { return stepping; }
    void setStepping(bool on) {
        stepping = on;
        emit viewChanged();
    }

signals:
    void choicesChanged();
    void viewChanged();

private:
    Choices chosen;
    bool stepping = false;
};

} // namespace rapt::app
