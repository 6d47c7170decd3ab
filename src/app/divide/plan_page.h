#pragma once
// Divide's first page: what each frame would take, the plan, and its hoopings one by one.

#include "app/divide/offers.h"
#include "app/kit/page.h"

#include <QCheckBox>
#include <QListWidget>
#include <QSpinBox>
#include <QTableWidget>
#include <QToolButton>

namespace rapt::app {

class StandPicture;

class PlanPage : public Page {
    Q_OBJECT
public:
    explicit PlanPage(Session& session, FrameOffers& offers);
    void refresh() override;

private:
    void buildChoices();
    void buildTable();
    void buildHoopings();
    void takeChoices();
    void planChosen();
    void takePlan(const FrameOffer& offer);
    void fillTable();
    void fillRow(int row, const FrameOffer& offer);
    void showMisses(const FrameOffer& offer);
    void refreshHoopings();
    QString detailsOf(int hooping) const;
    void step(int by);
    const FrameOffer* chosenOffer() const;

    FrameOffers& offers;
    std::string planNext;      ///< frame to plan with as soon as its offer is there
    bool chosenByHand = false; ///< the row, not by what is best
    QComboBox* method;
    QCheckBox *part, *cut, *straight;
    LengthEdit* margin;
    QSpinBox* most;
    QTableWidget* table;
    QPushButton *plan, *stop;
    QVBoxLayout* misses;
    QListWidget* hoopings;
    QLabel* details;
    QPushButton *pin, *turn, *sewn;
    QToolButton *back, *on;
    QCheckBox* stepping;
    StandPicture* picture;
};

} // namespace rapt::app
