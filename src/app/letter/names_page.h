#pragma once
// Names: a list lettered on the copies of a piece, or as one job each.

#include "app/kit/page.h"
#include "app/kit/rows_table.h"
#include "letter/name_list.h"

#include <QPlainTextEdit>

namespace rapt::app {

class NamesPage : public Page {
    Q_OBJECT
public:
    explicit NamesPage(Session& session);
    void refresh() override;
    /// The names, once words are chosen that they can replace; the cloth until then.
    QWidget* centre() const override { return hasWords ? central : nullptr; }

private:
    void openList();
    void letterCopies();
    void saveJobs();
    Result<NameListPlan> plan() const;
    void showPlan();
    void showRows();
    void orderPictures();

    QLabel* hint;
    QWidget* fields;
    QPlainTextEdit* names;
    LengthEdit *room, *least;
    QComboBox* sizing;
    QLabel* words;
    RowsTable* table;
    QPushButton *onCopies, *asJobs;
    double roomMm = 50, leastMm = 6;
    bool hasWords = false;
    std::vector<NamedLettering> planned;
    std::map<QString, QImage> pictures; ///< by name and height
    std::unique_ptr<Errands> drawing = session.errands();
};

} // namespace rapt::app
