#include "letter/setting.h"

#include "letter/profile.h"

#include <algorithm>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <numbers>

namespace rapt {
namespace {

constexpr double pi = std::numbers::pi;
/// A join is not closed by moves longer than this share of the cap height.
constexpr double longestMoveShare = 0.15;

std::vector<std::string> linesOf(const std::string& text) {
    std::vector<std::string> lines{""};
    for (const char c : text) {
        if (c == '\n')
            lines.emplace_back();
        else if (c != '\r')
            lines.back().push_back(c == '\t' ? ' ' : c);
    }
    while (lines.size() > 1 && lines.back().empty()) lines.pop_back();
    return lines;
}

char32_t codePointOf(const std::string& text) {
    if (text.empty()) return 0;
    const auto byte = [&](std::size_t i) {
        return static_cast<unsigned char>(i < text.size() ? text[i] : 0);
    };
    const unsigned char lead = byte(0);
    if (lead < 0x80) return lead;
    if (lead < 0xE0) return static_cast<char32_t>((lead & 0x1F) << 6 | (byte(1) & 0x3F));
    if (lead < 0xF0)
        return static_cast<char32_t>((lead & 0x0F) << 12 | (byte(1) & 0x3F) << 6 |
                                     (byte(2) & 0x3F));
    return static_cast<char32_t>((lead & 0x07) << 18 | (byte(1) & 0x3F) << 12 |
                                 (byte(2) & 0x3F) << 6 | (byte(3) & 0x3F));
}

bool isSmall(char32_t c) {
    return (c >= 'a' && c <= 'z') || (c >= 0xDF && c <= 0xFF && c != 0xF7) ||
           (c >= 0x100 && c < 0x180 && c % 2 == 1);
}
bool isCapital(char32_t c) {
    return (c >= 'A' && c <= 'Z') || (c >= 0xC0 && c <= 0xDE && c != 0xD7) ||
           (c >= 0x100 && c < 0x180 && c % 2 == 0);
}

/// A letter on its way to its place.
struct Draft {
    PlacedLetter letter;
    double natural = 0; ///< advance without tracking and word gap, mm
    double middle = 0;  ///< along the line, from the middle of the words
    bool space = false;
    Contours outline; ///< letter frame
};

struct DraftLine {
    std::vector<Draft> letters;
    double width = 0;
};

Contours outlineOfGlyphs(const std::vector<PlacedLetter::Glyph>& glyphs, const Face& face,
                         double cap) {
    Contours all;
    for (const auto& g : glyphs)
        for (Polyline& line : face.outline(g.glyph, cap)) {
            for (Vec2& p : line) p = p + Vec2{g.dxMm, g.dyMm};
            all.push_back(std::move(line));
        }
    return all;
}

Contours mapped(const Contours& contours, const Affine& map) {
    Contours result = contours;
    for (Polyline& line : result)
        for (Vec2& p : line) p = map(p);
    return result;
}

class Setter {
public:
    Setter(const Lettering& l, const Face& f, bool j)
        : lettering(l), face(f), joined(j), cap(l.capHeightMm) {}

    Result<Setting> set() {
        if (const auto problems = problemsOf(lettering); !problems.empty())
            return cannotDo(fmt::format("{}", fmt::join(problems, "; ")));
        const auto texts = linesOf(lettering.text);
        for (std::size_t i = 0; i < texts.size(); ++i) {
            lines.push_back(draftLine(texts[i], static_cast<int>(i)));
            lineStart += texts[i].size() + 1;
        }
        if (!setting.missing.empty())
            return cannotDo(fmt::format("the face {} does not have {}", face.name(),
                                        fmt::join(setting.missing, " ")));
        if (std::all_of(lines.begin(), lines.end(), [](const DraftLine& l) {
                return std::all_of(l.letters.begin(), l.letters.end(),
                                   [](const Draft& d) { return d.space; });
            }))
            return cannotDo("the text has no letter that can be sewn");
        for (DraftLine& line : lines) {
            if (joined) closeJoins(line);
            line.width = line.letters.empty() ? 0 : end(line) - start(line);
            setting.widthMm = std::max(setting.widthMm, line.width);
        }
        for (std::size_t i = 0; i < lines.size(); ++i)
            if (Status s = stand(lines[i], static_cast<int>(i)); !s) return s.error();
        noteJoins();
        // As they are read and sewn, whatever way the words run.
        for (DraftLine& line : lines)
            for (Draft& d : line.letters) setting.letters.push_back(std::move(d.letter));
        std::stable_sort(
            setting.letters.begin(), setting.letters.end(),
            [](const PlacedLetter& a, const PlacedLetter& b) { return a.index < b.index; });
        return std::move(setting);
    }

private:
    static double start(const DraftLine& l) {
        return l.letters.front().middle - l.letters.front().letter.advanceMm / 2;
    }
    static double end(const DraftLine& l) {
        return l.letters.back().middle + l.letters.back().letter.advanceMm / 2;
    }

