#pragma once

namespace ridge {

/// Nodes that a serial line (RS-485) carries: 32 unit loads, TIA/EIA-485, from memory.
[[nodiscard]] double serialNodes(double unitLoad) noexcept;
/// Longest CAN line at a bit rate [m], CiA 301 and 303-1, from memory; between two rates that of the faster one, 0
/// above 1 Mbit/s.
[[nodiscard]] double canLongest(double bitRate) noexcept;
inline constexpr double canNodes = 127, serialAddresses = 247, serialLongest = 1200,
                        ethernetSegment = 100; ///< nodes, addresses, [m], [m]

} // namespace ridge
