#include "registration/guided.h"

#include "registration/correction.h"

#include <fmt/format.h>

namespace rapt {
namespace {

const char* frameCaution = "Hands clear of the frame and the needle before the machine moves.";

bool ticked(const Registration* r, const std::string& step) {
    return r && std::find(r->done.begin(), r->done.end(), step) != r->done.end();
}

bool isFound(const Registration* r) { return r && bool(fitOf(*r)); }

std::string marksText(const Hooping& h) {
    std::string text;
    for (std::size_t i = 0; i < h.marks.size(); ++i)
        text += (i == 0 ? "" : i + 1 == h.marks.size() ? " and " : ", ") + h.marks[i].name;
    return text.empty() ? "the marks" : text;
}

class Steps {
public:
    Steps(const Job& j, int n)
        : job(j), number(n), hooping(j.hoopings[static_cast<std::size_t>(n) - 1]),
          registration(j.registration(n)) {}

    std::vector<GuidedStep> run() {
        const bool sameClamping =
            number > 1 &&
            job.hoopings[static_cast<std::size_t>(number) - 2].clamping == hooping.clamping;
        if (sameClamping) {
            byHand("turn",
                   fmt::format("Bring the frame to position {}; the cloth stays clamped, so "
                               "the correction holds.",
                               hooping.position),
                   frameCaution);
            return steps;
        }
        if (methodOf(job) == Method::chain && hooping.clamping > 1)
            chain();
        else
            datum();
        return steps;
    }

private:
    void byHand(const char* id, std::string text, const char* caution = "") {
        steps.push_back({id, std::move(text), ticked(registration, id), true, caution});
    }
    void told(const char* id, std::string text, bool done) {
        steps.push_back({id, std::move(text), done, false, {}});
    }

    void chain() {
        const std::string marks = marksText(hooping);
        byHand("cards", fmt::format("Before you take the cloth out: lay a locator card on {}, or "
                                    "leave the sewn crosses there in.",
                                    marks));
        told("before", "Scan it in the frame as it is, so that each card's place is measured.",
             registration && !registration->placed.empty() &&
                 registration->placed.size() >= std::min<std::size_t>(2, hooping.marks.size()));
        byHand("hoop", "Hoop the cloth for this hooping. Leave the marks on it.", frameCaution);
        told("after",
             fmt::format("Scan again: {} are found, or it is said which is missing.", marks),
             isFound(registration));
        choice();
        byHand("remove", fmt::format("Only now take the cards or crosses off {}.", marks));
    }

    void datum() {
        byHand("draw", fmt::format("Draw the datum lines and {}, as the marking plan says.",
                                   marksText(hooping)));
        byHand("hoop", "Hoop the cloth with the frame's own centre marks on the lines.",
               frameCaution);
        told("find", "Scan it, or find two points with the needle, far from each other.",
             isFound(registration));
        choice();
    }

    void choice() {
        told("choose", "Choose: sew with the correction, hoop again, or sew as planned.",
             registration && registration->choice != CorrectionChoice::open &&
                 isFound(registration));
    }

