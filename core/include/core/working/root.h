#pragma once
#include <cmath>

namespace ridge {

/// Root of f in a bracket, to 1e-13 of itself: false position that halves the weight of an end which stays (Illinois),
/// a dozen evaluations. Without a change of sign the second end.
template <class F>
double rootIn(F f, double a, double b)
{
    double fa = f(a), fb = f(b);
    if (fa == 0 || fb == 0 || (fa > 0) == (fb > 0))
        return fa == 0 ? a : b;
    int side = 0;
    for (int k = 0; k < 100 && std::abs(b - a) > 1e-13 * std::abs(b); ++k) {
        const double c = (fa * b - fb * a) / (fa - fb), fc = f(c);
        if (fc == 0)
            return c;
        if ((fc > 0) == (fb > 0)) {
            if (std::abs(b - c) < 1e-14 * std::abs(c))
                return c;
            b = c;
            fb = fc;
            fa = side == -1 ? fa / 2 : fa;
            side = -1;
        } else {
            if (std::abs(c - a) < 1e-14 * std::abs(c))
                return c;
            a = c;
            fa = fc;
            fb = side == 1 ? fb / 2 : fb;
            side = 1;
        }
    }
    return (a + b) / 2;
}
} // namespace ridge
