#include "app/stitchout/run_task.h"

#include "divide/sewn_hoopings.h"
#include "handover/handover.h"

#include <QJsonArray>

namespace rapt::app {

QJsonObject storeRequest(const RunTask& task, const QString& file) {
    QJsonArray stops;
    for (const std::size_t s : task.stops) stops.append(static_cast<double>(s));
    return {{"do", "store"},
            {"name", file},
            {"text", QString::fromStdString(task.text)},
            {"frame", QString::fromStdString(task.frame)},
            {"fabric", QString::fromStdString(task.fabric)},
            {"stops", stops}};
}

std::shared_ptr<const RunTask> withoutCrosses(const RunTask& task) {
    auto shorter = std::make_shared<RunTask>(task);
    auto list = std::make_shared<StitchList>(*task.list);
    std::uint8_t cross = 0;
    for (const Thread& t : list->threads)
        if (t.name == witnessThreadName) cross = t.index;
    auto& stitches = list->stitches;
    const auto first = std::find_if(stitches.begin(), stitches.end(), [&](const Stitch& s) {
        return s.thread == cross && s.op == Op::stitch;
    });
    if (cross == 0 || first == stitches.end()) return nullptr;
    stitches.erase(first, stitches.end());
    while (!stitches.empty() && stitches.back().op == Op::jump) stitches.pop_back();
    shorter->points = std::make_shared<const Penetrations>(*list);
    shorter->seconds.resize(shorter->points->count());
    Job job;
    job.name = task.job;
    job.identity.text = task.jobId;
    shorter->mark = contentMark(*list, job.identity);
    shorter->text = handedText(job, *list, static_cast<std::size_t>(task.hooping) - 1);
    shorter->list = std::move(list);
    return shorter;
}

} // namespace rapt::app
