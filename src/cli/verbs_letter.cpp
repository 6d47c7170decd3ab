// faces, letter: words to stitches.

#include "cli/output.h"
#include "cli/run.h"

#include "base/file_io.h"
#include "formats/columns_svg.h"
#include "formats/stitch_csv.h"
#include "letter/faces.h"
#include "letter/stitching.h"

#include <fmt/format.h>
#include <memory>

namespace rapt::cli {
namespace {

Outcome faces() {
    const FaceShelf shelf = faceShelf();
    Answer answer;
    auto list = nlohmann::ordered_json::array();
    for (const FaceRecord& f : shelf.faces) {
        list.push_back({{"id", f.id}, {"name", f.name}, {"file", f.file}, {"joined", f.joined}});
        answer.text += fmt::format("{:<20} {}{}{}\n", f.id, f.name,
                                   f.joined ? ", letters join" : "", f.own ? ", your own" : "");
    }
    auto refused = nlohmann::ordered_json::array();
    for (const RefusedFace& r : shelf.refused) {
        refused.push_back({{"file", r.file}, {"reason", r.reason}});
        answer.text += fmt::format("not usable: {}: {}\n", r.file, r.reason);
    }
    answer.json = {{"faces", list}, {"refused", refused}};
    return answer;
}

struct LetterArguments {
    Lettering lettering;
    double fabricLeastMm = 0; ///< of the fabric that was named
    std::optional<double> arcRadius;
    std::string side = "outside", align = "centre", fabric, out, columns;
    bool even = false, upright = false;
};

Result<Lettering> letteringOf(LetterArguments& a) {
    Lettering l = a.lettering;
    if (a.arcRadius) {
        l.line.kind = LineKind::arc;
        l.line.radiusMm = *a.arcRadius;
        l.line.side = a.side == "inside" ? ArcSide::inside : ArcSide::outside;
        l.line.even = a.even;
        l.line.upright = a.upright;
    }
    l.alignment = a.align == "left"    ? Alignment::left
                  : a.align == "right" ? Alignment::right
                                       : Alignment::centre;
    if (!a.fabric.empty()) {
        const Result<Library> lib = library();
        if (!lib) return lib.error();
        const Result<Fabric> fabric = lib->fabric(a.fabric);
        if (!fabric) return fabric.error();
        l.pullMm = fabric->pullMm;
        l.pitchMm = fabric->pitchFor(l.pitchMm);
        l.mostLayers = fabric->maxLayers;
        a.fabricLeastMm = fabric->leastLetterMm;
    }
    return l;
}

nlohmann::ordered_json lettersJson(const Setting& setting) {
    auto list = nlohmann::ordered_json::array();
    for (const PlacedLetter& l : setting.letters)
        list.push_back({{"char", l.text},
                        {"x", l.at.x},
                        {"y", l.at.y},
                        {"rotation_deg", normalizedDegrees(l.rotationDeg)}});
    return list;
}

nlohmann::ordered_json gapsJson(const Setting& setting) {
    const auto textOf = [&](int index) {
        for (const PlacedLetter& l : setting.letters)
            if (l.index == index) return l.text;
        return std::string();
    };
    auto list = nlohmann::ordered_json::array();
    for (const LetterJoin& j : setting.joins)
        list.push_back({{"left", textOf(j.left)},
                        {"right", textOf(j.right)},
                        {"letter", j.right},
                        {"overlap_mm", j.overlapMm},
                        {"moved_mm", j.movedMm},
                        {"closed", j.closed}});
    return list;
}

nlohmann::ordered_json warningsJson(const std::vector<LetterWarning>& warnings) {
    constexpr const char* kinds[] = {"fine-stroke", "small-counter", "open-join"};
    auto list = nlohmann::ordered_json::array();
    for (const LetterWarning& w : warnings)
        list.push_back({{"kind", kinds[static_cast<int>(w.kind)]},
                        {"text", w.text},
                        {"value", w.value},
                        {"limit", w.limit},
                        {"letter", w.letter}});
    return list;
}

Outcome letter(LetterArguments a) {
    const auto lettering = letteringOf(a);
    if (!lettering) return lettering.error();
    const auto face = openFace(lettering->face);
    if (!face) return face.error();
    const auto stitched = stitchLettering(*lettering);
    if (!stitched) return stitched.error();
    const double least =
        leastGoodCapMm(*face, apparentWidthMm(lettering->thread.weight), a.fabricLeastMm);
    const Measures m = measure(stitched->list);
    Answer answer;
    answer.json = {{"stitches", m.stitches},
                   {"width_mm", m.extents.width()},
                   {"height_mm", m.extents.height()},
                   {"cap_height_mm", lettering->capHeightMm},
                   {"least_good_cap_mm", least},
                   {"satin_share", stitched->satinShare},
                   {"font_file", (*face)->path()},
                   {"letters", lettersJson(stitched->setting)},
                   {"gaps", gapsJson(stitched->setting)},
                   {"columns", stitched->columns},
                   {"parts", stitched->parts},
                   {"trims", m.trims},
                   {"pull_mm", lettering->pullMm},
                   {"warnings", warningsJson(stitched->warnings)}};
    answer.text = fmt::format(
        "{:.1f} × {:.1f} mm in {}, capitals {:.2f} mm high; {} stitches, {:.1f} % satin\n",
        m.extents.width(), m.extents.height(), (*face)->name(), lettering->capHeightMm, m.stitches,
        100 * stitched->satinShare);
    if (lettering->capHeightMm < least)
        answer.text +=
            fmt::format("caution: the least good height of this face is {:.1f} mm\n", least);
    for (const LetterWarning& w : stitched->warnings) answer.text += "caution: " + w.text + "\n";
    std::vector<std::pair<std::string, std::string>> files{
        {a.out, formatStitchCsv(stitched->list)}};
    if (!a.columns.empty()) {
        std::vector<LetterPart> parts;
        for (const PlacedLetter& l : stitched->setting.letters)
            for (LetterPart& p : letterParts(l, *face, *lettering)) parts.push_back(std::move(p));
        files.emplace_back(a.columns, columnsSvg(parts));
    }
    for (const auto& [path, bytes] : files)
        if (const Status written = writeWholeFile(path, bytes); !written) return written.error();
    return answer;
}

} // namespace

void addLetterVerbs(Run& run) {
    run.addVerb("faces", "The faces that can be lettered with", [] { return faces(); });

    auto a = std::make_shared<LetterArguments>();
    CLI::App* verb =
        run.addVerb("letter", "Words in satin at a real size", [a] { return letter(*a); });
    verb->add_option("TEXT", a->lettering.text, "the words; a line end starts a new line")
        ->required();
    verb->add_option("--face", a->lettering.face, "face id (see rapt faces) or a font file's path")
        ->required();
    verb->add_option("--cap", a->lettering.capHeightMm, "cap height in mm")->required();
    verb->add_option("--arc-radius", a->arcRadius,
                     "radius in mm of the circle that the words stand on");
    verb->add_option("--side", a->side, "outside or inside of the circle")
        ->check(CLI::IsMember({"outside", "inside"}));
    verb->add_flag("--even", a->even, "keep the gaps on an arc as wide as on a straight line");
    verb->add_flag("--upright", a->upright, "letters on an arc stay upright");
    verb->add_option("--tracking", a->lettering.trackingMm, "mm added to every advance");
    verb->add_option("--word-gap", a->lettering.wordGapMm, "mm added to every space");
    verb->add_option("--line-gap", a->lettering.lineGapMm, "mm from baseline to baseline");
    verb->add_option("--align", a->align, "left, centre or right")
        ->check(CLI::IsMember({"left", "centre", "right"}));
    verb->add_option("--fabric", a->fabric,
                     "keep to this fabric: its pull compensation and the layers it takes");
    verb->add_option("--columns", a->columns, "also write the columns as an SVG drawing");
    verb->add_option("-o", a->out, "stitch list to write")->required();
}

} // namespace rapt::cli
