// import: drawings into jobs and stitches.

#include "cli/output.h"
#include "cli/run.h"

#include "base/file_io.h"
#include "formats/job_file.h"
#include "formats/stitch_csv.h"
#include "job/stitching.h"
#include "svg/as_seen.h"
#include "svg/drawing_file.h"
#include "svg/to_shapes.h"

#include <filesystem>
#include <fmt/format.h>
#include <memory>

namespace rapt::cli {
namespace {

struct ImportArguments {
    std::string path;
    std::optional<double> spacing, length, angle, pull;
    std::string underlay; ///< empty: the usual one of each kind
    std::string fabric = Brief{}.fabric;
    std::optional<double> width, height;
    std::optional<int> threads;
    bool asDrawn = false;
    std::string out;
};

Result<ImportOptions> optionsOf(const ImportArguments& a) {
    const auto lib = library();
    if (!lib) return lib.error();
    const auto fabric = lib->fabric(a.fabric);
    if (!fabric) return fabric.error();
    ImportOptions options = usualOptions(*fabric);
    const auto within = [](double v, double low, double high) { return v >= low && v <= high; };
    if (a.spacing && !within(*a.spacing, 0.1, 20))
        return cannotDo("a spacing from 0.1 to 20 mm can be sewn", "--spacing");
    if (a.length && !within(*a.length, 0.5, maxStitchMm))
        return cannotDo(fmt::format("a stitch length from 0.5 to {} mm can be sewn", maxStitchMm),
                        "--length");
    if (a.angle && !std::isfinite(*a.angle)) return cannotDo("must be a number", "--angle");
    if (a.pull && !within(*a.pull, -2, 4))
        return cannotDo("a pull from -2 to 4 mm is taken", "--pull");
    if (a.spacing) options.spacingMm = *(options.pitchMm = a.spacing);
    options.lengthAsked = a.length.has_value();
    options.stitchLengthMm = a.length.value_or(options.stitchLengthMm);
    options.angleDeg = a.angle;
    options.pullMm = a.pull.value_or(options.pullMm);
    if (!a.underlay.empty())
        options.underlay = a.underlay == "full"    ? Underlay::full
                           : a.underlay == "light" ? Underlay::light
                                                   : Underlay::none;
    return options;
}

const char* kindOf(const Shape& shape) {
    constexpr const char* names[] = {"run", "fill", "satin"};
    const StitchKind first = shape.parts.front().kind;
    for (const ShapePart& part : shape.parts)
        if (part.kind != first) return "mixed";
    return names[static_cast<int>(first)];
}

nlohmann::ordered_json piecesJson(const Job& job) {
    nlohmann::ordered_json list = nlohmann::ordered_json::array();
    for (const Piece& p : job.pieces) {
        const Shape& shape = *std::get<ShapeContent>(p.content).shape;
        list.push_back({{"id", p.id},
                        {"name", p.name},
                        {"kind", kindOf(shape)},
                        {"parts", shape.parts.size()}});
    }
    return list;
}

/// The drawing's own frame, its page's corner at the origin, for a bare stitch list.
Result<StitchedJob> stitchedOnPage(Job job) {
    for (Piece& p : job.pieces) p.pose = {};
    auto stitched = stitchJob(job);
    return stitched;
}

/// To the width or height that was asked for; the kinds of stitches are chosen at that size.
Status resize(Drawing& drawing, const ImportArguments& a) {
    if (!a.width && !a.height) return done();
    const Box box = extentsOf(drawing);
    const double now = a.width ? box.width() : box.height(), to = a.width ? *a.width : *a.height;
    if (!(to >= 1 && to <= maxCoordinateMm))
        return cannotDo(fmt::format("a size from 1 to {} mm can be made", maxCoordinateMm),
                        a.width ? "--width" : "--height");
    if (now <= 0) return cannotDo("it has no extent that way", "", a.path);
    drawing = scaled(std::move(drawing), to / now);
    return done();
}

Outcome import(const ImportArguments& a) {
    const bool toJob = a.out.ends_with(".rapt");
    if (!toJob && !a.out.ends_with(".csv"))
        return cannotDo("the output must be a job (.rapt) or a stitch list (.stitch.csv)", "",
                        a.out);
    const auto options = optionsOf(a);
    if (!options) return options.error();
    Result<Drawing> drawing = readDrawingFile(a.path);
    if (!drawing) return drawing.error();
    if (const Status sized = resize(*drawing, a); !sized) return sized.error();
    if (!a.asDrawn) {
        SeenOptions seeing;
        seeing.threads = a.threads;
        auto seen = asSeen(*drawing, seeing);
        // What is too much to be worked out can still be sewn one over the other.
        if (seen)
            drawing = std::move(seen);
        else
            drawing->unsupported.push_back("taken as it is drawn, one over the other: " +
                                           seen.error().reason);
    }
    std::vector<std::string> unsupported = drawing->unsupported;
    auto pieces = piecesOf(*drawing, *options, unsupported);
    if (pieces.empty()) return nothingToSew(unsupported, a.path);
    const std::string stem = std::filesystem::path(a.path).stem().string();
    Job job = jobOfDrawing(*drawing, std::move(pieces), isPlainUtf8(stem) ? stem : "Drawing");
    job.brief.fabric = a.fabric;
    auto stitched = toJob ? stitchJob(job) : stitchedOnPage(job);
    if (!stitched) return stitched.error().inside(a.path);
    stitched->list.name = job.name;
    const Status written =
        toJob ? writeJobFile(a.out, job) : writeWholeFile(a.out, formatStitchCsv(stitched->list));
    if (!written) return written.error();
    const Measures m = measure(stitched->list);
    Answer answer;
    answer.json["name"] = job.name;
    answer.json["pieces"] = piecesJson(job);
    answer.json["unsupported"] = unsupported;
    addMeasures(answer.json, m);
    answer.text = measuresText(job.name, m) + fmt::format("  {} pieces\n", job.pieces.size());
    for (const std::string& u : unsupported) answer.text += "  not taken over: " + u + "\n";
    return answer;
}

} // namespace

void addImportVerbs(Run& run) {
    auto a = std::make_shared<ImportArguments>();
    CLI::App* verb = run.addVerb(
        "import", "A drawing (SVG), or a picture with flat colours, as pieces stitched by recipe",
        [a] { return import(*a); });
    verb->add_option("ART", a->path, "SVG drawing; PNG or JPEG, which is traced (80 mm wide)")
        ->required();
    auto* width =
        verb->add_option("--width", a->width, "of what is painted, mm (the drawing's own)");
    verb->add_option("--height", a->height, "of what is painted, mm")->excludes(width);
    verb->add_option("--threads", a->threads, "at most so many (colours that differ, 12 at most)")
        ->check(CLI::Range(1, 255));
    verb->add_flag("--as-drawn", a->asDrawn, "each element as it is drawn, one over the other");
    verb->add_option("--spacing", a->spacing, "row spacing and pitch in mm (0.40)");
    verb->add_option("--length", a->length, "stitch length in mm (fills 3.0, runs 2.5)");
    verb->add_option("--angle", a->angle, "of fill rows, clockwise (along each long axis)");
    verb->add_option("--fabric", a->fabric, "fabric id; underlay and pull are for it (canvas)");
    verb->add_option("--underlay", a->underlay, "none, light or full (by kind)")
        ->check(CLI::IsMember({"none", "light", "full"}));
    verb->add_option("--pull", a->pull, "pull compensation in mm (the fabric's)");
    verb->add_option("-o", a->out, "job or stitch list to write")->required();
}

} // namespace rapt::cli
