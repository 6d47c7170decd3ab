#include "svg/to_shapes.h"

#include "job/groups.h"
#include "recipe/drawn.h"
#include "recipe/rails.h"

#include <fmt/format.h>
#include <map>
#include <numbers>
#include <set>

namespace rapt {
namespace {

constexpr double coveredLineMm = 1.1, coveredPitchMm = 0.5;
constexpr double groundLayers = 1.4, leastOverGround = 2.0; ///< a fill with a light underlay
constexpr double runUpToMm = 1.0;
constexpr double tripleRunFromMm = 0.5;
constexpr double satinUpToMm = snagStitchMm;
constexpr double narrowUpToMm = 5.0;
constexpr double leastMm = 0.3;
constexpr double raggedMm = 2.5;          ///< mean width of an area: twice its size over its edge
constexpr std::size_t mostAreas = 20'000; ///< of one element
constexpr double runStitchMm = 2.5;
// Two axes as like as this have no long one.
constexpr double roundRatio = 1.15;

Thread threadOf(Rgb colour) { return {1, colour, 40, formatRgb(colour)}; }

/// The parts of one painted element.
class Maker {
public:
    Maker(const DrawnItem& i, const ImportOptions& o) : item(i), options(o) {}

    bool tangled = false; ///< its area was not worked out

    Shape run() {
        if (item.fill) addFill();
        if (item.stroke && item.strokeMm <= maxCoordinateMm) addStroke();
        shape.mostLayers = options.mostLayers;
        // What lies on sewn ground adds to it.
        if (item.onGround && shape.mostLayers > 0)
            shape.mostLayers = std::max(leastOverGround, shape.mostLayers - groundLayers);
        return std::move(shape);
    }

private:
    ShapePart part(StitchKind kind, Rgb colour) const {
        ShapePart p;
        p.kind = kind;
        p.thread = threadOf(colour);
        p.spacingMm = kind == StitchKind::satin ? options.pitchMm.value_or(options.spacingMm)
                                                : options.spacingMm;
        // Below a narrow line on sewn ground is thread already: it needs less of its own.
        if (kind == StitchKind::satin && item.onGround && item.strokeMm < coveredLineMm)
            p.spacingMm = std::max(p.spacingMm, coveredPitchMm);
        p.stitchLengthMm = options.stitchLengthMm;
        if (kind == StitchKind::run && !options.lengthAsked) p.stitchLengthMm = runStitchMm;
        if (kind != StitchKind::run) {
            // What lies on sewn ground has its underlay there.
            p.underlay = item.onGround
                             ? Underlay::none
                             : options.underlay.value_or(usualUnderlay(kind, options.mostLayers));
            p.pullMm = options.pullMm;
        }
        return p;
    }

    void addFill() {
        Contours contours;
        for (const SubPath& path : item.paths)
            if (path.points.size() >= 3) contours.push_back(path.points);
        tangled = sweepWork(contours) > mostSweepWork;
        if (tangled) return;
        if (!item.evenOdd) contours = unitedNonZero(contours);
        std::vector<Contours> components = componentsOf(contours);
        tangled = components.size() > mostAreas;
        if (tangled) return;
        for (Contours& component : components) addArea(std::move(component), *item.fill);
    }

    /// One connected area as a satin or a fill.
    void addArea(Contours area, Rgb colour) {
        const Box box = boundsOf(area);
        if (std::max(box.width(), box.height()) < leastMm || areaOf(area) < leastMm * leastMm)
            return;
        if (area.size() == 1)
            if (auto rails = railsOfNarrow(area[0], narrowUpToMm)) {
                ShapePart satin = part(StitchKind::satin, colour);
                satin.lines = {std::move(rails->left), std::move(rails->right)};
                shape.parts.push_back(std::move(satin));
                return;
            }
        ShapePart fill = part(StitchKind::fill, colour);
        fill.angleDeg = options.angleDeg.value_or(longAxisDeg(area));
        // Where rows are short, their ends already carry what an underlay would.
        double around = 0;
        for (const Polyline& c : area) around += lengthOf(c) + distance(c.back(), c.front());
        if (!options.underlay && 2 * areaOf(area) < raggedMm * around)
            fill.underlay = Underlay::none;
        fill.lines = std::move(area);
        shape.parts.push_back(std::move(fill));
    }

