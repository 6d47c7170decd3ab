#pragma once
// From what was seen to what is sewn: hoopings moved and turned by their fit, and what to do where
// they then leave their field. Millimetres, degrees.

#include "divide/hooping_lists.h"
#include "registration/motion_fit.h"

namespace rapt {

/// Fits what a registration saw. Fails as fitObservations does.
Result<ObservationReport> fitOf(const Registration& registration);

/// A motion that was found in one hooping's field frame, in that of another of the same clamping.
Affine motionIn(const Hooping& seenIn, const Affine& motion, const Hooping& wanted);

/// Which registered hoopings are moved.
enum class Corrected {
    unlessRefused, ///< all but those that the person chose to sew as planned
    ifChosen,      ///< those alone that the person chose to sew with their correction
};

/// How it stands with what was seen of a clamping.
enum class CorrectionState {
    none,      ///< nothing was seen
    outdated,  ///< what was seen belongs to another plan: it says nothing of this one
    unfit,     ///< what was seen gives no fit
    asPlanned, ///< the person chose to sew it where it was planned
    open,      ///< nothing is chosen yet: sewn as planned until then
    chosen,    ///< sewn moved and turned
};

/// The one answer to where a hooping is really sewn; everybody who needs it asks for this.
struct AppliedCorrection {
    CorrectionState state = CorrectionState::none;
    std::optional<ObservationReport> report; ///< in the field frame of the hooping that was seen
    Affine motion; ///< planned to real places in the field frame of the hooping asked for
    Error problem; ///< why there is no fit

    /// True if there is a motion that says something of this plan.
    bool isKnown() const { return state >= CorrectionState::asPlanned; }
    /// True if the hooping is moved and turned.
    bool isSewn(Corrected which) const {
        return state == CorrectionState::chosen ||
               (state == CorrectionState::open && which == Corrected::unlessRefused);
    }
};
/// Of a hooping (counted from 1), by the registration of its clamping.
AppliedCorrection appliedCorrection(const Job& job, int hooping);

/// Its motion; nothing if there is none that says something of this plan. Whether the person chose
/// it is not asked.
std::optional<Affine> correctionOf(const Job& job, int hooping);

/// Where a place of the hooping's field (of a scan, of the needle) lies on the cloth as planned:
/// found by the correction once the person chose it, until then as if the cloth lay where it was
/// planned.
Affine fieldToCloth(const Job& job, int hooping);

/// What the plan of a clamping was when it was registered: changes when its frame, its hoop or its
/// marks do.
std::string planStamp(const Job& job, int hooping);

/// True if the plan of its clamping has changed since.
bool isOutdated(const Job& job, const Registration& registration);

/// A corrected hooping that its field does not hold.
struct FieldMiss {
    struct Edge {
        std::string side; ///< left, right, far or near
        double overMm = 0;
    };
    std::vector<Edge> edges; ///< the worst first
    double fits = 0;         ///< the largest share of the correction that the field holds, 0 to 1
    double fitsTurnDeg = 0;  ///< of it: the turn
    Vec2 fitsMove;           ///< and the move
    double leftMm = 0;       ///< what then stays uncorrected, at the worst place
    double clothTurnDeg = 0; ///< re-hooping: first turn the cloth so far about the frame's middle,
    Vec2 clothMove;          ///< then pull it so far, in the directions of the frame
    std::string text;        ///< all of it in words
};

/// Nothing if the field holds the list after the motion (field frame). `fieldToFrame`: where the
/// field stands in the frame, in which a person hoops again.
std::optional<FieldMiss> fieldMiss(const StitchList& list, const Affine& motion, const Hoop& hoop,
                                   const Affine& fieldToFrame = {});
/// Where the field of a hooping stands in its frame.
Affine fieldToFrame(const Hooping& hooping);

/// Where a pointer goes to show where a list will be sewn: its centre, its corners, and round its
/// hull, after a motion (field frame).
std::vector<Vec2> outlineWalk(const StitchList& list, const Affine& motion);

/// The list after a motion. Rounded to the units of stitches.
StitchList moved(const StitchList& list, const Affine& motion);

/// The lists of all hoopings, registered ones moved and turned by their fit. Fails (cannotDo) where
/// one leaves its field: with the edge, by how much, and the nearest re-hooping; and, where all are
/// to be moved that were not refused, for what was seen of another plan or does not fit the plan.
Result<std::vector<HoopingList>> correctedLists(const Job& job, std::vector<HoopingList> lists,
                                                const Library& library,
                                                Corrected which = Corrected::unlessRefused);

} // namespace rapt
