#include "app/kit/stage_view.h"

#include <QMessageBox>
#include <QToolButton>

namespace rapt::app {

StageView::StageView(Session& s, QWidget* parent)
    : QWidget(parent), session(s), column(new QVBoxLayout(this)), judgement(new Judgement),
      tabs(new QButtonGroup(this)) {
    column->setContentsMargins(18, 16, 16, 16);
    column->setSpacing(10);
    column->addWidget(judgement);
    connect(&session.document, &Document::changed, this, &StageView::refreshIfShown);
    connect(&session.derivation, &Derivation::ready, this, &StageView::refreshIfShown);
    connect(&session, &Session::chosenReady, this, &StageView::refreshIfShown);
    connect(&session.selection, &Selection::changed, this, &StageView::refreshIfShown);
    connect(&session, &Session::hoopingChanged, this, &StageView::refreshIfShown);
    connect(&session, &Session::viewChanged, this, &StageView::refreshIfShown);
    connect(tabs, &QButtonGroup::idClicked, this, &StageView::showPage);
}

void StageView::addPage(const QString& title, const char* tabName, Page* page, int stretch) {
    if (!tabRow) {
        tabRow = new QHBoxLayout;
        tabRow->setSpacing(4);
        column->addLayout(tabRow);
    }
    const int id = static_cast<int>(pages.size());
    if (id > 5) tabRow->setSpacing(0);
    auto* tab = new QToolButton;
    tab->setText(title);
    tab->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    tab->setCheckable(true);
    tab->setProperty("tab", true);
    tab->setObjectName(tabName + QString::number(id));
    tabs->addButton(tab, id);
    tabRow->addWidget(tab);
    pages.push_back(page);
    column->addWidget(page, stretch);
    connect(page, &Page::failed, this, &StageView::complain);
    connect(page, &Page::centreChanged, this, &StageView::centreChanged);
}

void StageView::showPage(int page) {
    if (!tabs->button(page)) return; // some stages have none
    onPage(page);
    tabs->button(page)->setChecked(true);
    for (std::size_t k = 0; k < pages.size(); ++k)
        pages[k]->setVisible(static_cast<int>(k) == page);
    emit centreChanged();
    refreshIfShown();
}

QWidget* StageView::centre() const {
    const int page = tabs->checkedId();
    return page >= 0 && page < static_cast<int>(pages.size())
               ? pages[static_cast<std::size_t>(page)]->centre()
               : nullptr;
}

void StageView::refresh() {
    judge();
    for (Page* page : pages)
        if (!page->isHidden()) page->refresh();
}

void StageView::refreshIfShown() {
    if (isVisible()) refresh();
}

void StageView::showEvent(QShowEvent*) { refresh(); }

void StageView::complain(const QString& title, const QString& words) {
    QMessageBox box(QMessageBox::Warning, title, words, QMessageBox::Ok, window());
    box.exec();
}

} // namespace rapt::app
