#include "core/mechanics/accuracy.h"
#include "core/mechanics/belt.h"
#include "core/mechanics/chain.h"
#include "core/mechanics/counterbalance.h"
#include "core/mechanics/machines.h"
#include "core/mechanics/screw.h"
#include "core/mechanics/stage.h"

#include "chapters.h"

#include <array>

namespace ridge::detail {

namespace {
using enum Quantity;

constexpr std::string_view belts = "Belts and racks", screws = "Screws", gears = "Gears and couplings", loads = "Loads";
constexpr std::array<std::string_view, 2> screwEnds{"one fixed, one free", "both fixed"};

std::vector<HandbookEntry> beltEntries()
{
    return {
        {"strand-tone",
         belts,
         "Tone of a belt strand of a given tension",
         "free string, derived; pluck the strand and measure its tone",
         {{"m", "belt mass per length", LineMass, 0.1, aboveZero},
          {"L", "free strand", Length, 0.5, aboveZero},
          {"F", "tension of the strand", Force, 400, 0}},
         {{"f", "tone", Frequency, "sqrt({F}/{m})/(2*{L})"}},
         [](Numbers n) -> Found { return std::vector{strandFrequency(n[0], n[1], n[2])}; }},
        {"belt-drive",
         belts,
         "Toothed belt on fixed centres",
         "two strands as springs in parallel, derived",
         {{"z", "teeth of the pulley", Count, 40, 6, 400},
          {"t", "pitch", Length, 5e-3, aboveZero},
          {"a", "wrap", Angle, 3.14159, 0.1, 6.3},
          {"n", "teeth counted at most", Count, 12, 1, 100},
          {"f", "force per tooth and width", ForcePerWidth, 3000, aboveZero},
          {"b", "width", Length, 0.025, aboveZero},
          {"F_v", "pretension per strand", Force, 500, 0},
          {"l", "driven pulley to carriage, pulled side", Length, 0.5, aboveZero},
          {"L", "whole free loop", Length, 2.5, aboveZero},
          {"c", "force per unit of strain", Force, 5e5, aboveZero},
          {"F_z", "permitted tension", Force, 2000, aboveZero},
          {"F", "pull", Force, 300, 0}},
         {{"r", "pitch radius", Length, "{z}*{t}/(2*pi)"},
          {"F_t", "what the teeth in mesh take", Force},
          {"F_1", "tight strand", Force, "{F_v}+{F}*({L}-{l})/{L}"},
          {"F_2", "slack strand", Force, "{F_v}-{F}*{l}/{L}"},
          {"k", "stiffness at the carriage", Stiffness, "{c}*(1/{l}+1/({L}-{l}))"},
          {"k_0", "least stiffness along the travel", Stiffness, "4*{c}/{L}"},
          {"x", "stretch under the pull", SmallLength, "{F}/{k}"},
          {"F_w", "load of the pulley's bearings", Force, "sqrt({F_1}^2+{F_2}^2-2*{F_1}*{F_2}*cos({a}))"},
          {"T", "torque", Torque, "{F}*{r}"},
          {"q", "reserve of the tension", Share, "1-({F_v}+{F})/{F_z}"}},
         [](Numbers n) -> Found {
             return beltDrive({n[0], n[1], n[2], n[3], n[4], n[5], n[6], n[7], n[8], n[9], n[10]}, n[11])
                 .map([](const auto& r) {
                     return std::vector{r.radius,         r.toothCapacity, r.tight,     r.slack,  r.stiffness,
                                        r.stiffnessLeast, r.stretch,       r.shaftLoad, r.torque, r.tensionMargin};
                 });
         }},
        {"rack",
         belts,
         "Forces of a rack and pinion",
         "gear geometry, derived",
         {{"m", "module, normal", Length, 2e-3, aboveZero},
          {"z", "teeth of the pinion", Count, 20, 6, 400},
          {"b", "helix angle", Angle, 0.34, 0, 1},
          {"a", "pressure angle, normal", Angle, 0.349, 0.1, 0.8},
          {"F", "force along the rack", Force, 1000},
          {"j", "backlash at the pinion", Angle, 1e-3, 0, 1}},
         {{"d", "pitch diameter", Length, "{m}*{z}/cos({b})"},
          {"s", "travel per turn", Length, "pi*{d}"},
          {"T", "torque", Torque, "{F}*{d}/2"},
          {"F_r", "force that parts them", Force, "{F}*tan({a})/cos({b})"},
          {"F_a", "axial force", Force, "{F}*tan({b})"},
          {"x", "lost motion", SmallLength, "{j}*{d}/2"}},
         [](Numbers n) -> Found {
             return rackPinion(n[0], n[1], n[2], n[3], n[4], n[5]).map([](const auto& r) {
                 return std::vector{r.diameter, r.travelPerTurn, r.torque, r.radial, r.axial, r.lostMotion};
             });
         }},
    };
}

std::vector<HandbookEntry> screwEntries()
{
    return {
        {"preload-drag",
         screws,
         "Drag of a preloaded nut",
         "JIS B 1192 from memory, and the balance of the two half nuts, derived",
         {{"F", "preload", Force, 1500, 0},
          {"p", "lead", Length, 0.01, aboveZero},
          {"d", "ball centre diameter", Length, 0.025, aboveZero},
          {"e", "efficiency forward", Share, 0.9, 0.01, 1},
          {"b", "efficiency backward", Share, 0.88, -1, 1}},
         {{"k", "coefficient of drag", Number, "0.05/sqrt({p}/(pi*{d}))"},
          {"T", "drag by the coefficient", Torque, "{k}*{F}*{p}/(2*pi)"},
          {"T_b", "drag by the balance", Torque, "{F}*{p}/(2*pi)*(1/{e}-{b})"}},
         [](Numbers n) -> Found {
             const auto d = preloadDrag(n[0], n[1], n[2], n[3], n[4]);
             return std::vector{d.k, d.byCoefficient, d.byBalance};
         }},
        {"screw-stiffness",
         screws,
         "Stiffness of a screw with nut and bearings",
         "springs in series and parallel, derived; E = 206 GPa, G = 79 GPa",
         {{"d", "root diameter", Length, 0.02, aboveZero},
          {"L", "length between the bearings", Length, 0.8, aboveZero},
          {"p", "lead", Length, 0.01, aboveZero},
          {"ends", "ends", Number, 0, 0, 0, screwEnds},
          {"x", "nut from the fixed bearing", Length, 0.4, aboveZero},
          {"k_n", "nut", Stiffness, 3e8, aboveZero},
          {"k_b", "one bearing", Stiffness, 4e8, aboveZero}},
         {{"k_a", "axial", Stiffness},
          {"k_t", "torsional", TorsionalStiffness},
          {"k_ta", "torsional, felt along the axis", Stiffness, "{k_t}*(2*pi/{p})^2"},
          {"k", "together", Stiffness, "1/(1/{k_a}+1/{k_ta})"}},
         [](Numbers n) -> Found {
             return screwStiffness(n[0], n[1], n[2], n[3] > 0, n[4], n[5], n[6]).map([](const auto& k) {
                 return std::vector{k.axial, k.torsional, k.torsionalAsAxial, k.total};
             });
         }},
    };
}

std::vector<HandbookEntry> gearEntries()
{
    return {
        {"to-input",
         gears,
         "Values of a gearbox's output seen at its input",
         "ratio squared, derived",
         {{"k", "stiffness at the output", TorsionalStiffness, 10000, 0},
          {"J", "inertia at the output", Inertia, 1e-3, 0},
          {"j", "backlash at the output", Angle, 1e-3, 0, 7},
          {"i", "ratio", Ratio, 5, aboveZero, 1e5}},
         {{"k_i", "stiffness at the input", TorsionalStiffness, "{k}/{i}^2"},
          {"J_i", "inertia at the input", Inertia, "{J}/{i}^2"},
          {"j_i", "backlash at the input", Angle, "{j}*{i}"}},
         [](Numbers n) -> Found {
             const auto r = toInput(n[0], n[1], n[2], n[3]);
             return std::vector{r.stiffness, r.inertia, r.backlash};
         }},
        {"coupling",
         gears,
         "Coupling with its service factors",
         "factors multiply, springs in series; common practice",
         {{"T", "nominal torque", Torque, 5, 0},
          {"k_1", "service factor", Ratio, 1.5, 0.1, 10},
          {"k_2", "temperature factor", Ratio, 1.2, 0.1, 10},
          {"T_n", "rated torque of the coupling", Torque, 12, aboveZero},
          {"c", "stiffness of the coupling", TorsionalStiffness, 3000, aboveZero},
          {"c_s", "stiffness of the shaft behind it", TorsionalStiffness, 8000, aboveZero}},
         {{"T_d", "torque to design for", Torque, "{T}*{k_1}*{k_2}"},
          {"q", "reserve", Share, "1-{T_d}/{T_n}"},
          {"k", "stiffness together", TorsionalStiffness, "1/(1/{c}+1/{c_s})"},
          {"a", "wind-up at the nominal torque", Angle, "{T}/{k}"}},
         [](Numbers n) -> Found {
             const std::array factors{n[1], n[2]};
             const std::array behind{n[5]};
             return couplingCheck(n[0], factors, n[3], n[4], behind).map([](const auto& r) {
                 return std::vector{r.design, r.margin, r.stiffness, r.windUp};
             });
         }},
        {"resolution",
         gears,
         "Resolution of an encoder at the load",
         "counts through ratio and travel per turn, derived",
         {{"n", "lines per turn", Count, 2048, 1, 1e9},
          {"k", "interpolation, 4 is plain quadrature", Count, 4, 1, 1e7},
          {"i", "ratio between motor and load", Ratio, 1, aboveZero, 1e5},
          {"s", "travel per turn at the load", Length, 0.01, aboveZero}},
         {{"N", "counts per motor turn", Count, "{n}*{k}"},
          {"x", "one count at the load", SmallLength, "{s}/{i}/{N}"},
          {"c", "counts per travel", PerLength, "{N}*{i}/{s}"}},
         [](Numbers n) -> Found {
             const auto r = resolutionAtLoad(n[0], n[1], n[2], n[3]);
             return std::vector{r.countsPerTurn, r.length, r.countsPerLength};
         }},
    };
}

std::vector<HandbookEntry> loadEntries()
{
    return {
        {"gas-spring",
         loads,
         "Force of a gas spring from its gas",
         "polytropic gas, derived; 1 isothermal, 1.4 sudden",
         {{"F_1", "force, extended", Force, 150, aboveZero},
          {"A", "area of the rod", Area, 5e-5, aboveZero},
          {"V", "gas volume, extended", Number, 1e-4, aboveZero},
          {"s", "compression", Length, 0.3, 0},
          {"n", "exponent", Ratio, 1.2, 1, 1.67}},
         {{"F", "force", Force, "{F_1}*({V}/({V}-{A}*{s}))^{n}"}},
         [](Numbers n) -> Found { return gasSpringPolytropic(n[0], n[1], n[2], n[3], n[4]).map(one); }},
        {"gantry",
         loads,
         "What each side of a gantry carries",
         "lever of the carriage on the beam, derived",
         {{"m_b", "beam", Mass, 40, 0},
          {"m_s", "each side", Mass, 10, 0},
          {"m_c", "carriage", Mass, 20, 0},
          {"L", "span", Length, 2, aboveZero},
          {"x", "carriage from the left side", Length, 0.5, 0},
          {"a", "acceleration", Acceleration, 3},
          {"F", "drag of each side", Force, 50, 0}},
         {{"m_l", "mass on the left side", Mass, "{m_b}/2+{m_s}+{m_c}*(1-{x}/{L})"},
          {"m_r", "mass on the right side", Mass, "{m_b}/2+{m_s}+{m_c}*{x}/{L}"},
          {"F_l", "force of the left side", Force, "{m_l}*{a}+{F}"},
          {"F_r", "force of the right side", Force, "{m_r}*{a}+{F}"}},
         [](Numbers n) -> Found {
             return gantryShare(n[0], n[1], n[2], n[3], n[4], n[5], n[6]).map([](const auto& g) {
                 return std::vector{g.leftMass, g.rightMass, g.leftForce, g.rightForce};
             });
         }},
        {"unbalance",
         loads,
         "Unbalance of a tilted table",
         "weight on its lever, derived",
         {{"m", "mass off the centre", Mass, 5, 0},
          {"r", "its radius", Length, 0.2, 0},
          {"g", "tilt of the axis from the vertical", Angle, 1.5708, 0, 3.1416},
          {"a", "angle from the horizontal", Angle, 0},
          {"T_f", "friction", Torque, 0.5, 0},
          {"J", "inertia", Inertia, 0.2, 0},
          {"d", "angular acceleration", AngularAcceleration, 0},
          {"w", "speed, its sign decides about the friction", AngularSpeed, 1}},
         {{"T_u", "unbalance, largest", Torque, "{m}*9.80665*{r}*sin({g})"},
          {"T", "torque at this angle", Torque, "{T_u}*cos({a})+{T_f}*{w}/abs({w})+{J}*{d}"},
          {"T_e", "r.m.s. over a turn at constant speed", Torque, "sqrt({T_u}^2/2+{T_f}^2)"}},
         [](Numbers n) -> Found {
             const auto u = tableUnbalance(n[0], n[1], n[2], n[3], n[4], n[5], n[6], n[7]);
             return std::vector{u.amplitude, u.demand, u.rmsPerTurn};
         }},
    };
}

} // namespace

std::vector<HandbookEntry> mechanicChapter()
{
    return joined({beltEntries(), screwEntries(), gearEntries(), loadEntries()});
}

} // namespace ridge::detail