    DraftLine draftLine(const std::string& text, int number) {
        const ShapedLine shaped = face.shape(text, lettering.trackingMm != 0);
        for (const std::string& m : shaped.missing)
            if (std::find(setting.missing.begin(), setting.missing.end(), m) ==
                setting.missing.end())
                setting.missing.push_back(m);
        // Letters are counted in the order of the text, whatever way it runs.
        std::vector<std::size_t> clusters;
        for (const ShapedGlyph& g : shaped.glyphs) clusters.push_back(g.cluster);
        std::sort(clusters.begin(), clusters.end());
        clusters.erase(std::unique(clusters.begin(), clusters.end()), clusters.end());
        DraftLine line;
        double pen = 0;
        for (std::size_t i = 0; i < shaped.glyphs.size();) {
            Draft d;
            const std::size_t cluster = shaped.glyphs[i].cluster;
            const auto rank =
                std::lower_bound(clusters.begin(), clusters.end(), cluster) - clusters.begin();
            const std::size_t next = rank + 1 < static_cast<std::ptrdiff_t>(clusters.size())
                                         ? clusters[static_cast<std::size_t>(rank) + 1]
                                         : text.size();
            d.letter.text = text.substr(cluster, next - cluster);
            d.letter.index = counted + static_cast<int>(rank);
            d.letter.line = number;
            d.letter.byte = lineStart + cluster;
            const double penStart = pen;
            for (; i < shaped.glyphs.size() && shaped.glyphs[i].cluster == cluster; ++i) {
                const ShapedGlyph& g = shaped.glyphs[i];
                d.letter.glyphs.push_back({g.glyph, (g.x - penStart) * cap, g.y * cap});
                pen += g.advance;
            }
            d.natural = (pen - penStart) * cap;
            d.space = d.letter.text == " " || d.letter.text == "\u00a0";
            if (d.space)
                d.letter.glyphs.clear();
            else
                d.outline = outlineOfGlyphs(d.letter.glyphs, face, cap);
            if (const LetterChange* c = lettering.change(d.letter.index)) d.letter.scale = c->scale;
            d.natural *= d.letter.scale;
            d.letter.advanceMm =
                d.natural + lettering.trackingMm + (d.space ? lettering.wordGapMm : 0);
            line.letters.push_back(std::move(d));
        }
        counted += static_cast<int>(clusters.size());
        double total = 0;
        for (const Draft& d : line.letters) total += d.letter.advanceMm;
        double s = -total / 2;
        for (Draft& d : line.letters) {
            d.middle = s + d.letter.advanceMm / 2;
            s += d.letter.advanceMm;
        }
        return line;
    }

    /// The outline on a straight baseline with the advance's middle at x.
    static Contours straight(const Draft& d, double x) {
        const double k = d.letter.scale;
        return mapped(d.outline, {k, 0, 0, k, x - d.natural / 2, 0});
    }
    bool shouldJoin(const Draft& a, const Draft& b, double fontGap) const {
        if (a.space || b.space || !isSmall(codePointOf(b.letter.text))) return false;
        const char32_t left = codePointOf(a.letter.text);
        return isSmall(left) || (isCapital(left) && fontGap < 0.02 * cap);
    }
    /// Moves letters of a joined script together until they hold; as if there were no tracking, so
    /// that tracking stays exact.
    void closeJoins(DraftLine& line) {
        double moved = 0;
        for (std::size_t i = 1; i < line.letters.size(); ++i) {
            Draft& a = line.letters[i - 1];
            Draft& b = line.letters[i];
            double move = 0;
            const double gap =
                gapAlong(straight(a, 0), straight(b, (a.natural + b.natural) / 2), 0.05);
            if (shouldJoin(a, b, gap)) {
                if (gap > -leastJoinMm && gap + leastJoinMm <= longestMoveShare * cap)
                    move = -(gap + leastJoinMm + 0.01);
                setting.joins.push_back({a.letter.index, b.letter.index, 0, move, false});
            }
            moved += move;
            b.middle += moved;
        }
        for (Draft& d : line.letters) d.middle -= moved / 2;
    }

    double shiftFor(const DraftLine& line) const {
        const double spare = (setting.widthMm - line.width) / 2;
        const double centred = line.letters.empty() ? 0 : -(start(line) + end(line)) / 2;
        switch (lettering.alignment) {
        case Alignment::left:
            return centred - spare;
        case Alignment::right:
            return centred + spare;
        case Alignment::centre:
            break;
        }
        return centred;
    }

