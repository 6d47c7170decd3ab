#pragma once
// Layouts to measure on, made from geometry.

#include "job/job.h"
#include "thread/stitch_list.h"

#include <cmath>

namespace rapt::bench {

/// About `stitches` stitches of 3 mm in rows of 0.4 mm, four threads, on a square field.
inline StitchList rows(std::size_t stitches) {
    StitchList list;
    for (std::uint8_t t = 1; t <= 4; ++t) list.threads.push_back(defaultThread(t));
    const double side = std::sqrt(static_cast<double>(stitches) * 3.0 * 0.4);
    const auto perRow = static_cast<std::size_t>(side / 3.0);
    list.stitches.reserve(stitches + 4);
    for (std::size_t i = 0; i < stitches; ++i) {
        const std::size_t row = i / perRow;
        const std::size_t k = row % 2 == 0 ? i % perRow : perRow - 1 - i % perRow;
        const double x = static_cast<double>(k) * 3.0 + static_cast<double>(row % 4) * 0.7;
        const Vec2 at{x - side / 2, static_cast<double>(row) * 0.4 - side / 2};
        const auto thread = static_cast<std::uint8_t>(1 + i * 4 / stitches);
        if (list.stitches.empty()) list.stitches.push_back(stitchAt(Op::jump, at, thread));
        list.stitches.push_back(stitchAt(Op::stitch, at, thread));
    }
    return list;
}

/// `pieces` pieces beside each other, `each` stitches in every one of them.
inline Job manyPieces(int pieces, std::size_t each) {
    Job job;
    job.cloth.widthMm = job.cloth.heightMm = 2000;
    const auto list = std::make_shared<const StitchList>(rows(each));
    for (int i = 0; i < pieces; ++i) {
        Piece p;
        p.id = p.name = "p" + std::to_string(i);
        p.content = DesignContent{"designs/rows.stitch.csv", list};
        p.pose.x = i % 5 * 90 - 180;
        p.pose.y = i / 5 * 90 - 135;
        job.pieces.push_back(std::move(p));
    }
    return job;
}

} // namespace rapt::bench
