#include "registration/proposals.h"

#include "divide/marks.h"
#include "registration/correction.h"
#include "scan/stitch_match.h"
#include "scan/tags.h"

#include <fmt/format.h>
#include <numbers>

namespace rapt {
namespace {

constexpr double degreesPerRadian = 180 / std::numbers::pi;
constexpr double noteSquareDeg = 0.5, farLineMm = 12;
// Sewn witness crosses and stitching draw the cloth a little.
constexpr double sewnSigmaMm = 0.1, sewnSigmaDeg = 0.12;

std::optional<Camera> cameraOf(const Image& picture, const std::vector<Camera>& cameras) {
    if (picture.takenBy.empty()) return std::nullopt;
    const Camera* c = cameraFor(cameras, picture.takenBy, picture.width, picture.height);
    return c ? std::optional(*c) : std::nullopt;
}

double turnOfAxes(const Affine& map) { return std::atan2(map.c, map.a) * degreesPerRadian; }

/// Works through what one picture shows of one hooping.
class Proposing {
public:
    Proposing(const Image& p, const ScanTask& t, const Hoop& h)
        : picture(p), task(t), hoop(h),
          hooping(t.job->hoopings[static_cast<std::size_t>(t.hooping) - 1]),
          frameToField(hooping.frame.affine().then(hooping.pose.affine().inverse())),
          clothToField(hooping.pose.affine().inverse()) {}

    Result<Proposals> run() {
        ScanOptions options;
        options.camera = cameraOf(picture, task.library->cameras);
        options.others = task.library->hoops;
        options.findLines = task.sought.lines;
        options.stop = task.stop;
        if (task.progress) options.progress = [&](double share) { task.progress(share * 0.7); };
        auto reading = readScan(picture, hoop, options);
        if (!reading) return reading.error();
        result.reading = std::move(*reading);
        if (task.sought.cards) takeCards();
        if (task.sought.lines) takeLines();
        if (task.stop.stop_requested()) return cancelled();
        if (task.sought.crosses || task.sought.stitching) takeStitching();
        if (task.stop.stop_requested()) return cancelled();
        if (paper) { // where it lies is meant; lines and marks say where the cloth was planned
            if (result.found.size() > 0)
                result.notes.push_back("the template says where the design is to come; nothing "
                                       "else is taken");
            result.found = {*paper};
        } else {
            nameMissing();
        }
        if (task.progress) task.progress(1);
        return std::move(result);
    }

private:
    void takeCards() {
        const Registration* r = task.job->registration(task.hooping);
        const double frameTurn = turnOfAxes(frameToField);
        for (const SeenCard& card : result.reading.cards) {
            if (card.id >= templateCardId) {
                takeTemplate(card);
                continue;
            }
            Observation o;
            o.kind = Observation::Kind::card;
            o.by = "card";
            o.seen = frameToField(card.at);
            o.seenTurnDeg = normalizedDegrees(card.rotationDeg + frameTurn);
            const PlacedCard* placed = r ? placedOf(*r, card.id) : nullptr;
            const auto mark = static_cast<std::size_t>(card.id - firstCardId);
            if (placed) {
                // Measured where it lies: both scans bring their own error, no hand does.
                o.name = fmt::format("card {}", card.id);
                o.planned = clothToField(placed->at);
                o.plannedTurnDeg = placed->turnDeg + turnOfAxes(clothToField);
                o.sigmaMm = card.sigmaMm * std::sqrt(2.0);
                o.sigmaDeg = card.sigmaDeg * std::sqrt(2.0);
            } else if (mark < hooping.marks.size()) {
                o.name = hooping.marks[mark].name;
                o.planned = clothToField(hooping.marks[mark].at);
                o.plannedTurnDeg = turnOfAxes(clothToField);
                o.sigmaMm = std::hypot(card.sigmaMm, cardOnMarkSigmaMm);
                o.sigmaDeg = std::hypot(card.sigmaDeg, cardOnMarkSigmaDeg);
            } else {
                result.notes.push_back(
                    fmt::format("card {} belongs to no mark of this hooping", card.id));
                continue;
            }
            o.plannedTurnDeg = normalizedDegrees(o.plannedTurnDeg);
            found.push_back(mark);
            result.found.push_back(std::move(o));
        }
    }

