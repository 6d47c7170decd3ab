#pragma once
// Marks that were measured or found with the needle, edges, and one card for the whole design.

#include "app/kit/page.h"

#include "registration/needle_targets.h"

#include <QSpinBox>
#include <QTableWidget>

namespace rapt::app {

class PointsPage : public Page {
    Q_OBJECT
public:
    explicit PointsPage(Session& session);
    void refresh() override;

private:
    void buildTable();
    void buildNeedle();
    void buildCard();
    void fillTable();
    void takeCell(int row, int column);
    void takePointer();
    void pointBySteps();
    void takeCard();
    const Hooping* hooping() const;
    std::vector<NeedleTarget> targets();
    const Observation* seenOf(const std::string& name) const;

    std::vector<NeedleTarget> ofDesign; ///< of this hooping, as it was planned
    std::optional<Hooping> ofHooping;
    std::shared_ptr<const PlannedLists> ofPlan;
    QTableWidget* table;
    QLabel* cellProblem;
    QComboBox* target;
    LengthEdit *x, *y;
    QSpinBox *stepsRight, *stepsTowards;
    QPushButton *needle, *take;
    QLabel* needleNote;
    QComboBox *card, *anchor;
    QPushButton* putButton;
};

} // namespace rapt::app
