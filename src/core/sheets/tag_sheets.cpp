#include "sheets/tag_sheets.h"

#include "scan/tags.h"

#include <fmt/format.h>

namespace rapt {
namespace {

/// A tag with its centre there. Cells of one row are drawn in one piece, so that no seam shows.
void drawTag(PdfPages& pages, int id, Vec2 centre, double edgeMm) {
    const auto cells = tagCells(id);
    const double cell = edgeMm / 8;
    const Vec2 corner = centre - Vec2{edgeMm / 2, edgeMm / 2};
    for (int j = 0; j < 8; ++j)
        for (int i = 0; i < 8;) {
            const auto row = static_cast<std::size_t>(j);
            int end = i;
            while (end < 8 && cells[row][static_cast<std::size_t>(end)]) ++end;
            if (end > i)
                pages.fill({corner + Vec2{i * cell, j * cell}, corner + Vec2{end * cell, j * cell},
                            corner + Vec2{end * cell, (j + 1) * cell},
                            corner + Vec2{i * cell, (j + 1) * cell}},
                           {0, 0, 0});
            i = end + 1;
        }
}

void drawCard(PdfPages& pages, int id, Vec2 centre) {
    const Rgb black{0, 0, 0};
    drawTag(pages, id, centre, cardEdgeMm);
    const double from = cardEdgeMm / 2 + 2.5;
    for (const Vec2 way : {Vec2{1, 0}, Vec2{-1, 0}, Vec2{0, 1}, Vec2{0, -1}})
        pages.line(centre + way * from, centre + way * cardHairLineMm, black, 0.15);
    const Vec2 tip = centre - Vec2{0, cardHairLineMm};
    pages.fill({tip, tip + Vec2{1.6, 4}, tip + Vec2{-1.6, 4}}, black);
    pages.rectangle(Box::centredAt(centre, 2 * cardHairLineMm, 2 * cardHairLineMm), softInk, 0.1);
    pages.text(centre + Vec2{4, cardHairLineMm - 3}, fmt::format("card {}", id), 3, false);
}

} // namespace

int drawCards(PdfPages& pages, const PdfFonts& fonts, Sheet sheet, int count) {
    FlowingPages flow(pages, fonts, sheet, "Locator cards");
    flow.write("Cut along the grey lines. Lay a card with its centre on the mark, its hair lines "
               "along the drawn lines and its arrow away from you; pin it outside the tag.",
               3.2);
    constexpr double pitch = 2 * cardHairLineMm + 3;
    const int across = std::max(1, static_cast<int>(flow.width() / pitch));
    for (int i = 0; i < count; i += across) {
        const Vec2 at = flow.room(pitch);
        for (int k = 0; k < std::min(across, count - i); ++k)
            drawCard(pages, firstCardId + i + k, at + Vec2{(k + 0.5) * pitch, pitch / 2});
    }
    return flow.count();
}

void drawTemplateCard(PdfPages& pages, int id, Vec2 centre) {
    constexpr double white = cardEdgeMm + 2 * cardEdgeMm / 8 + 1;
    const auto corners = Box::centredAt(centre, white, white).corners();
    pages.fill({corners.begin(), corners.end()}, {255, 255, 255});
    drawTag(pages, id, centre, cardEdgeMm);
}

int drawFrameTags(PdfPages& pages, const PdfFonts& fonts, Sheet sheet,
                  const std::vector<Hoop>& hoops) {
    FlowingPages flow(pages, fonts, sheet, "Frame tags");
    flow.write(
        "Cut them out with a white rim of 3 mm. Glue each at its place on the frame, upright, "
        "in the plane of the cloth; measure from the middle of the frame.",
        3.2);
    for (const Hoop& h : hoops) {
        flow.heading(h.name, 34);
        constexpr double pitch = 37;
        const int across = std::max(1, static_cast<int>(flow.width() / pitch));
        for (std::size_t i = 0; i < h.tags.size(); i += static_cast<std::size_t>(across)) {
            const Vec2 at = flow.room(34);
            for (std::size_t k = i;
                 k < std::min(h.tags.size(), i + static_cast<std::size_t>(across)); ++k) {
                const FrameTag& t = h.tags[k];
                const Vec2 centre =
                    at + Vec2{(static_cast<double>(k - i) + 0.5) * pitch, 4 + t.sizeMm / 2};
                drawTag(pages, t.id, centre, t.sizeMm);
                const auto side = [](double mm, const char* less, const char* more) {
                    return fmt::format("{:.1f} mm {}", std::abs(mm), mm < 0 ? less : more);
                };
                pages.text(at + Vec2{static_cast<double>(k - i) * pitch + 3, 8.5 + t.sizeMm},
                           fmt::format("{}: {}", t.id, side(t.at.x, "left", "right")), 2.6, false);
                pages.text(at + Vec2{static_cast<double>(k - i) * pitch + 3, 12 + t.sizeMm},
                           side(t.at.y, "away from you", "towards you"), 2.6, false);
            }
        }
    }
    return flow.count();
}

} // namespace rapt
