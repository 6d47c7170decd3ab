#pragma once
// Outline: a cutting or basting line round a piece, exact to the needle point.

#include "app/compose/thread_choice.h"
#include "app/kit/page.h"

namespace rapt::app {

class OutlinePage : public Page {
    Q_OBJECT
public:
    explicit OutlinePage(Session& session);
    void refresh() override;

private:
    void change(const std::function<void(Outline&)>& change);
    void chooseForm(int index);

    QLabel* hint;
    QComboBox *form, *purpose;
    QWidget* fields;
    LengthEdit *width, *height, *corner, *offset, *stitchLength;
    QWidget *widthRow, *heightRow, *cornerRow, *offsetRow;
    ThreadChoice* thread;
    QLabel* words;
};

} // namespace rapt::app
