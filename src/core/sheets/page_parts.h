#pragma once
// What every printed page is made of: paper, margins, the proving bar, flowing words, thread.

#include "sheets/pdf_pages.h"

namespace rapt {

/// Size of the printer's pages.
enum class Paper { a4, letter };

/// A page, upright, in mm.
struct Sheet {
    double width = 210, height = 297;
};
Sheet sheetOf(Paper paper);

inline constexpr double pageMarginMm = 10;
inline constexpr double provingBarMm = 100;
inline constexpr Rgb pageInk{29, 42, 51}, softInk{140, 140, 140};

/// The first `most` characters, whole, with an ellipsis where some are left out.
std::string shortened(const std::string& text, std::size_t most);

/// A bar of 100 mm that proves the print, with its words to the right.
void drawProvingBar(PdfPages& pages, Vec2 from);

/// A thread's colour as a framed box, so that it is seen on white paper too.
void drawSwatch(PdfPages& pages, const Box& box, Rgb colour);

/// The thread of a list as it lies, in its colours; stitches outside `seen` are left out. Places
/// nearer to each other than `finestMm` are drawn as one.
void drawThread(PdfPages& pages, const StitchList& list, const Box& seen, double widthMm,
                double finestMm = 0, std::optional<Rgb> colour = std::nullopt);

/// Upright pages whose content flows from one to the next, each with its title, its number and the
/// proving bar at its foot.
class FlowingPages {
public:
    FlowingPages(PdfPages& pages, const PdfFonts& fonts, Sheet sheet, std::string title);
    FlowingPages(const FlowingPages&) = delete;
    FlowingPages& operator=(const FlowingPages&) = delete;
    /// Ends the last page.
    ~FlowingPages();

    int count() const { return pageCount; }
    /// What it draws on, between its own words.
    PdfPages& page() { return pages; }
    double width() const { return sheet.width - 2 * pageMarginMm; }
    /// So much height, on the next page if this one has less. Gives its upper left corner.
    Vec2 room(double height);
    /// Leaves space.
    void skip(double mm) { y += mm; }
    /// Words broken into lines that fit.
    void write(const std::string& words, double size, bool bold = false, double indent = 0);
    /// One line of cells at their places from the margin, each shortened to its width.
    struct Cell {
        double at = 0, width = 0;
        std::string words;
        bool right = false; ///< set to the right
    };
    void cells(const std::vector<Cell>& row, double size, bool bold = false);
    /// A line across.
    void rule();
    /// As `write`, and kept together with so much of what follows.
    void heading(const std::string& words, double following = 12);

private:
    void begin();
    void end();
    std::vector<std::string> broken(const std::string& words, double size, bool bold,
                                    double wide) const;

    PdfPages& pages;
    const PdfFonts& fonts;
    Sheet sheet;
    std::string title;
    double y = 0;
    int pageCount = 0;
};

} // namespace rapt
