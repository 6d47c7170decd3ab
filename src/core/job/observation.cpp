#include "job/observation.h"

namespace rapt {

const char* nameOf(MotionModel model) {
    constexpr const char* names[] = {"rigid", "stretch", "skew"};
    return names[static_cast<int>(model)];
}

const char* nameOf(CorrectionChoice choice) {
    constexpr const char* names[] = {"open", "corrected", "as-planned"};
    return names[static_cast<int>(choice)];
}

} // namespace rapt
