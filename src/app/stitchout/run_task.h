#pragma once
// What a machine is given to sew: one hooping of a job.

#include "geometry/pose.h"
#include "run/sewn.h"

#include <QJsonObject>
#include <memory>

namespace rapt::app {

struct RunTask {
    std::shared_ptr<const StitchList> list; ///< field frame
    std::shared_ptr<const Penetrations> points;
    std::vector<float> seconds; ///< up to each penetration, by the formulas
    std::string job, jobId;     ///< its name and its identity
    int hooping = 1;            ///< from 1
    std::size_t hoopings = 1;   ///< of the job
    std::string mark;
    std::string text; ///< of the file that is handed over
    std::string frame, fabric;
    std::vector<std::size_t> stops; ///< penetrations before which a cone is changed
    Affine toCloth;                 ///< field frame to cloth frame
    double totalSeconds() const { return seconds.empty() ? 0 : seconds.back(); }
};

/// The request that stores a task's design under that name.
QJsonObject storeRequest(const RunTask& task, const QString& file);

/// The same hooping without the basting crosses for later ones, which are sewn last; null if it
/// has none.
std::shared_ptr<const RunTask> withoutCrosses(const RunTask& task);

} // namespace rapt::app
