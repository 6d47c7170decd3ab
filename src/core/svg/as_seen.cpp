#include "svg/as_seen.h"

#include "relieve/region.h"
#include "thread/colour_words.h"
#include "thread/palette.h"

#include <cctype>
#include <fmt/format.h>
#include <map>
#include <numeric>

namespace rapt {
namespace {

constexpr std::size_t mostItems = 5'000;
constexpr double mostEdges = 400'000; ///< of all areas at once
constexpr double mostWork = 4e6;      ///< edges of areas that were cut by others, summed
constexpr double satinFromMm = 1.0;
constexpr std::size_t mostLines = 800; ///< that are cut where they cross
constexpr double faintest = 0.2;       ///< what is more transparent is not sewn
constexpr double opaqueFrom = 0.98;
constexpr double likeColours = 8; ///< CIEDE2000
constexpr int usualThreads = 12;
constexpr double leastAreaMm2 = 0.5, sliverMm = 0.4, speckMm2 = 0.2;
constexpr double areaStrokeMm = 7; ///< wider strokes are areas
constexpr double leastLineMm = 0.5;
constexpr double wideFromMm = 2.4, narrowTuckMm = 0.3;   ///< of areas over a tuck
constexpr double lineTuckMm = 0.35, leastHollowMm = 0.4; ///< of the ground below lines
constexpr Rgb white{255, 255, 255};

Rgb blended(Rgb over, Rgb under, double alpha) {
    const auto mix = [alpha](int a, int b) {
        return static_cast<std::uint8_t>(std::lround(alpha * a + (1 - alpha) * b));
    };
    return {mix(over.r, under.r), mix(over.g, under.g), mix(over.b, under.b)};
}

/// What is seen of one element.
struct Patch {
    Contours area;
    Box box;
    Rgb colour;
    std::size_t item = 0;
};

/// A stroke that stays a line.
struct Line {
    std::vector<SubPath> paths;
    Rgb colour;
    double mm = 0;
    LineCap cap = LineCap::butt;
    std::size_t item = 0;
};

/// Without points that nobody sees: what lies within a hair of the line between those kept.
Polyline thinned(const Polyline& line) {
    constexpr double hairMm = 0.025, longestMm = 1.5;
    Polyline kept;
    std::size_t from = 0;
    for (std::size_t i = 0; i < line.size(); ++i) {
        if (kept.empty()) {
            kept.push_back(line[i]);
            from = i;
            continue;
        }
        if (i + 1 == line.size()) {
            kept.push_back(line[i]);
            break;
        }
        const Vec2 to = line[i + 1];
        bool straight = distance(kept.back(), to) < longestMm;
        for (std::size_t k = from + 1; k <= i && straight; ++k)
            straight = distanceToSegment(line[k], kept.back(), to) < hairMm;
        if (straight) continue;
        kept.push_back(line[i]);
        from = i;
    }
    return kept;
}

/// What an element's paths enclose; nothing where they have more edges side by side than the
/// polygon library gets through in time, which is asked before it begins.
std::optional<Contours> closedPaths(const DrawnItem& item) {
    Contours contours;
    for (const SubPath& path : item.paths)
        if (Polyline points = thinned(path.points); points.size() >= 3)
            contours.push_back(std::move(points));
    if (sweepWork(contours) > mostSweepWork) return std::nullopt;
    return item.evenOdd ? unionOf(contours, {}) : unitedNonZero(contours);
}

/// Not one that a drawing program counted up (`path1234`, `g12-3`).
bool isGivenName(std::string_view name) {
    constexpr std::string_view counted[] = {"path",    "rect", "circle", "ellipse",
                                            "line",    "g",    "use",    "polyline",
                                            "polygon", "Area", "svg",    "XMLID"};
    const auto letters = name.substr(0, name.find_first_of("0123456789-_ ."));
    const auto rest = name.substr(letters.size());
    return std::find(std::begin(counted), std::end(counted), letters) == std::end(counted) ||
           rest.find_first_not_of("0123456789-_ .") != std::string_view::npos;
}

std::size_t edgesOf(const Contours& contours) {
    std::size_t n = 0;
    for (const Polyline& c : contours) n += c.size();
    return n;
}

class Flattening {
public:
    Flattening(const Drawing& d, const SeenOptions& o, std::stop_token s)
        : drawing(d), options(o), stop(std::move(s)) {}

