#include "core/model/solids.h"

#include "core/mechanics/stage.h"

#include <fmt/core.h>

#include <array>
#include <cmath>

namespace ridge {

namespace {
// handbook densities at 20 °C, rounded, from memory
struct Material {
    std::string_view name;
    double density = 0; ///< [kg/m³]
};
constexpr std::array table{Material{"steel", 7850},       Material{"stainless steel", 7900},
                           Material{"cast iron", 7200},   Material{"aluminium", 2700},
                           Material{"brass", 8500},       Material{"bronze", 8800},
                           Material{"titanium", 4500},    Material{"zinc", 7140},
                           Material{"glass", 2500},       Material{"granite", 2700},
                           Material{"polyamide", 1140},   Material{"acetal", 1410},
                           Material{"polyethylene", 950}, Material{"rubber", 1200},
                           Material{"given", 0}};
constexpr auto names = [] {
    std::array<std::string_view, table.size()> all{};
    for (std::size_t k = 0; k < table.size(); ++k)
        all[k] = table[k].name;
    return all;
}();

double densityOf(std::string_view name)
{
    for (const Material& m : table)
        if (m.name == name)
            return m.density;
    return 0;
}

const char* fieldFor(const std::string& code)
{
    if (code == "bore-not-smaller")
        return "b";
    if (code == "density")
        return "material";
    if (code == "negative-mass")
        return "mass";
    return "a";
}

/// One copy about its own axis, made of a density; a point has none.
Result<Body> shapeOf(const Solid& s, double density)
{
    switch (s.shape) {
    case SolidShape::Cylinder: // full; with a bore it is a tube
        if (s.b != 0)
            return refuse("full-cylinder", "b");
        return cylinderBody(density, s.a, s.c);
    case SolidShape::Tube: return cylinderBody(density, s.a, s.c, s.b);
    case SolidShape::Block:
        if (!(s.c > 0))
            return refuse("length", "c");
        return blockBody(density * s.a * s.b * s.c, s.a, s.b);
    case SolidShape::Cone: return coneBody(density, s.a / 2, s.b / 2, s.c);
    case SolidShape::Sphere: return sphereBody(density, s.a / 2, s.b / 2);
    case SolidShape::Hexagon: { // bar stock by its width over flats
        if (!(s.c > 0))
            return refuse("length", "c");
        const double corner = s.a / std::sqrt(3.0);
        return prismBody(density * 1.5 * std::sqrt(3.0) * corner * corner * s.c, 6, corner);
    }
    case SolidShape::Ring: // round bar bent to a ring
        return ringBody(density * 2 * pi * s.a / 2 * pi * s.b * s.b / 4, s.a / 2, s.b / 2);
    case SolidShape::Arm: // thin bar across the axis
        return rodBody(density * pi * s.b * s.b / 4 * s.a, s.a, pi / 2);
    case SolidShape::Point: break;
    }
    return refuse("choice", "shape", std::string(wordOf(s.shape)));
}
} // namespace

std::span<const std::string_view> materialNames() { return names; }

Result<Body> solidBody(const Solid& s, Recorder* rec)
{
    Body one;
    if (s.shape == SolidShape::Point) {
        if (!s.mass)
            return refuse("missing", "mass");
        if (*s.mass < 0)
            return refuse("negative-mass", "mass");
        one.mass = *s.mass;
    } else {
        const bool given = s.material == "given";
        if (given && !s.mass)
            return refuse("missing", "mass");
        auto shape = shapeOf(s, given ? 1000 : densityOf(s.material)); // a given mass scales the shape
        if (!shape) {
            if (shape.error().subject.empty())
                shape.error().subject = fieldFor(shape.error().code);
            return shape;
        }
        one = *shape;
        if (given) {
            one.inertia *= *s.mass / one.mass;
            one.mass = *s.mass;
        }
    }
    const double all = s.hole ? -s.count : s.count;
    const Body sum{all * one.mass, all * offsetInertia(one, s.offset), 0};
    if (rec)
        rec->add({{"J", "moment of inertia about the axis of rotation", "kg*m2", sum.inertia},
                  "{n}*({J_0}+{m}*{e}^2)",
                  {{"n", s.hole ? "how many, cut out" : "how many", "1", all},
                   {"J_0", std::string(wordOf(s.shape)) + " about its own axis", "kg*m2", one.inertia},
                   {"m", "its mass", "kg", one.mass},
                   {"e", "distance from the axis", "m", s.offset}},
                  "parallel axis theorem; rigid-body table, from memory"});
    return sum;
}

Result<Body> sumOfSolids(std::span<const Solid> solids, Recorder* rec)
{
    Body sum;
    Step total{{"J_sum", "all together", "kg*m2", 0}, "", {}, "sum about one axis"};
    for (std::size_t k = 0; k < solids.size(); ++k) {
        const auto one = solidBody(solids[k], rec);
        if (!one) {
            Error e = one.error();
            e.subject = fmt::format("{}.{}", k, e.subject);
            return tl::make_unexpected(std::move(e));
        }
        sum.mass += one->mass;
        sum.inertia += one->inertia;
        total.formula += (k ? "+{" : "{") + fmt::format("J{}", k + 1) + "}";
        total.inputs.push_back({fmt::format("J{}", k + 1), fmt::format("row {}", k + 1), "kg*m2", one->inertia});
    }
    if (sum.mass < 0 || sum.inertia < 0)
        return refuse("negative-mass", "0.hole");
    total.result.value = sum.inertia;
    if (rec && !solids.empty())
        rec->add(std::move(total));
    return sum;
}

} // namespace ridge
