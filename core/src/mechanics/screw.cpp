#include "core/mechanics/screw.h"

#include "core/mechanics/stage.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace ridge {

namespace {
constexpr std::array<Fixity, 4> fixityTable{{{1.8751040687119611, 0.25}, // in the order of ScrewEnds
                                             {pi, 1.0},
                                             {3.9266023120479185, 2.0457485159382958},
                                             {4.730040744862704, 4.0}}};
constexpr double infinite = std::numeric_limits<double>::infinity();
} // namespace

Fixity fixity(ScrewEnds ends) { return fixityTable.at(static_cast<std::size_t>(ends)); }

Result<ScrewEfficiency> screwEfficiency(double lead, double meanDiameter, double friction, double flank)
{
    ScrewEfficiency e;
    e.leadAngle = std::atan(lead / (pi * meanDiameter));
    e.frictionAngle = std::atan(friction / std::cos(flank));
    if (e.leadAngle + e.frictionAngle >= pi / 2)
        return refuse("friction");
    e.forward = std::tan(e.leadAngle) / std::tan(e.leadAngle + e.frictionAngle);
    e.backward = std::tan(e.leadAngle - e.frictionAngle) / std::tan(e.leadAngle);
    e.selfLocking = e.leadAngle <= e.frictionAngle;
    return e;
}

PreloadDrag preloadDrag(double preload, double lead, double meanDiameter, double forward, double backward)
{
    PreloadDrag d;
    d.k = 0.05 / std::sqrt(lead / (pi * meanDiameter));
    const double base = preload * lead / (2 * pi);
    d.byCoefficient = d.k * base;
    d.byBalance = base * (1 / forward - backward);
    return d;
}

Result<CriticalSpeed> criticalSpeed(const ScrewShaft& s, double factor, Recorder* recorder)
{
    const Fixity ends = fixity(s.ends);
    if (!(s.length > 0.0) || !(s.rootDiameter > 0.0))
        return refuse("length");
    const double gyration = std::sqrt(s.rootDiameter * s.rootDiameter + s.bore * s.bore) / 4;
    const double wave = std::sqrt(s.modulus / s.density);
    CriticalSpeed c;
    c.critical = ends.betaL * ends.betaL / (s.length * s.length) * gyration * wave;
    c.permitted = factor * c.critical;
    if (recorder) {
        recorder->add({{"ω_c", "critical speed of the screw", "rad/s", c.critical},
                       "{betaL}^2/{L}^2*sqrt({d_r}^2+{d_b}^2)/4*sqrt({E}/{rho})",
                       {{"betaL", "root of the frequency equation, " + std::string(wordOf(s.ends)), "1", ends.betaL},
                        {"L", "longest free length", "m", s.length},
                        {"d_r", "root diameter", "m", s.rootDiameter},
                        {"d_b", "bore", "m", s.bore},
                        {"E", "modulus of elasticity", "Pa", s.modulus},
                        {"rho", "density", "kg/m3", s.density}},
                       "bending of a uniform beam, textbook, from memory"});
        recorder->add(
            {{"ω_p", "permitted speed of the screw", "rad/s", c.permitted},
             "{k}*{ω_c}",
             {{"k", "share of the critical speed", "1", factor}, {"ω_c", "critical speed", "rad/s", c.critical}},
             "0.8 of the critical speed, common practice"});
    }
    return c;
}

