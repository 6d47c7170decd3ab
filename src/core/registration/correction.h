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

/// Planned to real places in the field frame of a hooping (counted from 1), by the registration of
/// its clamping; nothing if it has none that gives a fit. Whether the person chose it is not asked.
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
    double clothTurnDeg = 0; ///< re-hooping: how to turn the cloth about the frame's middle,
    Vec2 clothMove;          ///< after it was pulled so far
    std::string text;        ///< all of it in words
};

/// Nothing if the field holds the list after the motion (field frame).
std::optional<FieldMiss> fieldMiss(const StitchList& list, const Affine& motion, const Hoop& hoop);

/// Where a pointer goes to show where a list will be sewn: its centre, its corners, and round its
/// hull, after a motion (field frame).
std::vector<Vec2> outlineWalk(const StitchList& list, const Affine& motion);

/// The list after a motion. Rounded to the units of stitches.
StitchList moved(const StitchList& list, const Affine& motion);

/// Which registered hoopings are moved.
enum class Corrected {
    unlessRefused, ///< all but those that the person chose to sew as planned
    ifChosen,      ///< those alone that the person chose to sew with their correction
};

/// The lists of all hoopings, registered ones moved and turned by their fit. Fails (cannotDo) where
/// one leaves its field: with the edge, by how much, and the nearest re-hooping.
Result<std::vector<HoopingList>> correctedLists(const Job& job, std::vector<HoopingList> lists,
                                                const Library& library,
                                                Corrected which = Corrected::unlessRefused);

} // namespace rapt