    Status stand(DraftLine& line, int number) {
        if (line.letters.empty()) return done();
        const double shift = shiftFor(line);
        for (Draft& d : line.letters) d.middle += shift;
        const LetterLine& on = lettering.line;
        const double down = number * lettering.lineGap();
        if (on.kind == LineKind::arc || on.kind == LineKind::circle) {
            const double radius =
                on.side == ArcSide::outside ? on.radiusMm - down : on.radiusMm + down;
            if (radius < cap / 2)
                return cannotDo(fmt::format(
                    "line {} would have a radius of {:.1f} mm; take fewer lines or a larger circle",
                    number + 1, radius));
            setting.roomMm = 2 * pi * on.radiusMm;
            if (line.width > 2 * pi * radius + 1e-6)
                return tooLong(line.width, 2 * pi * radius, "circle");
            if (on.kind == LineKind::circle) spread(line, 2 * pi * radius);
        } else if (on.kind == LineKind::path) {
            setting.roomMm = lengthOf(on.path);
            if (line.width > setting.roomMm + 1e-6)
                return tooLong(line.width, setting.roomMm, "path");
        }
        if (on.even && on.kind != LineKind::straight) evenOut(line, number);
        if (joined && (on.kind == LineKind::arc || on.kind == LineKind::path))
            closeBentJoins(line, number);
        for (Draft& d : line.letters) place(d, number, d.middle);
        return done();
    }
    Status tooLong(double width, double room, const char* what) const {
        return cannotDo(fmt::format("the words are {:.1f} mm long and the {} only {:.1f} mm; a cap "
                                    "height of {:.1f} mm would fit",
                                    width, what, room, std::floor(cap * room / width * 10) / 10));
    }
    static void spread(DraftLine& line, double room) {
        const double each = (room - line.width) / static_cast<double>(line.letters.size());
        double s = -room / 2;
        for (Draft& d : line.letters) {
            d.letter.advanceMm += each;
            d.middle = s + d.letter.advanceMm / 2;
            s += d.letter.advanceMm;
        }
    }

    /// Place and direction (degrees, clockwise) of the baseline at a length from the middle.
    std::pair<Vec2, double> baseline(double s, double chord, int number) const {
        const LetterLine& on = lettering.line;
        const double down = number * lettering.lineGap();
        switch (on.kind) {
        case LineKind::straight:
            return {{s, down}, 0};
        case LineKind::arc:
        case LineKind::circle:
            return onCircle(s, down);
        case LineKind::path:
            return onPath(s, chord, down);
        }
        return {};
    }
    std::pair<Vec2, double> onCircle(double s, double down) const {
        const LetterLine& on = lettering.line;
        const bool outside = on.side == ArcSide::outside;
        const double radius = outside ? on.radiusMm - down : on.radiusMm + down;
        const double turned = on.middleDeg * pi / 180;
        // Clockwise from the top outside, counter-clockwise from the bottom inside.
        const double angle = outside ? s / radius + turned : pi - s / radius + turned;
        const Vec2 at{radius * std::sin(angle), -radius * std::cos(angle)};
        return {at, (outside ? angle : angle - pi) * 180 / pi};
    }
    std::pair<Vec2, double> onPath(double s, double chord, double down) const {
        const Polyline& path = lettering.line.path;
        const double middle = lengthOf(path) / 2;
        const Vec2 a = along(path, middle + s - chord / 2), b = along(path, middle + s + chord / 2);
        const Vec2 dir = b - a;
        const double angle = std::atan2(dir.y, dir.x);
        const Vec2 normal{-std::sin(angle), std::cos(angle)};
        return {along(path, middle + s) + normal * down, angle * 180 / pi};
    }
    static Vec2 along(const Polyline& path, double s) {
        for (std::size_t i = 1; i < path.size(); ++i) {
            const double size = distance(path[i - 1], path[i]);
            if ((s <= size || i + 1 == path.size()) && size > 0)
                return lerp(path[i - 1], path[i], s / size);
            s -= size;
        }
        return path.back();
    }

    Affine mapAt(const Draft& d, int number, double s, double& rotation, Vec2& at) const {
        std::tie(at, rotation) = baseline(s, 0.6 * d.natural, number);
        if (lettering.line.upright) rotation = 0;
        const LetterChange* c = lettering.change(d.letter.index);
        const double turn = (rotation + (c ? c->turnDeg : 0)) * pi / 180;
        const Turn base = turnOf(rotation);
        const double k = d.letter.scale;
        const double cosine = std::cos(turn) * k, sine = std::sin(turn) * k;
        const Vec2 nudge = c ? Vec2{c->dxMm * base.cosine - c->dyMm * base.sine,
                                    c->dxMm * base.sine + c->dyMm * base.cosine}
                             : Vec2{};
        const double left = -d.natural / 2 / k; // the pen's place, in the letter's own size
        return {cosine,
                -sine,
                sine,
                cosine,
                at.x + nudge.x + cosine * left,
                at.y + nudge.y + sine * left};
    }
    void place(Draft& d, int number, double s) const {
        d.letter.map = mapAt(d, number, s, d.letter.rotationDeg, d.letter.at);
    }
    Contours curved(const Draft& d, int number, double s) const {
        double rotation = 0;
        Vec2 at;
        return mapped(d.outline, mapAt(d, number, s, rotation, at));
    }

