#include "core/sizing/statics.h"

#include "core/mechanics/stage.h"

#include <algorithm>
#include <cmath>

namespace ridge {

namespace {
/// Golden section for the largest magnitude between two neighbours of the best sample.
double turningPoint(const std::function<double(double)>& f, double low, double high)
{
    constexpr double golden = 0.381966;
    for (int k = 0; k < 40; ++k) {
        const double p = low + golden * (high - low), q = high - golden * (high - low);
        (std::abs(f(p)) < std::abs(f(q)) ? low : high) = std::abs(f(p)) < std::abs(f(q)) ? p : q;
    }
    return (low + high) / 2;
}
} // namespace

Worst worstOver(const LoadModel& load, double low, double high, const std::function<double(double)>& f)
{
    Worst worst;
    bool any = false;
    const auto look = [&](double x) {
        const double value = f(x);
        if (!any || std::abs(value) > std::abs(worst.value) * (1 + 1e-12))
            worst = {value, x, 0};
        any = true;
    };
    look(low);
    look(high);
    if (load.hasCrank || load.unbalance != 0) {
        if (!load.hasSpring) // one turn is as the next
            high = std::min(high, low + 2 * pi);
        const int cells = std::clamp(static_cast<int>(std::ceil((high - low) / (2 * pi) * 180)), 2, 20000);
        const double width = (high - low) / cells;
        for (int k = 1; k < cells; ++k)
            look(low + k * width);
        if (width > 0)
            look(turningPoint(f, std::max(low, worst.position - width), std::min(high, worst.position + width)));
    }
    return worst;
}

Worst worstTorque(const AxisChain& chain, const HoldRange& where, int way)
{
    Worst worst;
    bool first = true;
    for (const double payload : {where.mostPayload, where.leastPayload}) {
        Worst w = worstOver(chain.load, where.low, where.high, [&](double x) {
            return chainPoint(chain, payload, 0, {x, 0, 0, 0}, way).torque;
        });
        w.payload = payload;
        if (first || std::abs(w.value) > std::abs(worst.value))
            worst = w;
        first = false;
    }
    return worst;
}

} // namespace ridge
