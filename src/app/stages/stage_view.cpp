#include "app/stages/stage_view.h"

#include <QMessageBox>

namespace rapt::app {

StageView::StageView(Session& s, QWidget* parent)
    : QWidget(parent), session(s), column(new QVBoxLayout(this)), judgement(new Judgement) {
    column->setContentsMargins(18, 16, 16, 16);
    column->setSpacing(10);
    column->addWidget(judgement);
    connect(&session.document, &Document::changed, this, &StageView::refreshIfShown);
    connect(&session.derivation, &Derivation::ready, this, &StageView::refreshIfShown);
    connect(&session, &Session::chosenReady, this, &StageView::refreshIfShown);
    connect(&session.selection, &Selection::changed, this, &StageView::refreshIfShown);
    connect(&session, &Session::hoopingChanged, this, &StageView::refreshIfShown);
    connect(&session, &Session::viewChanged, this, &StageView::refreshIfShown);
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
