#include "commission.h"

#include "core/mechanics/stage.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace ridge::sim {

namespace {
constexpr double rampTime = 0.3, settleTime = 0.5;       // s
constexpr std::int64_t pulseTicks = 80, restTicks = 320; // 5 ms and 20 ms
/// Order in which the displacements of the pulses cancel: each angle is followed by its opposite.
constexpr std::array<double, 12> pulseAngles{0, 180, 90, 270, 30, 210, 120, 300, 60, 240, 150, 330};
constexpr double radian = pi / 180;
} // namespace

double Commission::rated() const { return std::sqrt(2.0) * std::max(1e-3, m_values.number(0x6075) * 1e-3); }

void Commission::begin(Routine routine, std::int64_t now, double poleAngle)
{
    m_routine = routine;
    m_results[static_cast<std::size_t>(routine)] = RoutineResult::Running;
    m_progress[static_cast<std::size_t>(routine)] = 0;
    m_heldAt = m_beganAt = m_now = now;
    m_from = m_machine.measured();
    m_turned = m_turnedAngle = 0;
    m_field = m_values.number(0x2020, 2) * 0.01 * radian;
    m_oldAngle = poleAngle;
    m_pulse = 0;
    m_pulseAt = now;
    m_pulseFrom = m_from;
    m_angles.clear();
    m_answers.clear();
    m_verifying = m_turning = false;
    m_firstVoltage = m_sum = m_voltSeconds = m_ampereSeconds = m_rise = 0;
    m_summed = 0;
}

void Commission::finish(RoutineResult why)
{
    if (m_routine == Routine::None)
        return;
    m_results[static_cast<std::size_t>(m_routine)] = why;
    if (why == RoutineResult::Done)
        m_progress[static_cast<std::size_t>(m_routine)] = 1000;
    m_routine = Routine::None;
}

void Commission::tick(std::int64_t now, Stage& stage)
{
    m_now = now;
    stage.on = true;
    stage.q = stage.d = stage.fieldSpeed = 0;
    if (now - m_heldAt > holdTicks) {
        stage.on = false;
        finish(RoutineResult::Aborted);
        return;
    }
    const double time = static_cast<double>(now - m_beganAt) * AxisMachine::tickTime;
    switch (m_routine) {
    case Routine::Vector: vector(time, stage); break;
    case Routine::PoleSearch:
        if (m_values.at(0x2024, 1) == 2)
            align(time, stage);
        else
            pulses(stage);
        break;
    case Routine::SelfTune: m_turning ? turnRound(stage) : measureWinding(time, stage); break;
    case Routine::None: break;
    }
    if (m_routine == Routine::None)
        stage.on = false;
}

bool Commission::opensBrake(std::int64_t now) const
{
    if (!running() || m_routine == Routine::SelfTune)
        return running() && m_turning;
    const bool pulses = m_routine == Routine::PoleSearch && m_values.at(0x2024, 1) != 2;
    return pulses || static_cast<double>(now - m_beganAt) * AxisMachine::tickTime > rampTime;
}

void Commission::vector(double time, Stage& stage)
{
    const double wanted = m_values.number(0x2020, 1) * 1e-3 * rated(), turns = m_values.number(0x2020, 4) * 0.01,
                 rate = std::abs(m_values.number(0x2020, 3)) * 1e-3;
    stage.d = wanted * std::min(1.0, time / rampTime);
    const double limit = m_values.number(0x2020, 7) * 2 * pi / m_machine.truth().encoder.counts;
    if (limit > 0 && std::abs(moved()) > limit) {
        finish(RoutineResult::TravelLimit);
        return;
    }
    if (time > rampTime + settleTime && std::abs(m_turned) < std::abs(turns) && rate > 0) {
        const double way = turns < 0 ? -1 : 1;
        stage.fieldSpeed = way * 2 * pi * rate;
        m_turned += way * rate * AxisMachine::tickTime;
    }
    m_turnedAngle = 2 * pi * m_turned;
    stage.field = field();
    m_progress[1] = turns != 0 ? static_cast<int>(std::min(1000.0, 1000 * std::abs(m_turned / turns))) : 0;
    if (turns != 0 && std::abs(m_turned) >= std::abs(turns))
        m_results[1] = RoutineResult::Done; // it holds there as long as it is held
}

