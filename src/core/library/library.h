#pragma once
// What a shop has: hoops, fabrics and machines, from data/*.json and the user's own files
// (docs/formats.md).

#include "base/result.h"
#include "geometry/vec2.h"
#include "library/camera.h"
#include "library/machine.h"
#include "library/practice.h"

#include <algorithm>
#include <optional>
#include <string>
#include <vector>

namespace rapt {

/// A tag fixed to a hoop's frame; its place is the tag's centre in the frame, which is the field
/// frame where the only field stands in the middle.
struct FrameTag {
    int id = 0;
    Vec2 at;
    double sizeMm = 12; ///< edge of the black square
};

/// Where the machine's field stands in a frame: a place in the field frame is turned and then
/// moved, which gives its place in the frame.
struct FramePosition {
    Vec2 at;
    double turnDeg = 0;
    friend bool operator==(const FramePosition&, const FramePosition&) = default;
};

/// A field that can stand anywhere between two places along the frame's x.
struct Slide {
    double fromMm = 0, toMm = 0;
};

/// A frame that holds the cloth once (a clamping) and offers the machine's field in one or several
/// positions (a hooping each).
struct Hoop {
    /// Of one position's field.
    enum class Shape { rect, rounded, oval };
    std::string id;
    std::string name;
    std::string kind; ///< single, two-sided, sliding, quarter-turn or stepped
    Shape shape = Shape::rect;
    double widthMm = 0; ///< of the field of one position
    double heightMm = 0;
    double cornerMm = 0; ///< radius of a rounded field's corners
    double outerWidthMm = 0;
    double outerHeightMm = 0;
    std::vector<double> turns{0};             ///< rotations in degrees that a clamping may have
    std::vector<FrameTag> tags;               ///< in the frame
    std::vector<FramePosition> positions{{}}; ///< numbered from 1; one in the middle with a slide
    std::optional<Slide> slide;
    double frameSigmaMm = 0.05; ///< how far positions of one clamping agree
    std::string arm = "left";   ///< side at which the machine holds it: left, right, back, front

    /// True if a needle can reach the place (field frame), with 0.001 mm to spare for rounding.
    bool reaches(Vec2 p) const;
    /// The box that the fields of all positions span, in the frame.
    Box reach() const;
    bool isSingle() const { return positions.size() == 1 && !slide; }
    /// The frame's outer edge.
    Box outer() const { return Box::centredAt({0, 0}, outerWidthMm, outerHeightMm); }
};

/// What a fabric takes. All values are starting values until stitch-outs teach better ones.
struct Fabric {
    std::string id;
    std::string name;
    double maxLayers = 3;
    double maxHits = 10; ///< penetrations per mm²
    double thicknessMm = 0.5;
    double usualStretchPercent = 1; ///< by how much it may come out longer when it is hooped
    std::optional<double> drawInMm; ///< learnt: of sewn cloth at a join; else half of the pull
    double pullMm = 0.2;            ///< added to the width of columns, as the thread draws them in
    double leastLetterMm = 5;       ///< cap height below which letters sink in
    double leastColumnMm = 1;       ///< narrower satins sink in or tear
    double mostColumnMm = 7;        ///< wider ones snag
    double tuckMm = 0.8;            ///< what stays of hidden stitching below the edge of a cover
    /// Needle points along a line, per mm, from which coated cloth tears; nothing for cloth that
    /// does not.
    std::optional<double> maxLineHits;
    /// Row spacing and pitch that leave the edges of what is sewn under maxLineHits: `usual` unless
    /// that is closer.
    double spacingFor(double usual) const {
        return maxLineHits ? std::max(usual, 1.3 / *maxLineHits) : usual;
    }
    /// Pitch of satins that leaves room for the runs below them (docs/measures.md): two layers at
    /// 0.40 mm, 0.6 below; on cloth that takes hardly more than the satin alone one run, 0.3.
    double pitchFor(double usual) const {
        const double below = maxLayers < 2.6 ? 0.3 : 0.6;
        return std::max(spacingFor(usual), 0.8 / std::max(1.0, maxLayers - below - 0.15));
    }
    std::string stabilizer;
    int stabilizerLayers = 1;
    std::string topper; ///< laid on top; may be empty
    std::string needle;
    int topSpeed = 800; ///< stitches per minute
    int stitchOuts = 0; ///< how many the limits were learnt from; 0 for house values
    std::string source; ///< where the limits come from, as shown to people
    friend bool operator==(const Fabric&, const Fabric&) = default;
};

/// All records, the user's among them.
struct Library {
    std::vector<Hoop> hoops;
    std::vector<Fabric> fabrics;
    std::vector<Machine> machines;
    std::vector<Camera> cameras; ///< calibrated by the user
    Practice practice;           ///< how well this person places things

    /// The record of that id, or an error (cannotDo) that names the known ones.
    Result<Hoop> hoop(const std::string& id) const;
    /// As `hoop`.
    Result<Fabric> fabric(const std::string& id) const;
    /// As `hoop`.
    Result<Machine> machine(const std::string& id) const;
};

/// Reads the application's library and then the user's, whose records replace those of the same
/// id, with what was learnt and accepted. A user's file that cannot be read is an error that names
/// it.
Result<Library> loadLibrary(const std::string& dataFolder, const std::string& userFolder);
/// The same without what was learnt (library/learnt.h).
Result<Library> loadHouseLibrary(const std::string& dataFolder, const std::string& userFolder);

/// Adds the frame to the user's hoops.json or replaces the one of the same id there; the others
/// stay. The file appears whole or not at all.
Status saveUserHoop(const Hoop& hoop, const std::string& userFolder);

/// What is wrong with a frame, one sentence each; empty if nothing is.
std::vector<std::string> problemsOf(const Hoop& hoop);

/// "house value", or "learnt from 4 stitch-outs".
std::string sourceOf(const Fabric& fabric);

/// What is wrong with the numbers of a fabric, one sentence each; empty if nothing is.
std::vector<std::string> problemsOf(const Fabric& fabric);

/// Adds the record to the user's fabrics.json or replaces the one of the same id there; the others
/// stay. The file appears whole or not at all.
Status saveUserFabric(const Fabric& fabric, const std::string& userFolder);

} // namespace rapt
