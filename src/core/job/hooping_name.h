#pragma once
// What people call hoopings: one number each, in sewing order, on the screen, in files and on
// paper. Those that the cloth stays clamped for are said together.

#include "base/text.h"
#include "job/job.h"

namespace rapt {

/// "hooping 2", or "hoopings 3 to 5": those of one clamping.
std::string hoopingsOf(const std::vector<Hooping>& hoopings, int clamping);

/// How often the cloth is hooped: "once", "twice", "three times" … "7 times".
std::string timesText(int times);

} // namespace rapt
