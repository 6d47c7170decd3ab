#include "app/divide/self_hooper.h"

#include "divide/self_hooping.h"
#include "job/edit.h"

namespace rapt::app {

SelfHooper::SelfHooper(Session& s, QObject* parent) : QObject(parent), session(s) {
    connect(&session, &Session::stageChanged, this, [this] {
        const Stage stage = session.stage();
        if ((stage == Stage::registration || stage == Stage::stitchOut) && isWanted()) hoop();
    });
}

bool SelfHooper::isWanted() const {
    const Job& job = session.job();
    if (job.pieces.empty()) return false;
    if (job.hoopings.empty()) return true;
    const Registration* seen = job.registration(1);
    if (job.hoopings.size() > 1 || job.hoopings[0].stays() || (seen && !seen->observations.empty()))
        return false;
    const auto derived = session.derived();
    return session.isCurrent() && derived && derived->planned && derived->hoopings().empty();
}

void SelfHooper::hoop() {
    hooping->ask(
        session.asItIsNow(),
        [planned = session.job(), library = session.library](std::stop_token stop) {
            Job job = planned;
            job.hoopings.clear();
            job.cuts.clear();
            StitchCache cache;
            return hoopedByItself(job, library, cache, stop);
        },
        [this](const Result<std::optional<Job>>& hooped) {
            if (!hooped || !*hooped) return;
            const Hooping& h = (*hooped)->hoopings.front();
            const auto frame = session.library.hoop(h.hoop);
            Edit edit = setHoopings({h}, 0, {});
            edit.name = "Hoop it in " + (frame ? frame->name : h.hoop);
            session.document.apply(edit);
        });
}

} // namespace rapt::app
