#include "core/mechanics/stage.h"

#include <cmath>

namespace ridge {

Result<StagePoint> stage(double torqueLoad, double speedLoad, double ratio, double efficiency, double backEfficiency)
{
    if (!(efficiency > 0.0 && efficiency <= 1.0) || !(backEfficiency >= -10.0 && backEfficiency <= 1.0))
        return refuse("efficiency");
    if (ratio == 0.0)
        return refuse("ratio-zero");
    StagePoint point;
    point.torque = stageTorque(torqueLoad, sign(speedLoad), ratio, efficiency, backEfficiency);
    point.speed = speedLoad * ratio;
    point.power = point.torque * point.speed;
    point.loss = point.power - torqueLoad * speedLoad;
    return point;
}

} // namespace ridge
