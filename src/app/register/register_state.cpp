#include "app/register/register_state.h"

namespace rapt::app {
namespace {

constexpr int blinkMs = 700;

} // namespace

RegisterState::RegisterState() : assessments(&RegisterState::assessed) {
    connect(&assessments, &LookupSignals::ready, this, &RegisterState::ready);
    blinking.setInterval(blinkMs);
    connect(&blinking, &QTimer::timeout, this, [this] {
        blinkOn = !blinkOn;
        emit changed();
    });
}

void RegisterState::propose(ProposedScan scan) {
    scan.ticked.assign(scan.proposals.found.size(),
                       scan.proposals.reading.quality != ScanQuality::retake);
    waiting = std::move(scan);
    emit changed();
}

void RegisterState::tick(std::size_t index, bool on) {
    if (!waiting || index >= waiting->ticked.size()) return;
    waiting->ticked[index] = on;
    emit changed();
}

void RegisterState::dropProposed() {
    if (!waiting) return;
    waiting.reset();
    emit changed();
}

void RegisterState::setFade(double fade) {
    faded = std::clamp(fade, 0.0, 1.0);
    emit changed();
}

void RegisterState::setBlinking(bool on) {
    on ? blinking.start() : blinking.stop();
    emit changed();
}

void RegisterState::setPointer(std::optional<Vec2> at) {
    needle = at;
    emit changed();
}

void RegisterState::setShowsTrust(bool on) {
    trust = on;
    emit changed();
}

const Result<Assessment>* RegisterState::assessment(const Job& job, int hooping,
                                                    std::shared_ptr<const PlannedLists> planned,
                                                    std::shared_ptr<const Library> library) {
    const Registration* r = job.registration(hooping);
    if (!r || r->observations.empty()) return nullptr;
    Key key;
    key.job.hoopings = job.hoopings;
    key.job.registrations = job.registrations;
    key.job.brief = job.brief;
    key.hooping = hooping;
    key.planned = std::move(planned);
    key.library = std::move(library);
    return assessments.find(key);
}

Result<Assessment> RegisterState::assessed(const Key& key) {
    static const PlannedLists none;
    const PlannedLists& planned = key.planned ? *key.planned : none;
    return assess(key.job, key.hooping, planned.lists, planned.joins, *key.library);
}

} // namespace rapt::app
