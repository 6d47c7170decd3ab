#pragma once
// Divide: how many clampings, where each frame goes, what to mark, and batches.

#include "app/divide/offers.h"
#include "app/kit/stage_view.h"

namespace rapt::app {

class DivideStage : public StageView {
    Q_OBJECT
public:
    enum Tab { plan, marks, batch, frames };
    explicit DivideStage(Session& session, QWidget* parent = nullptr);

signals:
    /// A job of its own was made (a batch).
    void jobMade(const Job& job);

protected:
    void refresh() override;
    void judge() override;

private:
    QString reason(int clampings) const;

    FrameOffers* offers;
};

} // namespace rapt::app
