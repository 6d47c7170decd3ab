#pragma once
// Stitches as pixels: shaded threads of true width, fast enough for a million of them.

#include "thread/stitch_list.h"

#include <QImage>
#include <cstdint>
#include <stop_token>
#include <vector>

namespace rapt::app {

/// A stitch list cut into short chunks with their boxes, so that a part of the cloth can be drawn
/// without looking at every stitch. Made once for a list; immutable.
class StitchIndex {
public:
    struct Chunk {
        std::size_t first = 0;          ///< index of the first record
        std::size_t last = 0;           ///< one past the end
        const Stitch* needle = nullptr; ///< where the needle stood before; null at the start
        bool sewing = false;            ///< a stitch came before: the next one lays thread
        Box box;                        ///< mm, of all thread in the chunk
    };

    explicit StitchIndex(const StitchList& list);
    const StitchList& list;
    std::vector<Chunk> chunks;
};

/// Draws the thread that touches `area` (mm) at `pxPerMm` on transparent ground; later stitches lie
/// on top. Threads are lit from the upper left, so that direction shows. Only the records before
/// `end` are drawn. Any thread may call it.
QImage drawThread(const StitchIndex& index, const Box& area, double pxPerMm,
                  std::stop_token stop = {}, std::size_t end = SIZE_MAX);

/// The whole list, its longer side so many pixels, with a hundredth of margin all round.
QImage threadPicture(const StitchList& list, int side);

} // namespace rapt::app