    /// The paper itself lies where the design is to come.
    void takeTemplate(const SeenCard& card) {
        const int of = card.id - templateCardId;
        if (of != task.hooping) {
            result.notes.push_back(
                of == 0 ? std::string("the template on the cloth shows no hooping: choose its card "
                                      "and the place that it stands for by hand")
                        : fmt::format("the template on the cloth is that of hooping {}", of));
            return;
        }
        if (!task.lists || task.hooping > static_cast<int>(task.lists->size())) return;
        const Box& extents = (*task.lists)[static_cast<std::size_t>(task.hooping) - 1].extents;
        Observation o = cardUnder(hooping, card, templateCardAt(extents));
        o.name = "template";
        o.sigmaMm = std::hypot(card.sigmaMm, printedSigmaMm);
        paper = std::move(o);
    }

    static const PlacedCard* placedOf(const Registration& r, int id) {
        for (const PlacedCard& p : r.placed)
            if (p.id == id) return &p;
        return nullptr;
    }

    void takeLines() {
        const ScanReading& r = result.reading;
        if (r.line) takeLine(*r.line, true);
        if (!r.datum) return;
        takeLine(r.datum->level, false);
        takeLine(r.datum->upright, false);
        if (r.datum->squareErrorDeg > noteSquareDeg)
            result.notes.push_back(fmt::format(
                "the drawn lines are {:.1f}° out of square; draw the more {} one again",
                r.datum->squareErrorDeg,
                lengthOf(r.datum->level) < lengthOf(r.datum->upright) ? "level" : "upright"));
    }

    /// Two places of the line, at its ends, on the straight line through all that was found. A line
    /// that stands alone must lie about where the plan has one.
    void takeLine(const SeenLine& line, bool alone) {
        const Vec2 across = clothToField(Vec2{1, 0}) - clothToField(Vec2{0, 0});
        const Vec2 way = frameToField(line.way) - frameToField(Vec2{0, 0});
        const bool isAcross = std::abs(dot(way, across)) > std::abs(cross(way, across));
        Observation o;
        o.kind = Observation::Kind::line;
        o.name = isAcross ? "line across" : "line down";
        o.by = "line";
        o.plannedLine = {clothToField(Vec2{0, 0}),
                         clothToField(isAcross ? Vec2{100, 0} : Vec2{0, 100})};
        double least = 1e9, most = -1e9;
        for (const Vec2& p : line.places) {
            const double s = dot(line.way, p - line.at);
            least = std::min(least, s);
            most = std::max(most, s);
        }
        for (const double s : {least, most})
            o.seenLine.push_back(frameToField(line.at + line.way * s));
        const Vec2 planned = (o.plannedLine[1] - o.plannedLine[0]) * 0.01;
        const double off = std::abs(cross(planned, frameToField(line.at) - o.plannedLine[0]));
        if (alone && off > farLineMm) return;
        o.sigmaMm = std::hypot(drawnLineSigmaMm, line.sigmaMm);
        result.found.push_back(std::move(o));
    }

    /// What earlier clampings sewed into this frame's reach: their crosses one by one, the rest as
    /// a whole.
    void takeStitching() {
        if (!task.lists) return;
        const FlatMap map{hoop.reach(), std::min(flatPxPerMm, result.reading.pxPerMm)};
        const Affine clothToFrame = hooping.frame.affine().inverse();
        Image flat;
        const auto picturesFlat = [&]() -> const Image& {
            if (flat.pixels.empty())
                flat =
                    flattened(picture, result.reading.fieldToPicture, result.reading.camera, map);
            return flat;
        };
        if (task.sought.crosses)
            for (const Mark& m : hooping.marks)
                if (isSewn(m)) takeCross(m, picturesFlat(), map, clothToFrame);
        if (!task.sought.stitching) return;
        const StitchList sewn = sewnInto(map.area, clothToFrame);
        MatchReach reach;
        reach.leastStitches = 60;
        if (const auto match =
                matchStitches(picturesFlat(), map, sewn, reach, result.reading.covered, task.stop))
            result.found.push_back(cardLike(*match, "earlier stitching", "stitching"));
    }

    bool isSewn(const Mark& mark) const {
        for (const Hooping& h : task.job->hoopings) {
            if (h.clamping >= hooping.clamping) continue;
            for (const Mark& w : h.witness)
                if (w.at == mark.at) return true;
        }
        return false;
    }

