#include "svg/drawing.h"

#include "base/file_io.h"
#include "svg/style.h"

#include <2geom/circle.h>
#include <2geom/ellipse.h>
#include <2geom/path-sink.h>
#include <2geom/pathvector.h>
#include <2geom/svg-path-parser.h>
#include <2geom/transforms.h>
#include <charconv>
#include <fmt/format.h>
#include <numbers>

namespace rapt {
namespace {

using pugi::xml_node;

constexpr std::size_t maxBytes = 64'000'000;
constexpr int maxElements = 100'000;
constexpr std::size_t maxPoints = 2'000'000;
constexpr int maxDepth = 128;
constexpr double mmPerPx = 25.4 / 96;
constexpr double farMm = 10'000;
constexpr double flatnessMm = 0.02;

/// Thrown inside the reader and turned into an Error at its edge.
struct SvgError {
    std::string place, reason;
};

std::string describe(const xml_node& element) {
    const char* id = element.attribute("id").value();
    return *id ? fmt::format("<{} id=\"{}\">", element.name(), id)
               : fmt::format("<{}>", element.name());
}

/// Numbers of a list such as `points` or the arguments of a transform.
std::vector<double> numbersIn(std::string_view text, const std::string& place) {
    std::vector<double> numbers;
    while (true) {
        const std::size_t start = text.find_first_not_of(", \t\r\n");
        if (start == std::string_view::npos) return numbers;
        text.remove_prefix(start);
        if (text.starts_with('+')) text.remove_prefix(1);
        double value = 0;
        const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
        if (error != std::errc())
            throw SvgError{place, fmt::format("'{}' is not a number", text.substr(0, 20))};
        numbers.push_back(value);
        text.remove_prefix(static_cast<std::size_t>(end - text.data()));
    }
}

Geom::Affine oneTransform(std::string_view name, const std::vector<double>& v,
                          const std::string& place) {
    const std::size_t n = v.size();
    if (name == "matrix" && n == 6) return {v[0], v[1], v[2], v[3], v[4], v[5]};
    if (name == "translate" && (n == 1 || n == 2)) return Geom::Translate(v[0], n == 2 ? v[1] : 0);
    if (name == "scale" && (n == 1 || n == 2)) return Geom::Scale(v[0], n == 2 ? v[1] : v[0]);
    if (name == "rotate" && n == 1) return Geom::Rotate::from_degrees(v[0]);
    if (name == "rotate" && n == 3) {
        const Geom::Translate there(v[1], v[2]);
        return there.inverse() * Geom::Rotate::from_degrees(v[0]) * there;
    }
    if (name == "skewX" && n == 1) return Geom::HShear(std::tan(v[0] * std::numbers::pi / 180));
    if (name == "skewY" && n == 1) return Geom::VShear(std::tan(v[0] * std::numbers::pi / 180));
    throw SvgError{place, fmt::format("transform '{}' with {} numbers is not known", name, n)};
}

/// The transforms of an attribute; the last one acts first.
Geom::Affine transformOf(const xml_node& element) {
    const std::string place = describe(element) + " transform";
    std::string_view text = trimmed(element.attribute("transform").value());
    Geom::Affine all;
    while (!text.empty()) {
        const std::size_t open = text.find('(');
        const std::size_t close = text.find(')');
        if (open == std::string_view::npos || close == std::string_view::npos || close < open)
            throw SvgError{place, "cannot be read"};
        const std::string_view name = trimmed(text.substr(0, open));
        all = oneTransform(name, numbersIn(text.substr(open + 1, close - open - 1), place), place) *
              all;
        text.remove_prefix(close + 1);
        text.remove_prefix(std::min(text.size(), text.find_first_not_of(", \t\r\n")));
    }
    return all;
}

double lengthOf(const xml_node& element, const char* key, double fallback = 0) {
    const pugi::xml_attribute a = element.attribute(key);
    if (!a || !*a.value()) return fallback;
    const auto px = svg::parseLengthPx(a.value());
    if (!px)
        throw SvgError{describe(element) + " " + key,
                       fmt::format("'{}' is not a length that can be read", a.value())};
    return *px;
}

Geom::PathVector roundedRectangle(double x, double y, double w, double h, double rx, double ry) {
    Geom::PathBuilder builder;
    builder.moveTo({x + rx, y});
    const auto arc = [&](Geom::Point to) {
        if (rx > 0 && ry > 0) builder.arcTo(rx, ry, 0, false, true, to);
    };
    builder.lineTo({x + w - rx, y});
    arc({x + w, y + ry});
    builder.lineTo({x + w, y + h - ry});
    arc({x + w - rx, y + h});
    builder.lineTo({x + rx, y + h});
    arc({x, y + h - ry});
    builder.lineTo({x, y + ry});
    arc({x + rx, y});
    builder.closePath();
    builder.flush();
    return builder.peek();
}

Geom::PathVector rectangleOf(const xml_node& e) {
    const double w = lengthOf(e, "width"), h = lengthOf(e, "height");
    if (w < 0 || h < 0) throw SvgError{describe(e), "has a negative size"};
    if (w == 0 || h == 0) return {};
    double rx = lengthOf(e, "rx", -1), ry = lengthOf(e, "ry", -1);
    if (rx < 0) rx = std::max(0.0, ry);
    if (ry < 0) ry = rx;
    return roundedRectangle(lengthOf(e, "x"), lengthOf(e, "y"), w, h, std::min(rx, w / 2),
                            std::min(ry, h / 2));
}

Geom::PathVector ellipseOf(const xml_node& e, double rx, double ry) {
    if (rx < 0 || ry < 0) throw SvgError{describe(e), "has a negative radius"};
    if (rx == 0 || ry == 0) return {};
    const double cx = lengthOf(e, "cx"), cy = lengthOf(e, "cy");
    Geom::PathBuilder builder;
    builder.moveTo({cx + rx, cy});
    builder.arcTo(rx, ry, 0, false, true, {cx - rx, cy});
    builder.arcTo(rx, ry, 0, false, true, {cx + rx, cy});
    builder.closePath();
    builder.flush();
    return builder.peek();
}

Geom::PathVector polylineOf(const xml_node& e, bool closed) {
    const auto v = numbersIn(e.attribute("points").value(), describe(e) + " points");
    if (v.size() % 2 == 1)
        throw SvgError{describe(e) + " points", "has an odd number of coordinates"};
    if (v.size() < 4) return {};
    Geom::PathBuilder builder;
    builder.moveTo({v[0], v[1]});
    for (std::size_t i = 2; i + 1 < v.size(); i += 2) builder.lineTo({v[i], v[i + 1]});
    if (closed) builder.closePath();
    builder.flush();
    return builder.peek();
}

Geom::PathVector pathOf(const xml_node& e) {
    Geom::PathVector paths;
    Geom::PathBuilder builder(paths);
    try {
        Geom::parse_svg_path(e.attribute("d").value(), builder);
    } catch (const std::exception&) { // the parser throws several kinds
        throw SvgError{describe(e) + " d", "the path cannot be read"};
    }
    builder.flush();
    return paths;
}

std::optional<Geom::PathVector> outlineOf(const xml_node& e) {
    const std::string_view name = e.name();
    if (name == "path") return pathOf(e);
    if (name == "rect") return rectangleOf(e);
    if (name == "circle") return ellipseOf(e, lengthOf(e, "r"), lengthOf(e, "r"));
    if (name == "ellipse") return ellipseOf(e, lengthOf(e, "rx"), lengthOf(e, "ry"));
    if (name == "polyline") return polylineOf(e, false);
    if (name == "polygon") return polylineOf(e, true);
    if (name == "line") {
        Geom::PathBuilder builder;
        builder.moveTo({lengthOf(e, "x1"), lengthOf(e, "y1")});
        builder.lineTo({lengthOf(e, "x2"), lengthOf(e, "y2")});
        builder.flush();
        return builder.peek();
    }
    return std::nullopt;
}

/// Points of a curve after its first, no farther from it than the flatness.
void appendFlat(const Geom::Curve& curve, Polyline& out) {
    int steps = 1;
    if (!curve.isLineSegment()) {
        // Chords of an arc of radius r and length s are off by s²/8r; the turning of the curve
        // over its length gives r.
        double length = 0, turning = 0;
        constexpr int probes = 24;
        Geom::Point last = curve.initialPoint();
        Geom::Point way;
        for (int k = 1; k <= probes; ++k) {
            const Geom::Point p = curve.pointAt(static_cast<double>(k) / probes);
            const Geom::Point step = p - last;
            if (k > 1 && Geom::L2(way) > 0 && Geom::L2(step) > 0)
                turning += std::abs(Geom::angle_between(way, step));
            length += Geom::L2(step);
            way = step;
            last = p;
        }
        steps = static_cast<int>(std::ceil(std::sqrt(length * turning / (8 * flatnessMm)))) + 2;
        steps = std::clamp(steps, 4, 4000);
    }
    for (int k = 1; k <= steps; ++k) {
        const Geom::Point p = curve.pointAt(static_cast<double>(k) / steps);
        if (!std::isfinite(p[0]) || !std::isfinite(p[1])) continue;
        const Vec2 point{p[0], p[1]};
        if (out.empty() || distance(out.back(), point) > 1e-6) out.push_back(point);
    }
}

SubPath flat(const Geom::Path& path) {
    SubPath result;
    result.closed = path.closed();
    result.points.push_back({path.initialPoint()[0], path.initialPoint()[1]});
    for (const Geom::Curve& curve : path) appendFlat(curve, result.points);
    if (result.closed) {
        const Geom::Point start = path.initialPoint();
        while (result.points.size() > 1 &&
               distance(result.points.back(), {start[0], start[1]}) < 1e-6)
            result.points.pop_back();
    } else if (result.points.size() > 3 &&
               distance(result.points.front(), result.points.back()) < 1e-6) {
        result.points.pop_back();
        result.closed = true;
    }
    return result;
}

/// Walks the document and collects what it paints.
class Reader {
public:
    Reader(const pugi::xml_document& d, Drawing& o) : document(d), drawing(o) {}