    Result<Drawing> run() {
        if (drawing.items.size() > mostItems)
            return cannotDo(fmt::format("it has {} elements; as one sees it {} can be worked out",
                                        drawing.items.size(), mostItems));
        for (std::size_t i = 0; i < drawing.items.size(); ++i) {
            if (stop.stop_requested()) return cancelled();
            if (!paint(i)) return cannotDo("its areas have more edges than can be worked out");
        }
        Drawing seen;
        seen.title = drawing.title;
        seen.widthMm = drawing.widthMm;
        seen.heightMm = drawing.heightMm;
        seen.unsupported = drawing.unsupported;
        reduceColours();
        partLines();
        if (const Status laid = layAreas(seen); !laid) return laid.error();
        layLines(seen);
        if (faint > 0)
            seen.unsupported.push_back(
                fmt::format("{} too faint to sew: left open", counted(faint, "area")));
        if (slivers > 0)
            seen.unsupported.push_back(fmt::format("{} smaller than {} mm² or narrower than {} mm: "
                                                   "left to what lies beside",
                                                   counted(slivers, "area"), leastAreaMm2,
                                                   sliverMm));
        if (pages > 0) seen.unsupported.push_back("the page's white ground: left open");
        return seen;
    }

private:
    static std::string counted(int n, const char* what) {
        return fmt::format("{} {}{}", n, what, n == 1 ? "" : "s");
    }

    bool paint(std::size_t i) {
        const DrawnItem& item = drawing.items[i];
        if (item.fill) {
            std::optional<Contours> area = closedPaths(item);
            if (!area || sweepWork(*area) > mostSweepWork) return false;
            if (isPage(item, *area))
                ++pages;
            else
                lay(clipped(std::move(*area), item), *item.fill, item.fillOpacity, i);
        }
        if (!item.stroke) return true;
        if (item.strokeOpacity < faintest) {
            ++faint;
        } else if (item.strokeMm > areaStrokeMm) {
            Contours band;
            for (const SubPath& path : item.paths) {
                Polyline points = path.points;
                if (path.closed) points.push_back(points.front());
                band = unionOf(band, strokeArea(points, item.strokeMm));
            }
            lay(clipped(std::move(band), item), *item.stroke, item.strokeOpacity, i);
        } else {
            lines.push_back({item.paths, blended(*item.stroke, white, item.strokeOpacity),
                             item.strokeMm, item.cap, i});
            if (!item.clip.empty()) keepOnly(lines.back(), Region(item.clip), true);
        }
        return edges < mostEdges && worked < mostWork;
    }

    /// White, and as large as the page or larger.
    bool isPage(const DrawnItem& item, const Contours& area) const {
        if (!(*item.fill == white) || item.stroke || drawing.widthMm <= 0) return false;
        const Box page{0, 0, drawing.widthMm, drawing.heightMm};
        return areaOf(area) >= 0.98 * page.width() * page.height() &&
               boundsOf(area).grown(0.02 * page.width()).contains(page.centre());
    }

    static Contours clipped(Contours area, const DrawnItem& item) {
        return item.clip.empty() ? area : intersectionOf(area, item.clip);
    }

