#pragma once
// Stitch-out: sheets, needles, hand-over, the run and the queue.

#include "app/stages/stage_view.h"

#include <QButtonGroup>

namespace rapt::app {

class ComposePage;
class HandoverPage;
class RunPage;
class SheetPreview;

class StitchOutStage : public StageView {
    Q_OBJECT
public:
    enum Page { sheets, needles, handover, run, queue };
    explicit StitchOutStage(Session& session, QWidget* parent = nullptr);
    void showPage(Page page);

    /// Shown in the middle of the window while sheets are looked at.
    SheetPreview& preview() { return *sheetPreview; }
    bool wantsPreview() const;
    HandoverPage& handoverPage() { return *handing; }

signals:
    /// Whether the preview takes the place of the cloth may have changed.
    void centreChanged();

protected:
    void refresh() override;

private:
    void addPage(const QString& title, ComposePage* page);
    void judge();

    SheetPreview* sheetPreview;
    QButtonGroup* tabs;
    QHBoxLayout* tabRow;
    HandoverPage* handing;
    RunPage* running;
    std::vector<ComposePage*> pages;
};

} // namespace rapt::app
