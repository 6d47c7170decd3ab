#pragma once
// Stitch data: flat arrays, 12 bytes a stitch, a million of them is normal.

#include "geometry/vec2.h"

#include <array>
#include <cstdint>
#include <string>
#include <vector>

namespace rapt {

/// What a record does (docs/formats.md).
enum class Op : std::uint8_t {
    stitch, ///< one needle penetration
    jump,   ///< a move without penetration; lays no thread
    trim,   ///< the thread is cut; the needle does not move
    stop,   ///< the machine waits; the needle does not move
};

/// Coordinates are whole multiples of 1/100,000 mm: exact for every decimal that people write,
/// and 0.40 mm cells have exact edges.
inline constexpr std::int32_t unitsPerMm = 100'000;
/// The largest coordinate a stitch list may have (docs/formats.md).
inline constexpr double maxCoordinateMm = 10'000;
/// A longer stitch cannot be sewn; one over the snag length is a risk; a shorter one than
/// `shortStitchMm` (but over 0) is short (docs/measures.md).
inline constexpr double maxStitchMm = 12.1;
inline constexpr double snagStitchMm = 7.0;
inline constexpr double shortStitchMm = 0.5;

/// One record: 12 bytes, places in 1/100,000 mm.
struct Stitch {
    std::int32_t x = 0;
    std::int32_t y = 0;
    Op op = Op::stitch;
    std::uint8_t thread = 1;

    /// In millimetres.
    Vec2 at() const {
        return {static_cast<double>(x) / unitsPerMm, static_cast<double>(y) / unitsPerMm};
    }
    friend bool operator==(const Stitch&, const Stitch&) = default;
};
static_assert(sizeof(Stitch) <= 16);

/// The coordinate nearest to a millimetre value; |mm| must be at most 20,000.
std::int32_t toUnits(double mm);
/// A record at a place in millimetres, rounded to 1/100,000.
Stitch stitchAt(Op op, Vec2 mm, std::uint8_t thread);

/// A colour of eight bits a part.
struct Rgb {
    std::uint8_t r = 0, g = 0, b = 0;
    friend bool operator==(const Rgb&, const Rgb&) = default;
};
/// `#rrggbb` to a colour; false if it is not of that form.
bool parseRgb(std::string_view text, Rgb& out);
/// As `#rrggbb`.
std::string formatRgb(Rgb c);

/// What is on a cone: colour, weight, name.
struct Thread {
    std::uint8_t index = 1; ///< 1 to 255, unique in a list
    Rgb color;
    double weight = 40; ///< label weight: 60 is thinner than 40
    std::string name;

    /// Same colour, weight and name: one and the same thread across pieces (docs/formats.md).
    bool sameThread(const Thread& o) const {
        return color == o.color && weight == o.weight && name == o.name;
    }
    friend bool operator==(const Thread&, const Thread&) = default;
};

/// Apparent width in mm of a thread of a label weight (docs/measures.md): linear between
/// 60 → 0.28, 40 → 0.40, 30 → 0.50, 12 → 0.80, and as the nearer end outside.
double apparentWidthMm(double weight);

/// What a thread that no file line declares looks like.
Thread defaultThread(std::uint8_t index);

/// A design: named threads and stitches in its own piece frame.
struct StitchList {
    std::string name;
    std::vector<Thread> threads; ///< every index that a stitch uses is here
    std::vector<Stitch> stitches;
    std::vector<std::string> remarks; ///< comment lines of the file that mean nothing to us

    /// The thread of that number, or null.
    const Thread* find(std::uint8_t index) const;
    friend bool operator==(const StitchList&, const StitchList&) = default;
};

/// True if the list has a penetration.
bool sews(const StitchList& list);

/// Apparent width in mm by thread index; 0 for an index that the list does not have.
std::array<float, 256> widthTable(const StitchList& list);

} // namespace rapt
