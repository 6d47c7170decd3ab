#pragma once
// Divide: how many clampings, where each frame goes, what to mark, and batches.

#include "app/divide/offers.h"
#include "app/stages/stage_view.h"

#include <QButtonGroup>

namespace rapt::app {

class ComposePage;

class DivideStage : public StageView {
    Q_OBJECT
public:
    enum Page { plan, marks, batch, frames };
    explicit DivideStage(Session& session, QWidget* parent = nullptr);
    void showPage(Page page);

signals:
    /// A job of its own was made (a batch).
    void jobMade(const Job& job);

protected:
    void refresh() override;

private:
    void addPage(const QString& title, ComposePage* page);
    void judge();
    QString reason(int clampings) const;

    FrameOffers* offers;
    QButtonGroup* tabs;
    QHBoxLayout* tabRow;
    std::vector<ComposePage*> pages; ///< one a tab; only the chosen one is shown
};

} // namespace rapt::app
