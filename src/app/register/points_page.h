#pragma once
// Marks that were measured or found with the needle, edges, and one card for the whole design.

#include "app/kit/page.h"

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
    void takeCard();
    const Hooping* hooping() const;
    std::vector<NeedleTarget> targets() const;
    const Observation* seenOf(const std::string& name) const;

    QTableWidget* table;
    QLabel* cellProblem;
    QComboBox* target;
    LengthEdit *x, *y;
    QPushButton *needle, *take;
    QLabel* needleNote;
    QComboBox *card, *anchor;
    QPushButton* putButton;
};

} // namespace rapt::app
