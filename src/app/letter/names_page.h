#pragma once
// Names: a list lettered on the copies of a piece, or as one job each.

#include "app/compose/compose_page.h"
#include "letter/name_list.h"

#include <QPlainTextEdit>
#include <QTableWidget>

namespace rapt::app {

class NamesPage : public ComposePage {
    Q_OBJECT
public:
    explicit NamesPage(Session& session);
    void refresh() override;

private:
    void openList();
    void letterCopies();
    void saveJobs();
    Result<NameListPlan> plan() const;
    void showPlan();

    QLabel* hint;
    QWidget* fields;
    QPlainTextEdit* names;
    LengthEdit *room, *least;
    QComboBox* sizing;
    QLabel* words;
    QTableWidget* table;
    QPushButton *onCopies, *asJobs;
    double roomMm = 50, leastMm = 6;
};

} // namespace rapt::app