    /// Quads along the line, united: round enough for what is wider than a satin.
    static Contours strokeArea(const Polyline& points, double mm) {
        Contours quads;
        for (std::size_t k = 1; k < points.size(); ++k) {
            const Vec2 d = points[k] - points[k - 1];
            const double l = length(d);
            if (l < 1e-9) continue;
            const Vec2 n = Vec2{-d.y, d.x} * (mm / 2 / l), e = d * (mm / 4 / l);
            quads.push_back({points[k - 1] - e + n, points[k] + e + n, points[k] + e - n,
                             points[k - 1] - e - n});
        }
        return unitedNonZero(quads);
    }

    void lay(Contours area, Rgb colour, double alpha, std::size_t item) {
        if (area.empty()) return;
        if (alpha < faintest) {
            ++faint;
            return;
        }
        const Box box = boundsOf(area);
        const bool opaque = alpha >= opaqueFrom;
        std::vector<Patch> next;
        Contours open = area; // of it, what lies over nothing
        for (Patch& below : patches) {
            if (!below.box.overlaps(box)) {
                next.push_back(std::move(below));
                continue;
            }
            worked += static_cast<double>(edgesOf(below.area) + edgesOf(area));
            if (!opaque) {
                Contours both = intersectionOf(below.area, area);
                open = differenceOf(open, below.area);
                add(next, std::move(both), blended(colour, below.colour, alpha), item);
            }
            add(next, differenceOf(below.area, area), below.colour, below.item);
        }
        add(next, opaque ? std::move(area) : std::move(open),
            opaque ? colour : blended(colour, white, alpha), item);
        patches = std::move(next);
        edges = 0;
        for (const Patch& p : patches) edges += static_cast<double>(edgesOf(p.area));
        if (!opaque) return;
        const Region hidden(patches.back().area);
        for (Line& line : lines) keepOnly(line, hidden, false);
    }

    static void add(std::vector<Patch>& list, Contours area, Rgb colour, std::size_t item) {
        if (area.empty()) return;
        const Box box = boundsOf(area);
        list.push_back({std::move(area), box, colour, item});
    }

    /// The parts of a line inside an area, or outside.
    static void keepOnly(Line& line, const Region& region, bool inside) {
        std::vector<SubPath> kept;
        for (const SubPath& path : line.paths) {
            Polyline points = path.points;
            if (path.closed) points.push_back(points.front());
            bool whole = true;
            Polyline part;
            const auto end = [&] {
                if (part.size() > 1 && lengthOf(part) > leastLineMm)
                    kept.push_back({std::move(part), false});
                part.clear();
            };
            const std::size_t before = kept.size();
            for (std::size_t k = 1; k < points.size(); ++k)
                region.eachPart(points[k - 1], points[k], [&](Vec2 a, Vec2 b, bool in) {
                    if (in != inside) {
                        whole = false;
                        return end();
                    }
                    if (part.empty()) part.push_back(a);
                    part.push_back(b);
                });
            if (whole) {
                kept.resize(before);
                kept.push_back(path);
            } else {
                end();
            }
        }
        line.paths = std::move(kept);
    }

