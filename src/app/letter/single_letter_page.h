#pragma once
// Letter by letter: one letter nudged, turned, sized and coloured, and its columns.

#include "app/compose/thread_choice.h"
#include "app/kit/page.h"

#include <QCheckBox>

namespace rapt::app {

class SingleLetterPage : public Page {
    Q_OBJECT
public:
    explicit SingleLetterPage(Session& session);
    void refresh() override;

private:
    void change(const QString& name, const std::function<void(LetterChange&)>& change);
    void changeColumn(const QString& name, const std::function<void(ColumnChange&)>& change);
    void step(int by);

    QLabel *hint, *which;
    QWidget *fields, *columnFields;
    LengthEdit *across, *down;
    NumberEdit *turn, *size, *rows;
    ThreadChoice* thread;
    QCheckBox *showColumns, *fill;
    QComboBox* column_;
    QLabel* columnWords;
};

} // namespace rapt::app
