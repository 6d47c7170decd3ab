#pragma once
// Letter: everything about words, on pages of its own.

#include "app/kit/page.h"

#include <QButtonGroup>
#include <QStackedWidget>

namespace rapt::app {

class LetterPage : public Page {
    Q_OBJECT
public:
    enum Sub { words, curve, neckline, letters, names, monogram };

    explicit LetterPage(Session& session);
    void refresh() override;
    QWidget* centre() const override;
    void showSub(Sub sub);
    Sub sub() const { return static_cast<Sub>(pages->currentIndex()); }

signals:
    void lookUpAsked();

private:
    void add(Page* page, const QString& name);

    QButtonGroup* tabs;
    QGridLayout* tabRow;
    QStackedWidget* pages;
};

} // namespace rapt::app