    /// Every colour becomes one of few: the nearest two are joined, by their areas, until the rest
    /// differ enough and are few enough.
    void reduceColours() {
        struct Colour {
            Rgb rgb;
            double weight = 0, largest = 0;
            std::vector<std::uint32_t> members;
        };
        std::map<std::uint32_t, double> weights;
        const auto key = [](Rgb c) {
            return static_cast<std::uint32_t>(c.r << 16 | c.g << 8 | c.b);
        };
        for (const Patch& p : patches) weights[key(p.colour)] += areaOf(p.area);
        for (const Line& l : lines)
            for (const SubPath& path : l.paths)
                weights[key(l.colour)] += lengthOf(path.points) * std::max(0.4, l.mm);
        // Very many colours first fall into cells, so that pairs stay few.
        std::map<std::uint32_t, Colour> cells;
        const int shift = weights.size() > 300 ? 4 : 0;
        for (const auto& [k, weight] : weights) {
            const Rgb rgb{static_cast<std::uint8_t>(k >> 16), static_cast<std::uint8_t>(k >> 8),
                          static_cast<std::uint8_t>(k)};
            const std::uint32_t cell = static_cast<std::uint32_t>(
                (rgb.r >> shift) << 16 | (rgb.g >> shift) << 8 | (rgb.b >> shift));
            Colour& c = cells[cell];
            c.weight += weight;
            c.members.push_back(k);
            if (weight >= c.largest) {
                c.largest = weight;
                c.rgb = rgb;
            }
        }
        std::vector<Colour> colours;
        for (auto& [cell, c] : cells) colours.push_back(std::move(c));
        const auto most =
            static_cast<std::size_t>(std::max(1, options.threads.value_or(usualThreads)));
        // Of two that join the larger keeps its colour: differences are worked out once.
        const std::size_t n = colours.size();
        std::vector<double> apart(n * n);
        for (std::size_t i = 0; i < n; ++i)
            for (std::size_t j = 0; j < i; ++j)
                apart[i * n + j] = colourDifference(colours[i].rgb, colours[j].rgb);
        std::vector<std::size_t> left(n);
        std::iota(left.begin(), left.end(), std::size_t{0});
        while (left.size() > 1) {
            std::size_t a = 0, b = 0;
            double least = 1e9;
            for (std::size_t x = 0; x < left.size(); ++x)
                for (std::size_t y = 0; y < x; ++y) {
                    const std::size_t i = left[x], j = left[y];
                    const double d = apart[i * n + j];
                    // What covers little gives way first where there are too many.
                    const double cost =
                        left.size() > most
                            ? d * std::sqrt(std::min(colours[i].weight, colours[j].weight))
                            : d;
                    if (cost >= least) continue;
                    least = cost;
                    a = i;
                    b = j;
                }
            if (left.size() <= most && (options.threads || least >= likeColours)) break;
            const std::size_t kept = colours[a].weight >= colours[b].weight ? a : b;
            const std::size_t gone = kept == a ? b : a;
            colours[kept].weight += colours[gone].weight;
            auto& members = colours[kept].members;
            members.insert(members.end(), colours[gone].members.begin(),
                           colours[gone].members.end());
            colours[gone].members.clear();
            std::erase(left, gone);
        }
        std::map<std::uint32_t, Rgb> now;
        for (const Colour& c : colours)
            for (const std::uint32_t k : c.members) now[k] = c.rgb;
        for (Patch& p : patches) p.colour = now[key(p.colour)];
        for (Line& l : lines) l.colour = now[key(l.colour)];
    }

    /// The first name that a person gave; else what one sees of it.
    std::string nameOf(const std::vector<std::size_t>& items, Rgb colour, const char* what) const {
        for (const std::size_t i : items) {
            const std::string& name = drawing.items[i].name;
            if (isGivenName(name))
                return items.size() == 1 ? name
                                         : fmt::format("{} and {} more", name, items.size() - 1);
        }
        std::string words = colourWords(colour) + " " + what;
        words[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(words[0])));
        return words;
    }