    void run() {
        const xml_node root = document.child("svg") ? document.child("svg") : namespacedRoot();
        if (!root) throw SvgError{"", "is not an SVG drawing: there is no <svg> element"};
        for (const xml_node& child : document.children())
            if (child.type() == pugi::node_doctype &&
                std::string_view(child.value()).find("<!ENTITY") != std::string_view::npos)
                missing.insert("entities of a document type: they are not expanded");
        index(root);
        drawing.title = root.child("title").text().get();
        walkChildren(root, pageTransform(root), sheet.apply(root, {}), 0);
        drawing.unsupported.assign(missing.begin(), missing.end());
    }

private:
    xml_node namespacedRoot() const {
        return document.find_child(
            [](const xml_node& n) { return std::string_view(n.name()).ends_with(":svg"); });
    }

    /// Ids and style sheets, before anything refers to them.
    void index(const xml_node& root) {
        struct Walker : pugi::xml_tree_walker {
            Reader* reader = nullptr;
            bool for_each(xml_node& n) override {
                if (const char* id = n.attribute("id").value(); *id) reader->ids.emplace(id, n);
                if (std::string_view(n.name()) == "style") {
                    std::string css;
                    for (const xml_node& text : n.children()) css += text.value();
                    reader->sheet.add(css, reader->missing);
                }
                return true;
            }
        } walker;
        walker.reader = this;
        xml_node(root).traverse(walker);
    }

