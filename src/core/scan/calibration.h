#pragma once
// The lens of a camera, from pictures of the printed chessboard (Zhang 2000, by OpenCV).

#include "library/camera.h"
#include "scan/image.h"

#include <stop_token>

namespace rapt {

/// The board that the application prints: inner corners, and the edge of a square.
inline constexpr int boardColumns = 10, boardRows = 7;
inline constexpr double boardSquareMm = 15;

/// What one picture gave.
struct BoardView {
    std::string file;
    bool seen = false;    ///< the whole board was found
    double rmsPx = 0;     ///< how well its corners fit the camera
    bool leftOut = false; ///< it fits much worse than the others
};

struct Calibration {
    Camera camera;
    std::vector<BoardView> views;
    std::string text; ///< how good it is, in words, with what to do
};

/// A picture with the name for errors.
struct BoardPicture {
    std::string file;
    Image image;
};

/// Pictures on which the board is not found are named and left out, and so is one that fits more
/// than three times worse than the middle one. Fails (badInput) for pictures of different sizes,
/// and (cannotDo) when the board is found on fewer than three, or these all look from one side.
Result<Calibration> calibrate(const std::vector<BoardPicture>& pictures, std::stop_token stop = {});

} // namespace rapt
