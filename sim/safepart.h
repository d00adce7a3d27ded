#pragma once
#include <cstdint>

namespace ridge::sim {

/// What the safe part is set to (2030). Zero switches a function off; a range of which low is not below high as well.
struct SafeSettings {
    std::int64_t low = 0, high = 0;         ///< safe position [safe counts]
    std::int64_t speed = 0;                 ///< [safe counts/s]
    std::int64_t delay = 0;                 ///< from the stop it asks for to torque off [ms]
    std::int64_t address = 0, watchdog = 0; ///< of the safe controller; time without a telegram [ms]
};

/// The part of the drive that watches speed and place for itself and takes the torque away: safely limited speed and
/// position as EN 61800-5-2 names them, with a stop of category 1 first. What it decided stays until the torque is off,
/// what it found until a person enables anew.
class SafePart {
public:
    /// Once a millisecond. @param heard  address of the controller whose telegrams come, 0: none
    void step(const SafeSettings& set, std::int64_t position, std::int64_t speed, bool torque, std::int64_t heard);
    [[nodiscard]] bool stops() const { return m_stopFor >= 0; } ///< a ramp is asked for
    [[nodiscard]] bool permits() const { return m_permits; }    ///< torque
    [[nodiscard]] bool tooFast() const { return m_tooFast; }
    [[nodiscard]] bool outside() const { return m_outside; }
    [[nodiscard]] bool deaf() const { return m_deaf; } ///< no telegram of its controller

private:
    std::int64_t m_stopFor = -1, m_silent = 0, m_allowed = 0; ///< [ms], [ms], [safe counts beyond the range]
    bool m_permits = true, m_tooFast = false, m_outside = false, m_deaf = false, m_hadTorque = false;
};

} // namespace ridge::sim
