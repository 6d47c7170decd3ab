#include "formats/job_json.h"

#include "base/json_fields.h"
#include "formats/copies_json.h"
#include "formats/lettering_json.h"
#include "formats/observations_json.h"
#include "formats/shape_json.h"
#include "formats/stitch_csv.h"
#include "job/groups.h"

#include <fmt/format.h>
#include <set>

namespace rapt {
using nlohmann::json;
namespace {

constexpr double farMm = 1e6;
constexpr double maxScale = 1e4;

double scaleFrom(const json& value, const std::string& path) {
    const double s = numberOf(value, path, -maxScale, maxScale);
    if (s == 0) throw FieldError{path, "must not be 0"};
    return s;
}

Pose poseFrom(const Fields& f) {
    Pose p;
    p.x = f.number("x", 0, -farMm, farMm);
    p.y = f.number("y", 0, -farMm, farMm);
    p.rotationDeg = f.number("rotation_deg", 0, -1e6, 1e6);
    p.mirror = f.flag("mirror", false);
    if (f.has("scale")) {
        const json& scale = f.array("scale");
        if (scale.size() != 2) throw FieldError{f.path("scale"), "must be [sx, sy]"};
        p.scaleX = scaleFrom(scale[0], f.path("scale"));
        p.scaleY = scaleFrom(scale[1], f.path("scale"));
    }
    return p;
}

json poseJson(const Pose& p) {
    return {{"x", p.x},
            {"y", p.y},
            {"rotation_deg", p.rotationDeg},
            {"mirror", p.mirror},
            {"scale", {p.scaleX, p.scaleY}}};
}

Rgb colorFrom(const Fields& f, const char* key, Rgb fallback) {
    if (f.has(key) && !parseRgb(f.text(key), fallback))
        throw FieldError{f.path(key), "must be a colour of the form #rrggbb"};
    return fallback;
}

Brief briefFrom(const Fields& f) {
    Brief b;
    b.item = f.text("item", "");
    b.fabric = f.text("fabric", b.fabric);
    b.machine = f.text("machine", b.machine);
    b.quantity = f.integer("quantity", 1, 1, 1'000'000);
    for (const json& hoop : f.array("hoops")) {
        if (!hoop.is_string()) throw FieldError{f.path("hoops"), "must be a list of hoop ids"};
        b.hoops.push_back(hoop.get<std::string>());
    }
    b.joinLimitMm = f.number("join_limit_mm", b.joinLimitMm, 0.05, 100);
    b.floated = f.flag("floated", false);
    b.blankCost = f.number("blank_cost", 0, 0, 1e9);
    b.price = f.number("price", 0, 0, 1e9);
    b.extra = f.unknown({"item", "fabric", "machine", "quantity", "hoops", "floated",
                         "join_limit_mm", "blank_cost", "price"});
    return b;
}

json briefJson(const Brief& b) {
    json j{{"item", b.item},
           {"fabric", b.fabric},
           {"hoops", b.hoops},
           {"machine", b.machine},
           {"quantity", b.quantity}};
    if (b.joinLimitMm != Brief().joinLimitMm) j["join_limit_mm"] = b.joinLimitMm;
    if (b.floated) j["floated"] = true;
    if (b.blankCost > 0) j["blank_cost"] = b.blankCost;
    if (b.price > 0) j["price"] = b.price;
    restoreUnknown(j, b.extra);
    return j;
}

/// A circle, or an outline of points; x and y are then of no meaning but kept.
ClothZone zoneFrom(const Fields& z) {
    ClothZone zone;
    const bool outlined = z.has("points");
    zone.at = {outlined ? z.number("x", 0, -farMm, farMm) : z.number("x", -farMm, farMm),
               outlined ? z.number("y", 0, -farMm, farMm) : z.number("y", -farMm, farMm)};
    zone.radiusMm = z.positive("radius_mm", zone.radiusMm);
    if (outlined) {
        zone.outline = polylineFromJson(z.raw("points"), z.path("points"));
        if (zone.outline.size() < 3) throw FieldError{z.path("points"), "must be three or more"};
    }
    return zone;
}

json zoneJson(const ClothZone& z) {
    json zone{{"x", z.at.x}, {"y", z.at.y}, {"radius_mm", z.radiusMm}};
    if (!z.outline.empty()) zone["points"] = polylineToJson(z.outline);
    return zone;
}

Cloth clothFrom(const Fields& f) {
    Cloth c;
    c.widthMm = f.positive("width_mm", c.widthMm);
    c.heightMm = f.positive("height_mm", c.heightMm);
    c.color = colorFrom(f, "color", c.color);
    const json& thick = f.array("thick_zones");
    for (std::size_t i = 0; i < thick.size(); ++i) {
        const Fields z(thick[i], fmt::format("{}[{}]", f.path("thick_zones"), i));
        ThickZone zone;
        static_cast<ClothZone&>(zone) = zoneFrom(z);
        zone.limitFactor = z.positive("limit_factor", zone.limitFactor);
        zone.extra = z.unknown({"x", "y", "radius_mm", "points", "limit_factor"});
        c.thickZones.push_back(std::move(zone));
    }
    const json& forbidden = f.array("forbidden_zones");
    for (std::size_t i = 0; i < forbidden.size(); ++i) {
        const Fields z(forbidden[i], fmt::format("{}[{}]", f.path("forbidden_zones"), i));
        ForbiddenZone zone;
        static_cast<ClothZone&>(zone) = zoneFrom(z);
        zone.name = z.text("name", "");
        zone.extra = z.unknown({"x", "y", "radius_mm", "points", "name"});
        c.forbiddenZones.push_back(std::move(zone));
    }
    const json& guides = f.array("guides");
    for (std::size_t i = 0; i < guides.size(); ++i) {
        const Fields g(guides[i], fmt::format("{}[{}]", f.path("guides"), i));
        c.guides.push_back({g.text("name", ""), polylineFromJson(g.raw("points"), g.path("points")),
                            g.flag("seam", false)});
    }
    c.extra =
        f.unknown({"width_mm", "height_mm", "color", "thick_zones", "forbidden_zones", "guides"},
                  {{"guides", {"name", "points", "seam"}}});
    return c;
}

json clothJson(const Cloth& c) {
    json j{{"width_mm", c.widthMm},
           {"height_mm", c.heightMm},
           {"color", formatRgb(c.color)},
           {"thick_zones", json::array()}};
    for (const ThickZone& z : c.thickZones) {
        json zone = zoneJson(z);
        zone["limit_factor"] = z.limitFactor;
        restoreUnknown(zone, z.extra);
        j["thick_zones"].push_back(std::move(zone));
    }
    for (const ForbiddenZone& z : c.forbiddenZones) {
        json zone = zoneJson(z);
        zone["name"] = z.name;
        restoreUnknown(zone, z.extra);
        j["forbidden_zones"].push_back(std::move(zone));
    }
    for (const GuideLine& g : c.guides) {
        json guide{{"name", g.name}, {"points", polylineToJson(g.line)}};
        if (g.seam) guide["seam"] = true;
        j["guides"].push_back(std::move(guide));
    }
    restoreUnknown(j, c.extra);
    return j;
}

/// Stitch lists read so far, so that pieces of the same member share one.
using Designs = std::map<std::string, std::shared_ptr<const StitchList>>;

DesignContent designFrom(const Fields& f, const ArchiveMembers& members, Designs& designs) {
    const std::string member = f.text("design");
    if (!isInsideName(member)) throw FieldError{f.path("design"), "leads out of the archive"};
    auto& list = designs[member];
    if (!list) {
        const auto it = members.find(member);
        if (it == members.end())
            throw FieldError{f.path("design"),
                             fmt::format("names '{}', which is not in the archive", member)};
        Result<StitchList> parsed = parseStitchCsv(*it->second, "");
        if (!parsed) throw FieldError{member + ": " + parsed.error().place, parsed.error().reason};
        list = std::make_shared<const StitchList>(std::move(*parsed));
    }
    return {member, list};
}

/// How a piece is stitched at its size and below other pieces.
void readStitching(const Fields& f, Piece& p) {
    if (f.has("respacing")) {
        const Fields r = f.child("respacing");
        RespaceOptions& o = p.respacing;
        o.spacingShare = r.number("share", o.spacingShare, 0, 1);
        if (r.has("spacing_mm")) o.spacingMm = r.number("spacing_mm", 0.1, 5);
        o.shortestMm = r.number("shortest_mm", o.shortestMm, 0, 5);
        o.longestMm = r.number("longest_mm", o.longestMm, 1, maxStitchMm);
    }
    if (f.has("relief")) {
        const Fields r = f.child("relief");
        p.relief.emplace();
        p.relief->tuckMm = r.number("tuck_mm", p.relief->tuckMm, 0, 10);
        p.relief->coverLayers = r.number("cover_layers", p.relief->coverLayers, 0.1, 10);
    }
    for (const json& run : f.array("left_out_runs"))
        p.leftOutRuns.push_back(
            static_cast<int>(numberOf(run, f.path("left_out_runs"), 1, 1'000'000)));
}

void writeStitching(const Piece& p, json& j) {
    const RespaceOptions& o = p.respacing;
    if (o != RespaceOptions{}) {
        json r{
            {"share", o.spacingShare}, {"shortest_mm", o.shortestMm}, {"longest_mm", o.longestMm}};
        if (o.spacingMm) r["spacing_mm"] = *o.spacingMm;
        j["respacing"] = std::move(r);
    }
    if (p.relief)
        j["relief"] = {{"tuck_mm", p.relief->tuckMm}, {"cover_layers", p.relief->coverLayers}};
    if (!p.leftOutRuns.empty()) j["left_out_runs"] = p.leftOutRuns;
}

Piece pieceFrom(const Fields& f, const ArchiveMembers& members, Designs& designs) {
    Piece p;
    p.id = f.text("id");
    if (p.id.empty()) throw FieldError{f.path("id"), "must not be empty"};
    p.name = f.text("name", p.id);
    const int kinds = f.has("design") + f.has("shape") + f.has("lettering");
    if (kinds > 1)
        throw FieldError{f.path("id"), "has more than one of design, shape and lettering"};
    if (f.has("design")) {
        p.content = designFrom(f, members, designs);
    } else if (f.has("shape")) {
        p.content = ShapeContent{std::make_shared<const Shape>(shapeFromJson(f.child("shape")))};
    } else if (f.has("lettering")) {
        p.content = LetteringContent{
            std::make_shared<const Lettering>(letteringFromJson(f.child("lettering")))};
    } else {
        throw FieldError{f.path("id"), "has none of design, shape and lettering"};
    }
    if (f.has("pose")) {
        p.pose = poseFrom(f.child("pose"));
        p.poseExtra = f.child("pose").unknown({"x", "y", "rotation_deg", "mirror", "scale"});
    }
    const std::string keep = f.text("keep", "spacing");
    if (keep != "spacing" && keep != "stitches")
        throw FieldError{f.path("keep"), "must be spacing or stitches"};
    p.keep = keep == "spacing" ? Keep::spacing : Keep::stitches;
    readStitching(f, p);
    p.locked = f.flag("locked", false);
    p.hidden = f.flag("hidden", false);
    p.group = normalGroup(f.text("group", ""));
    if (f.has("outline")) p.outline = outlineFromJson(f.child("outline"));
    p.extra = f.unknown({"id", "name", "design", "shape", "lettering", "pose", "keep", "locked",
                         "hidden", "group", "outline", "respacing", "relief", "left_out_runs"},
                        {{"respacing", {"share", "spacing_mm", "shortest_mm", "longest_mm"}},
                         {"relief", {"tuck_mm", "cover_layers"}}});
    return p;
}

json pieceJson(const Piece& p) {
    json pose = poseJson(p.pose);
    restoreUnknown(pose, p.poseExtra);
    json j{{"id", p.id},
           {"name", p.name},
           {"pose", pose},
           {"keep", p.keep == Keep::spacing ? "spacing" : "stitches"}};
    writeStitching(p, j);
    if (p.locked) j["locked"] = true;
    if (p.hidden) j["hidden"] = true;
    if (!p.group.empty()) j["group"] = p.group;
    if (p.outline) j["outline"] = outlineToJson(*p.outline);
    if (const auto* design = std::get_if<DesignContent>(&p.content))
        j["design"] = design->member;
    else if (const auto* shape = std::get_if<ShapeContent>(&p.content))
        j["shape"] = shapeToJson(*shape->shape);
    else
        j["lettering"] = letteringToJson(*std::get<LetteringContent>(p.content).lettering);
    restoreUnknown(j, p.extra);
    return j;
}

std::vector<Mark> marksFrom(const Fields& f, const char* key) {
    std::vector<Mark> marks;
    const json& list = f.array(key);
    for (std::size_t i = 0; i < list.size(); ++i) {
        const Fields m(list[i], fmt::format("{}[{}]", f.path(key), i));
        marks.push_back(
            {m.text("name"), {m.number("x", -farMm, farMm), m.number("y", -farMm, farMm)}});
    }
    return marks;
}

json marksJson(const std::vector<Mark>& marks) {
    json list = json::array();
    for (const Mark& m : marks) list.push_back({{"name", m.name}, {"x", m.at.x}, {"y", m.at.y}});
    return list;
}

/// `true`, or how many penetrations.
std::size_t sewnFrom(const Fields& f) {
    if (!f.has("sewn")) return 0;
    if (f.raw("sewn").is_boolean()) return f.flag("sewn", false) ? allSewn : 0;
    return static_cast<std::size_t>(f.integer("sewn", 0, 0, 100'000'000));
}

/// `number`: which clamping it is in a plan that names none.
Hooping hoopingFrom(const Fields& f, int number) {
    Hooping h;
    h.hoop = f.text("hoop");
    h.pose = poseFrom(f.child("pose"));
    for (const json& id : f.array("pieces")) {
        if (!id.is_string()) throw FieldError{f.path("pieces"), "must be a list of piece ids"};
        h.pieces.push_back(id.get<std::string>());
    }
    h.marks = marksFrom(f, "marks");
    h.witness = marksFrom(f, "witness");
    h.clamping = f.integer("clamping", number, 1, 100'000);
    h.position = f.integer("position", 1, 1, 1000);
    h.frame = f.has("frame_pose") ? poseFrom(f.child("frame_pose")) : h.pose;
    h.pinned = f.flag("pinned", false);
    h.sewn = sewnFrom(f);
    h.sewnList = f.text("sewn_list", "");
    const json& parts = f.array("parts");
    for (std::size_t i = 0; i < parts.size(); ++i) {
        const Fields p(parts[i], fmt::format("{}[{}]", f.path("parts"), i));
        PieceParts some{p.text("piece"), {}};
        for (const json& n : p.array("numbers"))
            some.numbers.push_back(static_cast<int>(numberOf(n, p.path("numbers"), 1, 1'000'000)));
        h.parts.push_back(std::move(some));
    }
    h.extra = f.unknown({"hoop", "pose", "pieces", "marks", "clamping", "position", "frame_pose",
                         "pinned", "parts", "witness", "sewn", "sewn_list"},
                        {{"pose", {"x", "y", "rotation_deg", "mirror", "scale"}},
                         {"frame_pose", {"x", "y", "rotation_deg", "mirror", "scale"}},
                         {"marks", {"name", "x", "y"}},
                         {"witness", {"name", "x", "y"}},
                         {"parts", {"piece", "numbers"}}});
    return h;
}

json hoopingJson(const Hooping& h) {
    json j{{"hoop", h.hoop},
           {"clamping", h.clamping},
           {"position", h.position},
           {"frame_pose", poseJson(h.frame)},
           {"pose", poseJson(h.pose)},
           {"pieces", h.pieces},
           {"marks", marksJson(h.marks)}};
    if (!h.witness.empty()) j["witness"] = marksJson(h.witness);
    if (h.pinned) j["pinned"] = true;
    if (h.sewn == allSewn)
        j["sewn"] = true;
    else if (h.sewn > 0)
        j["sewn"] = h.sewn;
    if (!h.sewnList.empty()) j["sewn_list"] = h.sewnList;
    for (const PieceParts& p : h.parts)
        j["parts"].push_back({{"piece", p.piece}, {"numbers", p.numbers}});
    restoreUnknown(j, h.extra);
    return j;
}

template<class Value>
Value namedValue(const Fields& f, const char* key, std::initializer_list<Value> values) {
    const std::string name = f.text(key, nameOf(*values.begin()));
    for (const Value v : values)
        if (name == nameOf(v)) return v;
    throw FieldError{f.path(key), fmt::format("'{}' is not known here", name)};
}

/// Older jobs have points, seen or not yet.
void readSeenPoints(const Fields& f, Registration& r) {
    const json& points = f.array("points");
    for (std::size_t i = 0; i < points.size(); ++i) {
        const Fields p(points[i], fmt::format("{}[{}]", f.path("points"), i));
        Observation o;
        o.name = p.text("name");
        o.planned = placeFrom(p.raw("planned"), p.path("planned"));
        if (!p.has("seen") || p.raw("seen").is_null()) continue;
        o.seen = placeFrom(p.raw("seen"), p.path("seen"));
        r.observations.push_back(std::move(o));
    }
}

Registration registrationFrom(const Fields& f) {
    Registration r;
    r.hooping = f.integer("hooping", 1, 1, 100'000);
    r.scan = f.text("scan", "");
    readSeenPoints(f, r);
    const json& list = f.array("observations");
    for (std::size_t i = 0; i < list.size(); ++i)
        r.observations.push_back(
            observationFrom(Fields(list[i], fmt::format("{}[{}]", f.path("observations"), i))));
    using enum MotionModel;
    r.model = namedValue(f, "model", {rigid, stretch, skew});
    using enum CorrectionChoice;
    r.choice = namedValue(f, "choice", {open, corrected, asPlanned});
    r.plan = f.text("plan", "");
    for (const json& step : f.array("done"))
        if (step.is_string()) r.done.push_back(step.get<std::string>());
    for (std::size_t i = 0; i < f.array("placed").size(); ++i) {
        const Fields p(f.array("placed")[i], fmt::format("{}[{}]", f.path("placed"), i));
        r.placed.push_back({p.integer("id", 0, 0, 586),
                            {p.number("x", -farMm, farMm), p.number("y", -farMm, farMm)},
                            p.number("rotation_deg", 0, -360, 360)});
    }
    r.extra = f.unknown(
        {"hooping", "scan", "points", "observations", "model", "choice", "plan", "done", "placed"},
        {{"placed", {"id", "x", "y", "rotation_deg"}}});
    return r;
}

json registrationJson(const Registration& r) {
    json j{{"hooping", r.hooping}, {"scan", r.scan}, {"observations", json::array()}};
    for (const Observation& o : r.observations) j["observations"].push_back(observationJson(o));
    if (r.model != MotionModel::rigid) j["model"] = nameOf(r.model);
    if (r.choice != CorrectionChoice::open) j["choice"] = nameOf(r.choice);
    if (!r.plan.empty()) j["plan"] = r.plan;
    if (!r.done.empty()) j["done"] = r.done;
    for (const PlacedCard& c : r.placed)
        j["placed"].push_back(
            {{"id", c.id}, {"x", c.at.x}, {"y", c.at.y}, {"rotation_deg", c.turnDeg}});
    restoreUnknown(j, r.extra);
    return j;
}

void readPieces(const Fields& root, const ArchiveMembers& members, Job& job) {
    Designs designs;
    std::set<std::string> ids;
    const json& pieces = root.array("pieces");
    for (std::size_t i = 0; i < pieces.size(); ++i) {
        const std::string where = fmt::format("pieces[{}]", i);
        Piece piece = pieceFrom(Fields(pieces[i], where), members, designs);
        if (!ids.insert(piece.id).second)
            throw FieldError{where + ".id", fmt::format("'{}' is used twice", piece.id)};
        job.pieces.push_back(std::move(piece));
    }
    for (const auto& [name, bytes] : members)
        if (name != "job.json" && !designs.contains(name)) job.members[name] = bytes;
}

void readRepeats(const Fields& root, Job& job) {
    const json& repeats = root.array("repeats");
    for (std::size_t i = 0; i < repeats.size(); ++i) {
        const std::string where = fmt::format("repeats[{}]", i);
        Repeat repeat = repeatFromJson(Fields(repeats[i], where));
        if (job.repeat(repeat.id))
            throw FieldError{where + ".id", fmt::format("'{}' is used twice", repeat.id)};
        for (const std::string& id : repeat.pieces) {
            const Piece* piece = job.piece(id);
            if (!piece || piece->id != id)
                throw FieldError{where + ".pieces",
                                 fmt::format("names '{}', which is no piece of the job", id)};
            if (job.repeatOf(id))
                throw FieldError{where + ".pieces",
                                 fmt::format("'{}' is in another repeat already", id)};
        }
        job.repeats.push_back(std::move(repeat));
    }
}

} // namespace

Job jobFromJson(const json& root, const ArchiveMembers& members) {
    const Fields f(root, "");
    const int version = f.integer("rapt_job", 0, 0, 1'000'000);
    if (version != 1)
        throw FieldError{"rapt_job", f.has("rapt_job")
                                         ? fmt::format("version {} of jobs is not known; version 1 "
                                                       "is read",
                                                       version)
                                         : "is missing: this is not a job"};
    Job job;
    job.identity.text = f.text("id", "");
    job.name = f.text("name", job.name);
    if (f.has("brief")) job.brief = briefFrom(f.child("brief"));
    if (f.has("cloth")) job.cloth = clothFrom(f.child("cloth"));
    readPieces(f, members, job);
    readRepeats(f, job);
    if (f.has("artwork")) {
        job.artwork = artworkFromJson(f.child("artwork"));
        if (!job.members.contains(job.artwork->member))
            throw FieldError{
                "artwork.member",
                fmt::format("names '{}', which is not in the archive", job.artwork->member)};
    }
    const json& hoopings = f.array("hoopings");
    for (std::size_t i = 0; i < hoopings.size(); ++i)
        job.hoopings.push_back(hoopingFrom(Fields(hoopings[i], fmt::format("hoopings[{}]", i)),
                                           static_cast<int>(i) + 1));
    for (std::size_t i = 0; i < job.hoopings.size(); ++i)
        if (const std::string& member = job.hoopings[i].sewnList;
            !member.empty() && !job.members.contains(member))
            throw FieldError{fmt::format("hoopings[{}].sewn_list", i),
                             fmt::format("names '{}', which is not in the archive", member)};
    const json& cuts = f.array("cuts");
    for (std::size_t i = 0; i < cuts.size(); ++i) {
        const Fields c(cuts[i], fmt::format("cuts[{}]", i));
        job.cuts.push_back({c.text("piece"), c.integer("element", 1, 1, 1'000'000),
                            polylineFromJson(c.raw("path"), c.path("path"))});
    }
    job.predictedJoinRmsMm = f.number("predicted_join_rms_mm", 0, 0, farMm);
    if (f.has("trim_over_mm")) job.trimOverMm = f.number("trim_over_mm", 0, farMm);
    const json& registrations = f.array("registrations");
    for (std::size_t i = 0; i < registrations.size(); ++i)
        job.registrations.push_back(
            registrationFrom(Fields(registrations[i], fmt::format("registrations[{}]", i))));
    job.extra = f.unknown({"rapt_job", "name", "brief", "cloth", "pieces", "hoopings",
                           "predicted_join_rms_mm", "registrations", "repeats", "artwork",
                           "trim_over_mm", "cuts", "id"},
                          {{"cuts", {"piece", "element", "path"}}});
    return job;
}

json jobToJson(const Job& job) {
    json j{{"rapt_job", 1},
           {"id", job.identity.text},
           {"name", job.name},
           {"brief", briefJson(job.brief)},
           {"cloth", clothJson(job.cloth)}};
    json pieces = json::array();
    for (const Piece& p : job.pieces) pieces.push_back(pieceJson(p));
    j["pieces"] = std::move(pieces);
    if (!job.repeats.empty()) {
        j["repeats"] = json::array();
        for (const Repeat& r : job.repeats) j["repeats"].push_back(repeatToJson(r));
    }
    if (job.trimOverMm) j["trim_over_mm"] = *job.trimOverMm;
    if (job.artwork) j["artwork"] = artworkToJson(*job.artwork);
    if (!job.hoopings.empty()) {
        json hoopings = json::array();
        for (const Hooping& h : job.hoopings) hoopings.push_back(hoopingJson(h));
        j["hoopings"] = std::move(hoopings);
        j["predicted_join_rms_mm"] = job.predictedJoinRmsMm;
        for (const Cut& c : job.cuts)
            j["cuts"].push_back(
                {{"piece", c.piece}, {"element", c.element}, {"path", polylineToJson(c.path)}});
    }
    if (!job.registrations.empty()) {
        json registrations = json::array();
        for (const Registration& r : job.registrations)
            registrations.push_back(registrationJson(r));
        j["registrations"] = std::move(registrations);
    }
    restoreUnknown(j, job.extra);
    return j;
}

} // namespace rapt
