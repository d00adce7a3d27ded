#include "core/mechanics/bodies.h"

#include "core/mechanics/stage.h"

#include <cmath>

namespace ridge {

namespace {
bool goodDensity(double rho) { return rho > 0.0 && rho <= 25000.0; }
} // namespace

Result<Body> cylinderBody(double density, double outer, double length, double bore)
{
    if (!goodDensity(density))
        return refuse("density");
    if (!(bore >= 0.0 && bore < outer))
        return refuse("bore-not-smaller");
    if (!(length > 0.0))
        return refuse("length");
    const double ro = outer / 2, ri = bore / 2;
    Body b;
    b.mass = density * pi * (ro * ro - ri * ri) * length;
    b.inertia = b.mass * (ro * ro + ri * ri) / 2;
    b.transverse = b.mass * (3 * (ro * ro + ri * ri) + length * length) / 12;
    return b;
}

Result<Body> blockBody(double mass, double a, double b)
{
    if (!(mass >= 0.0 && mass <= 1e6))
        return refuse("negative-mass");
    if (!(a > 0.0 && b > 0.0))
        return refuse("length");
    return Body{mass, mass * (a * a + b * b) / 12, 0.0};
}

Result<Body> coneBody(double density, double large, double small, double height)
{
    if (!goodDensity(density))
        return refuse("density");
    if (!(small >= 0.0 && small < large))
        return refuse("bore-not-smaller");
    if (!(height > 0.0))
        return refuse("length");
    Body b;
    b.mass = density * pi * height / 3 * (large * large + large * small + small * small);
    b.inertia = 0.3 * b.mass * (std::pow(large, 5) - std::pow(small, 5)) / (std::pow(large, 3) - std::pow(small, 3));
    return b;
}

Result<Body> sphereBody(double density, double radius, double inner)
{
    if (!goodDensity(density))
        return refuse("density");
    if (!(inner >= 0.0 && inner < radius))
        return refuse("bore-not-smaller");
    const double cubes = std::pow(radius, 3) - std::pow(inner, 3);
    Body b;
    b.mass = density * 4 / 3 * pi * cubes;
    b.inertia = b.transverse = 0.4 * b.mass * (std::pow(radius, 5) - std::pow(inner, 5)) / cubes;
    return b;
}

Result<Body> prismBody(double mass, int sides, double cornerRadius)
{
    if (sides < 3)
        return refuse("count");
    return Body{mass, mass * cornerRadius * cornerRadius / 6 * (2 + std::cos(2 * pi / sides)), 0.0};
}

Result<Body> ringBody(double mass, double ringRadius, double tubeRadius)
{
    if (!(ringRadius > tubeRadius && tubeRadius > 0.0))
        return refuse("bore-not-smaller");
    return Body{mass, mass * (ringRadius * ringRadius + 0.75 * tubeRadius * tubeRadius), 0.0};
}

Result<Body> rodBody(double mass, double length, double angle)
{
    if (!(length > 0.0))
        return refuse("length");
    const double across = length * std::sin(angle);
    return Body{mass, mass * across * across / 12, 0.0};
}

double offsetInertia(const Body& body, double offset) { return body.inertia + body.mass * offset * offset; }

double shaftInertia(double density, double diameter, double length) noexcept
{
    return density * pi * diameter * diameter * diameter * diameter * length / 32;
}

} // namespace ridge
