#include "study.h"

#include "check/check.h"
#include "divide/self_hooping.h"
#include "job/edit.h"
#include "job/edit_weigh.h"
#include "letter/faces.h"
#include "letter/stitching.h"
#include "svg/to_shapes.h"
#include "thread/measures.h"

#include <algorithm>
#include <array>
#include <fmt/format.h>
#include <functional>
#include <random>

namespace rapt::study {
namespace {

constexpr std::array words{"Saltmarsh",   "Kite Library", "Reading Room", "Mole",
                           "Tern & Gull", "Loan 27",      "WINDSOCK",     "Ember"};
constexpr std::array caps{12.0, 16.0, 24.0, 36.0};

/// The same numbers for the same seed, on every machine.
class Dice {
public:
    explicit Dice(std::uint64_t seed) : engine(seed) {}
    double between(double low, double high) {
        return low + (high - low) * static_cast<double>(engine() >> 11) * 0x1.0p-53;
    }

private:
    std::mt19937_64 engine;
};

/// One of 0 … n − 1.
std::size_t pick(Dice& dice, std::size_t n) {
    return std::min(n - 1, static_cast<std::size_t>(dice.between(0, static_cast<double>(n))));
}

std::string svgOf(Dice& dice) {
    const double w = dice.between(25, 60), h = dice.between(25, 60);
    const std::array fills{"#1f4e79", "#e3a72f", "#2f6d3a", "#a33b2a"};
    const char* fill = fills[pick(dice, fills.size())];
    const std::string head = fmt::format(
        "<svg xmlns='http://www.w3.org/2000/svg' width='{0}mm' height='{1}mm' viewBox='0 0 {0} "
        "{1}'>",
        w, h);
    std::string body;
    switch (pick(dice, 5)) {
    case 0:
        body = fmt::format("<ellipse cx='{}' cy='{}' rx='{}' ry='{}' fill='{}'/>", w / 2, h / 2,
                           w / 2, h / 2, fill);
        break;
    case 1:
        body = fmt::format("<rect width='{}' height='{}' rx='4' fill='{}'/>", w, h, fill);
        break;
    case 2:
        body = fmt::format("<path d='M{},0 L{},{} L0,{} Z' fill='{}'/>", w / 2, w, h, h, fill);
        break;
    case 3: // a ring
        body = fmt::format("<path fill-rule='evenodd' d='M0,{1} A{0},{1} 0 1 1 {2},{1} A{0},{1} 0 "
                           "1 1 0,{1} Z M{3},{1} "
                           "A{4},{5} 0 1 1 {6},{1} A{4},{5} 0 1 1 {3},{1} Z' fill='{7}'/>",
                           w / 2, h / 2, w, w / 2 - w / 5, w / 5, h / 5, w / 2 + w / 5, fill);
        break;
    default: // a broad line
        body = fmt::format(
            "<path d='M2,{} C{},0 {},{} {},{}' fill='none' stroke='{}' stroke-width='3'/>", h / 2,
            w / 3, w / 1.5, h, w - 2, h / 2, fill);
    }
    return head + body + "</svg>";
}

std::optional<Piece> shapeFor(const Fabric& fabric, Dice& dice) {
    const ImportOptions options = usualOptions(fabric);
    const auto drawing = readSvg(svgOf(dice), "study");
    if (!drawing) return std::nullopt;
    std::vector<std::string> unsupported;
    auto pieces = piecesOf(*drawing, options, unsupported);
    if (pieces.empty()) return std::nullopt;
    return pieces.front();
}

/// Words at a height that their face and the cloth call good.
Piece wordsFor(const Fabric& fabric, Dice& dice) {
    Lettering l;
    l.text = words[pick(dice, words.size())];
    constexpr std::array faces{"garamond", "lato", "lato-bold", "dancing-script"};
    l.face = faces[pick(dice, faces.size())];
    l.pullMm = fabric.pullMm;
    l.pitchMm = fabric.pitchFor(l.pitchMm);
    l.mostLayers = fabric.maxLayers;
    const double least = leastGoodCapMm(*openFace(l.face), 0.4, fabric.leastLetterMm);
    l.capHeightMm = caps[pick(dice, caps.size())];
    if (l.capHeightMm < 1.1 * least) l.capHeightMm = std::ceil(1.1 * least);
    if (dice.between(0, 1) < 0.3) {
        l.line.kind = LineKind::arc;
        l.line.radiusMm = 6 * l.capHeightMm;
    }
    Piece p;
    p.content = LetteringContent{std::make_shared<const Lettering>(l)};
    p.name = l.text;
    return p;
}

/// Pieces in a row, apart from each other, in the middle of a cloth that is large enough.
void layInARow(Job& job) {
    double x = 0, high = 0;
    std::vector<Box> boxes;
    for (const Piece& p : job.pieces) {
        const auto list = stitchPiece(p);
        boxes.push_back(list ? extentsOf(**list) : Box{});
        high = std::max(high, boxes.back().height());
        x += boxes.back().width() + 12;
    }
    job.cloth.widthMm = std::max(700.0, x + 120);
    job.cloth.heightMm = std::max(700.0, high + 160);
    x = -x / 2;
    for (std::size_t i = 0; i < job.pieces.size(); ++i) {
        job.pieces[i].pose.x = x - boxes[i].minX;
        job.pieces[i].pose.y = -boxes[i].centre().y;
        x += boxes[i].width() + 12;
    }
}

} // namespace

Job honestLayout(const Library& library, std::uint64_t seed) {
    Dice dice(seed * 7919 + 13);
    Job job;
    job.name = fmt::format("Layout {}", seed);
    const Fabric& fabric = library.fabrics[seed % library.fabrics.size()];
    job.brief.fabric = fabric.id;
    const std::size_t count = 1 + pick(dice, 3);
    for (std::size_t i = 0; i < count; ++i) {
        std::optional<Piece> piece;
        if (dice.between(0, 1) < 0.5) piece = shapeFor(fabric, dice);
        if (!piece) piece = wordsFor(fabric, dice);
        piece->id = fmt::format("p{}", i + 1);
        if (piece->name.empty()) piece->name = fmt::format("Shape {}", i + 1);
        job.pieces.push_back(std::move(*piece));
    }
    layInARow(job);
    StitchCache cache;
    if (dice.between(0, 1) < 0.5) {
        if (auto hooped = hoopedByItself(job, library, cache); hooped && *hooped)
            job = std::move(**hooped);
        else {
            DivideOptions options{{*library.hoop("field-300x200")}};
            options.seconds = 1;
            if (const auto d = divideIntoHoopings(job, cache, options, library))
                job = setHoopings(d->hoopings, d->predictedJoinRmsMm, d->cuts).change(job);
        }
    }
    return job;
}

namespace {

Piece* firstWords(Job& job) {
    for (Piece& p : job.pieces)
        if (std::holds_alternative<LetteringContent>(p.content)) return &p;
    return nullptr;
}
Piece* firstShape(Job& job, std::optional<StitchKind> kind = {}) {
    for (Piece& p : job.pieces)
        if (const auto* s = std::get_if<ShapeContent>(&p.content))
            if (!kind || s->shape->parts.front().kind == *kind) return &p;
    return nullptr;
}
/// A place in the midst of a piece's stitching, on the cloth.
Vec2 middleOf(const Piece& p) {
    const auto list = *stitchPiece(p);
    return p.pose.unscaled().affine()(list->stitches[list->stitches.size() / 2].at());
}
/// A shape as the stitches that it has now.
bool asDesign(Piece& p) {
    const auto list = stitchPiece(p);
    if (!list) return false;
    p.content = DesignContent{"designs/" + p.id + ".stitch.csv", *list};
    p.pose.scaleX = p.pose.scaleY = 1;
    return true;
}

bool shrunkKept(Job& job, const Library&, std::uint64_t, std::string& piece) {
    Piece* p = firstShape(job, StitchKind::fill);
    if (!p || !asDesign(*p)) return false;
    p->pose.scaleX = p->pose.scaleY = 0.3;
    p->keep = Keep::stitches;
    piece = p->id;
    return true;
}
bool enlargedKept(Job& job, const Library&, std::uint64_t, std::string& piece) {
    Piece* p = firstShape(job, StitchKind::fill);
    if (!p || !asDesign(*p)) return false;
    p->pose.scaleX = p->pose.scaleY = 1.7;
    p->keep = Keep::stitches;
    job.cloth.widthMm *= 3;
    job.cloth.heightMm *= 3;
    job.hoopings.clear();
    piece = p->id;
    return true;
}
bool copiesOnEachOther(Job& job, const Library&, std::uint64_t, std::string& piece) {
    Piece* p = firstShape(job, StitchKind::fill);
    if (!p) return false;
    piece = p->id;
    Piece copy = *p;
    for (int i = 0; i < 4; ++i) {
        copy.id = fmt::format("copy{}", i);
        copy.pose.x += 0.7;
        job.pieces.push_back(copy);
    }
    job.hoopings.clear();
    return true;
}
bool buttonUnder(Job& job, const Library&, std::uint64_t, std::string& piece) {
    Piece* p = firstShape(job, StitchKind::fill);
    if (!p) return false;
    piece = p->id;
    job.cloth.forbiddenZones.push_back({{middleOf(*p), 4, {}}, "the button", {}});
    return true;
}
bool seamUnder(Job& job, const Library&, std::uint64_t, std::string& piece) {
    Piece* p = firstShape(job, StitchKind::fill);
    if (!p || std::get<ShapeContent>(p->content).shape->parts[0].lines.size() > 1) return false;
    piece = p->id;
    const Vec2 at = middleOf(*p);
    job.cloth.guides.push_back({"side seam", {at - Vec2{0, 60}, at + Vec2{0, 60}}, true});
    return true;
}
bool wordsTooSmall(Job& job, const Library&, std::uint64_t, std::string& piece) {
    Piece* p = firstWords(job);
    if (!p) return false;
    piece = p->id;
    Lettering l = *std::get<LetteringContent>(p->content).lettering;
    l.capHeightMm = 4;
    p->content = LetteringContent{std::make_shared<const Lettering>(l)};
    return true;
}
bool offTheCloth(Job& job, const Library&, std::uint64_t, std::string& piece) {
    job.pieces[0].pose.x -= job.cloth.widthMm / 2;
    piece = job.pieces[0].id;
    job.hoopings.clear();
    return true;
}
bool movedAfterPlanning(Job& job, const Library&, std::uint64_t, std::string& piece) {
    if (job.hoopings.empty()) return false;
    job.cloth.widthMm = job.cloth.heightMm = 3000;
    job.pieces[0].pose.y += 700;
    piece.clear();
    return true;
}
bool wideSatin(Job& job, const Library& library, std::uint64_t, std::string& piece) {
    Piece* p = firstShape(job, StitchKind::satin);
    if (!p || !asDesign(*p)) return false;
    piece = p->id;
    const double most = library.fabric(job.brief.fabric)->mostColumnMm;
    p->pose.scaleX = p->pose.scaleY = 1.35 * most / 3;
    job.cloth.widthMm *= 5;
    job.cloth.heightMm *= 5;
    job.hoopings.clear();
    return true;
}
bool thinSatin(Job& job, const Library& library, std::uint64_t, std::string& piece) {
    Piece* p = firstShape(job, StitchKind::satin);
    if (!p || !asDesign(*p)) return false;
    piece = p->id;
    p->pose.scaleX = p->pose.scaleY = 0.7 * library.fabric(job.brief.fabric)->leastColumnMm / 3.2;
    p->keep = Keep::stitches;
    return true;
}
bool openLoops(Job& job, const Library&, std::uint64_t, std::string& piece) {
    Piece* p = firstShape(job);
    if (!p || !asDesign(*p)) return false;
    StitchList list = *std::get<DesignContent>(p->content).list;
    StitchList fewer = list;
    fewer.stitches.clear();
    std::size_t n = 0; // every fourth needle point only: loops
    for (const Stitch& s : list.stitches)
        if (s.op != Op::stitch || n++ % 6 == 0) fewer.stitches.push_back(s);
    std::get<DesignContent>(p->content).list = std::make_shared<const StitchList>(fewer);
    piece = p->id;
    return measure(fewer).longStitches > 0;
}
bool unknownMachine(Job& job, const Library&, std::uint64_t, std::string& piece) {
    job.brief.machine = "the-old-one";
    piece.clear();
    return true;
}
bool unknownFrame(Job& job, const Library&, std::uint64_t, std::string& piece) {
    job.brief.hoops = {"field-of-barley"};
    job.hoopings.clear();
    piece.clear();
    return true;
}
bool thickUnder(Job& job, const Library&, std::uint64_t, std::string& piece) {
    Piece* p = firstShape(job, StitchKind::fill);
    if (!p) return false;
    piece = p->id;
    const Vec2 at = middleOf(*p);
    job.cloth.thickZones.push_back({{at, 6, {}}, 0.25, {}});
    return true;
}
/// Thread in words, shapes and designs.
void setThread(Piece& p, const std::function<void(Thread&)>& change) {
    if (auto* lettered = std::get_if<LetteringContent>(&p.content)) {
        Lettering l = *lettered->lettering;
        change(l.thread);
        lettered->lettering = std::make_shared<const Lettering>(l);
    } else if (auto* drawn = std::get_if<ShapeContent>(&p.content)) {
        Shape shape = *drawn->shape;
        for (ShapePart& part : shape.parts) change(part.thread);
        drawn->shape = std::make_shared<const Shape>(shape);
    }
}
bool clothColoured(Job& job, const Library&, std::uint64_t, std::string& piece) {
    setThread(job.pieces[0], [&](Thread& t) { t.color = job.cloth.color; });
    piece = job.pieces[0].id;
    return true;
}
bool wordsMirrored(Job& job, const Library&, std::uint64_t, std::string& piece) {
    Piece* p = firstWords(job);
    if (!p) return false;
    piece = p->id;
    const double middle = extentsOf(**stitchPiece(*p)).centre().x;
    p->pose.mirror = true;
    p->pose.x += 2 * middle;
    return true;
}
bool copyMirrored(Job& job, const Library&, std::uint64_t, std::string& piece) {
    Piece* p = firstShape(job);
    if (!p) return false;
    Piece copy = *p;
    job.cloth.heightMm = 2000;
    job.hoopings.clear();
    for (const int i : {1, 2, 3}) {
        copy.id = fmt::format("copy{}", i);
        copy.pose.y += 150;
        copy.pose.mirror = i == 2;
        job.pieces.push_back(copy);
    }
    piece = "copy2";
    return true;
}
bool spelledAnew(Job& job, const Library&, std::uint64_t seed, std::string& piece) {
    Piece* p = firstWords(job);
    if (!p) return false;
    Lettering l = *std::get<LetteringContent>(p->content).lettering;
    if (seed % 2 == 0) {
        if (l.text.size() < 9) return false;
        std::swap(l.text[4], l.text[5]);
        if (l.text == std::get<LetteringContent>(p->content).lettering->text) return false;
    } else {
        const std::size_t e = l.text.find('e');
        if (e == std::string::npos) return false;
        l.text.replace(e, 1, "é");
    }
    Piece copy = *p;
    copy.id = piece = "again";
    copy.content = LetteringContent{std::make_shared<const Lettering>(l)};
    job.cloth.heightMm = 2000;
    copy.pose.y += 200;
    job.pieces.push_back(copy);
    job.hoopings.clear();
    return true;
}
bool threadTooThick(Job& job, const Library&, std::uint64_t, std::string& piece) {
    if (!firstShape(job)) return false;
    setThread(*firstShape(job), [&](Thread& t) { t.weight = 12; });
    piece.clear();
    return true;
}
bool zipBelowThread(Job& job, const Library&, std::uint64_t, std::string& piece) {
    Piece* p = firstShape(job, StitchKind::satin);
    if (!p) return false;
    piece = p->id;
    const auto list = *stitchPiece(*p);
    const auto n = list->stitches.size() / 2;
    // Between the needle points of one of its threads.
    const Affine map = p->pose.unscaled().affine();
    const Vec2 a = map(list->stitches[n].at()), b = map(list->stitches[n + 1].at());
    if (distance(a, b) < 2) return false;
    job.cloth.forbiddenZones.push_back({{lerp(a, b, 0.5), 0.3, {}}, "the snap", {}});
    return true;
}
} // namespace

const std::vector<Fault>& faults() {
    static const std::vector<Fault> all{
        {"shrunk with its stitches kept", {"layers", "hits", "short-stitches"}, shrunkKept},
        {"enlarged with its stitches kept", {"gaping", "long-stitches"}, enlargedKept},
        {"copies on each other", {"layers", "hits"}, copiesOnEachOther},
        {"a button below", {"forbidden-zone"}, buttonUnder},
        {"a seam below a fill", {"seam-cover"}, seamUnder},
        {"a thick place below", {"thick-zone"}, thickUnder},
        {"words too small", {"letters-small"}, wordsTooSmall},
        {"over the cloth's edge", {"off-cloth"}, offTheCloth},
        {"moved out of its hooping", {"hoopings"}, movedAfterPlanning},
        {"a satin too wide", {"column-wide", "long-stitches"}, wideSatin},
        {"a satin too thin", {"column-thin", "short-stitches", "layers"}, thinSatin},
        {"loops", {"long-stitches", "column-wide"}, openLoops},
        {"a machine nobody knows", {"machine-unknown"}, unknownMachine},
        {"a frame nobody knows", {"frame-unknown"}, unknownFrame},
        {"thread of the cloth's colour", {"thread-hidden"}, clothColoured},
        {"words mirrored", {"backwards"}, wordsMirrored},
        {"one copy mirrored", {"mirrored-copy"}, copyMirrored},
        {"a name in two spellings", {"spelling"}, spelledAnew},
        {"thread too thick for the needle", {"needle-thin"}, threadTooThick},
        {"a snap below the threads of a satin",
         {"thread-across", "forbidden-zone"},
         zipBelowThread},
    };
    return all;
}

Judged judge(const Job& job, const Library& library, const Fault* fault, const std::string& piece) {
    Judged result;
    StitchCache cache;
    auto checked = checkJob(job, library, &cache);
    if (!checked) {
        result.worst = checked.error().line();
        return result;
    }
    (void)findRemedies(*checked, job, library, cache);
    const auto isOf = [&](const Finding& f) {
        return fault &&
               std::find(fault->kinds.begin(), fault->kinds.end(), f.kind) != fault->kinds.end() &&
               (piece.empty() ||
                std::find(f.pieces.begin(), f.pieces.end(), piece) != f.pieces.end());
    };
    bool first = true;
    for (const Finding& f : checked->findings) {
        if (f.severity == Severity::note) continue;
        result.stops += f.severity == Severity::stop;
        result.cautions += f.severity == Severity::caution;
        if (result.worst.empty()) result.worst = f.text;
        if (isOf(f)) {
            result.found = true;
            result.named = result.named || first;
        }
        first = false;
        for (const Remedy& r : f.remedies) {
            ++result.remedies;
            const auto after = checkJob(r.edit.change(job), library, &cache);
            const bool left =
                !after ||
                std::any_of(after->findings.begin(), after->findings.end(), [&](const Finding& g) {
                    return g.kind == f.kind && g.severity != Severity::note && g.pieces == f.pieces;
                });
            if (!left)
                ++result.working;
            else if (result.failing.empty())
                result.failing = r.label;
        }
    }
    return result;
}

} // namespace rapt::study
