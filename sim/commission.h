#pragma once
#include "core/commutation/sweep.h"

#include "machine.h"
#include "valuestore.h"

#include <cstdint>
#include <optional>
#include <vector>

namespace ridge::sim {

/// Results of the routines inside the drive, as their objects tell them; the order is that of the object.
enum class RoutineResult : std::uint16_t {
    None = 0,
    Done = 1,
    Running = 2,
    Aborted = 3,     ///< not held any longer
    TravelLimit = 4, ///< "estimate-one-sided" or the limit of the sweep
    SpeedLimit = 5,  ///< "estimate-limit"
    NoMotion = 6,    ///< "estimate-no-motion"
    Bias = 7,        ///< "estimate-bias": gravity
    Friction = 8,    ///< "estimate-friction"
    Direction = 9,   ///< "estimate-direction"
    NoCurrent = 10,  ///< a phase does not carry what it is asked for
    WrongState = 11, ///< torque may not be switched on now
};

/// Current vector, pole search and electrical self-tune: done by the drive itself while a person holds, with power but
/// without loops. It ends by itself when the hold is not renewed.
class Commission {
public:
    static constexpr std::int64_t holdTicks = 8000; ///< a hold that is not renewed ends after this [1/16000 s]
    enum class Routine : std::uint8_t { None, Vector, PoleSearch, SelfTune };

    Commission(const AxisMachine& machine, ValueStore& values)
        : m_machine(machine)
        , m_values(values)
    {}
    /// @param poleAngle  that the drive uses now, electrical [rad]
    void begin(Routine routine, std::int64_t now, double poleAngle);
    void hold(std::int64_t now) { m_heldAt = now; }
    void abort(RoutineResult why) { finish(why); }
    [[nodiscard]] bool running() const { return m_routine != Routine::None; }
    [[nodiscard]] Routine routine() const { return m_routine; }
    /// Whether the shaft has to be free now: once the current holds it; a winding is measured on the closed brake.
    [[nodiscard]] bool opensBrake(std::int64_t now) const;
    /// One tick: what the power stage is to do.
    void tick(std::int64_t now, Stage& stage);

    [[nodiscard]] RoutineResult result(Routine routine) const { return m_results[static_cast<std::size_t>(routine)]; }
    [[nodiscard]] int progress(Routine routine) const { return m_progress[static_cast<std::size_t>(routine)]; } ///< [‰]
    [[nodiscard]] double field() const { return m_field + m_turnedAngle; } ///< of the vector, electrical [rad]
    [[nodiscard]] double oldAngle() const { return m_oldAngle; }           ///< electrical [rad]
    [[nodiscard]] double newAngle() const { return m_newAngle; }           ///< of the poles at count 0
    [[nodiscard]] double resistance() const { return m_resistance; }       ///< of a phase [ohm]
    [[nodiscard]] double inductance() const { return m_inductance; }       ///< of a phase [H]

private:
    void vector(double time, Stage& stage);
    void pulses(Stage& stage);
    void align(double time, Stage& stage);
    void verify(double amplitude, Stage& stage);
    void measureWinding(double time, Stage& stage);
    void turnRound(Stage& stage); ///< one electrical turn there and back, after the winding
    void finish(RoutineResult why);
    [[nodiscard]] double rated() const; ///< current amplitude of the entered motor [A]
    [[nodiscard]] double moved() const { return m_machine.measured() - m_from; } ///< [rad]

    const AxisMachine& m_machine;
    ValueStore& m_values;
    Routine m_routine = Routine::None;
    std::array<RoutineResult, 4> m_results{};
    std::array<int, 4> m_progress{};
    std::int64_t m_heldAt = 0, m_beganAt = 0, m_now = 0;
    double m_from = 0, m_field = 0, m_turned = 0, m_turnedAngle = 0, m_oldAngle = 0, m_newAngle = 0, m_resistance = 0,
           m_inductance = 0;
    // pole search
    std::size_t m_pulse = 0;
    std::int64_t m_pulseAt = 0;
    double m_pulseFrom = 0, m_before = 0;
    std::vector<double> m_angles, m_answers;
    bool m_verifying = false;
    double m_polesNow = 0; ///< electrical [rad]
    // winding
    double m_firstVoltage = 0, m_sum = 0, m_voltSeconds = 0, m_ampereSeconds = 0, m_rise = 0;
    std::int64_t m_summed = 0;
    bool m_turning = false;
};

} // namespace ridge::sim