    /// From user units of the root to millimetres on the page.
    Geom::Affine pageTransform(const xml_node& root) {
        const auto size = [&](const char* key) {
            const std::string_view text = trimmed(root.attribute(key).value());
            return text.empty() || text.ends_with('%') ? 0 : lengthOf(root, key);
        };
        double w = size("width"), h = size("height");
        const auto box = numbersIn(root.attribute("viewBox").value(), "<svg> viewBox");
        if (!box.empty() && (box.size() != 4 || box[2] <= 0 || box[3] <= 0))
            throw SvgError{"<svg> viewBox", "must be four numbers with a positive size"};
        if (w <= 0 && h <= 0)
            missing.insert("no physical size: a unit is taken as 1/96 inch (0.265 mm)");
        if (box.empty()) {
            drawing.widthMm = w * mmPerPx;
            drawing.heightMm = h * mmPerPx;
            return Geom::Scale(mmPerPx);
        }
        if (w <= 0) w = h > 0 ? h * box[2] / box[3] : box[2];
        if (h <= 0) h = w * box[3] / box[2];
        drawing.widthMm = w * mmPerPx;
        drawing.heightMm = h * mmPerPx;
        double sx = w / box[2], sy = h / box[3];
        if (!std::string_view(root.attribute("preserveAspectRatio").value()).starts_with("none"))
            sx = sy = std::min(sx, sy);
        const Geom::Translate middle((w - sx * box[2]) / 2, (h - sy * box[3]) / 2);
        return Geom::Translate(-box[0], -box[1]) * Geom::Scale(sx, sy) * middle *
               Geom::Scale(mmPerPx);
    }

