#include "core/sizing/sharedbus.h"

#include "core/drives/servo.h"

#include <algorithm>
#include <cmath>

namespace ridge {

double busPowerAt(const ServoMotor& m, double torque, double speed, double winding, double drive) noexcept
{
    const double copper = 1.5 * m.resistance * (1 + copperCoefficient * (winding - 20)), i = currentOfTorque(m, torque);
    return torque * speed + copper * (i * i + m.stallCurrent * m.stallCurrent * ironShare(m, speed)) + drive;
}

Result<SharedBus> sharedBus(std::span<const std::vector<PowerPiece>> axes, double cycle, double capacitance,
                            double floor, double on)
{
    if (!(cycle > 0))
        return refuse("not-positive");
    std::vector<double> cuts{0, cycle};
    for (const auto& axis : axes)
        for (const PowerPiece& p : axis) {
            if (p.start < 0 || p.start + p.duration > cycle + 1e-9)
                return refuse("outside-cycle");
            cuts.push_back(p.start);
            cuts.push_back(p.start + p.duration);
        }
    std::ranges::sort(cuts);
    SharedBus out;
    std::vector<double> works;
    for (std::size_t k = 0; k + 1 < cuts.size(); ++k) {
        const double a = cuts[k], b = cuts[k + 1];
        if (b - a < 1e-12)
            continue;
        double pa = 0, pb = 0;
        for (const auto& axis : axes)
            for (const PowerPiece& p : axis)
                if (p.start - 1e-12 <= a && b <= p.start + p.duration + 1e-12) {
                    pa += p.power0 + (p.power1 - p.power0) * (a - p.start) / p.duration;
                    pb += p.power0 + (p.power1 - p.power0) * (b - p.start) / p.duration;
                }
        out.peakReturned = std::max({out.peakReturned, -pa, -pb});
        if (pa * pb < 0) {
            const double x = pa / (pa - pb);
            works.push_back(pa * x * (b - a) / 2);
            works.push_back(pb * (1 - x) * (b - a) / 2);
        } else {
            works.push_back((pa + pb) / 2 * (b - a));
        }
    }
    const double low = capacitance * floor * floor / 2, high = capacitance * on * on / 2;
    double stored = low;
    for (int lap = 0; lap < 3; ++lap) { // the second lap begins where the first ended; the third repeats it
        out.fromMains = out.toResistor = 0;
        for (const double w : works) {
            stored -= w;
            out.toResistor += std::max(0.0, stored - high);
            stored = std::min(stored, high);
            out.fromMains += std::max(0.0, low - stored);
            stored = std::max(stored, low);
        }
    }
    return out;
}

} // namespace ridge
