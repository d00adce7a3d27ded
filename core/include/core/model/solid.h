#pragma once
#include "core/working/words.h"

#include <optional>
#include <string>

namespace ridge {

enum class SolidShape { Cylinder, Tube, Block, Cone, Sphere, Hexagon, Ring, Arm, Point };
template <>
inline constexpr std::array<std::string_view, 9> wordsOf<SolidShape>{"cylinder", "tube", "block", "cone", "sphere",
                                                                     "hexagon",  "ring", "arm",   "point"};

/// One body of simple shape; several make up the inertia of a field, see core/model/solids.h.
struct Solid {
    SolidShape shape = SolidShape::Cylinder;
    std::string material = "steel"; ///< of materialNames(), or "given" for a mass of its own
    std::optional<double> mass;     ///< used with the material "given"
    double a = 0, b = 0, c = 0;     ///< outside, bore or second side, length [m]
    double offset = 0, count = 1;   ///< distance of its axis from the axis of rotation [m]; how many alike
    bool hole = false;              ///< taken away instead of added
    bool operator==(const Solid&) const = default;
};

} // namespace ridge