    void walkChildren(const xml_node& parent, const Geom::Affine& map, const svg::Style& style,
                      int depth) {
        if (depth > maxDepth)
            throw SvgError{describe(parent), fmt::format("is nested over {} deep", maxDepth)};
        for (const xml_node& child : parent.children())
            if (child.type() == pugi::node_element) walk(child, map, style, depth);
    }

    void walk(const xml_node& element, const Geom::Affine& parentMap, const svg::Style& parent,
              int depth) {
        if (++elements > maxElements)
            throw SvgError{"", fmt::format("paints more than {} elements", maxElements)};
        std::string_view name = element.name();
        if (const std::size_t colon = name.find(':'); colon != std::string_view::npos) {
            if (!name.starts_with("svg:")) return; // a drawing program's own notes
            name.remove_prefix(4);
        }
        const svg::Style style = sheet.apply(element, parent);
        if (!style.displayed || isNotPainted(name)) return;
        if (*element.attribute("mask").value()) missing.insert("mask: not applied");
        if (*element.attribute("filter").value()) missing.insert("filter: not applied");
        const Geom::Affine map = transformOf(element) * parentMap;
        const std::optional<Contours> around = clip;
        takeClip(element, map);
        walkPainted(element, name, map, style, depth);
        clip = around;
    }

    /// What clips the element, within what clips those around it.
    void takeClip(const xml_node& element, const Geom::Affine& map) {
        std::string_view wanted = element.attribute("clip-path").value();
        if (const std::string_view css = element.attribute("style").value();
            wanted.empty() && css.find("clip-path:") != std::string_view::npos)
            wanted = css.substr(css.find("clip-path:") + 10);
        if (const std::size_t end = wanted.find(';'); end != std::string_view::npos)
            wanted = wanted.substr(0, end);
        const std::size_t hash = wanted.find('#');
        if (hash == std::string_view::npos) return;
        const auto it = ids.find(
            std::string(wanted.substr(hash + 1, wanted.find_first_of("'\")", hash) - hash - 1)));
        if (it == ids.end() || std::string_view(it->second.name()) != "clipPath") return;
        if (std::string_view(it->second.attribute("clipPathUnits").value()) ==
            "objectBoundingBox") {
            missing.insert("clip-path in parts of a box: not cut");
            return;
        }
        Contours area;
        const Geom::Affine own = transformOf(it->second) * map;
        for (const xml_node& child : it->second.children()) {
            xml_node shape = child;
            Geom::Affine at = transformOf(child) * own;
            if (std::string_view(child.name()) == "use") {
                std::string href = child.attribute("href").value();
                if (href.empty()) href = child.attribute("xlink:href").value();
                const auto target = ids.find(href.empty() ? href : href.substr(1));
                if (target == ids.end()) continue;
                at = transformOf(target->second) * innerMap(child, at);
                shape = target->second;
            }
            const auto paths = outlineOf(shape);
            if (!paths) continue;
            for (const Geom::Path& path : *paths* at) {
                SubPath line = flat(path);
                points += line.points.size();
                if (points > maxPoints)
                    throw SvgError{"", fmt::format("has more than {} points", maxPoints)};
                if (line.points.size() > 2) area.push_back(std::move(line.points));
            }
        }
        if (sweepWork(area) > mostSweepWork) {
            missing.insert("clip-path with more edges than can be worked out: not cut");
            return;
        }
        area = unitedNonZero(area);
        clip = clip ? intersectionOf(*clip, area) : std::move(area);
    }

    void walkPainted(const xml_node& element, std::string_view name, const Geom::Affine& map,
                     const svg::Style& style, int depth) {
        if (name == "g" || name == "a" || name == "svg" || name == "switch") {
            walkChildren(element, name == "svg" ? innerMap(element, map) : map, style, depth + 1);
        } else if (name == "use") {
            walkUse(element, map, style, depth);
        } else if (const auto paths = outlineOf(element)) {
            paint(element, *paths, map, style);
        } else {
            missing.insert(fmt::format("<{}>: left out", name));
        }
    }

    static bool isNotPainted(std::string_view name) {
        for (const char* other :
             {"defs", "style", "title", "desc", "metadata", "symbol", "clipPath", "mask",
              "linearGradient", "radialGradient", "marker", "pattern", "filter", "script"})
            if (name == other) return true;
        return false;
    }