/// Short pulses of a current vector all around; the rotor answers each with a jerk that tells where its poles lie.
void Commission::pulses(Stage& stage)
{
    const double amplitude = std::clamp(m_values.number(0x2024, 4), 50.0, 1000.0) * 1e-3 * rated();
    const double travel = std::max(0.05, m_values.number(0x2024, 2) * 0.01) * radian,
                 fastest = std::max(1.0, m_values.number(0x2024, 3) * 1e-3);
    const std::int64_t at = m_now - m_pulseAt;
    if (m_verifying) {
        verify(amplitude, stage);
        return;
    }
    if (std::abs(moved()) > travel) {
        finish(RoutineResult::TravelLimit);
        return;
    }
    const double epsilon = pulseAngles[m_pulse] * radian;
    const double t = static_cast<double>(pulseTicks) * AxisMachine::tickTime;
    stage.d = at < 2 * pulseTicks ? amplitude : 0;
    stage.field = at < pulseTicks ? epsilon : epsilon + pi; // what the pulse sets moving the next one brings to rest
    stage.on = at < 2 * pulseTicks + 32;
    if (at == pulseTicks) {
        const double way = m_machine.measured() - m_pulseFrom;
        if (std::abs(way) * 2 / t > fastest) {
            finish(RoutineResult::SpeedLimit);
            return;
        }
        m_angles.push_back(pulseAngles[m_pulse]);
        m_answers.push_back(2 * way / (t * t));
    }
    if (at < 2 * pulseTicks + restTicks)
        return;
    m_pulseAt = m_now;
    m_pulseFrom = m_machine.measured();
    m_progress[2] = static_cast<int>(1000 * m_answers.size() / (pulseAngles.size() + 1));
    if (++m_pulse < pulseAngles.size())
        return;
    const auto estimate = estimatePole(m_angles, m_answers);
    const double noise = 2 * (2 * pi / m_machine.truth().encoder.counts) / (t * t);
    const std::string_view doubt = estimate ? estimateDoubt(*estimate, noise) : "estimate-no-motion";
    if (doubt == "estimate-no-motion")
        finish(RoutineResult::NoMotion);
    else if (doubt == "estimate-bias")
        finish(RoutineResult::Bias);
    else if (!doubt.empty())
        finish(RoutineResult::Friction);
    if (!doubt.empty())
        return;
    // the estimate is of the poles now; what the drive keeps is their angle at count 0
    m_verifying = true;
    m_polesNow = estimate->angle_deg * radian;
    m_newAngle = m_polesNow - m_values.number(0x2120, 1) * m_machine.measured();
}

/// The rotor is held where its poles are taken to be and led on by twenty degrees: it has to come along, forwards.
void Commission::verify(double amplitude, Stage& stage)
{
    constexpr double ramp = 0.05, hold = 0.1, lead = 20 * radian;
    const double time = static_cast<double>(m_now - m_pulseAt) * AxisMachine::tickTime, p = m_values.number(0x2120, 1);
    stage.d = amplitude * std::min(1.0, time / ramp);
    stage.field = m_polesNow + lead * std::clamp((time - hold) / hold, 0.0, 1.0);
    const double way = p * (m_machine.measured() - m_pulseFrom);
    if (std::abs(way) > 3 * lead)
        finish(RoutineResult::Direction);
    else if (time > 3 * hold)
        finish(way > lead / 2 ? RoutineResult::Done : RoutineResult::Direction);
}

/// The rotor is drawn to a held vector, then a quarter turn on; where it stops tells the offset, how far the direction.
void Commission::align(double time, Stage& stage)
{
    const double amplitude = std::clamp(m_values.number(0x2024, 4), 50.0, 1000.0) * 1e-3 * rated();
    const double travel = std::max(1.0, m_values.number(0x2024, 2) * 0.01) * radian, p = m_values.number(0x2120, 1);
    if (std::abs(moved()) > travel) {
        finish(RoutineResult::TravelLimit);
        return;
    }
    constexpr double turnTime = 0.5;
    const double settled = rampTime + 2 * settleTime;
    stage.d = amplitude * std::min(1.0, time / rampTime);
    const double quarter = std::clamp((time - settled) / turnTime, 0.0, 1.0);
    stage.field = pi / 2 * quarter;
    m_progress[2] = static_cast<int>(std::min(999.0, 1000 * time / (settled + turnTime + settleTime)));
    if (time < settled) {
        m_pulseFrom = m_machine.measured();
        return;
    }
    if (time < settled + turnTime + settleTime)
        return;
    const double way = p * (m_machine.measured() - m_pulseFrom);
    if (std::abs(way) < 0.3) {
        finish(RoutineResult::NoMotion);
    } else if (way < 0) {
        finish(RoutineResult::Direction);
    } else {
        m_newAngle = pi / 2 - p * m_machine.measured();
        finish(RoutineResult::Done);
    }
}