    const Job& job;
    int number;
    const Hooping& hooping;
    const Registration* registration;
    std::vector<GuidedStep> steps;
};

/// Changes the registration of a hooping's clamping, which is begun if there is none.
Edit changing(std::string name, int hooping, std::function<void(Registration&)> change) {
    return {
        std::move(name), [hooping, change = std::move(change)](Job job) {
            if (const Registration* old = job.registration(hooping)) {
                change(job.registrations[static_cast<std::size_t>(old - job.registrations.data())]);
                return job;
            }
            Registration fresh;
            fresh.hooping = hooping;
            fresh.plan = planStamp(job, hooping);
            change(fresh);
            job.registrations.push_back(std::move(fresh));
            return job;
        }};
}

} // namespace

std::vector<GuidedStep> guidedSteps(const Job& job, int hooping) {
    if (hooping < 1 || hooping > static_cast<int>(job.hoopings.size())) return {};
    std::vector<GuidedStep> steps = Steps(job, hooping).run();
    // What the job tells of a later step tells of those before it, too.
    bool later = false;
    for (auto s = steps.rbegin(); s != steps.rend(); ++s) {
        if (s->byHand) s->done = s->done || later;
        later = later || (s->done && !s->byHand);
    }
    return steps;
}

std::optional<GuidedStep> nextStep(const std::vector<GuidedStep>& steps) {
    for (const GuidedStep& s : steps)
        if (!s.done) return s;
    return std::nullopt;
}

Method methodOf(const Job& job) {
    bool turn = job.hoopings.size() > 1;
    for (const Hooping& h : job.hoopings) {
        if (!h.witness.empty()) return Method::chain;
        turn = turn && h.clamping == job.hoopings.front().clamping;
    }
    return turn ? Method::turn : Method::datum;
}

Edit tickStep(int hooping, const std::string& step, bool done) {
    return changing(done ? "Step done" : "Step open again", hooping, [step, done](Registration& r) {
        std::erase(r.done, step);
        if (done) r.done.push_back(step);
    });
}

Edit chooseCorrection(int hooping, CorrectionChoice choice) {
    const char* names[] = {"Take the correction back", "Sew with the correction", "Sew as planned"};
    return changing(names[static_cast<int>(choice)], hooping,
                    [choice](Registration& r) { r.choice = choice; });
}

Edit setModel(int hooping, MotionModel model) {
    const char* names[] = {"Turn and move only", "Allow stretch", "Allow stretch and skew"};
    return changing(names[static_cast<int>(model)], hooping,
                    [model](Registration& r) { r.model = model; });
}

Edit leaveOut(int hooping, std::size_t observation, bool out) {
    return changing(out ? "Leave an observation out" : "Take an observation back", hooping,
                    [observation, out](Registration& r) {
                        if (observation < r.observations.size())
                            r.observations[observation].leftOut = out;
                    });
}

Edit addObservations(int hooping, std::vector<Observation> observations) {
    Edit edit = changing(
        "Take what was seen", hooping, [observations = std::move(observations)](Registration& r) {
            for (const Observation& o : observations) {
                std::erase_if(r.observations,
                              [&](const Observation& old) { return old.name == o.name; });
                r.observations.push_back(o);
            }
            // What was decided was decided on other grounds.
            r.choice = CorrectionChoice::open;
        });
    // A plan that changed since is what these were seen of.
    return {edit.name, [edit, hooping](Job job) {
                job = edit.change(std::move(job));
                const Registration* r = job.registration(hooping);
                auto& own =
                    job.registrations[static_cast<std::size_t>(r - job.registrations.data())];
                own.plan = planStamp(job, own.hooping);
                return job;
            }};
}

Edit takeScan(int hooping, std::vector<Observation> observations,
              std::shared_ptr<const std::string> bytes) {
    const Edit add = addObservations(hooping, std::move(observations));
    return {"Take the scan", [add, hooping, bytes = std::move(bytes)](Job job) {
                job = add.change(std::move(job));
                auto& r = job.registrations[static_cast<std::size_t>(job.registration(hooping) -
                                                                     job.registrations.data())];
                const bool png = bytes->starts_with("\x89PNG");
                job.members.erase(r.scan);
                r.scan = fmt::format("scans/hooping-{:02}.{}", r.hooping, png ? "png" : "jpg");
                job.members[r.scan] = bytes;
                return job;
            }};
}

Edit removeObservation(int hooping, std::size_t observation) {
    return changing("Forget an observation", hooping, [observation](Registration& r) {
        if (observation < r.observations.size())
            r.observations.erase(r.observations.begin() + static_cast<std::ptrdiff_t>(observation));
    });
}

Edit setPlacedCards(int hooping, std::vector<PlacedCard> cards) {
    return changing(
        "Measure the cards before hooping", hooping, [cards = std::move(cards)](Registration& r) {
            for (const PlacedCard& c : cards) {
                std::erase_if(r.placed, [&](const PlacedCard& o) { return o.id == c.id; });
                r.placed.push_back(c);
            }
        });
}

} // namespace rapt
