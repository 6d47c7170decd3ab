#pragma once
// The short way to a registered hooping, step by step, for each school of registration. What is
// done is kept with the job.

#include "divide/forecast.h"
#include "job/edit.h"

namespace rapt {

/// One step of the way.
struct GuidedStep {
    std::string id;   ///< stable name, kept with the job when a person ticks it
    std::string text; ///< what to do
    bool done = false;
    bool byHand = true;  ///< only the person knows that it is done; else the job tells
    std::string caution; ///< where work can hurt someone; may be empty
};

/// The steps for a hooping (from 1), in order; of a hooping whose clamping was registered before,
/// the turn of the frame alone.
std::vector<GuidedStep> guidedSteps(const Job& job, int hooping);

/// The first step that is not done; none when all are.
std::optional<GuidedStep> nextStep(const std::vector<GuidedStep>& steps);

/// By which school the plan's later clampings are found.
Method methodOf(const Job& job);

/// Ticks or unticks a step of a hooping.
Edit tickStep(int hooping, const std::string& step, bool done);

/// Keeps, leaves out or chooses: what a person does with a registration, as edits.
Edit chooseCorrection(int hooping, CorrectionChoice choice);
Edit setModel(int hooping, MotionModel model);
Edit leaveOut(int hooping, std::size_t observation, bool out);
/// Adds observations; those of the same name are replaced.
Edit addObservations(int hooping, std::vector<Observation> observations);
/// The same from a scan, whose bytes are kept with the job.
Edit takeScan(int hooping, std::vector<Observation> observations,
              std::shared_ptr<const std::string> bytes);
Edit removeObservation(int hooping, std::size_t observation);
/// Where the cards of a hooping's marks were measured before the cloth was taken out.
Edit setPlacedCards(int hooping, std::vector<PlacedCard> cards);

} // namespace rapt
