#include "thread/palette.h"

#include <numbers>

namespace rapt {
namespace {

double linear(double c) { return c <= 0.04045 ? c / 12.92 : std::pow((c + 0.055) / 1.055, 2.4); }

/// sRGB to L*a*b* under D65 (IEC 61966-2-1, CIE 15).
Lab labOf(Rgb c) {
    const double r = linear(c.r / 255.0), g = linear(c.g / 255.0), b = linear(c.b / 255.0);
    const auto f = [](double t) {
        constexpr double d = 6.0 / 29;
        return t > d * d * d ? std::cbrt(t) : t / (3 * d * d) + 4.0 / 29;
    };
    const double x = f((0.4124564 * r + 0.3575761 * g + 0.1804375 * b) / 0.95047);
    const double y = f(0.2126729 * r + 0.7151522 * g + 0.0721750 * b);
    const double z = f((0.0193339 * r + 0.1191920 * g + 0.9503041 * b) / 1.08883);
    return {116 * y - 16, 500 * (x - y), 200 * (y - z)};
}

double radians(double degrees) { return degrees * std::numbers::pi / 180; }

/// Hue angle in degrees, 0 to 360.
double hueOf(double a, double b) {
    if (a == 0 && b == 0) return 0;
    const double h = std::atan2(b, a) * 180 / std::numbers::pi;
    return h < 0 ? h + 360 : h;
}

} // namespace

double ciede2000(const Lab& x, const Lab& y) {
    constexpr double pow25 = 6103515625.0; // 25⁷
    const double meanC = (std::hypot(x.a, x.b) + std::hypot(y.a, y.b)) / 2;
    const double g = 0.5 * (1 - std::sqrt(std::pow(meanC, 7) / (std::pow(meanC, 7) + pow25)));
    const double a1 = (1 + g) * x.a, a2 = (1 + g) * y.a;
    const double c1 = std::hypot(a1, x.b), c2 = std::hypot(a2, y.b);
    const double h1 = hueOf(a1, x.b), h2 = hueOf(a2, y.b);
    double dh = 0, meanH = h1 + h2;
    if (c1 * c2 != 0) {
        dh = h2 - h1;
        if (dh > 180) dh -= 360;
        if (dh < -180) dh += 360;
        if (std::abs(h1 - h2) <= 180)
            meanH = (h1 + h2) / 2;
        else
            meanH = h1 + h2 < 360 ? (h1 + h2 + 360) / 2 : (h1 + h2 - 360) / 2;
    }
    const double dL = y.L - x.L, dC = c2 - c1;
    const double dH = 2 * std::sqrt(c1 * c2) * std::sin(radians(dh / 2));
    const double L = (x.L + y.L) / 2, C = (c1 + c2) / 2;
    const double t = 1 - 0.17 * std::cos(radians(meanH - 30)) +
                     0.24 * std::cos(radians(2 * meanH)) + 0.32 * std::cos(radians(3 * meanH + 6)) -
                     0.20 * std::cos(radians(4 * meanH - 63));
    const double sL = 1 + 0.015 * (L - 50) * (L - 50) / std::sqrt(20 + (L - 50) * (L - 50));
    const double sC = 1 + 0.045 * C;
    const double sH = 1 + 0.015 * C * t;
    const double turn = (meanH - 275) / 25;
    const double rC = 2 * std::sqrt(std::pow(C, 7) / (std::pow(C, 7) + pow25));
    const double rT = -std::sin(radians(60 * std::exp(-turn * turn))) * rC;
    const double l = dL / sL, c = dC / sC, h = dH / sH;
    return std::sqrt(l * l + c * c + h * h + rT * c * h);
}

double colourDifference(Rgb a, Rgb b) { return ciede2000(labOf(a), labOf(b)); }

std::optional<NearestThread> nearestThread(const Palette& palette, Rgb colour,
                                           std::optional<double> weight) {
    std::optional<NearestThread> best;
    for (const bool sameWeight : {true, false}) {
        for (std::size_t i = 0; i < palette.threads.size(); ++i) {
            const Thread& t = palette.threads[i].thread;
            if (sameWeight && weight && t.weight != *weight) continue;
            const double d = colourDifference(colour, t.color);
            if (!best || d < best->difference) best = {i, d};
        }
        if (best) break;
    }
    return best;
}

std::size_t mergePalette(Palette& into, const Palette& from) {
    std::size_t added = 0;
    for (const OwnedThread& thread : from.threads) {
        const auto same =
            std::find_if(into.threads.begin(), into.threads.end(), [&](const OwnedThread& t) {
                return t.thread.name == thread.thread.name &&
                       t.thread.weight == thread.thread.weight;
            });
        if (same != into.threads.end()) {
            *same = thread;
            continue;
        }
        into.threads.push_back(thread);
        ++added;
    }
    return added;
}

} // namespace rapt
