#pragma once
// Monogram: initials in a frame.

#include "app/kit/page.h"
#include "letter/monogram.h"

namespace rapt::app {

class MonogramPage : public Page {
    Q_OBJECT
public:
    explicit MonogramPage(Session& session);
    void refresh() override;

private:
    MonogramRequest request() const;
    void make();

    QLineEdit *given, *middle, *surname;
    QComboBox *order, *layout_, *frame;
    LengthEdit *cap, *gap;
    QLabel* words;
    QPushButton* makeIt;
    double capMm = 20, gapMm = 4;
};

} // namespace rapt::app