    void takeCross(const Mark& mark, const Image& flat, const FlatMap& map,
                   const Affine& clothToFrame) {
        StitchList cross;
        cross.threads.push_back({1, {150, 150, 150}, 40, ""});
        const Vec2 at = clothToFrame(mark.at);
        for (const Vec2 arm : {Vec2{crossArmMm, 0}, Vec2{0, crossArmMm}}) {
            const Vec2 turned = clothToFrame(mark.at + arm) - at;
            cross.stitches.push_back(stitchAt(Op::jump, at - turned, 1));
            for (const double s : {-1.0, -0.33, 0.33, 1.0})
                cross.stitches.push_back(stitchAt(Op::stitch, at + turned * s, 1));
        }
        const auto match = matchStitches(flat, map, cross, {7, 4}, {}, task.stop);
        if (!match || match->agreement < 0.6) return;
        Observation o = cardLike(*match, mark.name, "cross");
        o.kind = Observation::Kind::point;
        o.planned = clothToField(mark.at);
        for (std::size_t i = 0; i < hooping.marks.size(); ++i)
            if (hooping.marks[i] == mark) found.push_back(i);
        result.found.push_back(std::move(o));
    }

    Observation cardLike(const StitchMatch& match, const std::string& name, const char* by) const {
        Observation o;
        o.kind = Observation::Kind::card;
        o.name = name;
        o.by = by;
        o.planned = frameToField(match.expected);
        o.seen = frameToField(match.seen);
        o.plannedTurnDeg = 0;
        o.seenTurnDeg = match.turnDeg;
        o.sigmaMm = std::hypot(match.sigmaMm, sewnSigmaMm);
        o.sigmaDeg = std::hypot(match.sigmaDeg, sewnSigmaDeg);
        return o;
    }

    /// In the frame, where the plan has it: all that may have come into its reach.
    StitchList sewnInto(const Box& reach, const Affine& clothToFrame) const {
        std::vector<std::size_t> earlier;
        StitchList list;
        for (std::size_t i = 0; i < static_cast<std::size_t>(task.hooping) - 1; ++i) {
            if (task.job->hoopings[i].clamping == hooping.clamping) continue;
            const Affine toFrame = task.job->hoopings[i].pose.affine().then(clothToFrame);
            append(list, (*task.lists)[i].list, toFrame, reach.grown(MatchReach().mm));
        }
        return list;
    }

    static void append(StitchList& list, const StitchList& from, const Affine& map,
                       const Box& reach) {
        std::array<std::uint8_t, 256> index{};
        for (const Thread& t : from.threads) {
            const auto same = std::find_if(list.threads.begin(), list.threads.end(),
                                           [&](const Thread& o) { return o.sameThread(t); });
            if (same != list.threads.end()) {
                index[t.index] = same->index;
                continue;
            }
            if (list.threads.size() >= 255) continue;
            Thread added = t;
            added.index = static_cast<std::uint8_t>(list.threads.size() + 1);
            index[t.index] = added.index;
            list.threads.push_back(added);
        }
        bool outside = true;
        for (const Stitch& s : from.stitches) {
            if (s.op != Op::stitch && s.op != Op::jump) continue;
            const Vec2 p = map(s.at());
            const bool in = reach.contains(p);
            // A stitch from outside lays no thread that could be compared.
            if (in)
                list.stitches.push_back(stitchAt(outside ? Op::jump : s.op, p, index[s.thread]));
            outside = !in;
        }
    }

    void nameMissing() {
        if (!task.sought.cards && !task.sought.crosses) return;
        for (std::size_t i = 0; i < hooping.marks.size(); ++i)
            if (std::find(found.begin(), found.end(), i) == found.end())
                result.missing.push_back(hooping.marks[i].name);
    }

