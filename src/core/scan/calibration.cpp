#include "scan/calibration.h"

#include <algorithm>
#include <fmt/format.h>
#include <opencv2/calib3d.hpp>
#include <opencv2/imgproc.hpp>

namespace rapt {
namespace {

constexpr std::size_t leastViews = 3;
// With fewer pictures the outermost terms of the lens are noise.
constexpr std::size_t viewsForThirdTerm = 12;
// All boards lie nearly parallel to the picture: then the focal length is a guess.
constexpr double leastTiltSpread = 0.10;

using Corners = std::vector<cv::Point2f>;

std::optional<Corners> cornersOn(const Image& picture) {
    constexpr int leastPixels = 64; // the board has eleven fields across
    if (std::min(picture.width, picture.height) < leastPixels) return std::nullopt;
    Image grey = toGrey(picture);
    const cv::Mat view(grey.height, grey.width, CV_8UC1, grey.pixels.data());
    const cv::Size size(boardColumns, boardRows);
    Corners corners;
    // Large pictures are searched at a third, and measured at full size.
    const double scale = std::max(1.0, std::max(view.cols, view.rows) / 1400.0);
    cv::Mat small = view;
    if (scale > 1) cv::resize(view, small, {}, 1 / scale, 1 / scale, cv::INTER_AREA);
    if (!cv::findChessboardCorners(small, size, corners,
                                   cv::CALIB_CB_ADAPTIVE_THRESH | cv::CALIB_CB_NORMALIZE_IMAGE |
                                       cv::CALIB_CB_FAST_CHECK) &&
        !cv::findChessboardCorners(small, size, corners,
                                   cv::CALIB_CB_ADAPTIVE_THRESH | cv::CALIB_CB_NORMALIZE_IMAGE))
        return std::nullopt;
    double least = 1e9;
    for (std::size_t i = 1; i < corners.size(); ++i)
        if (i % boardColumns != 0)
            least = std::min(least, cv::norm(corners[i] - corners[i - 1]) * scale);
    for (cv::Point2f& c : corners)
        c = cv::Point2f(static_cast<float>((c.x + 0.5) * scale - 0.5),
                        static_cast<float>((c.y + 0.5) * scale - 0.5));
    const int reach = std::clamp(static_cast<int>(least / 4), 3, 15);
    cv::cornerSubPix(view, corners, cv::Size(reach, reach), cv::Size(-1, -1),
                     {cv::TermCriteria::EPS | cv::TermCriteria::COUNT, 60, 0.001});
    return corners;
}

std::vector<cv::Point3f> boardPoints() {
    std::vector<cv::Point3f> points;
    for (int j = 0; j < boardRows; ++j)
        for (int i = 0; i < boardColumns; ++i)
            points.emplace_back(static_cast<float>(i * boardSquareMm),
                                static_cast<float>(j * boardSquareMm), 0.f);
    return points;
}

/// One solution over the views that count.
struct Solved {
    double rms = 0;
    cv::Mat k, distortion;
    std::vector<double> perView;
    std::vector<cv::Mat> turns;
};

Solved solve(const std::vector<Corners>& corners, cv::Size size) {
    const std::vector<std::vector<cv::Point3f>> boards(corners.size(), boardPoints());
    Solved s;
    std::vector<cv::Mat> moves;
    cv::Mat deviations, extra, errors;
    const int flags = corners.size() < viewsForThirdTerm ? cv::CALIB_FIX_K3 : 0;
    s.rms = cv::calibrateCamera(boards, corners, size, s.k, s.distortion, s.turns, moves,
                                deviations, extra, errors, flags);
    for (int i = 0; i < errors.rows; ++i) s.perView.push_back(errors.at<double>(i));
    return s;
}

/// How far the boards lean against each other, radians.
double leanSpread(const std::vector<cv::Mat>& turns) {
    std::vector<cv::Vec3d> normals;
    for (const cv::Mat& t : turns) {
        cv::Matx33d r;
        cv::Rodrigues(t, r);
        normals.emplace_back(r(0, 2), r(1, 2), r(2, 2));
    }
    double most = 0;
    for (const cv::Vec3d& a : normals)
        for (const cv::Vec3d& b : normals)
            most = std::max(most, std::acos(std::clamp(a.dot(b), -1.0, 1.0)));
    return most;
}

std::string judgement(const Calibration& c, std::size_t used) {
    std::string left;
    for (const BoardView& v : c.views)
        if (!v.seen || v.leftOut)
            left += fmt::format("{}{} ({})", left.empty() ? "" : ", ", v.file,
                                v.seen ? "fits badly" : "the whole board is not seen");
    std::string text = fmt::format("{} pictures agree to {:.2f} px RMS", used, c.camera.rmsPx);
    text += c.camera.rmsPx < 0.6 ? ": good."
                                 : ": rough; print the board flat, on stiff board, and hold still.";
    if (!left.empty()) text += " Left out: " + left + ".";
    if (used < 6) text += " Six or more pictures from all sides make it surer.";
    return text;
}

} // namespace

Result<Calibration> calibrate(const std::vector<BoardPicture>& pictures, std::stop_token stop) {
    Calibration result;
    std::vector<Corners> corners;
    std::vector<std::size_t> viewOf;
    for (const BoardPicture& p : pictures) {
        if (stop.stop_requested()) return cancelled();
        if (p.image.width != pictures[0].image.width || p.image.height != pictures[0].image.height)
            return badInput(fmt::format("is {} × {} pixels, {} is {} × {}; take all pictures with "
                                        "one camera, held the same way",
                                        p.image.width, p.image.height, pictures[0].file,
                                        pictures[0].image.width, pictures[0].image.height),
                            {}, p.file);
        auto found = cornersOn(p.image);
        result.views.push_back({p.file, found.has_value(), 0, false});
        if (!found) continue;
        viewOf.push_back(result.views.size() - 1);
        corners.push_back(std::move(*found));
    }
    if (corners.size() < leastViews)
        return cannotDo(fmt::format("the board is found on {} of {} pictures, at least {} are "
                                    "needed; show the whole board, flat and in even light, from "
                                    "different sides",
                                    corners.size(), pictures.size(), leastViews));
    const cv::Size size(pictures[0].image.width, pictures[0].image.height);
    Solved solved = solve(corners, size);
    std::vector<double> sorted = solved.perView;
    std::sort(sorted.begin(), sorted.end());
    const double bound = std::max(0.3, 3 * sorted[sorted.size() / 2]);
    std::vector<Corners> kept;
    for (std::size_t i = 0; i < corners.size(); ++i) {
        BoardView& view = result.views[viewOf[i]];
        view.rmsPx = solved.perView[i];
        view.leftOut = solved.perView[i] > bound;
        if (!view.leftOut) kept.push_back(corners[i]);
    }
    if (kept.size() < corners.size() && kept.size() >= leastViews)
        solved = solve(kept, size);
    else
        kept = corners;
    if (leanSpread(solved.turns) < leastTiltSpread)
        return cannotDo(
            "all pictures look at the board from the same side, which does not tell the "
            "lens; tilt the board by 20° to 40° in different ways");
    Camera& c = result.camera;
    c.id = pictures[0].image.takenBy;
    c.width = size.width;
    c.height = size.height;
    c.fx = solved.k.at<double>(0, 0);
    c.fy = solved.k.at<double>(1, 1);
    c.cx = solved.k.at<double>(0, 2);
    c.cy = solved.k.at<double>(1, 2);
    c.rmsPx = solved.rms;
    for (int i = 0; i < static_cast<int>(solved.distortion.total()); ++i)
        c.distortion.push_back(solved.distortion.at<double>(i));
    result.text = judgement(result, kept.size());
    return result;
}

} // namespace rapt
