#pragma once
// Weigh: how much thread the cloth carries, where it is too much, and what to do about it.

#include "app/kit/stage_view.h"

namespace rapt::app {

class WeighStage : public StageView {
    Q_OBJECT
public:
    enum Tab { findings, pieces, mend, cloth };
    explicit WeighStage(Session& session, QWidget* parent = nullptr);

protected:
    void judge() override;
};

} // namespace rapt::app
