#include "core/sizing/matchstepper.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace ridge {

std::string_view stepperTestKey(StepperTest test)
{
    constexpr std::array<std::string_view, stepperTestCount> keys{"pull_out", "holding",   "inertia_ratio",
                                                                  "angle",    "step_rate", "voltage"};
    return keys[static_cast<std::size_t>(test)];
}
std::string_view stepperTestTitle(StepperTest test)
{
    constexpr std::array<std::string_view, stepperTestCount> titles{
        "pull-out torque", "holding torque", "inertia ratio", "static angle error", "step rate", "supply voltage"};
    return titles[static_cast<std::size_t>(test)];
}

Result<StepperElectric> stepperElectric(const StepperMotor& m, LeadConnection connection, const StepperDrive& d,
                                        double bus, std::optional<double> setting)
{
    const auto w = connectWinding({m.resistance, m.inductance, m.current, m.torqueConstant}, connection);
    if (!w)
        return tl::make_unexpected(w.error());
    StepperElectric e{w->resistance,
                      w->inductance,
                      w->constant,
                      m.rotorTeeth,
                      bus - d.bridgeDrop,
                      std::min({std::sqrt(2.0) * w->current, d.peakCurrent,
                                setting.value_or(std::numeric_limits<double>::infinity())}),
                      static_cast<int>(m.phases)};
    if (const auto corner = stepperCorner(e); !corner)
        return tl::make_unexpected(corner.error());
    return e;
}

StepperResult matchStepper(const StepperElectric& e, double corner, double rotor, const DutyPath& path,
                           double reflected, const StepperConditions& c)
{
    StepperResult r;
    r.rotor = rotor;
    r.inertiaRatio = reflected / rotor;
    r.corner = corner;
    r.holdingTorque = e.phases / 2.0 * e.constant * e.current;
    const auto set = [&r](StepperTest test, double demand, double capacity) {
        r.tests[static_cast<std::size_t>(test)] = {demand, capacity};
    };
    double use = -1, hold = 0, still = 0;
    const auto moves = [&](double torque, double speed, double at) {
        r.torquePeak = std::max(r.torquePeak, torque);
        const double capacity = (1 - c.reserve) * pullOutTorque(e, corner, speed),
                     share = capacity > 0 ? torque / capacity : 1e9;
        if (share <= use)
            return;
        use = share;
        set(StepperTest::PullOut, torque, capacity);
        r.pullOutAt = at;
        r.pullOutSpeed = std::abs(speed);
    };
    for (const DutyPiece& p : path.pieces) {
        const bool rests = p.speed0 == 0 && p.speed1 == 0;
        const double t0 = std::abs(p.torque0 + rotor * p.acceleration0),
                     t1 = std::abs(p.torque1 + rotor * p.acceleration1);
        r.torquePeak = std::max({r.torquePeak, t0, t1});
        r.speedMax = std::max({r.speedMax, std::abs(p.speed0), std::abs(p.speed1)});
        if (rests || std::abs(p.speed0 - p.speed1) < 1e-9 * (std::abs(p.speed0) + 1e-9)) {
            still = std::max({still, t0, t1}); // only what stands or runs evenly shows the angle error
            for (std::size_t n = p.firstNode; n < p.firstNode + p.nodeCount; ++n)
                still = std::max(still, std::abs(path.nodes[n].torque + rotor * path.nodes[n].acceleration));
        }
        if (rests) {
            hold = std::max({hold, t0, t1});
            continue;
        }
        moves(t0, p.speed0, p.start);
        moves(t1, p.speed1, p.start + p.duration);
    }
    for (const DutyNode& n : path.extremes)
        if (n.speed != 0)
            moves(std::abs(n.torque + rotor * n.acceleration), n.speed, n.at);
    if (r.pullOutSpeed < 1e-7 * r.speedMax)
        r.pullOutSpeed = 0; // what the rounding of the motion leaves of standstill
    set(StepperTest::Holding, hold, (1 - c.reserve) * r.holdingTorque * c.standstillShare);
    set(StepperTest::InertiaRatio, c.inertiaLimit > 0 ? r.inertiaRatio : 0, c.inertiaLimit > 0 ? c.inertiaLimit : 1);
    const auto lag = loadAngle(still, r.holdingTorque, e.rotorTeeth);
    set(StepperTest::Angle, c.angleLimit > 0 ? (lag ? *lag * c.travelPerRadian : 1e9) : 0,
        c.angleLimit > 0 ? c.angleLimit : 1);
    set(StepperTest::StepRate, 0, 1);
    set(StepperTest::Voltage, 0, 1);
    r.tightest = std::numeric_limits<double>::infinity();
    for (int k = 0; k < stepperTestCount; ++k)
        if (const double margin = r.tests[static_cast<std::size_t>(k)].margin(); margin < r.tightest) {
            r.tightest = margin;
            r.tightestTest = static_cast<StepperTest>(k);
        }
    return r;
}

double stepperBusRise(const StepperElectric& e, const DutyPath& path, double inertia, double bus, double capacitance)
{
    double most = bus;
    if (!(capacitance > 0))
        return most;
    for (const DutyPiece& p : path.pieces) {
        const double from = std::abs(p.speed0), to = std::abs(p.speed1);
        if (!(to < from))
            continue;
        // from a speed to a lower one: the energy between the two
        const double speed = std::sqrt(from * from - to * to);
        most = std::max(most, stepperRegeneration(inertia, speed, p.duration, e.resistance, e.current / std::sqrt(2.0),
                                                  e.phases, bus, capacitance)
                                  .busEnd);
    }
    return most;
}

} // namespace ridge
