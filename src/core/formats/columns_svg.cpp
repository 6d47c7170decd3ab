#include "formats/columns_svg.h"

#include <fmt/format.h>

namespace rapt {
namespace {

constexpr const char* colours[] = {"#0f6e78", "#d9822b", "#2f5d8a", "#8a3f6e",
                                   "#5d7d2f", "#b3261e", "#946000"};

std::string pathOf(const Contours& contours) {
    std::string d;
    for (const Polyline& line : contours) {
        char command = 'M';
        for (const Vec2& p : line) {
            d += fmt::format("{}{:.3f},{:.3f}", command, p.x, p.y);
            command = 'L';
        }
        d += 'Z';
    }
    return d;
}

} // namespace

std::string columnsSvg(const std::vector<LetterPart>& parts) {
    Box box;
    for (const LetterPart& part : parts) box.add(boundsOf(part.outline));
    box = box.empty() ? Box{0, 0, 1, 1} : box.grown(1);
    std::string svg =
        fmt::format("<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{0:.2f}mm\" "
                    "height=\"{1:.2f}mm\" viewBox=\"{2:.3f} {3:.3f} {0:.3f} {1:.3f}\">\n",
                    box.width(), box.height(), box.minX, box.minY);
    std::size_t number = 0;
    for (const LetterPart& part : parts) {
        svg += fmt::format("<path d=\"{}\" fill=\"#e8e2d4\" fill-rule=\"evenodd\"/>\n",
                           pathOf(part.outline));
        for (const Column& column : part.columns) {
            svg += fmt::format("<path fill=\"none\" stroke=\"{}\" stroke-width=\"0.06\" d=\"",
                               colours[number++ % std::size(colours)]);
            for (const Rung& r : column.rungs)
                svg += fmt::format("M{:.3f},{:.3f}L{:.3f},{:.3f}", r.left.x, r.left.y, r.right.x,
                                   r.right.y);
            svg += "\"/>\n";
        }
    }
    return svg + "</svg>\n";
}

} // namespace rapt
