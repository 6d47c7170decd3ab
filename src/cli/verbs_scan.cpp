// photograph, calibrate, locate: pictures of the hooped cloth.

#include "cli/output.h"
#include "cli/run.h"

#include "base/file_io.h"
#include "formats/job_file.h"
#include "scan/calibration.h"
#include "scan/datum_lines.h"
#include "standins/camera.h"

#include <cstdio>
#include <fmt/format.h>
#include <memory>

namespace rapt::cli {
namespace {

using nlohmann::ordered_json;

ordered_json datumJson(const std::shared_ptr<const SeenDatum>& d) {
    if (!d) return nullptr;
    return {{"x_mm", d->at.x},
            {"y_mm", d->at.y},
            {"rotation_deg", d->rotationDeg},
            {"square_error_deg", d->squareErrorDeg}};
}

ordered_json readingJson(const ScanReading& r) {
    ordered_json cards = ordered_json::array();
    for (const SeenCard& c : r.cards)
        cards.push_back({{"id", c.id},
                         {"x_mm", c.at.x},
                         {"y_mm", c.at.y},
                         {"rotation_deg", c.rotationDeg},
                         {"sigma_mm", c.sigmaMm}});
    return {{"px_per_mm", r.pxPerMm},
            {"tilt_deg", r.tiltDeg},
            {"sharpness", r.sharpness},
            {"frame_tags", r.frameTags},
            {"quality", nameOf(r.quality)},
            {"reasons", r.reasons},
            {"cards", cards},
            {"datum", datumJson(r.datum)}};
}

struct LocateArguments {
    std::string path;
    std::string hoop;
    std::string camera;
};

std::string readingText(const ScanReading& r) {
    std::string text = fmt::format("{}: {:.1f} pixels per mm, tilted {:.1f}°, {} frame tags\n",
                                   nameOf(r.quality), r.pxPerMm, r.tiltDeg, r.frameTags);
    for (const std::string& reason : r.reasons) text += "  " + reason + "\n";
    for (const SeenCard& c : r.cards)
        text += fmt::format("  card {}  x {:+.2f}, y {:+.2f} mm, turned {:+.2f}°\n", c.id, c.at.x,
                            c.at.y, c.rotationDeg);
    if (r.datum)
        text += fmt::format(
            "  datum lines cross at x {:+.2f}, y {:+.2f} mm, turned {:+.2f}°, {:.2f}° "
            "out of square\n",
            r.datum->at.x, r.datum->at.y, r.datum->rotationDeg, r.datum->squareErrorDeg);
    return text;
}

Outcome locate(const LocateArguments& a) {
    const Result<Library> lib = library();
    if (!lib) return lib.error();
    const Result<Hoop> hoop = lib->hoop(a.hoop);
    if (!hoop) return hoop.error();
    ScanOptions options;
    options.others = lib->hoops;
    if (!a.camera.empty()) {
        const Result<Camera> read = readCameraFile(a.camera);
        if (!read) return read.error();
        options.camera = *read;
    }
    const Result<Image> picture = readImageFile(a.path);
    if (!picture) return picture.error();
    if (a.camera.empty())
        if (const Camera* known =
                cameraFor(lib->cameras, picture->takenBy, picture->width, picture->height);
            known && !picture->takenBy.empty())
            options.camera = *known;
    const Result<ScanReading> reading = readScan(*picture, *hoop, options);
    if (!reading) return reading.error().inside(a.path);
    Answer answer;
    answer.json = readingJson(*reading);
    answer.text = readingText(*reading);
    return answer;
}

struct CalibrateArguments {
    std::vector<std::string> paths;
    std::string out;
};

Outcome calibrateCamera(const CalibrateArguments& a) {
    std::vector<BoardPicture> pictures;
    for (const std::string& path : a.paths) {
        Result<Image> image = readImageFile(path);
        if (!image) return image.error();
        pictures.push_back({path, std::move(*image)});
    }
    const auto calibration = calibrate(pictures);
    if (!calibration) return calibration.error();
    const Camera& c = calibration->camera;
    Answer answer;
    answer.json = {{"rms_px", c.rmsPx}, {"fx", c.fx}, {"fy", c.fy},
                   {"cx", c.cx},        {"cy", c.cy}, {"distortion", c.distortion}};
    ordered_json& views = answer.json["pictures"] = ordered_json::array();
    for (const BoardView& v : calibration->views)
        views.push_back({{"file", v.file},
                         {"seen", v.seen},
                         {"rms_px", v.rmsPx},
                         {"left_out", !v.seen || v.leftOut}});
    answer.text = calibration->text + "\n";
    const Status written = writeWholeFile(a.out, cameraText(c));
    if (!written) return written.error();
    return answer;
}

struct PhotographArguments {
    std::string path;
    PhotographOptions options;
    std::string out;
    std::string truth;
    std::string camera;
    double tilt = -1;
    bool noCards = false, noLines = false;
};

ordered_json truthJson(const Photograph& photo) {
    ordered_json j = readingJson(photo.truth);
    j["cloth"] = {{"x", photo.cloth.x},
                  {"y", photo.cloth.y},
                  {"rotation_deg", photo.cloth.rotationDeg},
                  {"mirror", false},
                  {"scale", {photo.cloth.scaleX, photo.cloth.scaleY}},
                  {"skew_deg", photo.skewDeg}};
    return j;
}

/// Names the option that asks for more than a camera or a cloth can do.
std::optional<Error> wrongOption(const PhotographArguments& a) {
    const PhotographOptions& o = a.options;
    const auto check = [&](const char* name, double value, double low,
                           double high) -> std::optional<Error> {
        if (value >= low && value <= high) return std::nullopt;
        return cannotDo(fmt::format("{} must be {:g} to {:g}", name, low, high));
    };
    for (const auto& [name, value, low, high] : {std::tuple{"--px-per-mm", o.pxPerMm, 1.0, 30.0},
                                                 {"--shift", o.shiftMm, 0.0, 100.0},
                                                 {"--turn", o.turnDeg, 0.0, 180.0},
                                                 {"--stretch", o.stretchPercent, 0.0, 20.0},
                                                 {"--skew", o.skewDeg, 0.0, 20.0},
                                                 {"--draw-in", o.drawInMm, 0.0, 5.0},
                                                 {"--blur", o.blurPx, 0.0, 20.0},
                                                 {"--noise", o.noise, 0.0, 20.0},
                                                 {"--uneven-light", o.unevenLight, 0.0, 0.9},
                                                 {"--shadow", o.shadow, 0.0, 0.95},
                                                 {"--glare", o.glare, 0.0, 1.0},
                                                 {"--creases", o.creases, 0.0, 1.0},
                                                 {"--tilt", a.tilt < 0 ? 0 : a.tilt, 0.0, 45.0}})
        if (auto error = check(name, value, low, high)) return error;
    return std::nullopt;
}

Outcome takePhotograph(PhotographArguments a) {
    const Result<Job> job = readJobFile(a.path);
    if (!job) return job.error();
    const Result<Library> lib = library();
    if (!lib) return lib.error();
    if (const auto error = wrongOption(a)) return *error;
    if (a.tilt >= 0) a.options.tiltDeg = a.tilt;
    a.options.cards = !a.noCards;
    a.options.datumLines = !a.noLines;
    if (!a.camera.empty()) {
        const Result<Camera> camera = readCameraFile(a.camera);
        if (!camera) return camera.error();
        a.options.distortion = camera->distortion;
    }
    const auto photo = photograph(*job, *lib, a.options);
    if (!photo) return photo.error().inside(a.path);
    Answer answer;
    answer.json = truthJson(*photo);
    const auto png = encodePng(photo->picture);
    if (!png) return png.error();
    const Status truth = writeWholeFile(a.truth, answer.json.dump(1) + "\n");
    if (!truth) return truth.error();
    const Status picture = writeWholeFile(a.out, *png);
    if (!picture) {
        // A truth without its picture is of no use to anyone.
        std::remove(a.truth.c_str());
        return picture.error();
    }
    answer.text = fmt::format("{}: hooping {}, {} cards, cloth off by x {:+.2f}, y {:+.2f} mm, "
                              "{:+.2f}°\n",
                              a.out, a.options.hooping, photo->truth.cards.size(), photo->cloth.x,
                              photo->cloth.y, photo->cloth.rotationDeg);
    return answer;
}

void addPhotograph(Run& run) {
    auto p = std::make_shared<PhotographArguments>();
    CLI::App* verb = run.addVerb("photograph", "The stand-in camera: a picture and its truth",
                                 [p] { return takePhotograph(*p); });
    PhotographOptions& o = p->options;
    verb->add_option("JOB", p->path, "job with hoopings")->required();
    verb->add_option("--hooping", o.hooping, "number, from 1")->required();
    verb->add_option("--seed", o.seed, "the same seed gives the same picture")->required();
    verb->add_option("-o", p->out, "PNG to write")->required();
    verb->add_option("--truth", p->truth, "JSON to write")->required();
    verb->add_option("--px-per-mm", o.pxPerMm, "resolution (6)");
    verb->add_option("--tilt", p->tilt, "of the camera in degrees (1 to 8, from the seed)");
    verb->add_option("--shift", o.shiftMm, "of the cloth, at most, mm each way (3)");
    verb->add_option("--turn", o.turnDeg, "of the cloth, at most, degrees each way (2)");
    verb->add_option("--stretch", o.stretchPercent, "of the cloth, at most, percent (0)");
    verb->add_option("--skew", o.skewDeg, "of the cloth, at most, degrees (0)");
    verb->add_option("--draw-in", o.drawInMm, "round what is sewn, mm (0)");
    verb->add_option("--blur", o.blurPx, "standard deviation in pixels (0.6)");
    verb->add_option("--noise", o.noise, "times a usual sensor's (1)");
    verb->add_option("--uneven-light", o.unevenLight, "share by which a side is brighter (0.05)");
    verb->add_option("--shadow", o.shadow, "across a part, 0 to 1 (0)");
    verb->add_option("--glare", o.glare, "a bright spot, 0 to 1 (0)");
    verb->add_option("--creases", o.creases, "0 to 1 (0)");
    verb->add_option("--lens", p->camera, "camera file whose distortion the lens has");
    verb->add_flag("--motif", o.motif, "with a printed leaf on the cloth");
    verb->add_flag("--no-cards", p->noCards, "without cards on the marks");
    verb->add_flag("--no-lines", p->noLines, "without drawn datum lines");
}

} // namespace

void addScanVerbs(Run& run) {
    addPhotograph(run);
    auto l = std::make_shared<LocateArguments>();
    CLI::App* verb =
        run.addVerb("locate", "Reads a scan to millimetres", [l] { return locate(*l); });
    verb->add_option("SCAN", l->path, "PNG or JPEG picture")->required();
    verb->add_option("--hoop", l->hoop, "hoop id")->required();
    verb->add_option("--camera", l->camera, "calibrated camera (JSON)");

    auto c = std::make_shared<CalibrateArguments>();
    verb = run.addVerb("calibrate", "A camera's lens, from pictures of the printed board",
                       [c] { return calibrateCamera(*c); });
    verb->add_option("BOARD", c->paths, "PNG or JPEG pictures of the board")->required();
    verb->add_option("-o", c->out, "camera file to write (JSON)")->required();
}

} // namespace rapt::cli