    /// One item a colour, in the order in which their areas were painted in the mean.
    Status layAreas(Drawing& seen) {
        struct Ground {
            Rgb colour;
            Contours area;
            double weight = 0, order = 0;
            std::vector<std::size_t> items;
        };
        std::vector<Ground> grounds;
        for (Patch& p : patches) {
            auto it = std::find_if(grounds.begin(), grounds.end(),
                                   [&](const Ground& g) { return g.colour == p.colour; });
            if (it == grounds.end()) it = grounds.insert(grounds.end(), {p.colour, {}, 0, 0, {}});
            const double size = areaOf(p.area);
            it->weight += size;
            it->order += size * static_cast<double>(p.item);
            it->area.insert(it->area.end(), p.area.begin(), p.area.end());
            if (std::find(it->items.begin(), it->items.end(), p.item) == it->items.end())
                it->items.push_back(p.item);
        }
        for (Ground& g : grounds) {
            if (stop.stop_requested()) return cancelled();
            if (!bands.empty()) g.area = differenceOf(unitedNonZero(g.area), bands);
            // Edges that two areas share are closed by a hair.
            g.area = offsetContours(offsetContours(g.area, 0.02), -0.02);
            Contours kept;
            for (Contours& part : componentsOf(g.area)) {
                if (areaOf(part) < leastAreaMm2 || offsetContours(part, -sliverMm / 2).empty()) {
                    ++slivers;
                    continue;
                }
                kept.insert(kept.end(), part.begin(), part.end());
            }
            g.area = std::move(kept);
        }
        std::erase_if(grounds, [](const Ground& g) { return g.area.empty(); });
        // What is sewn as lines too comes last, with them: one change less.
        for (Ground& g : grounds)
            if (std::any_of(lines.begin(), lines.end(), [&](const Line& l) {
                    return !l.paths.empty() && l.colour == g.colour;
                }))
                g.order += g.weight * static_cast<double>(drawing.items.size());
        std::stable_sort(grounds.begin(), grounds.end(), [](const Ground& a, const Ground& b) {
            return a.order / a.weight < b.order / b.weight;
        });
        Later later;
        std::vector<DrawnItem> items;
        for (std::size_t k = grounds.size(); k-- > 0;) {
            if (stop.stop_requested()) return cancelled();
            Ground& g = grounds[k];
            DrawnItem item;
            item.name = nameOf(g.items, g.colour, "areas");
            item.fill = g.colour;
            item.evenOdd = true;
            const Contours tuck = later.tuckOf(g.area, options.tuckMm);
            const Contours sewn = tuck.empty() ? g.area : unionOf(g.area, tuck);
            // Specks and pinholes of the cutting are no areas.
            for (const Polyline& c : sewn)
                if (Polyline points = thinned(c); points.size() >= 3 && areaOf({points}) > speckMm2)
                    item.paths.push_back({std::move(points), true});
            items.push_back(std::move(item));
            later.add(g.area);
        }
        seen.items.assign(std::make_move_iterator(items.rbegin()),
                          std::make_move_iterator(items.rend()));
        return done();
    }

    /// What is sewn after an area: it reaches under wide ones by the whole tuck, under narrow ones
    /// by no more than the pull, as the tucks of both edges would lie under all of them.
    struct Later {
        Contours wide, narrow;

        void add(const Contours& area) {
            Contours wider, narrower;
            for (const Contours& part : componentsOf(area)) {
                double around = 0;
                for (const Polyline& c : part)
                    around += lengthOf(c) + distance(c.back(), c.front());
                Contours& list = 2 * areaOf(part) < wideFromMm * around ? narrower : wider;
                list.insert(list.end(), part.begin(), part.end());
            }
            if (!wider.empty()) wide = unionOf(wide, wider);
            if (!narrower.empty()) narrow = unionOf(narrow, narrower);
        }
        Contours tuckOf(const Contours& area, double mm) const {
            Contours tuck;
            if (!wide.empty()) tuck = intersectionOf(offsetContours(area, mm), wide);
            if (!narrow.empty())
                tuck = unionOf(
                    tuck, intersectionOf(offsetContours(area, std::min(narrowTuckMm, mm)), narrow));
            return tuck;
        }
    };