    const Image& picture;
    const ScanTask& task;
    const Hoop& hoop;
    const Hooping& hooping;
    Affine frameToField, clothToField;
    Proposals result;
    std::optional<Observation> paper; ///< a template on the cloth
    std::vector<std::size_t> found;   ///< marks
};

Result<Hoop> hoopOf(const ScanTask& task) {
    const auto count = static_cast<int>(task.job->hoopings.size());
    if (task.hooping < 1 || task.hooping > count)
        return cannotDo(
            count == 0 ? "no hoopings are planned; divide the job first"
                       : fmt::format("the job has hoopings 1 to {}, not {}", count, task.hooping));
    return task.library->hoop(task.job->hoopings[static_cast<std::size_t>(task.hooping) - 1].hoop);
}

} // namespace

Result<Proposals> proposalsFrom(const Image& picture, const ScanTask& task) {
    const auto hoop = hoopOf(task);
    if (!hoop) return hoop.error();
    return Proposing(picture, task, *hoop).run();
}

Result<CardsBefore> cardsBefore(const Image& picture, const ScanTask& task, int next) {
    const auto hoop = hoopOf(task);
    if (!hoop) return hoop.error();
    ScanOptions options;
    options.camera = cameraOf(picture, task.library->cameras);
    options.others = task.library->hoops;
    options.findLines = false;
    options.stop = task.stop;
    options.progress = task.progress;
    auto reading = readScan(picture, *hoop, options);
    if (!reading) return reading.error();
    const Hooping& now = task.job->hoopings[static_cast<std::size_t>(task.hooping) - 1];
    const Hooping& then = task.job->hoopings.at(static_cast<std::size_t>(next) - 1);
    // What is sewn here lies where the correction put it; the cloth is read against that.
    const Affine frameToField = now.frame.affine().then(now.pose.affine().inverse());
    Affine toCloth = frameToField;
    if (const auto applied = appliedCorrection(*task.job, task.hooping);
        applied.isSewn(Corrected::ifChosen))
        toCloth = toCloth.then(applied.motion.inverse());
    toCloth = toCloth.then(now.pose.affine());
    CardsBefore result;
    for (const SeenCard& c : reading->cards) {
        const auto mark = static_cast<std::size_t>(c.id - firstCardId);
        if (mark < then.marks.size())
            result.placed.push_back(
                {c.id, toCloth(c.at), normalizedDegrees(c.rotationDeg + turnOfAxes(toCloth))});
    }
    for (std::size_t i = 0; i < then.marks.size(); ++i)
        if (std::none_of(result.placed.begin(), result.placed.end(), [&](const PlacedCard& p) {
                return p.id == firstCardId + static_cast<int>(i);
            }))
            result.missing.push_back(then.marks[i].name);
    result.reading = std::move(*reading);
    return result;
}

Observation pointSeen(const Hooping& hooping, const Mark& mark, Vec2 seen, const std::string& by,
                      double sigmaMm) {
    Observation o;
    o.name = mark.name;
    o.planned = hooping.pose.affine().inverse()(mark.at);
    o.seen = seen;
    o.by = by;
    o.sigmaMm = sigmaMm;
    return o;
}

Observation cardUnder(const Hooping& hooping, const SeenCard& card, Vec2 planned) {
    const Affine frameToField = hooping.frame.affine().then(hooping.pose.affine().inverse());
    Observation o;
    o.kind = Observation::Kind::card;
    o.name = fmt::format("card {}", card.id);
    o.by = "card";
    o.planned = planned;
    o.seen = frameToField(card.at);
    o.seenTurnDeg = normalizedDegrees(card.rotationDeg + turnOfAxes(frameToField));
    o.sigmaMm = card.sigmaMm;
    o.sigmaDeg = card.sigmaDeg;
    return o;
}

Vec2 anchorOf(const Box& box, int ninth) {
    return {box.minX + box.width() * (ninth % 3) / 2.0,
            box.minY + box.height() * (ninth / 3) / 2.0};
}

Result<FlatScan> flatScan(const std::string& bytes, const std::string& name, const Hoop& hoop,
                          const std::vector<Camera>& cameras, double marginMm, double pxPerMm,
                          std::stop_token stop) {
    const auto picture = decodeImage(bytes, name);
    if (!picture) return picture.error();
    ScanOptions options;
    options.camera = cameraOf(*picture, cameras);
    options.findLines = false;
    options.stop = stop;
    const auto reading = readScan(*picture, hoop, options);
    if (!reading) return reading.error();
    const FlatMap map{hoop.reach().grown(marginMm), pxPerMm};
    return FlatScan{flattened(*picture, reading->fieldToPicture, reading->camera, map), map};
}

} // namespace rapt
