#pragma once
// What each stage comes to at a glance: a line of words computed from the job, and a state.

#include "app/document/session.h"

#include <array>

namespace rapt::app {

enum class StageState { open, settled, attention };

struct StageSummary {
    QString line;
    StageState state = StageState::open;
};

QString stageName(Stage stage);
std::array<StageSummary, stageCount> summarise(Session& session);

} // namespace rapt::app
