#pragma once
// How a resized design is laid. Millimetres.

#include "thread/stitch_list.h"

#include <compare>
#include <optional>

namespace rapt {

/// How a resized design is laid.
struct RespaceOptions {
    /// 1 keeps spacing and stitch length, 0 keeps the stitches; between them the spacing grows
    /// with scale to the power of 1 − share.
    double spacingShare = 1;
    /// New row spacing of fills and pitch of satins; sparse rows (underlay) change in proportion.
    std::optional<double> spacingMm{};
    double shortestMm = shortStitchMm; ///< stitches that would get shorter are merged
    double longestMm = 12.0;           ///< longer ones are divided; never over 12.1
    friend auto operator<=>(const RespaceOptions&, const RespaceOptions&) = default;
};

} // namespace rapt
