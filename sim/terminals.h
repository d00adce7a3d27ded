#pragma once
#include "core/objects/valuewords.h"

#include <array>
#include <cstdint>

namespace ridge::sim {

/// What an input does (2027:1 to 8).
enum class InputFunction : std::uint8_t { None, LowLimit, HighLimit, Home, Enable, FaultReset, QuickStop };
inline constexpr std::int64_t lastInputFunction = 6;

/// What an output tells (2028:1 to 4); without a function it follows 60FE.
enum class OutputFunction : std::uint8_t { None, Ready, Fault, BrakeOpen, Reached, Stands, Homed, Warning, TorqueOn };
inline constexpr std::int64_t lastOutputFunction = 8;

/// The functions as they are now, in the directions of the user; as bits they are those of 60FD, then ours.
struct Inputs {
    bool low = false, high = false, home = false, enable = true, reset = false, stop = false;
    [[nodiscard]] std::int64_t bits() const
    {
        return (low ? 1 : 0) | (high ? 2 : 0) | (home ? 4 : 0) | (enable ? 8 : 0) | (reset ? 16 : 0) | (stop ? 32 : 0);
    }
    [[nodiscard]] static Inputs of(std::int64_t bits)
    {
        return {(bits & 1) != 0, (bits & 2) != 0, (bits & 4) != 0, (bits & 8) != 0, (bits & 16) != 0, (bits & 32) != 0};
    }
};

/// From the levels of the terminals to functions. A bit of `lowActs` set: that input acts on a low, as a broken wire
/// gives it. Two inputs with one function: either acts, but both have to enable. No input enables: nothing has to.
[[nodiscard]] Inputs inputsFrom(std::int64_t levels, std::int64_t lowActs,
                                const std::array<InputFunction, inputTerminals>& functions);

} // namespace ridge::sim
