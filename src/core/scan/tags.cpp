#include "scan/tags.h"

#include <algorithm>
#include <apriltag/apriltag.h>
#include <apriltag/tag36h11.h>
#include <memory>

namespace rapt {
namespace {

struct Family {
    apriltag_family_t* family = tag36h11_create();
    Family() = default;
    Family(const Family&) = delete;
    Family& operator=(const Family&) = delete;
    ~Family() { tag36h11_destroy(family); }
};

/// Owns its family, since the detector keeps a pointer to it.
class Detector {
public:
    Detector() {
        apriltag_detector_add_family_bits(detector, family.family, 1);
        detector->refine_edges = true;
        // With more, a worker that starts late takes tasks from a list that still grows, which is
        // moved under its hands: the library crashed so on loaded machines.
        detector->nthreads = 1;
    }
    Detector(const Detector&) = delete;
    Detector& operator=(const Detector&) = delete;
    ~Detector() { apriltag_detector_destroy(detector); }

    std::vector<SeenTag> run(const Image& grey) {
        // Large pictures are searched at half size; corners are refined at full size all the same.
        constexpr int largePixels = 5'000'000;
        detector->quad_decimate = grey.width * grey.height > largePixels ? 2 : 1;
        image_u8_t view{grey.width, grey.height, grey.width,
                        const_cast<std::uint8_t*>(grey.pixels.data())};
        zarray_t* found = apriltag_detector_detect(detector, &view);
        std::vector<SeenTag> tags;
        for (int i = 0; i < zarray_size(found); ++i) {
            apriltag_detection_t* d = nullptr;
            zarray_get(found, i, &d);
            SeenTag tag;
            tag.id = d->id;
            // The library starts at the lower left corner of the upright tag and goes
            // anticlockwise as seen in the picture: lower left, lower right, upper right, upper
            // left.
            constexpr int order[] = {3, 2, 1, 0};
            for (std::size_t k = 0; k < 4; ++k)
                tag.corners[k] = {d->p[order[k]][0], d->p[order[k]][1]};
            tag.centre = {d->c[0], d->c[1]};
            tags.push_back(tag);
        }
        apriltag_detections_destroy(found);
        return tags;
    }

private:
    Family family;
    apriltag_detector_t* detector = apriltag_detector_create();
};

} // namespace

std::vector<SeenTag> findTags(const Image& grey) {
    // A tag is ten cells wide with its rim; the library does not stand smaller pictures.
    constexpr int leastPixels = 16;
    if (std::min(grey.width, grey.height) < leastPixels) return {};
    return Detector().run(grey);
}

Vec2 templateCardAt(const Box& extents) {
    constexpr double hidesMm = 60, beyondMm = 14;
    if (std::min(extents.width(), extents.height()) >= hidesMm) return extents.centre();
    return {extents.centre().x, extents.maxY + beyondMm};
}

std::array<std::array<bool, 8>, 8> tagCells(int id) {
    const Family family;
    const apriltag_family_t& f = *family.family;
    std::array<std::array<bool, 8>, 8> cells;
    for (auto& row : cells) row.fill(true);
    const std::uint64_t code = f.codes[id];
    for (std::uint32_t i = 0; i < f.nbits; ++i)
        if (code & (std::uint64_t{1} << (f.nbits - i - 1))) cells[f.bit_y[i]][f.bit_x[i]] = false;
    return cells;
}

} // namespace rapt
