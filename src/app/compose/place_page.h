#pragma once
// Place: lining up, sharing out, fitting, and how near the neighbours are.

#include "app/kit/page.h"
#include "place/arrange.h"

namespace rapt::app {

class PlacePage : public Page {
    Q_OBJECT
public:
    explicit PlacePage(Session& session);
    void refresh() override;

private:
    enum To { toCloth, toField, toSelection, toDatum };
    std::vector<Movable> movables() const;
    Box target() const;
    void align(Align how);
    void distribute(bool across);
    void fit(bool betweenNeighbours);
    void showGaps();

    QComboBox* to;
    LengthEdit* margin;
    double marginMm = 5;
    QLabel* gaps;
    QLabel* fieldWords;
    std::vector<QPushButton*> needSelection;
};

} // namespace rapt::app
