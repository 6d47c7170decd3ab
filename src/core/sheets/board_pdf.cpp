#include "sheets/board_pdf.h"

#include "scan/calibration.h"
#include "sheets/page_parts.h"

namespace rapt {
namespace {

constexpr double pageWidthMm = 297, pageHeightMm = 210;
constexpr Rgb ink{0, 0, 0};

} // namespace

void drawBoard(PdfPages& pages) {
    pages.begin(pageWidthMm, pageHeightMm);
    const double width = (boardColumns + 1) * boardSquareMm;
    const double height = (boardRows + 1) * boardSquareMm;
    const Vec2 corner{(pageWidthMm - width) / 2, 26};
    for (int j = 0; j <= boardRows; ++j)
        for (int i = 0; i <= boardColumns; ++i) {
            if ((i + j) % 2 != 0) continue;
            // A square is a line as wide as it is long.
            const Vec2 left = corner + Vec2{i * boardSquareMm, (j + 0.5) * boardSquareMm};
            pages.line(left, left + Vec2{boardSquareMm, 0}, ink, boardSquareMm);
        }
    pages.text({corner.x, 15}, "Calibration board", 5, true);
    pages.text({corner.x, 21},
               "Print at 100 %. Glue it flat on stiff board. Take eight pictures or more, each "
               "from another side, the whole board in the picture.",
               3.2, false);
    const double barY = corner.y + height + 12;
    drawProvingBar(pages, {corner.x, barY});
    pages.end();
}

Result<std::string> boardPdf(const std::string& facesFolder) {
    const auto fonts = PdfFonts::load(facesFolder);
    if (!fonts) return fonts.error();
    PdfPages pages(*fonts);
    drawBoard(pages);
    return pages.finish();
}

} // namespace rapt
