// Prints how well cloth is found: cards, datum lines, matched stitching and regions in made-up
// scans, what the stated uncertainty is worth, and the joins of hoopings that were really
// misplaced.
//   rapt-register-table [SEEDS [JOBS]]

#include "divide/division.h"
#include "job/edit.h"
#include "registration/correction.h"
#include "registration/proposals.h"
#include "scan/region.h"
#include "scan/stitch_match.h"
#include "standins/camera.h"
#include "standins/motif.h"
#include "thread/measures.h"

#include <algorithm>
#include <cstdio>
#include <cstdlib>
#include <random>

using namespace rapt;

namespace {

const Library& library() {
    static const Library lib = *loadLibrary(RAPT_DATA_FOLDER, "");
    return lib;
}

double share(std::vector<double> v, double part) {
    if (v.empty()) return 0;
    std::sort(v.begin(), v.end());
    return v[std::min(v.size() - 1,
                      static_cast<std::size_t>(part * static_cast<double>(v.size())))];
}

/// A field of patches, more than one hooping wide.
Job patches(std::uint64_t seed, int columns, int rows, double pitch) {
    std::mt19937_64 dice(seed);
    const auto within = [&](double a) {
        return a * (static_cast<double>(dice() % 2001) / 1000 - 1);
    };
    Job job;
    job.cloth.widthMm = columns * pitch + 120;
    job.cloth.heightMm = rows * pitch + 120;
    const Rgb colours[] = {{31, 78, 121}, {176, 58, 62}, {62, 110, 60}, {227, 167, 47}};
    for (int j = 0; j < rows; ++j)
        for (int i = 0; i < columns; ++i) {
            ShapePart part;
            part.thread = {1, colours[(i + j) % 4], 40, ""};
            const double w = 9 + 3 * std::abs(within(1)), h = 7 + 3 * std::abs(within(1));
            part.lines = {{{-w, -h}, {w, -h * 0.6}, {w * 0.8, h}, {-w * 0.7, h}}};
            part.angleDeg = within(80);
            Shape shape;
            shape.parts = {part};
            Piece piece;
            piece.id = "p" + std::to_string(j * columns + i);
            piece.name = piece.id;
            piece.content = ShapeContent{std::make_shared<const Shape>(shape)};
            piece.pose.x = (i - (columns - 1) / 2.0) * pitch + within(4);
            piece.pose.y = (j - (rows - 1) / 2.0) * pitch + within(4);
            job.pieces.push_back(piece);
        }
    return job;
}

std::optional<Job> divided(Job job, const char* hoop) {
    StitchCache cache;
    DivideOptions options{{*library().hoop(hoop)}};
    options.seconds = 1;
    const auto plan = divideIntoHoopings(job, cache, options, library());
    if (!plan) return std::nullopt;
    return setHoopings(plan->hoopings, 0, plan->cuts).change(job);
}

void scans(int seeds) {
    struct Case {
        const char* name;
        PhotographOptions options;
        bool camera = false;
    };
    std::vector<Case> cases(6);
    cases[0].name = "plain";
    cases[1].name = "tilt 25 deg";
    cases[1].options.tiltDeg = 25;
    cases[2].name = "blur 1.5 px";
    cases[2].options.blurPx = 1.5;
    cases[3].name = "shadow, uneven";
    cases[3].options.shadow = 0.5;
    cases[3].options.unevenLight = 0.3;
    cases[4].name = "all, creased";
    cases[4].options.tiltDeg = 18;
    cases[4].options.blurPx = 1.2;
    cases[4].options.shadow = 0.4;
    cases[4].options.unevenLight = 0.25;
    cases[4].options.creases = 0.6;
    cases[4].options.noise = 2;
    cases[5].name = "lens, calibrated";
    cases[5].options.distortion = {-0.12, 0.03, 0.001, -0.001};
    cases[5].camera = true;
    std::printf(
        "scans at 6 px/mm            cards mm          turn deg         datum mm         deg\n"
        "                          median  worst    median  worst    median  worst   worst\n");
    const Job job = *divided(patches(3, 2, 2, 40), "field-180x130");
    const Hoop hoop = *library().hoop("field-180x130");
    for (const Case& c : cases) {
        std::vector<double> off, turn, datum, datumTurn;
        for (int s = 1; s <= seeds; ++s) {
            PhotographOptions options = c.options;
            options.seed = static_cast<std::uint64_t>(s);
            const auto photo = photograph(job, library(), options);
            ScanOptions how;
            if (c.camera) how.camera = photo->camera;
            const auto reading = readScan(photo->picture, hoop, how);
            if (!reading) continue;
            for (const SeenCard& seen : reading->cards)
                for (const SeenCard& real : photo->truth.cards)
                    if (seen.id == real.id) {
                        off.push_back(distance(seen.at, real.at));
                        turn.push_back(std::abs(seen.rotationDeg - real.rotationDeg));
                    }
            if (!reading->datum) continue;
            datum.push_back(distance(reading->datum->at, photo->truth.datum->at));
            datumTurn.push_back(
                std::abs(reading->datum->rotationDeg - photo->truth.datum->rotationDeg));
        }
        std::printf(
            "  %-22s  %6.3f %6.3f    %6.2f %6.2f    %6.3f %6.3f  %6.2f   (%zu cards, %zu data)\n",
            c.name, share(off, 0.5), share(off, 1), share(turn, 0.5), share(turn, 1),
            share(datum, 0.5), share(datum, 1), share(datumTurn, 1), off.size(), datum.size());
    }
}

/// How often the true error at the corners of a field stays below what the fit states: of a radial
/// RMS r, 63 % below r and 95 % below 1.73 r where it is round.
void coverage(int seeds) {
    std::mt19937_64 dice(11);
    std::normal_distribution<double> normal;
    int inside = 0, wide = 0, all = 0;
    std::vector<double> chi;
    for (int s = 0; s < seeds; ++s) {
        const Affine truth =
            Pose{3 * normal(dice), 3 * normal(dice), normal(dice), false, 1, 1}.affine();
        const double turn = std::atan2(truth.c, truth.a) * 57.29577951308232;
        std::vector<Observation> seen;
        for (int i = 0; i < 3; ++i) {
            Observation o;
            o.kind = i == 0 ? Observation::Kind::card : Observation::Kind::point;
            o.planned = {60 * normal(dice), 40 * normal(dice)};
            o.sigmaMm = i == 0 ? 0.15 : 0.3;
            o.sigmaDeg = 0.8;
            o.seen = truth(o.planned) + Vec2{normal(dice), normal(dice)} * o.sigmaMm;
            o.seenTurnDeg = turn + 0.8 * normal(dice);
            seen.push_back(o);
        }
        Observation line;
        line.kind = Observation::Kind::line;
        line.plannedLine = {Vec2{-80, 5}, Vec2{80, 5}};
        line.sigmaMm = 0.2;
        for (const double x : {-70.0, 70.0})
            line.seenLine.push_back(truth({x, 5}) + Vec2{0, 0.2 * normal(dice)});
        seen.push_back(line);
        const auto report = fitObservations(seen);
        if (!report) continue;
        chi.push_back(report->fit.chi);
        for (const Vec2 corner : {Vec2{-90, -65}, {90, -65}, {90, 65}, {-90, 65}}) {
            const double error = distance(report->fit(corner), truth(corner));
            const double sigma = report->fit.sigmaAt(corner);
            inside += error < sigma;
            wide += error < 1.73 * sigma;
            ++all;
        }
    }
    std::printf(
        "stated uncertainty, %d seeds: %.1f %% within one, %.1f %% within 1.73 (about 63 to 68 "
        "and 95 wanted); chi median %.2f\n",
        seeds, 100.0 * inside / all, 100.0 * wide / all, share(chi, 0.5));
}

enum class By { cards, lines, stitching };

/// One job sewn clamping by clamping on cloth that is misplaced each time; the worst join gap a
/// join.
void sewMisplaced(const Job& planned, std::uint64_t seed, By by, std::vector<double>& gaps,
                  int& unknown) {
    Job job = planned;
    StitchCache cache;
    const auto lists = hoopingLists(job, library(), &cache);
    const auto joins = forecastPlan(job, library(), cache);
    if (!lists || !joins) return;
    // Where each hooping's stitches really are on the cloth: planned place → real place.
    std::vector<Affine> landed;
    std::vector<StitchList> sewn;
    for (std::size_t h = 0; h < job.hoopings.size(); ++h) {
        PhotographOptions options;
        options.hooping = static_cast<int>(h) + 1;
        options.seed = seed * 101 + h;
        options.sewn = sewn;
        options.cards = by == By::cards;
        options.datumLines = by == By::lines;
        const auto photo = photograph(job, library(), options);
        if (!photo) return;
        ScanTask task;
        task.job = &job;
        task.library = &library();
        task.lists = &*lists;
        task.hooping = options.hooping;
        task.sought = {by == By::cards, by == By::lines, false, by == By::stitching};
        const Hooping& hooping = job.hoopings[h];
        const Affine toField = hooping.pose.affine().inverse();
        Affine motion; // as planned: the first clamping, where nothing is sewn to match
        const auto found = proposalsFrom(photo->picture, task);
        Registration r;
        r.hooping = options.hooping;
        if (found) r.observations = found->found;
        const auto report = fitOf(r);
        const bool first = by == By::stitching && h == 0;
        if (report)
            motion = report->fit.map;
        else if (first)
            motion = toField.inverse()
                         .then(photo->clothToFrame)
                         .then(hooping.frame.affine().then(toField)); // aligned by eye
        else {
            ++unknown;
            return;
        }
        // A stitch meant for a cloth place goes to motion(field place) of the machine, where that
        // place of the cloth lies now.
        const Affine frameToField = hooping.frame.affine().then(toField);
        const Affine clothNow = photo->clothToFrame.then(frameToField);
        landed.push_back(toField.then(motion).then(clothNow.inverse()));
        StitchList list = (*lists)[h].list;
        sewn.push_back(moved(moved(list, hooping.pose.affine()), landed.back()));
    }
    for (const JoinForecast& j : *joins)
        gaps.push_back(
            distance(landed[j.join.earlier](j.join.at), landed[j.join.later](j.join.at)));
}

void joins(int jobs) {
    for (const auto& [by, name] : {std::pair{By::cards, "cards"},
                                   {By::lines, "datum lines"},
                                   {By::stitching, "stitching alone"}}) {
        std::vector<double> gaps;
        int unknown = 0;
        for (int s = 1; s <= jobs; ++s) {
            const auto seed = static_cast<std::uint64_t>(s);
            const auto job = divided(patches(seed, 5 + s % 2, 2 + s % 2, 30), "field-100x100");
            if (job) sewMisplaced(*job, seed, by, gaps, unknown);
        }
        std::printf(
            "joins by %-16s median %.2f, 95th percentile %.2f, worst %.2f mm (%zu joins, %d "
            "jobs given up)\n",
            name, share(gaps, 0.5), share(gaps, 0.95), share(gaps, 1), gaps.size(), unknown);
        std::fflush(stdout);
    }
}

/// Area and outline of the printed motif's patches as they are grown.
void regions(int seeds) {
    const Job job = *divided(patches(5, 1, 1, 40), "field-180x130");
    Job bare = job;
    const Hoop hoop = *library().hoop("field-180x130");
    std::vector<double> area, outline;
    for (int s = 1; s <= seeds; ++s) {
        PhotographOptions options;
        options.seed = static_cast<std::uint64_t>(s);
        options.motif = true;
        options.cards = false;
        options.datumLines = false;
        options.noise = 2;
        options.unevenLight = 0.25;
        const auto photo = photograph(bare, library(), options);
        ScanOptions how;
        how.findLines = false;
        const auto reading = readScan(photo->picture, hoop, how);
        if (!reading) continue;
        const FlatMap map{hoop.reach(), flatPxPerMm};
        const Image flat = flattened(photo->picture, reading->fieldToPicture, {}, map);
        for (const PrintedPatch& patch : printedMotif()) {
            Contours real = patch.outline;
            for (Polyline& line : real)
                for (Vec2& p : line) p = photo->clothToFrame(p);
            Vec2 inside = boundsOf(real[0]).centre();
            if (real.size() > 1) inside = inside + Vec2{5, 5};
            const auto grown = grownRegion(flat, map, inside, {});
            if (!grown) continue;
            area.push_back(std::abs(areaOf(*grown) / areaOf(real) - 1) * 100);
            outline.push_back(farthestFrom(real, *grown));
        }
    }
    std::printf("regions: area off by %.2f %% (median), %.2f %% at most; outline %.2f mm (median), "
                "%.2f at most (%zu patches)\n",
                share(area, 0.5), share(area, 1), share(outline, 0.5), share(outline, 1),
                area.size());
}

} // namespace

int main(int argc, char** argv) {
    const int seeds = argc > 1 ? std::atoi(argv[1]) : 20;
    const int jobs = argc > 2 ? std::atoi(argv[2]) : 200;
    scans(seeds);
    coverage(1000);
    regions(seeds);
    if (jobs > 0) joins(jobs);
}
