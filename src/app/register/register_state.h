#pragma once
// What Register shows and remembers while it is looked at; nothing of it is saved with the job.

#include "app/kit/lookup.h"
#include "check/check.h"
#include "registration/assessment.h"
#include "registration/proposals.h"

#include <QObject>
#include <QTimer>

namespace rapt::app {

/// What was found in a picture that was read, until the person takes it.
struct ProposedScan {
    int hooping = 1; ///< from 1
    Proposals proposals;
    std::shared_ptr<const std::string> bytes;
    std::vector<bool> ticked; ///< one for each that was found
};

class RegisterState : public QObject {
    Q_OBJECT
public:
    RegisterState();

    const ProposedScan* proposed() const { return waiting ? &*waiting : nullptr; }
    void propose(ProposedScan scan);
    void tick(std::size_t index, bool on);
    void dropProposed();

    /// From the cloth as it was scanned (0) to the stitches alone (1).
    double fade() const { return blinking.isActive() ? (blinkOn ? 1 : 0) : faded; }
    void setFade(double fade);
    /// Cloth and stitches by turns, to compare.
    bool isBlinking() const { return blinking.isActive(); }
    void setBlinking(bool on);

    /// The needle's pointer, field frame of the chosen hooping.
    std::optional<Vec2> pointer() const { return needle; }
    void setPointer(std::optional<Vec2> at);

    /// What was seen hides what is drawn on the scan.
    bool showsSeen() const { return seen; }
    void setShowsSeen(bool on) { seen = on; }
    bool showsTrust() const { return trust; }
    void setShowsTrust(bool on);

    std::uint64_t pictures = 0; ///< taken by the stand-in so far; each has a seed of its own

    /// What is drawn on the scan.
    double satinWidthMm = 0; ///< 0: a run
    double tolerance = 12;

    /// What is known of a registered hooping (from 1), worked out in the background; null while it
    /// is or where nothing was seen. `ready` follows.
    const Result<Assessment>* assessment(const Job& job, int hooping,
                                         std::shared_ptr<const PlannedLists> planned,
                                         std::shared_ptr<const Library> library);
    /// True while that goes on in the background.
    bool isBusy() const { return assessments.isBusy(); }

    /// From the tools: a click that a region is to be grown from (cloth frame), and the pointer
    /// where it stands.
    void askRegion(Vec2 at) { emit regionAsked(at); }
    void takePointer() { emit pointerTaken(); }

signals:
    void regionAsked(Vec2 at);
    void pointerTaken();
    void changed(); ///< what is shown
    void ready();   ///< the assessment is there

private:
    struct Key {
        Job job; ///< only what the assessment is made from
        int hooping = 1;
        std::shared_ptr<const PlannedLists> planned;
        std::shared_ptr<const Library> library;
        friend bool operator==(const Key&, const Key&) = default;
    };
    static Result<Assessment> assessed(const Key& key);

    std::optional<ProposedScan> waiting;
    double faded = 0.6;
    QTimer blinking;
    bool blinkOn = true;
    std::optional<Vec2> needle;
    bool trust = false, seen = true;
    Lookup<Key, Result<Assessment>> assessments;
};

} // namespace rapt::app
