// photograph, locate: pictures of the hooped cloth.

#include "cli/output.h"
#include "cli/run.h"

#include "base/file_io.h"
#include "formats/job_file.h"
#include "scan/scan_reading.h"
#include "standins/camera.h"

#include <cstdio>
#include <fmt/format.h>
#include <memory>

namespace rapt::cli {
namespace {

using nlohmann::ordered_json;

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
            {"datum", nullptr}};
}

struct LocateArguments {
    std::string path;
    std::string hoop;
    std::string camera;
};

Outcome locate(const LocateArguments& a) {
    const Result<Library> lib = library();
    if (!lib) return lib.error();
    const Result<Hoop> hoop = lib->hoop(a.hoop);
    if (!hoop) return hoop.error();
    std::optional<Camera> camera;
    if (!a.camera.empty()) {
        const Result<Camera> read = readCameraFile(a.camera);
        if (!read) return read.error();
        camera = *read;
    }
    const Result<Image> picture = readImageFile(a.path);
    if (!picture) return picture.error();
    const Result<ScanReading> reading = readScan(*picture, *hoop, camera);
    if (!reading) return reading.error().inside(a.path);
    Answer answer;
    answer.json = readingJson(*reading);
    answer.text = fmt::format("{}: {:.1f} pixels per mm, tilted {:.1f}°, {} frame tags\n",
                              nameOf(reading->quality), reading->pxPerMm, reading->tiltDeg,
                              reading->frameTags);
    for (const std::string& reason : reading->reasons) answer.text += "  " + reason + "\n";
    for (const SeenCard& c : reading->cards)
        answer.text += fmt::format("  card {}  x {:+.2f}, y {:+.2f} mm, turned {:+.2f}°\n", c.id,
                                   c.at.x, c.at.y, c.rotationDeg);
    return answer;
}

struct PhotographArguments {
    std::string path;
    PhotographOptions options;
    std::string out;
    std::string truth;
};

Outcome takePhotograph(const PhotographArguments& a) {
    const Result<Job> job = readJobFile(a.path);
    if (!job) return job.error();
    const Result<Library> lib = library();
    if (!lib) return lib.error();
    const auto photo = photograph(*job, *lib, a.options);
    if (!photo) return photo.error().inside(a.path);
    Answer answer;
    answer.json = readingJson(photo->truth);
    answer.json["cloth"] = {{"x", photo->cloth.x},
                            {"y", photo->cloth.y},
                            {"rotation_deg", photo->cloth.rotationDeg},
                            {"mirror", false},
                            {"scale", {1, 1}}};
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

} // namespace

void addScanVerbs(Run& run) {
    auto p = std::make_shared<PhotographArguments>();
    CLI::App* verb = run.addVerb("photograph", "The stand-in camera: a picture and its truth",
                                 [p] { return takePhotograph(*p); });
    verb->add_option("JOB", p->path, "job with hoopings")->required();
    verb->add_option("--hooping", p->options.hooping, "number, from 1")->required();
    verb->add_option("--seed", p->options.seed, "the same seed gives the same picture")->required();
    verb->add_option("-o", p->out, "PNG to write")->required();
    verb->add_option("--truth", p->truth, "JSON to write")->required();

    auto l = std::make_shared<LocateArguments>();
    verb = run.addVerb("locate", "Reads a scan to millimetres", [l] { return locate(*l); });
    verb->add_option("SCAN", l->path, "PNG or JPEG picture")->required();
    verb->add_option("--hoop", l->hoop, "hoop id")->required();
    verb->add_option("--camera", l->camera, "calibrated camera (JSON)");
}

} // namespace rapt::cli