Result<Buckling> buckling(const ScrewShaft& s, double safety, Recorder* recorder)
{
    const Fixity ends = fixity(s.ends);
    if (!(s.length > 0.0) || !(s.rootDiameter > 0.0))
        return refuse("length");
    const double area = pi / 4 * (s.rootDiameter * s.rootDiameter - s.bore * s.bore);
    const double gyration = std::sqrt(s.rootDiameter * s.rootDiameter + s.bore * s.bore) / 4;
    Buckling b;
    b.slenderness = s.length / std::sqrt(ends.euler) / gyration;
    b.slendernessLimit = pi * std::sqrt(2 * s.modulus / s.yield);
    b.euler = b.slenderness >= b.slendernessLimit;
    const double stress = b.euler ? pi * pi * s.modulus / (b.slenderness * b.slenderness)
                                  : s.yield * (1 - s.yield * b.slenderness * b.slenderness / (4 * pi * pi * s.modulus));
    b.critical = stress * area;
    b.permitted = b.critical / safety;
    if (recorder) {
        recorder->add({{"s", "slenderness", "1", b.slenderness},
                       "{L}/sqrt({k})/(sqrt({d_r}^2+{d_b}^2)/4)",
                       {{"L", "length under compression", "m", s.length},
                        {"k", "end factor, " + std::string(wordOf(s.ends)), "1", ends.euler},
                        {"d_r", "root diameter", "m", s.rootDiameter},
                        {"d_b", "bore", "m", s.bore}},
                       "Euler column, textbook, from memory"});
        const Term slender{"s", "slenderness", "1", b.slenderness};
        const Term modulus{"E", "modulus of elasticity", "Pa", s.modulus};
        const Term root{"d_r", "root diameter", "m", s.rootDiameter}, bore{"d_b", "bore", "m", s.bore};
        if (b.euler)
            recorder->add({{"F_k", "buckling force", "N", b.critical},
                           "pi^2*{E}/{s}^2*pi/4*({d_r}^2-{d_b}^2)",
                           {modulus, slender, root, bore},
                           "Euler column, textbook, from memory"});
        else
            recorder->add({{"F_k", "buckling force", "N", b.critical},
                           "{R_e}*(1-{R_e}*{s}^2/(4*pi^2*{E}))*pi/4*({d_r}^2-{d_b}^2)",
                           {{"R_e", "yield stress", "Pa", s.yield}, slender, modulus, root, bore},
                           "Johnson parabola below the tangent point, textbook, from memory"});
        recorder->add({{"F_p", "permitted compression", "N", b.permitted},
                       "{F_k}/{S}",
                       {{"F_k", "buckling force", "N", b.critical}, {"S", "safety", "1", safety}},
                       "safety 2 on exact k, common practice"});
    }
    return b;
}

double dnValue(double meanDiameter, double speed) noexcept { return meanDiameter * 1000 * speed * 30 / pi; }

namespace {
struct Halves {
    double loaded, relieved;
};
Halves nutHalves(double preload, double force)
{
    const double f = std::abs(force), limit = 2 * std::sqrt(2.0) * preload;
    if (preload == 0.0 || f >= limit)
        return {f, 0.0};
    const double loaded = preload * std::pow(1 + f / limit, 1.5);
    return {loaded, loaded - f};
}
} // namespace

Result<NutLife> nutLife(double dynamicRating, double staticRating, std::span<const NutPhase> phases, double preload,
                        double reliability, double staticFactor)
{
    if (!(dynamicRating > 0.0) || !(staticRating > 0.0))
        return refuse("rating");
    double time = 0, turns = 0, peak = 0;
    std::array<double, 2> cubes{};
    for (const NutPhase& p : phases) {
        const double n = std::abs(p.speed) * p.duration / (2 * pi);
        const Halves h = nutHalves(preload, p.force);
        const bool plus = p.force >= 0;
        cubes[0] += std::pow(plus ? h.loaded : h.relieved, 3) * n;
        cubes[1] += std::pow(plus ? h.relieved : h.loaded, 3) * n;
        peak = std::max({peak, h.loaded, h.relieved});
        time += p.duration;
        turns += n;
    }
    if (!(turns > 0.0))
        return refuse("no-motion");
    NutLife life;
    life.equivalentA = std::cbrt(cubes[0] / turns);
    life.equivalentB = std::cbrt(cubes[1] / turns);
    double sum = 0;
    for (const double f : {life.equivalentA, life.equivalentB})
        if (f > 0)
            sum += std::pow(std::pow(dynamicRating / f, 3) * 1e6 * reliability, -10.0 / 9);
    life.revolutions = sum > 0 ? std::pow(sum, -0.9) : infinite;
    life.meanSpeed = turns * 2 * pi / time;
    life.hours = life.revolutions / (turns / time) / 3600;
    life.staticMargin = 1 - peak * staticFactor / staticRating;
    return life;
}

Result<ScrewStiffness> screwStiffness(double rootDiameter, double length, double lead, bool bothFixed,
                                      std::optional<double> position, double nut, double bearing, double modulus,
                                      double shear)
{
    if (!(length > 0.0) || !(rootDiameter > 0.0) || !(lead > 0.0))
        return refuse("length");
    const double x = position.value_or(length);
    if (!(x > 0.0) || (bothFixed && !(x < length)))
        return refuse("position");
    const double ea = modulus * pi / 4 * rootDiameter * rootDiameter;
    double shaft = 1 / (x / ea + 1 / bearing);
    if (bothFixed)
        shaft += 1 / ((length - x) / ea + 1 / bearing);
    ScrewStiffness k;
    k.axial = 1 / (1 / shaft + 1 / nut);
    k.torsional = shear * pi * std::pow(rootDiameter, 4) / 32 / x;
    k.torsionalAsAxial = k.torsional * std::pow(2 * pi / lead, 2);
    k.total = 1 / (1 / k.axial + 1 / k.torsionalAsAxial);
    return k;
}

} // namespace ridge
