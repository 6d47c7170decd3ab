#pragma once
// Thread drawn on a cairo surface, stitch by stitch. Internal to the pictures.

#include "picture/stitch_picture.h"
#include "scan/image.h"

#include <cairo.h>
#include <memory>

namespace rapt {

class ThreadCanvas {
public:
    /// Of a box in millimetres; the ground is laid.
    ThreadCanvas(const StitchList& list, const Box& area, const PictureOptions& options);
    /// Draws the records [from, to), whose needle starts where the ones before left it. Gives the
    /// box of what changed, in pixels; empty if nothing did.
    Box draw(std::size_t from, std::size_t to);
    /// A part of the picture: RGB, with alpha if there is no ground.
    Image copy(int x, int y, int width, int height) const;
    int width() const { return wide; }
    int height() const { return high; }

private:
    struct Close {
        void operator()(cairo_surface_t* s) const { cairo_surface_destroy(s); }
        void operator()(cairo_t* c) const { cairo_destroy(c); }
    };
    void stitch(Vec2 a, Vec2 b, std::uint8_t thread);
    void line(Vec2 a, Vec2 b, Rgb colour, double factor, double width);

    const StitchList& list;
    Box area;
    double scale;
    bool clear;
    int wide, high;
    std::array<float, 256> widths;
    std::array<Rgb, 256> colours{};
    std::unique_ptr<cairo_surface_t, Close> surface;
    std::unique_ptr<cairo_t, Close> pen;
    const Stitch* needle = nullptr;
    bool sewing = false;
};

/// The box of a list with its margin, or why it cannot be drawn at that scale.
Result<Box> pictureArea(const StitchList& list, const PictureOptions& options);

} // namespace rapt
