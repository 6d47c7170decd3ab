#pragma once
// The readout of one stage: its judgement, then its pages under a row of tabs.

#include "app/kit/page.h"
#include "app/kit/questions.h"

#include <QButtonGroup>
#include <QShowEvent>

namespace rapt::app {

/// Stages refresh from the session only while they are shown.
class StageView : public QWidget {
    Q_OBJECT
public:
    explicit StageView(Session& session, QWidget* parent = nullptr);
    /// Its number as the stage names its tabs.
    void showPage(int page);
    /// What stands in the middle while the page is looked at; null for the cloth.
    QWidget* centre() const;

signals:
    void centreChanged();

protected:
    /// A tab after the others and its page below; the tab's object name is `tabName` and its
    /// number.
    void addPage(const QString& title, const char* tabName, Page* page, int stretch = 1);
    /// A page is about to be shown.
    virtual void onPage(int) {}
    virtual void judge() {}
    /// Shows the job as it is now: the judgement, and the page that is looked at.
    virtual void refresh();
    void refreshIfShown();
    void showEvent(QShowEvent* event) override;
    void complain(const QString& title, const QString& words);

    Session& session;
    QVBoxLayout* column;
    Judgement* judgement;
    QButtonGroup* tabs;
    std::vector<Page*> pages; ///< one a tab; only the chosen one is shown

private:
    QHBoxLayout* tabRow = nullptr;
};

} // namespace rapt::app
