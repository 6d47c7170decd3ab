// picture: a design or job as files for other programs.

#include "cli/output.h"
#include "cli/run.h"

#include "base/file_io.h"
#include "formats/job_file.h"
#include "job/stitching.h"
#include "picture/stitch_picture.h"
#include "thread/measures.h"

#include <fmt/format.h>
#include <memory>

namespace rapt::cli {
namespace {

struct PictureArguments {
    std::string path, out, ground;
    double pxPerMm = 12, seconds = 12;
    int frames = 120;
    bool shapes = false;
};

Outcome picture(const PictureArguments& a) {
    const Result<DesignOrJob> input = readDesignOrJob(a.path);
    if (!input) return input.error();
    if (a.shapes && !input->job)
        return cannotDo("a design alone has stitches and no shapes", {}, a.path);
    StitchList list;
    if (input->job) {
        const auto stitched = stitchJob(*input->job);
        if (!stitched) return stitched.error().inside(a.path);
        list = stitched->list;
    } else {
        list = *input->design;
    }
    PictureOptions options;
    options.pxPerMm = a.pxPerMm;
    options.ground = input->job ? input->job->cloth.color : Rgb{255, 255, 255};
    if (a.ground == "none") options.ground.reset();
    if (Rgb colour; parseRgb(a.ground, colour)) options.ground = colour;
    const bool svg = a.out.ends_with(".svg"), film = a.out.ends_with(".apng");
    const Result<std::string> bytes = svg && a.shapes ? shapesSvg(*input->job)
                                      : svg           ? threadSvg(list)
                                      : film ? stitchFilm(list, {options, a.frames, a.seconds})
                                             : threadPng(list, options);
    if (!bytes) return bytes.error().inside(a.path);
    if (const Status written = writeWholeFile(a.out, *bytes); !written) return written.error();
    const Box box = extentsOf(list);
    Answer answer;
    answer.json = {{"file", a.out},
                   {"kind", svg    ? (a.shapes ? "shapes" : "lines")
                            : film ? "film"
                                   : "picture"},
                   {"bytes", bytes->size()},
                   {"extents_mm", boxJson(box)}};
    answer.text = fmt::format("{}: {:.1f} × {:.1f} mm of stitching, {} kB\n", a.out, box.width(),
                              box.height(), (bytes->size() + 999) / 1000);
    return answer;
}

} // namespace

void addPictureVerbs(Run& run) {
    auto p = std::make_shared<PictureArguments>();
    CLI::App* verb = run.addVerb("picture",
                                 "Thread or shapes as SVG, thread as PNG at true scale, or a film "
                                 "of it being sewn (APNG)",
                                 [p] { return picture(*p); });
    verb->add_option("DESIGN|JOB", p->path, "stitch list or job")->required();
    verb->add_option("-o", p->out, "OUT.svg, OUT.png or OUT.apng")
        ->required()
        ->check([](const std::string& name) {
            const bool known =
                name.ends_with(".svg") || name.ends_with(".png") || name.ends_with(".apng");
            return known ? std::string() : "must end in .svg, .png or .apng";
        });
    verb->add_flag("--shapes", p->shapes, "SVG: areas and lines of a job's shapes, not its thread");
    verb->add_option("--scale", p->pxPerMm, "pixels a millimetre (12)");
    verb->add_option("--ground", p->ground, "#rrggbb or none (the cloth's colour; white)")
        ->check([](const std::string& text) {
            Rgb colour;
            return text == "none" || parseRgb(text, colour) ? std::string()
                                                            : "must be #rrggbb or none";
        });
    verb->add_option("--frames", p->frames, "of a film (120)");
    verb->add_option("--seconds", p->seconds, "that it takes (12)");
}

} // namespace rapt::cli
