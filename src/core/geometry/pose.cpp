#include "geometry/pose.h"

#include <numbers>

namespace rapt {

Affine Affine::inverse() const {
    const double det = determinant();
    Affine r{d / det, -b / det, -c / det, a / det, 0, 0};
    r.tx = -(r.a * tx + r.b * ty);
    r.ty = -(r.c * tx + r.d * ty);
    return r;
}

Affine Affine::then(const Affine& n) const {
    return {n.a * a + n.b * c, n.a * b + n.b * d,          n.c * a + n.d * c,
            n.c * b + n.d * d, n.a * tx + n.b * ty + n.tx, n.c * tx + n.d * ty + n.ty};
}

Pose Pose::unscaled() const { return {x, y, rotationDeg, mirror, 1, 1}; }

double Pose::meanScale() const { return std::sqrt(std::abs(scaleX * scaleY)); }

Affine Pose::affine() const {
    const Turn t = turnOf(rotationDeg);
    const double sx = mirror ? -scaleX : scaleX;
    return {t.cosine * sx, -t.sine * scaleY, t.sine * sx, t.cosine * scaleY, x, y};
}

Turn turnOf(double degrees) {
    const double quarter = degrees / 90.0;
    if (quarter == std::floor(quarter)) {
        const int k = static_cast<int>(std::fmod(std::fmod(quarter, 4.0) + 4.0, 4.0));
        constexpr Turn exact[] = {{1, 0}, {0, 1}, {-1, 0}, {0, -1}};
        return exact[k];
    }
    const double a = degrees * std::numbers::pi / 180.0;
    return {std::cos(a), std::sin(a)};
}

double normalizedDegrees(double degrees) {
    const double d = std::fmod(degrees, 360.0);
    return d > 180 ? d - 360 : d <= -180 ? d + 360 : d;
}

} // namespace rapt
