#include "core/control/notch.h"

#include "core/mechanics/stage.h"

#include <cmath>

namespace ridge {

Result<Biquad> notchBiquad(const LoopNotch& n, double rate)
{
    if (!(n.frequency > 0) || !(n.pole > 0) || n.zero < 0)
        return refuse("out-of-range", "notch");
    if (n.frequency >= 0.45 * rate)
        return refuse("notch-above-nyquist", "notch");
    const double k = std::tan(pi * n.frequency / rate), d = 1 + 2 * n.pole * k + k * k, turn = 2 * (k * k - 1) / d;
    return Biquad{(1 + 2 * n.zero * k + k * k) / d, turn, (1 - 2 * n.zero * k + k * k) / d, turn,
                  (1 - 2 * n.pole * k + k * k) / d};
}

} // namespace ridge
