#pragma once
// Brief: item, cloth, fabric, machine, hoops owned.

#include "app/kit/stage_view.h"

#include <QListWidget>
#include <QSpinBox>

namespace rapt::app {

class BriefStage : public StageView {
    Q_OBJECT
public:
    explicit BriefStage(Session& session, QWidget* parent = nullptr);

protected:
    void refresh() override;

private:
    void buildFields();
    void listHoops();
    void editBrief(const QString& name, const std::function<void(Brief&)>& change);
    void editCloth(const QString& name, const std::function<void(Cloth&)>& change);
    void takeHoops();
    void chooseColour();

    QLineEdit* jobName;
    QLineEdit* item;
    QComboBox* fabric;
    QComboBox* machine;
    QSpinBox* quantity;
    LengthEdit* width;
    LengthEdit* height;
    QPushButton* colour;
    QComboBox* held;
    QListWidget* hoops;
    QLabel* advice;
};

} // namespace rapt::app