    void addStroke() {
        if (item.strokeMm > satinUpToMm) return addWideStroke();
        for (const SubPath& path : item.paths) {
            if (lengthOf(path.points) < leastMm) continue;
            if (item.strokeMm < runUpToMm)
                addRun(path);
            else
                addColumns(path);
        }
    }

    void addRun(const SubPath& path) {
        ShapePart run = part(StitchKind::run, *item.stroke);
        run.lines = {path.points};
        if (path.closed) run.lines[0].push_back(path.points.front());
        run.passes = item.strokeMm >= tripleRunFromMm ? 3 : 1;
        shape.parts.push_back(std::move(run));
    }

    void addColumns(const SubPath& path) {
        const ColumnEnd end = static_cast<ColumnEnd>(item.cap);
        for (Rails& rails : railsAlong(path.points, path.closed, item.strokeMm, end)) {
            ShapePart satin = part(StitchKind::satin, *item.stroke);
            satin.paired = rails.left.size() == rails.right.size();
            satin.lines = {std::move(rails.left), std::move(rails.right)};
            shape.parts.push_back(std::move(satin));
        }
    }

    /// A stroke too wide for satin is the area that it paints.
    void addWideStroke() {
        Contours bands;
        for (const SubPath& path : item.paths)
            for (const Rails& rails : railsAlong(path.points, path.closed, item.strokeMm,
                                                 static_cast<ColumnEnd>(item.cap))) {
                Polyline band = rails.left;
                band.insert(band.end(), rails.right.rbegin(), rails.right.rend());
                if (areaOf({band}) > leastMm) bands.push_back(std::move(band));
            }
        for (Contours& component : componentsOf(unitedNonZero(sameTurn(bands))))
            addArea(std::move(component), *item.stroke);
    }

    /// All contours turning the same way, so that overlaps do not cancel out.
    static Contours sameTurn(Contours contours) {
        for (Polyline& c : contours) {
            double sum = 0;
            for (std::size_t i = 0, j = c.size() - 1; i < c.size(); j = i++)
                sum += cross(c[j], c[i]);
            if (sum < 0) std::reverse(c.begin(), c.end());
        }
        return contours;
    }