/// Two levels of current tell the resistance, the step between them the inductance.
void Commission::measureWinding(double time, Stage& stage)
{
    const double level = std::clamp(m_values.number(0x2025, 1), 100.0, 800.0) * 1e-3 * rated();
    constexpr double first = 0.6, second = 1.2, mean = 0.2;
    stage.field = m_oldAngle + m_values.number(0x2120, 1) * m_machine.measured();
    stage.d = time < first ? 0.4 * level : level;
    m_progress[3] = static_cast<int>(std::min(999.0, 1000 * time / second));
    const bool averages = (time > first - mean && time < first) || time > second - mean;
    if (averages) {
        m_sum += m_machine.fieldVoltage();
        ++m_summed;
    }
    if (time >= first && m_firstVoltage == 0 && m_summed > 0) {
        m_firstVoltage = m_sum / static_cast<double>(m_summed);
        m_sum = 0;
        m_summed = 0;
        m_before = m_machine.fieldCurrent();
        m_pulseAt = m_now;
    }
    // what the step of the voltage puts into the winding beyond its resistance is inductance times current
    if (m_firstVoltage != 0 && m_now - m_pulseAt <= 160) {
        m_voltSeconds += (m_machine.fieldVoltage() - m_firstVoltage) * AxisMachine::tickTime;
        m_ampereSeconds += (m_machine.fieldCurrent() - m_before) * AxisMachine::tickTime;
        m_rise = m_machine.fieldCurrent() - m_before;
    }
    if (time < second)
        return;
    if (m_machine.fieldCurrent() < 0.9 * level) {
        finish(RoutineResult::NoCurrent);
        return;
    }
    m_resistance = (m_sum / static_cast<double>(m_summed) - m_firstVoltage) / (0.6 * level);
    m_inductance = m_rise > 0 ? (m_voltSeconds - m_resistance * m_ampereSeconds) / m_rise : 0;
    if (m_values.at(0x2025, 11) == 0) {
        finish(RoutineResult::Done);
        return;
    }
    m_turning = true;
    m_pulseAt = m_now;
    m_from = m_pulseFrom = m_machine.measured();
    m_field = stage.field;
}

/// The shaft follows a vector once around its poles and back; it has to come along, forwards, within its travel.
void Commission::turnRound(Stage& stage)
{
    constexpr double turn = 1.5, rest = 0.3; // s
    const double level = std::clamp(m_values.number(0x2025, 1), 100.0, 800.0) * 1e-3 * rated(),
                 p = m_values.number(0x2120, 1), time = static_cast<double>(m_now - m_pulseAt) * AxisMachine::tickTime,
                 limit = m_values.number(0x2025, 12) * 2 * pi / m_machine.truth().encoder.counts;
    stage.d = level;
    const double way = time < turn          ? time / turn
                       : time < turn + rest ? 1
                                            : std::max(0.0, 1 - (time - turn - rest) / turn);
    stage.field = m_field + 2 * pi * way;
    m_progress[3] = static_cast<int>(std::min(999.0, 500 + 500 * time / (2 * turn + rest)));
    if (limit > 0 && std::abs(moved()) > limit) {
        finish(RoutineResult::TravelLimit);
    } else if (time >= turn + rest / 2 && time < turn + rest) {
        const double followed = p * moved();
        if (followed < -0.5)
            finish(RoutineResult::Direction);
        else if (followed < pi)
            finish(RoutineResult::NoMotion);
    } else if (time >= 2 * turn + 2 * rest) {
        finish(RoutineResult::Done);
    }
}

} // namespace ridge::sim
