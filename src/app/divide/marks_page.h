#pragma once
// What to draw on the cloth, in words, and the template with it to print.

#include "app/kit/page.h"

#include <QTextBrowser>

namespace rapt::app {

class MarksPage : public Page {
    Q_OBJECT
public:
    explicit MarksPage(Session& session);
    void refresh() override;

private:
    void print();

    QTextBrowser* words;
    QPushButton* printButton;
};

} // namespace rapt::app
