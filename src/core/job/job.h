#pragma once
// The job: one value that everything else is derived from. Copies are cheap (large parts are
// shared and immutable); undo keeps earlier values. Frames as in docs/formats.md.

#include "base/value.h"
#include "geometry/pose.h"
#include "job/copies.h"
#include "job/observation.h"
#include "letter/lettering.h"
#include "recipe/shape.h"
#include "respace/options.h"
#include "thread/stitch_list.h"

#include <map>
#include <memory>
#include <optional>
#include <string>
#include <variant>
#include <vector>

namespace rapt {

/// What is to be embroidered, on what, with what.
struct Brief {
    std::string item;
    std::string fabric = "canvas";  ///< id in fabrics.json
    std::vector<std::string> hoops; ///< ids of the hoops owned
    std::string machine = "six-needle";
    int quantity = 1;
    double joinLimitMm = 0.5; ///< wider gaps between hoopings are seen
    double blankCost = 0;     ///< of one item, in the shop's currency
    double price = 0;         ///< asked for one item; 0: by the shop's margin
    bool floated = false; ///< on adhesive stabilizer in the frame, instead of clamped by its ring
    std::string extra;
    friend bool operator==(const Brief&, const Brief&) = default;
};

/// A place on the cloth: a circle, or what a closed outline surrounds.
struct ClothZone {
    Vec2 at;
    double radiusMm = 10;
    Polyline outline{}; ///< instead of the circle, if not empty

    /// Edges of an outline are undecided.
    bool contains(Vec2 p) const;
    /// Around the circle or the outline.
    Box box() const;
    friend bool operator==(const ClothZone&, const ClothZone&) = default;
};

/// Where the cloth is thick (seam, pocket): the limits are multiplied by the factor.
struct ThickZone : ClothZone {
    double limitFactor = 0.7;
    std::string extra;
    friend bool operator==(const ThickZone&, const ThickZone&) = default;
};

/// Where nothing may be sewn (button, zip, rivet).
struct ForbiddenZone : ClothZone {
    std::string name;
    std::string extra;
    friend bool operator==(const ForbiddenZone&, const ForbiddenZone&) = default;
};

/// A line of the garment: drawn on the cloth and on templates, never sewn. Cloth frame.
struct GuideLine {
    std::string name; ///< such as "neck edge"
    Polyline line;
    bool seam = false; ///< two layers are joined there: dense cover over it is to be avoided
    friend bool operator==(const GuideLine&, const GuideLine&) = default;
};

/// The item as it lies flat, with what is to be minded on it.
struct Cloth {
    double widthMm = 300; ///< the cloth lies centred on the datum
    double heightMm = 200;
    Rgb color{217, 207, 184};
    std::vector<ThickZone> thickZones;
    std::vector<ForbiddenZone> forbiddenZones{};
    std::vector<GuideLine> guides{};
    std::string extra{};

