#pragma once
// The readout of one stage: its judgement, the few numbers behind it, then the controls.

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
    /// Asks with a dialog that can also be driven from outside.
    QString askSaveName(const QString& title, const QString& suggestion, const QString& filter);
    QString askOpenName(const QString& title, const QString& filter);
    QString askFolder(const QString& title);
    void complain(const QString& title, const QString& words);

    Session& session;
    QVBoxLayout* column;
    Judgement* judgement;
};

} // namespace rapt::app
