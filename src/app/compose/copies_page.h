#pragma once
// Copies: rows and columns, along a line, round a circle, mirrored in the datum lines.

#include "app/compose/border_page.h"
#include "app/kit/page.h"
#include "job/copies.h"

#include <QCheckBox>
#include <QListWidget>

namespace rapt::app {

class CopiesPage : public Page {
    Q_OBJECT
public:
    explicit CopiesPage(Session& session);
    void refresh() override;

private:
    void buildLayoutFields();
    void connectLayoutFields();
    void buildExceptionFields();
    std::optional<Repeat> present() const;
    void chooseKind(int index);
    void change(const std::function<void(Repeat&)>& change);
    void fillField();
    void changeException(const std::function<void(CopyException&)>& change);
    void showRows(const Repeat& repeat);
    void showExceptions(const Repeat& repeat);

    QLabel* hint;
    QComboBox* kind;
    QWidget* fields;
    std::vector<std::pair<QWidget*, std::vector<Repeat::Kind>>> rows;
    NumberEdit *columns, *rowCount, *count, *direction, *sweep;
    LengthEdit *across, *down, *centreX, *centreY;
    QComboBox* step;
    QCheckBox *turned, *leftRight, *nearFar;
    QPushButton* fill;
    QLabel* words;
    QWidget* exceptionFields;
    QLabel* copyWords;
    LengthEdit *shiftX, *shiftY;
    NumberEdit* copyTurn;
    QCheckBox* leftOut;
    QListWidget* exceptions;
    QLabel* borderHead;
    BorderPage* border; ///< while there are no copies
};

} // namespace rapt::app