    /// Cloth frame.
    Box box() const { return Box::centredAt({0, 0}, widthMm, heightMm); }
    friend bool operator==(const Cloth&, const Cloth&) = default;
};

/// A stitch list that came from a file; `member` is its name inside the job's archive.
struct DesignContent {
    std::string member;
    std::shared_ptr<const StitchList> list;
    friend bool operator==(const DesignContent&, const DesignContent&) = default;
};
/// Something drawn or imported, stitched by recipe.
struct ShapeContent {
    std::shared_ptr<const Shape> shape;
    friend bool operator==(const ShapeContent&, const ShapeContent&) = default;
};
/// Words in a face, stitched as columns.
struct LetteringContent {
    std::shared_ptr<const Lettering> lettering;
    friend bool operator==(const LetteringContent&, const LetteringContent&) = default;
};
using PieceContent = std::variant<DesignContent, ShapeContent, LetteringContent>;

/// What a change of size keeps.
enum class Keep {
    spacing,  ///< recipes are stitched afresh at the new size
    stitches, ///< the same stitches are moved
};

/// How a piece gives way to what lies on it: stitching that later pieces hide is left out.
struct Relief {
    double tuckMm = 0.8;      ///< of it stays below the edge of the cover
    double coverLayers = 0.7; ///< a cover of at least so many layers hides
    friend auto operator<=>(const Relief&, const Relief&) = default;
};

/// One thing that is sewn: what it is, where it lies, how it is laid.
struct Piece {
    RAPT_VALUE(Piece);
    std::string id;
    std::string name;
    PieceContent content;
    Pose pose;
    Keep keep = Keep::spacing;
    RespaceOptions respacing;       ///< with the spacing kept: how exactly
    std::optional<Relief> relief;   ///< worked out anew whenever a piece moves
    std::vector<int> leftOutRuns;   ///< thread runs of the piece, from 1, that are not sewn
    bool locked = false;            ///< edits of pieces leave it alone
    bool hidden = false;            ///< neither shown nor sewn
    std::string group;              ///< pieces of one group are selected together; may be empty
    std::optional<Outline> outline; ///< sewn before the piece
    std::string extra;
    std::string poseExtra;
};

/// A customer's artwork under the cloth, to draw over. It is never stitched.
struct Artwork {
    std::string member; ///< of the archive: a PNG or JPEG
    Vec2 at;            ///< its middle, cloth frame
    double widthMm = 100;
    double opacity = 0.5;
    std::string extra;
    friend bool operator==(const Artwork&, const Artwork&) = default;
};

/// A named place on the cloth (cloth frame) that is marked, sewn or laid out as a card.
struct Mark {
    std::string name;
    Vec2 at;
    friend bool operator==(const Mark&, const Mark&) = default;
};

/// Some of the parts of a piece (divide/parts.h), by their numbers from 1.
struct PieceParts {
    std::string piece;
    std::vector<int> numbers;
    friend bool operator==(const PieceParts&, const PieceParts&) = default;
};

/// All of a hooping's list.
inline constexpr std::size_t allSewn = static_cast<std::size_t>(-1);

/// One position of a frame that holds the cloth.
struct Hooping {
    std::string hoop; ///< id in hoops.json
    int clamping = 1; ///< hoopings of one clamping follow each other and have the same number
    int position = 1; ///< of the frame, counted from 1
    Pose frame;       ///< the frame's own frame into the cloth frame
    Pose pose;        ///< the field frame of this position into the cloth frame
    std::vector<std::string> pieces; ///< ids, in the order they are sewn
    std::vector<PieceParts> parts;   ///< of these pieces only some parts; the others whole
    std::vector<Mark> marks;         ///< of the clamping, those in this field
    std::vector<Mark> witness;       ///< of later clampings: sewn here last, as crosses
    bool pinned = false;             ///< the person set it there; planning keeps it
    /// So many penetrations of its list are sewn, from the first; all of them from `allSewn` on.
    std::size_t sewn = 0;
    std::string sewnList{}; ///< member of the archive: its list as it was then; may be empty
    /// Neither planning nor judgements of room move it.
    bool stays() const { return pinned || sewn > 0; }
    std::string extra;
    friend bool operator==(const Hooping&, const Hooping&) = default;
};

/// Where a piece that fits no field is cut in two: sewn on both sides, a little over the path.
struct Cut {
    std::string piece; ///< id, also of a copy
    int element = 1;   ///< which of its separate elements, from 1 (divide/parts.h)
    Polyline path;     ///< from edge to edge, cloth frame
    friend bool operator==(const Cut&, const Cut&) = default;
};

/// What tells a job from all others, whatever it is called. Not part of what a job holds: jobs of
/// the same content are equal.
struct JobIdentity {
    std::string text; ///< empty until it is first saved
    friend bool operator==(const JobIdentity&, const JobIdentity&) { return true; }
};
/// A new one, unlike any other.
JobIdentity newIdentity();

/// Everything a person made; see the file's head.
struct Job {
    RAPT_VALUE(Job);
    JobIdentity identity; ///< made once, kept through saving as another name
    std::string name = "Untitled";
    Brief brief;
    Cloth cloth;
    std::vector<Piece> pieces; ///< in the order they are sewn
    std::vector<Repeat> repeats;
    std::optional<Artwork> artwork;
    std::vector<Hooping> hoopings;
    std::vector<Cut> cuts;         ///< of the plan above
    double predictedJoinRmsMm = 0; ///< of the hoopings above, by docs/measures.md
    /// Longer moves without stitches get a trim, shorter ones none; without a value every piece
    /// begins after a trim and the jumps inside designs stay as they are.
    std::optional<double> trimOverMm;
    std::vector<Registration> registrations;
    /// Members of the archive that are not stitch lists: scans, art, what we do not know.
    std::map<std::string, std::shared_ptr<const std::string>> members;
    std::string extra;

    /// The piece of that id, or the one that a copy or outline of that id comes from (`kite#2`,
    /// `kite:outline`); null if there is none.
    const Piece* piece(const std::string& id) const;
    /// As above, to be changed.
    Piece* piece(const std::string& id);
    /// The repeat that a piece is in, or null.
    const Repeat* repeatOf(const std::string& pieceId) const;
    /// The repeat of that id, or null.
    Repeat* repeat(const std::string& repeatId);
    /// What was seen of the clamping that a hooping (counted from 1) belongs to, or null.
    const Registration* registration(int hooping) const;
    /// The first hooping that sews a piece, a copy or an outline of it; null if none does.
    const Hooping* firstHoopingOf(const std::string& pieceId) const;
};

} // namespace rapt
