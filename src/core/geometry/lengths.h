#pragma once
// Lengths as people type and read them; millimetres inside (docs/formats.md).

#include "base/result.h"

#include <string>
#include <string_view>

namespace rapt {

/// What people read and type.
enum class LengthUnit { millimetre, inch };

/// Reads `9 1/8`, `9-1/8 in`, `9.125"`, `231.8 mm`, `23.2 cm`, `-4`. A bare number is in
/// `assumed`; a fraction without a unit too. The decimal comma is read as the point is. Gives
/// millimetres, or the reason why not.
Result<double> parseLength(std::string_view text, LengthUnit assumed);

/// `231.8 mm`, or inches to the nearest 1/16 with the fraction reduced: `9 1/8 in`.
std::string formatLength(double mm, LengthUnit unit, int decimals = 1);

} // namespace rapt
