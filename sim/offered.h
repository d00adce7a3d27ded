#pragma once
#include <cstdint>

namespace ridge::sim {

inline constexpr std::int64_t commandKey = 0x5AFE; ///< what has to be meant is written as this key
inline constexpr std::int64_t servoModes = 0xAD,
                              stepperModes = 0xA5; ///< bit mode - 1 of 6502; a stepper has no torque mode
inline constexpr double usualSwitching = 80;       ///< its rating is made with 8 kHz [0.1 kHz]
inline constexpr std::int64_t defaultPassword = 1234;
inline constexpr double currentLag = 0.2e-3; ///< of the current loop as it leaves the works [s]

} // namespace ridge::sim
