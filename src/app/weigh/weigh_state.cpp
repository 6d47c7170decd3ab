#include "app/weigh/weigh_state.h"

namespace rapt::app {

void WeighState::setKind(LoadKind kind) {
    shown = kind;
    emit kindChanged();
}

void WeighState::setParting(std::optional<double> share) {
    if (share == partedAt) return;
    partedAt = share;
    emit partingChanged();
}

} // namespace rapt::app
