#pragma once
// The readout of one stage: its judgement, the few numbers behind it, then the controls.

#include "app/panels/questions.h"
#include "app/panels/readout_parts.h"

#include <QShowEvent>

namespace rapt::app {

/// Stages refresh from the session only while they are shown.
class StageView : public QWidget {
    Q_OBJECT
public:
    explicit StageView(Session& session, QWidget* parent = nullptr);

protected:
    /// Shows the job as it is now.
    virtual void refresh() = 0;
    void refreshIfShown();
    void showEvent(QShowEvent* event) override;
    void complain(const QString& title, const QString& words);

    Session& session;
    QVBoxLayout* column;
    Judgement* judgement;
};

} // namespace rapt::app
