#include "app/divide/offers.h"

#include "divide/frames.h"
#include "divide/parts.h"
#include "estimate/handling.h"
#include "estimate/timing.h"
#include "job/hooping_name.h"

#include <numbers>

namespace rapt::app {

namespace {

constexpr double quickSeconds = 0.4, longSeconds = 4;

/// The options for one frame; the search takes as long as is said.
DivideOptions optionsFor(const Hoop& hoop, const DivideState::Choices& c, double seconds) {
    DivideOptions options;
    options.hoops = {hoop};
    options.method = c.method;
    options.marginMm = c.marginMm;
    options.mostHoopings = c.mostHoopings;
    options.mayPart = c.mayPart;
    options.mayCut = c.mayCut;
    options.straightCuts = c.straight;
    options.seconds = seconds;
    return options;
}

/// What the offers depend on: an unpinned plan is not part of it.
Job whatMatters(Job job) {
    std::erase_if(job.hoopings, [](const Hooping& h) { return !h.stays(); });
    job.cuts.clear();
    job.registrations.clear();
    job.predictedJoinRmsMm = 0;
    job.name.clear();
    return job;
}

} // namespace

FrameOffers::FrameOffers(Session& s, QObject* parent) : QObject(parent), session(s) {
    pool.setMaxThreadCount(1);
}

FrameOffers::~FrameOffers() {
    stopper.request_stop();
    pool.clear();
    pool.waitForDone();
}

bool FrameOffers::isCurrent() const {
    return !running && about && *about == whatMatters(session.job()) &&
           choices == session.dividing.choices() && hoops == session.library.hoops.size();
}

void FrameOffers::stop() {
    stopper.request_stop();
    pool.clear();
    running = false;
    for (FrameOffer& offer : offers) offer.improving = false;
    emit changed();
}

void FrameOffers::request() {
    Job now = whatMatters(session.job());
    const bool same = about && *about == now && choices == session.dividing.choices() &&
                      hoops == session.library.hoops.size();
    if (same) return;
    stopper.request_stop();
    pool.clear();
    stopper = {};
    about = std::move(now);
    choices = session.dividing.choices();
    hoops = session.library.hoops.size();
    const Job& job = session.job();
    const auto isOwned = [&](const Hoop& h) {
        return std::find(job.brief.hoops.begin(), job.brief.hoops.end(), h.id) !=
               job.brief.hoops.end();
    };
    std::vector<Hoop> order = session.library.hoops;
    std::stable_partition(order.begin(), order.end(), isOwned);
    offers.clear();
    for (const Hoop& h : order) {
        FrameOffer& offer = offers.emplace_back();
        offer.hoop = h.id;
        offer.owned = isOwned(h);
    }
    open = offers.size();
    running = open > 0;
    const Round round{++rounds, std::make_shared<const Job>(job),
                      std::make_shared<const Library>(session.library), choices,
                      stopper.get_token()};
    for (std::size_t i = 0; i < order.size(); ++i) start(round, i, order[i], quickSeconds);
    emit changed();
}

void FrameOffers::start(const Round& round, std::size_t index, const Hoop& hoop, double seconds) {
    pool.start([this, round, index, hoop, seconds] {
        if (round.stop.stop_requested()) return;
        const FrameOffer offer = workOut(round, hoop, seconds);
        if (round.stop.stop_requested()) return;
        QMetaObject::invokeMethod(
            this, [this, number = round.number, index, offer] { take(number, index, offer); });
        if (offer.improving) start(round, index, hoop, longSeconds);
    });
}

void FrameOffers::take(int round, std::size_t index, FrameOffer offer) {
    if (round != rounds || index >= offers.size() || !running) return;
    offer.owned = offers[index].owned;
    if (!offer.improving) --open;
    offers[index] = std::move(offer);
    running = open > 0;
    emit changed();
}

FrameOffer FrameOffers::workOut(const Round& round, const Hoop& hoop, double seconds) {
    FrameOffer offer;
    offer.hoop = hoop.id;
    offer.done = true;
    const Job& job = *round.job;
    const Library& library = *round.library;
    const auto machine = library.machine(job.brief.machine);
    if (machine) offer.reason = QString::fromStdString(frameProblem(hoop, *machine));
    if (!offer.reason.isEmpty()) return offer;
    StitchCache cache;
    const DivideOptions options = optionsFor(hoop, round.choices, seconds);
    const auto division = divideIntoHoopings(job, cache, options, library, round.stop);
    if (!division) {
        offer.reason = QString::fromStdString(division.error().reason);
        return offer;
    }
    offer.division = *division;
    offer.joins = division->joins;
    const auto fabric = library.fabric(job.brief.fabric);
    const auto sewn = stitchJob(job, &cache, round.stop);
    if (fabric && machine && sewn) {
        const TimeLine line = timeLineOf(sewn->list, sewn->spans, *machine, *fabric);
        offer.seconds = line.totalSeconds +
                        handlingSeconds(division->clampings,
                                        static_cast<int>(division->hoopings.size()), *machine);
        offer.stabilizerCm2 = division->clampings * hoop.outerWidthMm * hoop.outerHeightMm / 100 *
                              fabric->stabilizerLayers;
    }
    offer.improving = !division->provenMinimal && seconds < longSeconds;
    if (offer.improving) return offer;
    const bool owned =
        std::find(job.brief.hoops.begin(), job.brief.hoops.end(), hoop.id) != job.brief.hoops.end();
    if (owned) offer.advice = adviceFor(job, options, *division, cache, library, round.stop);
    if (owned) offer.misses = nearMisses(job, cache, options, library, *division, round.stop);
    return offer;
}

QString FrameOffers::adviceFor(const Job& job, const DivideOptions& options,
                               const Division& division, StitchCache& cache, const Library& library,
                               std::stop_token stop) {
    if (division.clampings < 2 || division.joins.empty()) return {};
    const bool datum = options.method == Method::datum;
    const double own = worstOf(division.joins);
    DivideOptions otherWay = options;
    otherWay.method = datum ? Method::chain : Method::datum;
    otherWay.seconds = 1;
    const auto other = divideIntoHoopings(job, cache, otherWay, library, stop);
    QString text;
    if (other) {
        const double theirs = worstOf(other->joins);
        const bool better = other->clampings < division.clampings ||
                            (other->clampings == division.clampings && theirs < own - 0.05);
        const QString name = datum ? tr("sewn crosses") : tr("drawn lines");
        const QString why = datum ? (better ? tr("neighbours are measured from each other")
                                            : tr("errors add up from one to the next"))
                                  : (better ? tr("errors do not add up")
                                            : tr("both sides of a join err on their own"));
        text = better ? tr("Better here: %1, joins to %2 mm; %3.")
                            .arg(name)
                            .arg(theirs, 0, 'f', 1)
                            .arg(why)
                      : tr("Best here; with %1 the cloth is hooped %2, joins come to %3 mm: %4.")
                            .arg(name)
                            .arg(QString::fromStdString(timesText(other->clampings)))
                            .arg(theirs, 0, 'f', 1)
                            .arg(why);
    }
    // A mark that is measured twice errs by √2 less.
    std::vector<Join> joins;
    for (const JoinForecast& j : division.joins) joins.push_back(j.join);
    const double twice =
        worstOf(forecastJoins(division.hoopings, joins, options.method,
                              {division.noise.markMm / std::numbers::sqrt2, 0.05, 0}, 2000));
    text += tr(" Measuring every mark twice: %1 mm.").arg(twice, 0, 'f', 1);
    return text.trimmed();
}

} // namespace rapt::app
