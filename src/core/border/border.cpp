#include "border/border.h"

#include "job/stitching.h"
#include "place/sizing.h"
#include "thread/measures.h"

#include <fmt/format.h>

namespace rapt {
namespace {

struct Side {
    int count = 0;
    double unit = 0;
};

/// Whole motifs over a length, each within the stretch that is allowed.
Result<Side> sideOf(double lengthMm, double baseMm, const char* what, double cornersMm) {
    const int n = std::max(1, static_cast<int>(std::lround(lengthMm / baseMm)));
    for (const int count : {n, n - 1, n + 1}) {
        if (count < 1) continue;
        const double unit = lengthMm / count;
        if (std::abs(unit / baseMm - 1) <= mostBorderStretch + 1e-9) return Side{count, unit};
    }
    // Longest with one fewer, shortest with one more.
    const int fewer = static_cast<int>(std::floor(lengthMm / baseMm));
    const double shorter = fewer * baseMm * (1 + mostBorderStretch);
    const double longer = (fewer + 1) * baseMm * (1 - mostBorderStretch);
    std::string text =
        fmt::format("no whole number of motifs makes {} of {:.1f} mm with at most 8 % of stretch; ",
                    what, lengthMm + cornersMm);
    text += fewer > 0
                ? fmt::format("{:.1f} or {:.1f} mm work", shorter + cornersMm, longer + cornersMm)
                : fmt::format("{:.1f} mm works", longer + cornersMm);
    return cannotDo(text);
}

/// A design piece that is exactly so wide and high in its own directions, its middle at `at`.
Result<Piece> sized(const StitchList& motif, const std::string& member, double width, double height,
                    double turnDeg, Vec2 at) {
    Piece piece;
    piece.content = DesignContent{member, std::make_shared<const StitchList>(motif)};
    piece.keep = Keep::spacing;
    piece.pose.rotationDeg = turnDeg;
    const auto pose = resizedTo(piece, width, height, false);
    if (!pose) return pose.error();
    piece.pose = *pose;
    const auto stitched = stitchPieces({&piece}, {});
    if (!stitched) return stitched.error();
    const Vec2 middle = extentsOf(stitched->list).centre();
    piece.pose.x += at.x - middle.x;
    piece.pose.y += at.y - middle.y;
    return piece;
}

class BorderMaker {
public:
    BorderMaker(const StitchList& m, const std::string& n, const BorderRequest& r,
                const BorderPlan& p)
        : motif(m), member(n), request(r), plan(p) {}

    Result<Job> run() {
        const double w = request.lengthMm, strip = request.stripMm;
        job.name = motif.name.empty() ? "Border" : motif.name + " border";
        if (!request.heightMm) {
            job.cloth.widthMm = w + 60;
            job.cloth.heightMm = strip + 60;
            if (Status s = addSide("strip", "Strip", plan.along, plan.alongMm, 0, {0, 0}); !s)
                return s.error();
            return std::move(job);
        }
        const double h = *request.heightMm;
        job.cloth.widthMm = w + 60;
        job.cloth.heightMm = h + 60;
        const double x = (w - strip) / 2, y = (h - strip) / 2;
        struct Wanted {
            const char* id;
            const char* name;
            double turn;
            Vec2 at;
        };
        // Tops of the motifs outwards, sewn clockwise.
        for (const Wanted& side :
             {Wanted{"far", "Far side", 0, {0, -y}}, Wanted{"right", "Right side", 90, {x, 0}},
              Wanted{"near", "Near side", 180, {0, y}},
              Wanted{"left", "Left side", -90, {-x, 0}}}) {
            const bool level = side.at.x == 0;
            if (Status s = addSide(side.id, side.name, level ? plan.along : plan.down,
                                   level ? plan.alongMm : plan.downMm, side.turn, side.at);
                !s)
                return s.error();
        }
        if (request.corner == BorderCorner::block)
            for (const Wanted& c : {Wanted{"corner-1", "Corner 1", 0, {-x, -y}},
                                    Wanted{"corner-2", "Corner 2", 90, {x, -y}},
                                    Wanted{"corner-3", "Corner 3", 180, {x, y}},
                                    Wanted{"corner-4", "Corner 4", -90, {-x, y}}})
                if (Status s = addCorner(c.id, c.name, c.turn, c.at); !s) return s.error();
        return std::move(job);
    }

private:
    /// One motif at the side's first place, and its copies along the side.
    Status addSide(const std::string& id, const std::string& name, int count, double unit,
                   double turn, Vec2 middle) {
        const bool level = std::abs(std::remainder(turn, 180)) < 1;
        const double first = -(count - 1) * unit / 2;
        const Vec2 at = middle + (level ? Vec2{first, 0} : Vec2{0, first});
        auto piece = sized(motif, member, unit, request.stripMm, turn, at);
        if (!piece) return piece.error();
        piece->id = id;
        piece->name = name;
        job.pieces.push_back(*piece);
        if (count < 2) return done();
        if (count > mostCopies)
            return cannotDo(
                fmt::format("{} would take {} motifs, and a row has at most {}; make the "
                            "motif larger or the border shorter",
                            name, count, mostCopies));
        Repeat repeat;
        repeat.id = id + "-copies";
        repeat.pieces = {id};
        repeat.columns = level ? count : 1;
        repeat.rows = level ? 1 : count;
        repeat.byGap = false;
        repeat.acrossMm = repeat.downMm = unit;
        job.repeats.push_back(repeat);
        return done();
    }

