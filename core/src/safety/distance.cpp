#include "core/safety/distance.h"

#include <algorithm>

namespace ridge {

Result<double> curtainDistance(double time, double resolution)
{
    if (!(time >= 0 && time <= 10))
        return refuse("out-of-range", "time", "0 to 10 s");
    if (!(resolution > 0))
        return refuse("out-of-range", "resolution", "above 0");
    if (resolution > 0.07)
        return refuse("not-covered", "resolution", "up to 70 mm");
    if (resolution > 0.04)
        return approachDistance(time, 0.85);
    const double intrusion = std::max(0.0, 8 * (resolution - 0.014));
    double distance = approachDistance(time, intrusion, 2.0);
    if (distance > 0.5)
        distance = std::max(0.5, approachDistance(time, intrusion));
    return std::max(0.1, distance);
}

} // namespace ridge
