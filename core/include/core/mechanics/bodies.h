#pragma once
#include "core/working/result.h"

namespace ridge {

/// Mass [kg] and moments of inertia [kg·m²] of a solid about its own axis and across it through the centre.
struct Body {
    double mass = 0.0, inertia = 0.0, transverse = 0.0;
};

/// All: rigid-body tables, from memory; densities in kg/m³, lengths in m.
[[nodiscard]] Result<Body> cylinderBody(double density, double outer, double length,
                                        double bore = 0.0); ///< @error density, bore-not-smaller, length
[[nodiscard]] Result<Body> blockBody(double mass, double a,
                                     double b); ///< axis normal to the face a x b. @error negative-mass, length
[[nodiscard]] Result<Body> coneBody(double density, double largeRadius, double smallRadius,
                                    double height); ///< @error bore-not-smaller
[[nodiscard]] Result<Body> sphereBody(double density, double radius, double innerRadius = 0.0);
[[nodiscard]] Result<Body> prismBody(double mass, int sides, double cornerRadius);
[[nodiscard]] Result<Body> ringBody(double mass, double ringRadius, double tubeRadius);
[[nodiscard]] Result<Body> rodBody(double mass, double length, double angle); ///< slender rod, angle to the axis

/// J + m·e², parallel axis at distance e.
[[nodiscard]] double offsetInertia(const Body& body, double offset);

/// J = rho·pi·d^4·L/32 of a solid round shaft; inner loops.
[[nodiscard]] double shaftInertia(double density, double diameter, double length) noexcept;

} // namespace ridge
