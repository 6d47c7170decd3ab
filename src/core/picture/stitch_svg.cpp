// Thread and shapes as SVG at true size.

#include "job/expansion.h"
#include "picture/stitch_picture.h"
#include "recipe/flatten.h"
#include "thread/measures.h"

#include <algorithm>
#include <fmt/format.h>
#include <iterator>

namespace rapt {
namespace {

std::string escaped(const std::string& text) {
    std::string out;
    for (const char c : text) {
        const auto u = static_cast<unsigned char>(c);
        if (c == '<')
            out += "&lt;";
        else if (c == '>')
            out += "&gt;";
        else if (c == '&')
            out += "&amp;";
        else if (c == '"')
            out += "&quot;";
        else if (u >= 32 || c == '\n' || c == '\t')
            out += c;
    }
    return out;
}

/// A document of that box, in millimetres.
std::string document(const Box& box, const std::string& title, const std::string& body) {
    return fmt::format("<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{0:.3f}mm\" "
                       "height=\"{1:.3f}mm\" viewBox=\"{2:.3f} {3:.3f} {0:.3f} {1:.3f}\">\n"
                       "<title>{4}</title>\n{5}</svg>\n",
                       box.width(), box.height(), box.minX, box.minY, escaped(title), body);
}

/// Each run of thread as a path.
class ThreadPaths {
public:
    explicit ThreadPaths(const StitchList& l) : list(l) {
        const Stitch* needle = nullptr;
        bool sewing = false; // the first stitch of a list lays no thread
        for (const Stitch& s : list.stitches) {
            if (s.op == Op::stitch) {
                if (!current || s.thread != current->index) begin(s.thread);
                const Stitch& from = sewing ? *needle : s;
                if (&from != written) put('M', from);
                if (from.x != s.x || from.y != s.y) put('L', s);
                written = &s;
                sewing = true;
            }
            if (s.op == Op::jump || s.op == Op::stitch) needle = &s;
        }
        end();
    }
    std::string text;

private:
    void begin(std::uint8_t thread) {
        end();
        current = list.find(thread);
        written = nullptr;
    }
    void put(char command, const Stitch& s) {
        fmt::format_to(std::back_inserter(d), "{}{:.2f},{:.2f}", command, s.at().x, s.at().y);
    }
    void end() {
        if (current && !d.empty())
            text += fmt::format("<path fill=\"none\" stroke=\"{}\" stroke-width=\"{:.2f}\" "
                                "stroke-linecap=\"round\" stroke-linejoin=\"round\" d=\"{}\">"
                                "<title>{}</title></path>\n",
                                formatRgb(current->color), apparentWidthMm(current->weight), d,
                                escaped(current->name));
        d.clear();
    }

    const StitchList& list;
    const Thread* current = nullptr;
    const Stitch* written = nullptr; ///< where the path stands
    std::string d;
};

/// A part of a shape as area or line, after a map.
void addPart(const ShapePart& drawn, const Affine& map, std::string& body, Box& box) {
    const ShapePart part = flattened(drawn);
    std::vector<Polyline> lines = part.lines;
    if (part.kind == StitchKind::satin && lines.size() >= 2) {
        Polyline round = lines[0];
        round.insert(round.end(), lines[1].rbegin(), lines[1].rend());
        lines = {round};
    }
    std::string d;
    for (const Polyline& line : lines) {
        char command = 'M';
        for (const Vec2& p : line) {
            const Vec2 at = map(p);
            box.add(at);
            fmt::format_to(std::back_inserter(d), "{}{:.3f},{:.3f}", command, at.x, at.y);
            command = 'L';
        }
        if (part.kind != StitchKind::run) d += 'Z';
    }
    if (d.empty()) return;
    const std::string colour = formatRgb(part.thread.color);
    body +=
        part.kind == StitchKind::run
            ? fmt::format("<path fill=\"none\" stroke=\"{}\" stroke-width=\"{:.2f}\" d=\"{}\"/>\n",
                          colour, apparentWidthMm(part.thread.weight), d)
            : fmt::format("<path fill=\"{}\" fill-rule=\"evenodd\" d=\"{}\"/>\n", colour, d);
}

} // namespace

Result<std::string> threadSvg(const StitchList& list) {
    const Box box = extentsOf(list);
    if (box.empty()) return cannotDo("there is no stitch to draw");
    return document(box.grown(1), list.name, ThreadPaths(list).text);
}

Result<std::string> shapesSvg(const Job& job) {
    StitchCache cache;
    std::string body;
    Box box;
    for (const PlacedPiece& placed : placedPieces(job, cache)) {
        const Affine map = placed.piece.pose.unscaled().affine();
        body += fmt::format("<g><title>{}</title>\n", escaped(placed.piece.name));
        if (std::holds_alternative<ShapeContent>(placed.piece.content)) {
            for (const ShapePart& part : shapeOf(placed.piece).parts) addPart(part, map, body, box);
        } else {
            const auto stitches = stitchesOf(placed, cache);
            if (!stitches) return stitches.error();
            StitchList list = **stitches;
            for (Stitch& s : list.stitches) s = stitchAt(s.op, map(s.at()), s.thread);
            box.add(extentsOf(list));
            body += ThreadPaths(list).text;
        }
        body += "</g>\n";
    }
    if (box.empty()) return cannotDo("there is nothing to draw");
    return document(box.grown(1), job.name, body);
}

} // namespace rapt
