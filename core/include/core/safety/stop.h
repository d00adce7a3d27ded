#pragma once
#include "core/working/result.h"
#include "core/working/working.h"

#include <optional>
#include <span>
#include <string>
#include <vector>

namespace ridge {

struct Ss1Delay {
    double required = 0, set = 0; ///< [s]
};
/// required = t_react + max(stop)·(1 + k); set = smallest step of the timer not under it. @error missing
[[nodiscard]] Result<Ss1Delay> ss1Delay(std::span<const double> stops, double tolerance, double reaction,
                                        double timerTolerance = 0, double step = 0.01, Recorder* recorder = nullptr);

/// "ok", or the words "too-short", "ramp-longer-than-delay", "too-long", "over-permitted".
[[nodiscard]] std::vector<std::string> ss1Check(double set, double required, double ramp, double reaction,
                                                std::optional<double> slack = {}, std::optional<double> permitted = {});

struct StopDistance {
    double time = 0, distance = 0;
};
[[nodiscard]] StopDistance stopDistance(double speed, double reaction, double deceleration,
                                        std::optional<double> jerk = {});
/// SS1 by time with a ramp that fails: full speed for the whole delay, then coast.
[[nodiscard]] StopDistance ss1FaultStop(double speed, double reaction, double set, double coast);

struct Coast {
    double time = 0, turns = 0;
};
[[nodiscard]] Result<Coast> coastDown(double inertia, double speed, double friction,
                                      double viscous = 0); ///< @error infeasible

struct VerticalDrop {
    double free = 0, speed = 0, total = 0; ///< [m], [m/s], [m]
};
/// a = g·ratio with ratio = m/(m + J/r²); no credit for friction.
[[nodiscard]] VerticalDrop verticalDrop(double closing, double startSpeed = 0, std::optional<double> braking = {},
                                        double massRatio = 1);

struct StoEvent {
    double time = 0; ///< [s]
    bool channel1 = false, channel2 = false, enable = false;
};
/// Torque-off inputs by the rules of common practice: 0.5 ms filter, off within 20 ms, single channel 10 s is a fault,
/// a fresh enable edge after both return.
class StoLogic {
public:
    enum class State { Disabled, Enabled, TorqueOff, WiringFault };
    explicit StoLogic(double filter = 0.5e-3, double faultAfter = 10.0)
        : m_filter(filter)
        , m_faultAfter(faultAfter)
    {}
    void apply(const StoEvent& event);
    void advance(double time);
    [[nodiscard]] State state() const { return m_state; }
    [[nodiscard]] std::optional<double> offBy() const { return m_offBy; } ///< torque off at the latest [s]

private:
    double m_filter, m_faultAfter;
    State m_state = State::Disabled;
    std::optional<double> m_low[2], m_single, m_offBy;
    bool m_enable = false;
};

/// External device monitor: conducts only when both channels are off. "ok", "discrepancy", "edm-mismatch".
[[nodiscard]] std::string edmCheck(bool channel1, bool channel2, bool monitor);

} // namespace ridge
