#pragma once
// What a JPEG file says of itself (EXIF, by libexif). Internal to reading pictures.

#include "scan/image.h"

namespace rapt {

struct PictureFacts {
    int orientation = 1; ///< EXIF: 1 upright, 3 half round, 6 and 8 by a quarter, the even mirrored
    std::string takenBy; ///< maker and model, with one space between
};
/// The usual values where the file says nothing.
PictureFacts pictureFacts(const std::string& bytes);

/// The picture turned and mirrored so that it stands upright.
Image turnedUpright(Image image, int orientation);

} // namespace rapt
