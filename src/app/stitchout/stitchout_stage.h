#pragma once
// Stitch-out: sheets, needles, hand-over, the run and the queue.

#include "app/kit/stage_view.h"

namespace rapt::app {

class HandoverPage;
class RunPage;
class SheetPreview;

class StitchOutStage : public StageView {
    Q_OBJECT
public:
    enum Tab { sheets, needles, handover, run, queue };
    explicit StitchOutStage(Session& session, QWidget* parent = nullptr);
    SheetPreview& preview() { return *sheetPreview; }
    HandoverPage& handoverPage() { return *handing; }

protected:
    void judge() override;

private:
    SheetPreview* sheetPreview;
    HandoverPage* handing;
    RunPage* running;
};

} // namespace rapt::app
