#include "app/letter/letter_page.h"

#include "app/letter/curve_page.h"
#include "app/letter/monogram_page.h"
#include "app/letter/names_page.h"
#include "app/letter/neckline_page.h"
#include "app/letter/single_letter_page.h"
#include "app/letter/words_page.h"

#include <QGridLayout>
#include <QToolButton>

namespace rapt::app {

LetterPage::LetterPage(Session& s)
    : Page(s), tabs(new QButtonGroup(this)), tabRow(new QGridLayout), pages(new QStackedWidget) {
    tabRow->setSpacing(1);
    column->addLayout(tabRow);
    auto* wordsPage = new WordsPage(session);
    connect(wordsPage, &WordsPage::lookUpAsked, this, &LetterPage::lookUpAsked);
    add(wordsPage, tr("Words"));
    add(new CurvePage(session), tr("Curve"));
    add(new NecklinePage(session), tr("Neckline"));
    add(new SingleLetterPage(session), tr("Letters"));
    add(new NamesPage(session), tr("Names"));
    add(new MonogramPage(session), tr("Monogram"));
    column->addWidget(pages);
    connect(tabs, &QButtonGroup::idClicked, this,
            [this](int id) { showSub(static_cast<Sub>(id)); });
    showSub(words);
}

void LetterPage::add(Page* page, const QString& name) {
    static_cast<QVBoxLayout*>(page->layout())->addStretch(1);
    const int index = pages->addWidget(page);
    auto* tab = new QToolButton;
    tab->setText(name);
    tab->setCheckable(true);
    tab->setObjectName("letterTab" + QString::number(index));
    tab->setProperty("subtab", true);
    tab->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    tabs->addButton(tab, index);
    tabRow->addWidget(tab, 0, index);
    connect(page, &Page::failed, this, &Page::failed);
    connect(page, &Page::centreChanged, this, &Page::centreChanged);
}

void LetterPage::showSub(Sub sub) {
    tabs->button(sub)->setChecked(true);
    for (int i = 0; i < pages->count(); ++i)
        pages->widget(i)->setSizePolicy(QSizePolicy::Preferred,
                                        i == sub ? QSizePolicy::Preferred : QSizePolicy::Ignored);
    pages->setCurrentIndex(sub);
    refresh();
    emit centreChanged();
}

QWidget* LetterPage::centre() const {
    return static_cast<const Page*>(pages->currentWidget())->centre();
}

void LetterPage::refresh() {
    auto* page = static_cast<Page*>(pages->currentWidget());
    page->refresh();
    // What a page hides before it was ever shown would keep its room.
    for (QLayout* inner : page->findChildren<QLayout*>()) inner->invalidate();
    page->layout()->invalidate();
    page->layout()->activate();
}

} // namespace rapt::app