    static Geom::Affine innerMap(const xml_node& element, const Geom::Affine& map) {
        return Geom::Translate(lengthOf(element, "x"), lengthOf(element, "y")) * map;
    }

    void walkUse(const xml_node& element, const Geom::Affine& map, const svg::Style& style,
                 int depth) {
        std::string href = element.attribute("href").value();
        if (href.empty()) href = element.attribute("xlink:href").value();
        if (!href.starts_with('#')) {
            missing.insert("<use> of another file: left out");
            return;
        }
        const auto it = ids.find(href.substr(1));
        if (it == ids.end()) {
            missing.insert(fmt::format("<use> of '{}', which is not there: left out", href));
            return;
        }
        if (!inUse.insert(href).second)
            throw SvgError{describe(element), fmt::format("'{}' uses itself", href)};
        const xml_node target = it->second;
        if (std::string_view(target.name()) == "symbol")
            walkChildren(target, innerMap(element, map), sheet.apply(target, style), depth + 1);
        else if (depth < maxDepth)
            walk(target, innerMap(element, map), style, depth + 1);
        else
            throw SvgError{describe(element), fmt::format("is nested over {} deep", maxDepth)};
        inUse.erase(href);
    }

    /// The colour of a paint; what a gradient is transparent goes into `opacity`.
    std::optional<Rgb> colourOf(std::string paint, const svg::Style& style, const char* what,
                                double& opacity) {
        if (paint == "none" || paint == "transparent") return std::nullopt;
        if (paint == "currentColor") paint = style.colour;
        if (paint.starts_with("url(")) {
            const std::size_t hash = paint.find('#');
            const std::size_t end = paint.find_first_of("'\")", hash);
            const std::string id =
                hash == std::string::npos ? "" : paint.substr(hash + 1, end - hash - 1);
            missing.insert(fmt::format("{} by gradient or pattern: one colour is taken", what));
            const auto mean = meanOf(id, 0);
            if (mean) opacity *= mean->opacity;
            return mean ? mean->colour : Rgb{90, 90, 90};
        }
        if (const auto colour = svg::parseColour(paint)) return colour;
        missing.insert(fmt::format("colour '{}': grey is taken", paint));
        return Rgb{90, 90, 90};
    }

    struct Mean {
        Rgb colour;
        double opacity = 1;
    };
    /// The mean colour of a gradient over its length, which may borrow its stops from another.
    std::optional<Mean> meanOf(const std::string& id, int depth) {
        const auto it = ids.find(id);
        if (it == ids.end() || depth > 8) return std::nullopt;
        struct Stop {
            double at, r, g, b, alpha;
        };
        std::vector<Stop> stops;
        for (const xml_node& node : it->second.children("stop")) {
            const auto property = [&](const char* name) {
                const std::string_view style = node.attribute("style").value();
                const std::string key = std::string(name) + ":";
                const std::size_t at = style.find(key);
                return at == std::string_view::npos
                           ? std::string_view(node.attribute(name).value())
                           : style.substr(at + key.size(), style.find(';', at) - at - key.size());
            };
            const Rgb c = svg::parseColour(trimmed(property("stop-color"))).value_or(Rgb{0, 0, 0});
            const double at = svg::parseShare(node.attribute("offset").value()).value_or(0);
            const double alpha = svg::parseShare(property("stop-opacity")).value_or(1);
            stops.push_back({stops.empty() ? at : std::max(at, stops.back().at), double(c.r),
                             double(c.g), double(c.b), alpha});
        }
        if (stops.empty()) {
            std::string href = it->second.attribute("href").value();
            if (href.empty()) href = it->second.attribute("xlink:href").value();
            return href.starts_with('#') ? meanOf(href.substr(1), depth + 1) : std::nullopt;
        }
        stops.insert(stops.begin(), stops.front());
        stops.front().at = 0;
        stops.push_back(stops.back());
        stops.back().at = 1;
        double r = 0, g = 0, b = 0, alpha = 0;
        for (std::size_t k = 1; k < stops.size(); ++k) {
            const Stop &p = stops[k - 1], &q = stops[k];
            const double share = (q.at - p.at) / 2;
            for (const Stop* s : {&p, &q}) {
                r += share * s->alpha * s->r;
                g += share * s->alpha * s->g;
                b += share * s->alpha * s->b;
                alpha += share * s->alpha;
            }
        }
        const auto byte = [&](double sum) {
            return static_cast<std::uint8_t>(
                std::clamp(std::lround(sum / std::max(1e-9, alpha)), 0L, 255L));
        };
        return Mean{{byte(r), byte(g), byte(b)}, alpha};
    }

