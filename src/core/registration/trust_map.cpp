#include "registration/trust_map.h"

#include "registration/correction.h"

#include <Eigen/Dense>

namespace rapt {
namespace {

// Of a two-dimensional normal error with radial RMS r: its median and 95th percentile.
constexpr double medianOfRms = 0.8326, p95OfRms = 1.7308;
// Cards lie inside the field with room around them.
constexpr double cardRoom = 12;

/// The way to what was seen, all of it together: smooth, and at most that to the nearest.
double wayTo(Vec2 p, const std::vector<Vec2>& seen) {
    double sum = 0;
    for (const Vec2& s : seen) sum += 1 / std::max(1e-6, dot(p - s, p - s));
    return sum > 0 ? 1 / std::sqrt(sum) : 0;
}

double groundAt(const TrustGround& g, Vec2 p) {
    const double way = g.perMm * wayTo(p, g.seen);
    double drawn = 0;
    for (const Box& box : g.sewn)
        drawn = std::max(drawn, g.drawInMm * std::exp(-distance(p, box.nearest(p)) / g.clothMm));
    return std::hypot(way, drawn);
}

/// The fit as it will be with one more point of that σ at a planned place.
MotionFit withPoint(const MotionFit& fit, Vec2 at, double sigmaMm) {
    using Matrix = Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, Eigen::RowMajor>;
    const auto n = static_cast<Eigen::Index>(
        std::lround(std::sqrt(static_cast<double>(fit.covariance.size()))));
    const Eigen::Map<const Matrix> old(fit.covariance.data(), n, n);
    const Vec2 image = fit(at) - fit.translation;
    Matrix j = Matrix::Zero(2, n);
    j(0, 0) = j(1, 1) = 1;
    j(0, 2) = -image.y;
    j(1, 2) = image.x;
    // Kalman's update: no inverse of what may be ill-conditioned.
    const Eigen::Matrix2d s =
        j * old * j.transpose() + sigmaMm * sigmaMm * Eigen::Matrix2d::Identity();
    const Matrix next = old - old * j.transpose() * s.inverse() * j * old;
    MotionFit with = fit;
    with.covariance.assign(next.data(), next.data() + next.size());
    return with;
}

double worstAt(const MotionFit& fit, const TrustGround& ground, const std::vector<Vec2>& places) {
    double worst = 0;
    for (const Vec2& p : places) worst = std::max(worst, trustAt(fit, ground, p));
    return worst;
}

/// Where a registered clamping really puts a place of the cloth, against the plan, and how surely.
struct Put {
    Vec2 off;
    double sigmaMm = 0;
};
std::optional<Put> putAt(const Job& job, int hooping, Vec2 onCloth) {
    const AppliedCorrection applied = appliedCorrection(job, hooping);
    if (!applied.isKnown()) return std::nullopt;
    const Hooping& seen =
        job.hoopings[static_cast<std::size_t>(job.registration(hooping)->hooping) - 1];
    const Affine toCloth = seen.pose.affine();
    const Vec2 inField = toCloth.inverse()(onCloth);
    Put put;
    put.sigmaMm = applied.report->fit.sigmaAt(inField);
    // Sewn as planned, a stitch meant for one place of the cloth lands on another.
    if (!applied.isSewn(Corrected::ifChosen))
        put.off = toCloth(applied.report->fit.map.inverse()(inField)) - onCloth;
    return put;
}

} // namespace

TrustGround trustGround(const Job& job, int hooping, const std::vector<HoopingList>& lists,
                        const Library& library) {
    TrustGround ground;
    ground.perMm = clothPerMm;
    const Registration* r = job.registration(hooping);
    const auto at = static_cast<std::size_t>(hooping) - 1;
    if (!r || at >= job.hoopings.size()) return ground;
    for (const Observation& o : r->observations) {
        if (o.leftOut) continue;
        if (o.kind != Observation::Kind::line) {
            ground.seen.push_back(o.planned);
        } else {
            // A line tells of the cloth all along.
            constexpr int along = 6;
            for (int k = 0; k <= along; ++k)
                ground.seen.push_back(
                    lerp(o.seenLine.front(), o.seenLine.back(), static_cast<double>(k) / along));
        }
        if (o.by == "card" || o.by == "line" || o.by == "stitching" || o.by == "cross")
            ground.perMm = library.cameras.empty() ? bareLensPerMm : clothPerMm;
    }
    const auto fabric = library.fabric(job.brief.fabric);
    ground.drawInMm = fabric ? fabric->drawInMm.value_or(fabric->pullMm / 2) : 0;
    const Affine toField = job.hoopings[at].pose.affine().inverse();
    for (std::size_t i = 0; i < at && i < lists.size(); ++i) {
        if (job.hoopings[i].clamping == job.hoopings[at].clamping || lists[i].extents.empty())
            continue;
        Box box;
        for (const Vec2 c : lists[i].extents.corners())
            box.add(toField(job.hoopings[i].pose.affine()(c)));
        ground.sewn.push_back(box);
    }
    return ground;
}

double trustAt(const MotionFit& fit, const TrustGround& ground, Vec2 place) {
    return std::hypot(fit.sigmaAt(place), groundAt(ground, place));
}

TrustMap trustMap(const MotionFit& fit, const TrustGround& ground, const Box& area) {
    TrustMap map;
    map.area = area;
    map.stepMm = std::max(2.0, std::max(area.width(), area.height()) / 120);
    map.columns = static_cast<int>(area.width() / map.stepMm) + 1;
    map.rows = static_cast<int>(area.height() / map.stepMm) + 1;
    for (int j = 0; j < map.rows; ++j)
        for (int i = 0; i < map.columns; ++i) {
            const Vec2 p = Vec2{area.minX, area.minY} + Vec2{i * map.stepMm, j * map.stepMm};
            map.values.push_back(trustAt(fit, ground, p));
            map.worst = std::max(map.worst, map.values.back());
        }
    return map;
}

double TrustMap::valueAt(Vec2 p) const {
    const auto cell = [&](double mm, double from, int count) {
        return std::clamp(static_cast<int>(std::lround((mm - from) / stepMm)), 0, count - 1);
    };
    const int i = cell(p.x, area.minX, columns), j = cell(p.y, area.minY, rows);
    return values[static_cast<std::size_t>(j * columns + i)];
}

std::vector<std::array<Vec2, 2>> TrustMap::contour(double level) const {
    std::vector<std::array<Vec2, 2>> lines;
    const auto value = [&](int i, int j) {
        return values[static_cast<std::size_t>(j * columns + i)] - level;
    };
    const auto place = [&](int i, int j) {
        return Vec2{area.minX + i * stepMm, area.minY + j * stepMm};
    };
    for (int j = 0; j + 1 < rows; ++j)
        for (int i = 0; i + 1 < columns; ++i) {
            // Marching squares over the two triangles of a cell: no ambiguous cases.
            const std::array<std::array<int, 2>, 4> at{
                {{i, j}, {i + 1, j}, {i + 1, j + 1}, {i, j + 1}}};
            for (const auto& triangle : {std::array{0, 1, 2}, std::array{0, 2, 3}}) {
                std::vector<Vec2> cuts;
                for (std::size_t k = 0; k < 3; ++k) {
                    const auto a = at[static_cast<std::size_t>(triangle[k])];
                    const auto b = at[static_cast<std::size_t>(triangle[(k + 1) % 3])];
                    const double va = value(a[0], a[1]), vb = value(b[0], b[1]);
                    if ((va < 0) != (vb < 0))
                        cuts.push_back(lerp(place(a[0], a[1]), place(b[0], b[1]), va / (va - vb)));
                }
                if (cuts.size() == 2) lines.push_back({cuts[0], cuts[1]});
            }
        }
    return lines;
}

std::optional<TrustAdvice> bestNextPlace(const MotionFit& fit, const TrustGround& ground,
                                         const Box& field, const std::vector<Vec2>& places,
                                         double sigmaMm) {
    TrustAdvice best{{}, worstAt(fit, ground, places), 0};
    best.afterMm = best.beforeMm;
    const Box room = field.grown(-cardRoom);
    if (room.width() <= 0 || room.height() <= 0) return std::nullopt;
    constexpr int across = 12;
    for (int j = 0; j <= across; ++j)
        for (int i = 0; i <= across; ++i) {
            const Vec2 p{room.minX + room.width() * i / across,
                         room.minY + room.height() * j / across};
            TrustGround with = ground;
            with.seen.push_back(p);
            const double after = worstAt(withPoint(fit, p, sigmaMm), with, places);
            if (after >= best.afterMm - 1e-6) continue;
            best.afterMm = after;
            best.at = p;
        }
    if (best.afterMm > 0.9 * best.beforeMm) return std::nullopt;
    return best;
}

std::vector<JoinCheck> checkJoins(const Job& job, const std::vector<JoinForecast>& forecast,
                                  const PlacingNoise& noise) {
    std::vector<JoinCheck> checks;
    for (const JoinForecast& f : forecast) {
        JoinCheck check{f.join, f.medianMm, f.p95Mm, false, false, true};
        const Hooping& a = job.hoopings[f.join.earlier];
        const Hooping& b = job.hoopings[f.join.later];
        const auto early = putAt(job, static_cast<int>(f.join.earlier) + 1, f.join.at);
        const auto late = putAt(job, static_cast<int>(f.join.later) + 1, f.join.at);
        if (a.clamping != b.clamping && (early || late)) {
            // What is not registered brings half of the forecast's spread.
            const double unknown = f.rmsMm / std::sqrt(2.0);
            const double spread = std::hypot(
                std::hypot(early ? early->sigmaMm : unknown, late ? late->sigmaMm : unknown),
                2 * noise.frameMm); // two axes of two frames
            // What the cloth draws in at the first one's edge stays, however well both are known.
            const double off = std::hypot(
                distance(early ? early->off : Vec2{}, late ? late->off : Vec2{}), noise.drawInMm);
            check.earlierKnown = early.has_value();
            check.laterKnown = late.has_value();
            check.medianMm = std::hypot(off, medianOfRms * spread);
            check.p95Mm = std::hypot(off, p95OfRms * spread);
        }
        check.held = check.p95Mm <= job.brief.joinLimitMm;
        checks.push_back(check);
    }
    return checks;
}

} // namespace rapt