    /// One motif in proportion, as large as the corner's square.
    Status addCorner(const std::string& id, const std::string& name, double turn, Vec2 at) {
        const Box box = extentsOf(motif);
        const double k = request.stripMm / std::max(box.width(), box.height());
        auto piece = sized(motif, member, box.width() * k, box.height() * k, turn, at);
        if (!piece) return piece.error();
        piece->id = id;
        piece->name = name;
        job.pieces.push_back(*piece);
        return done();
    }

    const StitchList& motif;
    const std::string& member;
    const BorderRequest& request;
    const BorderPlan& plan;
    Job job;
};

} // namespace

Result<BorderPlan> planBorder(const Box& motif, const BorderRequest& request) {
    if (motif.empty() || motif.width() <= 0 || motif.height() <= 0)
        return cannotDo("the motif has no width or no height");
    if (!(request.stripMm > 0 && request.stripMm <= 2000))
        return cannotDo("a strip is over 0 and at most 2000 mm wide");
    if (!(request.lengthMm > 0 && request.lengthMm <= 9000) ||
        (request.heightMm && !(*request.heightMm > 0 && *request.heightMm <= 9000)))
        return cannotDo("a border is over 0 and at most 9000 mm long and high");
    BorderPlan plan;
    plan.scaleAcross = request.stripMm / motif.height();
    const double base = motif.width() * plan.scaleAcross;
    const double corners = request.heightMm ? 2 * request.stripMm : 0;
    if (request.lengthMm <= corners || (request.heightMm && *request.heightMm <= corners))
        return cannotDo(
            fmt::format("two corners of {:.1f} mm leave no side; a frame is larger than "
                        "{:.1f} mm both ways",
                        request.stripMm, corners));
    const auto along = sideOf(request.lengthMm - corners, base, "a length", corners);
    if (!along) return along.error();
    plan.along = along->count;
    plan.alongMm = along->unit;
    plan.scaleAlong = along->unit / motif.width();
    if (!request.heightMm) return plan;
    const auto down = sideOf(*request.heightMm - corners, base, "a height", corners);
    if (!down) return down.error();
    plan.down = down->count;
    plan.downMm = down->unit;
    plan.scaleDown = down->unit / motif.width();
    return plan;
}

Result<Job> borderJob(const StitchList& motif, const std::string& member,
                      const BorderRequest& request) {
    const auto plan = planBorder(extentsOf(motif), request);
    if (!plan) return plan.error();
    return BorderMaker(motif, member, request, *plan).run();
}

} // namespace rapt