    /// The gap of two letters along the baseline of the left one, as they stand on the line.
    double bentGap(const Draft& a, const Draft& b, int number) const {
        double rotation = 0;
        Vec2 at;
        const Affine level = mapAt(a, number, a.middle, rotation, at).inverse();
        return a.letter.scale *
               gapAlong(a.outline, mapped(curved(b, number, b.middle), level), 0.05);
    }
    bool isJoin(const Draft& a, const Draft& b) const {
        return std::any_of(setting.joins.begin(), setting.joins.end(), [&](const LetterJoin& j) {
            return j.left == a.letter.index && j.right == b.letter.index;
        });
    }
    /// On the outside of a bend letters fan out: joins that held on the straight line are closed
    /// again. Tracking that opens them is as it was asked for.
    void closeBentJoins(DraftLine& line, int number) {
        if (lettering.trackingMm != 0) return;
        double moved = 0;
        for (std::size_t i = 1; i < line.letters.size(); ++i) {
            Draft& a = line.letters[i - 1];
            Draft& b = line.letters[i];
            b.middle += moved;
            if (!isJoin(a, b)) continue;
            const double meant = b.middle;
            for (int round = 0; round < 4; ++round) {
                const double gap = bentGap(a, b, number);
                if (!(gap > -leastJoinMm)) break;
                b.middle -= gap + leastJoinMm + 0.01;
            }
            if (meant - b.middle > longestMoveShare * cap) b.middle = meant;
            moved += b.middle - meant;
        }
        for (Draft& d : line.letters) d.middle -= moved / 2;
    }

    /// On a curve gaps open on one side and close on the other: each is brought back to what it is
    /// on a straight line.
    void evenOut(DraftLine& line, int number) const {
        double moved = 0;
        const Draft* before = nullptr;
        for (Draft& d : line.letters) {
            d.middle += moved;
            if (d.space) continue;
            if (before && lettering.line.kind != LineKind::circle) {
                const double own = d.middle - moved, old = before->middle;
                const double straightStep = own + moved - old;
                const double want = gapBetween(straight(*before, 0), straight(d, straightStep));
                double extra = 0;
                for (int round = 0; round < 12 && want > 0; ++round) {
                    const double now = gapBetween(curved(*before, number, before->middle),
                                                  curved(d, number, d.middle + extra));
                    const double more = std::clamp(want - now, -0.2 * cap, 0.2 * cap);
                    extra += more;
                    if (std::abs(more) < 0.005) break;
                }
                extra = std::clamp(extra, -0.5 * cap, 1.5 * cap);
                d.middle += extra;
                moved += extra;
            }
            before = &d;
        }
        for (Draft& d : line.letters) d.middle -= moved / 2;
    }
    static double gapBetween(const Contours& a, const Contours& b) { return distanceBetween(a, b); }

    void noteJoins() {
        const auto find = [this](int index) -> const Draft* {
            for (const DraftLine& line : lines)
                for (const Draft& d : line.letters)
                    if (d.letter.index == index) return &d;
            return nullptr;
        };
        for (LetterJoin& join : setting.joins) {
            const Draft* a = find(join.left);
            const Draft* b = find(join.right);
            // Seen along the left letter's baseline.
            const Affine level = Affine{a->letter.map}.inverse();
            const double k = a->letter.scale;
            const double gap =
                k * gapAlong(a->outline, mapped(mapped(b->outline, b->letter.map), level), 0.05);
            join.overlapMm = std::isfinite(gap) ? -gap : -cap;
            join.closed = join.overlapMm >= leastJoinMm - 0.02;
        }
    }

    const Lettering& lettering;
    const Face& face;
    bool joined;
    double cap;
    int counted = 0;
    std::size_t lineStart = 0; ///< byte of the text where the line begins
    std::vector<DraftLine> lines;
    Setting setting;
};

} // namespace

Result<Setting> setLettering(const Lettering& lettering, const Face& face, bool joined) {
    return Setter(lettering, face, joined).set();
}

Contours outlineOf(const PlacedLetter& letter, const Face& face, double capHeightMm) {
    return mapped(outlineOfGlyphs(letter.glyphs, face, capHeightMm), letter.map);
}

} // namespace rapt