    /// Satins along strokes do not lie on each other: the lower one ends a little under the upper.
    void partLines() {
        if (lines.size() > mostLines) return;
        constexpr double under = 0.3;
        Contours over;
        for (std::size_t k = lines.size(); k-- > 0;) {
            Line& line = lines[k];
            if (!over.empty()) keepOnly(line, Region(over), false);
            if (line.mm < satinFromMm) continue;
            Contours band, middle;
            for (const SubPath& path : line.paths) {
                Polyline points = path.points;
                if (path.closed) points.push_back(points.front());
                const auto add = [&](Contours& list, double mm) {
                    Contours quads = strokeArea(points, mm);
                    list.insert(list.end(), quads.begin(), quads.end());
                };
                add(band, line.mm - 2 * under);
                // Ground ends below a line that covers it, with enough left for the pull.
                if (line.mm > 2 * lineTuckMm + leastHollowMm) add(middle, line.mm - 2 * lineTuckMm);
            }
            over = unionOf(over, unitedNonZero(band));
            bands = unionOf(bands, unitedNonZero(middle));
        }
    }

    /// Lines of one colour, width and end are one item, those of a colour one after the other.
    void layLines(Drawing& seen) {
        std::vector<std::pair<DrawnItem, std::vector<std::size_t>>> made;
        for (Line& l : lines) {
            if (l.paths.empty()) continue;
            auto it = std::find_if(made.begin(), made.end(), [&](const auto& m) {
                return *m.first.stroke == l.colour && std::abs(m.first.strokeMm - l.mm) < 0.05 &&
                       m.first.cap == l.cap;
            });
            if (it == made.end()) {
                DrawnItem item;
                item.stroke = l.colour;
                item.strokeMm = l.mm;
                item.cap = l.cap;
                const auto same = std::find_if(made.rbegin(), made.rend(), [&](const auto& m) {
                    return *m.first.stroke == l.colour;
                });
                it = made.insert(same.base(), {std::move(item), {}});
                if (same == made.rend()) {
                    std::rotate(it, it + 1, made.end()); // a new colour comes last
                    it = made.end() - 1;
                }
            }
            it->first.paths.insert(it->first.paths.end(), l.paths.begin(), l.paths.end());
            it->second.push_back(l.item);
        }
        for (auto& [item, from] : made) {
            item.name = nameOf(from, *item.stroke, "lines");
            item.onGround = isOnGround(item);
            seen.items.push_back(std::move(item));
        }
    }

    /// True if more than half of its lines lie on areas.
    bool isOnGround(const DrawnItem& item) const {
        double on = 0, all = 0;
        for (const SubPath& path : item.paths)
            for (const Vec2& p : path.points) {
                ++all;
                // Strokes run along edges: to one side of them is enough.
                const double d = item.strokeMm / 4;
                on += std::any_of(patches.begin(), patches.end(), [&](const Patch& g) {
                    if (!g.box.grown(d).contains(p)) return false;
                    for (const Vec2 by : {Vec2{d, d}, {-d, d}, {d, -d}, {-d, -d}})
                        if (contains(g.area, p + by)) return true;
                    return false;
                });
            }
        return on > all / 2;
    }

    const Drawing& drawing;
    const SeenOptions& options;
    std::stop_token stop;
    std::vector<Patch> patches;
    std::vector<Line> lines;
    double edges = 0, worked = 0;
    Contours bands; ///< under the middles of strokes, where no ground is needed
    int faint = 0, slivers = 0, pages = 0;
};

} // namespace

Box extentsOf(const Drawing& drawing) {
    Box box;
    for (const DrawnItem& item : drawing.items)
        for (const SubPath& path : item.paths)
            box.add(boundsOf(path.points).grown(item.stroke ? item.strokeMm / 2 : 0));
    return box;
}

Drawing scaled(Drawing drawing, double factor) {
    drawing.widthMm *= factor;
    drawing.heightMm *= factor;
    for (DrawnItem& item : drawing.items) {
        item.strokeMm *= factor;
        for (SubPath& path : item.paths)
            for (Vec2& p : path.points) p = p * factor;
        for (Polyline& c : item.clip)
            for (Vec2& p : c) p = p * factor;
    }
    return drawing;
}

Result<Drawing> asSeen(const Drawing& drawing, const SeenOptions& options, std::stop_token stop) {
    return Flattening(drawing, options, std::move(stop)).run();
}

} // namespace rapt
