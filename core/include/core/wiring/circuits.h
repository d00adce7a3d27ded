#pragma once
#include "core/wiring/plan.h"

#include <array>
#include <string>

namespace ridge {

/// The circuits of a plan, each with work of its own that hangs on it.
enum class Circuit { Mains, Motor, Feedback, Resistor, Safety };
inline constexpr std::size_t circuitCount = 5;

/// What is drawn of each circuit, as one text: conductors with ends, size and cable, cables, devices with their
/// terminals and properties. Names and the order of entries play no part; two plans that wire a circuit alike give the
/// same text.
[[nodiscard]] std::array<std::string, circuitCount> drawnCircuits(const WirePlan& plan);

} // namespace ridge
