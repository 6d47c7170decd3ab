#pragma once
// The chessboard that a camera is calibrated with, as a PDF at true scale.

#include "base/result.h"
#include "sheets/pdf_pages.h"

#include <string>

namespace rapt {

/// The board on one level page.
void drawBoard(PdfPages& pages);

/// One A4 page: 11 × 8 squares of 15 mm (10 × 7 inner corners), and a bar of 100 mm to prove the
/// print. `facesFolder` holds the faces that ship. Fails as PdfFonts::load does.
Result<std::string> boardPdf(const std::string& facesFolder);

} // namespace rapt
