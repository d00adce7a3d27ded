#pragma once
#include <cmath>
#include <utility>

namespace ridge {

/// The false position, or the middle when that hardly moves.
inline double nextPoint(double a, double fa, double b, double fb, bool halve)
{
    return halve ? (a + b) / 2 : (fa * b - fb * a) / (fa - fb);
}

/// Root of f in a bracket, to 1e-12 of itself: false position that halves the weight of an end which stays (Illinois),
/// a dozen evaluations. Where that hardly moves (a steep exponential, a flat power) the bracket is halved: a small step
/// is no proof of a root, a change of sign behind it is. Without a change of sign the second end.
template <class F>
double rootIn(F f, double a, double b)
{
    double fa = f(a), fb = f(b);
    if (fa == 0 || fb == 0 || (fa > 0) == (fb > 0))
        return fa == 0 ? a : b;
    int side = 0;
    double wide = std::abs(b - a);
    bool halve = false;
    for (int k = 1; k <= 300 && std::abs(b - a) > 1e-13 * std::abs(b); ++k) {
        if (k % 4 == 0)
            halve |= std::abs(b - a) > std::exchange(wide, std::abs(b - a)) / 2;
        const double c = nextPoint(a, fa, b, fb, halve), fc = f(c);
        halve = false;
        if (fc == 0)
            return c;
        double& near = (fc > 0) == (fb > 0) ? b : a; // the end on this side of the root
        const double other = &near == &b ? a : b;
        if (std::abs(near - c) < 1e-13 * std::abs(c)) {
            if ((f(c + std::copysign(1e-12 * std::abs(c), other - c)) > 0) != (fc > 0))
                return c;
            halve = true;
        }
        near = c;
        if (&near == &b) {
            fb = fc;
            fa = side == -1 ? fa / 2 : fa;
            side = -1;
        } else {
            fa = fc;
            fb = side == 1 ? fb / 2 : fb;
            side = 1;
        }
    }
    return (a + b) / 2;
}

} // namespace ridge