    void paint(const xml_node& element, const Geom::PathVector& paths, const Geom::Affine& map,
               const svg::Style& style) {
        if (!style.visible || paths.empty() || (clip && clip->empty())) return;
        DrawnItem item;
        item.name = element.attribute("inkscape:label").value();
        if (item.name.empty()) item.name = element.child("title").text().get();
        if (item.name.empty()) item.name = element.attribute("id").value();
        if (item.name.empty())
            item.name = fmt::format("{} {}", element.name(), drawing.items.size() + 1);
        const bool line = std::string_view(element.name()) == "line";
        item.fillOpacity = style.opacity * style.fillOpacity;
        item.strokeOpacity = style.opacity * style.strokeOpacity;
        item.fill = line ? std::nullopt : colourOf(style.fill, style, "fill", item.fillOpacity);
        item.stroke = colourOf(style.stroke, style, "stroke", item.strokeOpacity);
        if (clip) item.clip = *clip;
        item.evenOdd = style.fillRule == "evenodd";
        item.cap = style.cap == "round"    ? LineCap::round
                   : style.cap == "square" ? LineCap::square
                                           : LineCap::butt;
        if (!item.fill && !item.stroke) return;
        if (item.stroke) {
            const auto px = svg::parseLengthPx(style.strokeWidth);
            if (!px || *px < 0)
                throw SvgError{
                    describe(element) + " stroke-width",
                    fmt::format("'{}' is not a width that can be read", style.strokeWidth)};
            item.strokeMm = *px * std::sqrt(std::abs(map.det()));
            if (item.strokeMm == 0) item.stroke.reset();
            if (style.dashes != "none") missing.insert("dashed strokes: drawn through");
        }
        for (const Geom::Path& path : paths* map) addPath(flat(path), element, item);
        if (!item.paths.empty() && (item.fill || item.stroke))
            drawing.items.push_back(std::move(item));
    }

    void addPath(SubPath path, const xml_node& element, DrawnItem& item) {
        if (path.points.size() < 2) return;
        points += path.points.size();
        if (points > maxPoints)
            throw SvgError{"", fmt::format("has more than {} points", maxPoints)};
        for (const Vec2& p : path.points)
            if (!(std::abs(p.x) <= farMm && std::abs(p.y) <= farMm))
                throw SvgError{describe(element), fmt::format("reaches beyond ±{} mm", farMm)};
        item.paths.push_back(std::move(path));
    }

    const pugi::xml_document& document;
    Drawing& drawing;
    svg::Sheet sheet;
    std::map<std::string, xml_node> ids;
    std::set<std::string> missing;
    std::set<std::string> inUse;
    std::optional<Contours> clip; ///< of the element that is walked
    int elements = 0;
    std::size_t points = 0;
};

std::string lineOf(const std::string& text, std::ptrdiff_t offset) {
    const auto end = text.begin() + std::clamp<std::ptrdiff_t>(
                                        offset, 0, static_cast<std::ptrdiff_t>(text.size()));
    return fmt::format("line {}", 1 + std::count(text.begin(), end, '\n'));
}

} // namespace

Result<Drawing> readSvg(const std::string& text, const std::string& file) {
    if (text.size() > maxBytes)
        return badInput(fmt::format("is larger than {} MB", maxBytes / 1'000'000), "", file);
    pugi::xml_document document;
    const pugi::xml_parse_result parsed = document.load_buffer(
        text.data(), text.size(), pugi::parse_default | pugi::parse_doctype | pugi::parse_cdata);
    if (!parsed)
        return badInput(fmt::format("is not well-formed XML: {}", parsed.description()),
                        lineOf(text, parsed.offset), file);
    Drawing drawing;
    try {
        Reader(document, drawing).run();
    } catch (const SvgError& e) {
        return badInput(e.reason, e.place, file);
    } catch (const std::exception& e) {
        return badInput(fmt::format("cannot be read as a drawing: {}", e.what()), "", file);
    }
    for (const DrawnItem& item : drawing.items)
        if (!isPlainUtf8(item.name)) return badInput("a name is not valid UTF-8", "", file);
    if (drawing.items.empty())
        return badInput("nothing in it is painted by a stroke or a fill", "", file);
    return drawing;
}

} // namespace rapt
