#pragma once
// Stitch-out: what is handed over, and the cautions that belong to it.

#include "app/stages/stage_view.h"

#include <QCheckBox>

namespace rapt::app {

class StitchOutStage : public StageView {
    Q_OBJECT
public:
    explicit StitchOutStage(Session& session, QWidget* parent = nullptr);

protected:
    void refresh() override;

private:
    void exportAll();
    void makeTemplateFile();

    QLabel* files;
    QPushButton* exportButton;
    QPushButton* templateButton;
    QCheckBox* mirror;
    QComboBox* paper;
    QLabel* doneNote;
};

} // namespace rapt::app