    const DrawnItem& item;
    const ImportOptions& options;
    Shape shape;
};

} // namespace

double longAxisDeg(const Contours& contours) {
    // Second moments of the area by Green's theorem, about its centroid; holes count negative.
    double area = 0, sx = 0, sy = 0, sxx = 0, syy = 0, sxy = 0;
    const Vec2 origin = boundsOf(contours).centre();
    for (std::size_t k = 0; k < contours.size(); ++k) {
        const Polyline& c = contours[k];
        double a = 0, x = 0, y = 0, xx = 0, yy = 0, xy = 0;
        for (std::size_t i = 0, j = c.size() - 1; i < c.size(); j = i++) {
            const Vec2 p = c[j] - origin, q = c[i] - origin;
            const double w = cross(p, q);
            a += w / 2;
            x += (p.x + q.x) * w / 6;
            y += (p.y + q.y) * w / 6;
            xx += (p.x * p.x + p.x * q.x + q.x * q.x) * w / 12;
            yy += (p.y * p.y + p.y * q.y + q.y * q.y) * w / 12;
            xy += (2 * p.x * p.y + p.x * q.y + q.x * p.y + 2 * q.x * q.y) * w / 24;
        }
        // The first contour is the outer one; the others are holes in it.
        const double sign = (a < 0 ? -1 : 1) * (k == 0 ? 1 : -1);
        area += sign * a;
        sx += sign * x;
        sy += sign * y;
        sxx += sign * xx;
        syy += sign * yy;
        sxy += sign * xy;
    }
    if (area <= 0) return 45;
    const double xx = sxx - sx * sx / area, yy = syy - sy * sy / area, xy = sxy - sx * sy / area;
    const double middle = (xx + yy) / 2;
    const double spread = std::hypot((xx - yy) / 2, xy);
    if (middle - spread <= 0) return std::atan2(xy, xx - middle + spread) * 180 / std::numbers::pi;
    if (std::sqrt((middle + spread) / (middle - spread)) < roundRatio) return 45;
    const double degrees = std::atan2(2 * xy, xx - yy) / 2 * 180 / std::numbers::pi;
    return std::round(degrees * 10) / 10 + 0.0;
}

ImportOptions usualOptions(const Fabric& fabric) {
    ImportOptions options;
    options.spacingMm = fabric.spacingFor(options.spacingMm);
    options.pitchMm = fabric.pitchFor(options.spacingMm);
    options.pullMm = fabric.pullMm;
    options.mostLayers = fabric.maxLayers;
    return options;
}

void layFor(Shape& shape, const ImportOptions& options) {
    shape.mostLayers = options.mostLayers;
    for (ShapePart& part : shape.parts) {
        if (part.kind == StitchKind::run) continue;
        part.pullMm = options.pullMm;
        part.underlay = usualUnderlay(part.kind, options.mostLayers);
        if (part.kind == StitchKind::satin && options.pitchMm)
            part.spacingMm = std::max(part.spacingMm, *options.pitchMm);
    }
}

std::vector<Piece> piecesOf(const Drawing& drawing, const ImportOptions& options,
                            std::vector<std::string>& left) {
    std::vector<Piece> pieces;
    std::set<std::string> ids;
    std::map<std::string, int> sameName;
    for (const DrawnItem& item : drawing.items) {
        Maker maker(item, options);
        Shape shape = maker.run();
        if (maker.tangled)
            left.push_back(fmt::format("{}: its area has more edges or separate parts than can "
                                       "be worked out, left out",
                                       item.name));
        if (item.stroke && !(item.strokeMm <= maxCoordinateMm))
            left.push_back(fmt::format("{}: its stroke is too wide to sew, left out", item.name));
        if (shape.parts.empty() && maker.tangled) continue;
        if (shape.parts.empty()) {
            left.push_back(fmt::format("{}: too small to sew, left out", item.name));
            continue;
        }
        Piece piece;
        piece.id = item.name;
        for (int& n = sameName[item.name]; !ids.insert(piece.id).second;)
            piece.id = fmt::format("{} {}", item.name, ++n + 1);
        piece.name = piece.id;
        piece.content = ShapeContent{std::make_shared<const Shape>(std::move(shape))};
        pieces.push_back(std::move(piece));
    }
    return pieces;
}

Error nothingToSew(const std::vector<std::string>& left, const std::string& file) {
    constexpr std::size_t most = 5;
    std::string reason = "nothing in it can be sewn";
    for (std::size_t i = 0; i < std::min(most, left.size()); ++i)
        reason += (i == 0 ? ": " : "; ") + left[i];
    if (left.size() > most) reason += fmt::format("; and {} more", left.size() - most);
    return badInput(reason, {}, file);
}

Job jobOfDrawing(const Drawing& drawing, std::vector<Piece> pieces, const std::string& name) {
    Job job;
    job.name = drawing.title.empty() ? name : drawing.title;
    Box box{0, 0, drawing.widthMm, drawing.heightMm};
    if (drawing.widthMm <= 0 || drawing.heightMm <= 0) box = {};
    for (const Piece& p : pieces)
        for (const ShapePart& part : std::get<ShapeContent>(p.content).shape->parts)
            box.add(boundsOf(part.lines));
    const Vec2 centre = box.centre();
    job.cloth.widthMm = box.width() + 40;
    job.cloth.heightMm = box.height() + 40;
    for (Piece& p : pieces) {
        p.pose.x -= centre.x;
        p.pose.y -= centre.y;
        if (pieces.size() > 1) p.group = groupName(job.name);
    }
    job.pieces = std::move(pieces);
    return job;
}

} // namespace rapt
