#pragma once
// Pages of a PDF in millimetres, by cairo. Text is set in the shipped faces and can be selected.

#include "base/result.h"
#include "geometry/polygon.h"
#include "scan/image.h"
#include "thread/stitch_list.h"

#include <memory>
#include <optional>
#include <string>

namespace rapt {

/// The two faces that sheets are set in.
class PdfFonts {
public:
    /// From the faces that ship. Fails (badInput) if one is missing.
    static Result<PdfFonts> load(const std::string& folder);
    /// Width of a text set at this size (both in mm).
    double widthMm(const std::string& text, double sizeMm, bool bold) const;

private:
    struct Faces;
    std::shared_ptr<Faces> faces;
    friend class PdfPages;
};

/// Draws pages one after the other. Colours are plain; line widths and text sizes in mm.
class PdfPages {
public:
    /// A PDF in memory; the fonts must outlive it.
    explicit PdfPages(const PdfFonts& fonts);
    /// The same pages as pictures, to be looked at or printed.
    PdfPages(const PdfFonts& fonts, double pixelsPerMm);
    ~PdfPages();
    PdfPages(const PdfPages&) = delete;
    PdfPages& operator=(const PdfPages&) = delete;

    /// A new page of that size.
    void begin(double widthMm, double heightMm);
    /// The page is finished.
    void end();

    /// Until leave(): drawing is in content millimetres, the corner of `window` at `at` on the
    /// page, clipped to the window. With `mirror`, content x is shown at window coordinate −x; with
    /// a scale, everything is drawn so many times as large.
    void enter(Vec2 at, const Box& window, bool mirror, double scale = 1);
    /// Back to what held before the last enter.
    void leave();

    /// A straight line, in the frame that holds.
    void line(Vec2 a, Vec2 b, Rgb color, double widthMm);
    /// The same, dashed.
    void dashedLine(Vec2 a, Vec2 b, Rgb color, double widthMm);
    /// An open line through points.
    void polyline(const Polyline& points, Rgb color, double widthMm);
    /// The outline of a box.
    void rectangle(const Box& box, Rgb color, double widthMm);
    /// A closed area.
    void fill(const Polyline& outline, Rgb color);
    /// Baseline starts at `at`; never drawn mirrored.
    void text(Vec2 at, const std::string& words, double sizeMm, bool bold);

    /// Closes the PDF and gives its bytes.
    Result<std::string> finish();
    /// Where they were asked for: the pages so far.
    std::vector<Image> takePictures();

private:
    struct State;
    std::unique_ptr<State> state;
};

} // namespace rapt
