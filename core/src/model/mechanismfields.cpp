#include "core/model/fields.h"

#include "fieldlimits.h"

#include <algorithm>
#include <array>
#include <utility>

namespace ridge {

namespace {
using namespace detail;
using enum Quantity;

constexpr std::array screwTable{
    number<&BallScrew::lead>("lead", "Lead", Length, leadLimits,
                             "Travel per turn, all starts; not the pitch of a multi-start screw."),
    number<&BallScrew::diameter>("diameter", "Nominal diameter", Length, lengthLimits),
    number<&BallScrew::rootDiameter>("rootDiameter", "Root diameter", Length, lengthLimits,
                                     "Carries whirl and buckling."),
    number<&BallScrew::length>("length", "Screw length", Length, lengthLimits, "Turning length, for the inertia."),
    number<&BallScrew::freeLength>("freeLength", "Longest free length", Length, lengthLimits,
                                   "Between supports; the nut counts as one."),
    number<&BallScrew::bore>("bore", "Bore", Length, {0, 1, false, "length"}, "Of a hollow shaft; zero: full."),
    choice<&BallScrew::ends>("ends", "Ends", "How the bearings hold the shaft."),
    number<&BallScrew::efficiency>("efficiency", "Efficiency, driving", Share, efficiencyLimits,
                                   "Ball screw 0.90 to 0.95."),
    number<&BallScrew::backEfficiency>("backEfficiency", "Efficiency, back-driven", Share, backLimits,
                                       "Empty: 2 − 1/efficiency. Zero or less: self-locking."),
    number<&BallScrew::drag>("drag", "Drag torque", Torque, magnitudeLimits,
                             "Nut preload, seals and support bearings."),
    number<&BallScrew::dnLimit>("dnLimit", "DN limit (mm·rpm)", Number, ratingLimits,
                                "Mean diameter in mm times rpm; 70 000 older, 100 000 to 160 000 recent designs."),
    number<&BallScrew::dynamicRating>("dynamicRating", "Dynamic load rating", Force, ratingLimits),
    number<&BallScrew::staticRating>("staticRating", "Static load rating", Force, ratingLimits),
    number<&BallScrew::stiffness>("stiffness", "Nut and bearing stiffness", Stiffness, notNegative,
                                  "In series; zero when unknown."),
};
constexpr std::array leadScrewTable{
    number<&LeadScrew::lead>("lead", "Lead", Length, leadLimits,
                             "Travel per turn, all starts; not the pitch of a multi-start thread."),
    number<&LeadScrew::diameter>("diameter", "Nominal diameter", Length, lengthLimits),
    number<&LeadScrew::meanDiameter>("meanDiameter", "Mean thread diameter", Length, lengthLimits),
    number<&LeadScrew::length>("length", "Screw length", Length, lengthLimits),
    number<&LeadScrew::friction>("friction", "Thread friction", Ratio, frictionLimits,
                                 "0.1 to 0.2 for bronze on steel, 0.05 to 0.15 for polymer nuts."),
    number<&LeadScrew::flank>("flank", "Flank half angle", Angle, {0, 0.8, false, "out-of-range"},
                              "15° for trapezoidal threads, 0° for square ones."),
    number<&LeadScrew::drag>("drag", "Drag torque", Torque, magnitudeLimits),
    number<&LeadScrew::rootDiameter>("rootDiameter", "Root diameter", Length, lengthLimits),
    number<&LeadScrew::freeLength>("freeLength", "Longest free length", Length, lengthLimits),
    choice<&LeadScrew::ends>("ends", "Ends held"),
};
constexpr std::array beltTable{
    number<&ToothedBelt::teeth>("teeth", "Pulley teeth", Count, teethLimits),
    number<&ToothedBelt::pitch>("pitch", "Tooth pitch", Length, lengthLimits),
    number<&ToothedBelt::pulleyInertia>("pulleyInertia", "Pulley inertia", Inertia, inertiaLimits),
    number<&ToothedBelt::idlerInertia>("idlerInertia", "Inertia of one idler", Inertia, inertiaLimits,
                                       "Turns with the belt at its own radius."),
    number<&ToothedBelt::idlerRadius>("idlerRadius", "Idler radius", Length, {0, 10, false, "length"},
                                      "Zero: as the driven pulley."),
    number<&ToothedBelt::idlerCount>("idlerCount", "Idlers", Count, {0, 100, false, "count"}),
    number<&ToothedBelt::beltMass>("beltMass", "Belt mass", Mass, massLimits),
    number<&ToothedBelt::efficiency>("efficiency", "Efficiency", Share, efficiencyLimits),
    number<&ToothedBelt::drag>("drag", "Drag torque", Torque, magnitudeLimits),
    number<&ToothedBelt::width>("width", "Belt width", Length, lengthLimits),
    number<&ToothedBelt::pretension>("pretension", "Pretension per strand", Force, {0, 1e6, false, "negative-preload"}),
    number<&ToothedBelt::toothForce>("toothForce", "Force per tooth and width", ForcePerWidth, ratingLimits),
    number<&ToothedBelt::tensionLimit>("tensionLimit", "Permitted tension", Force, ratingLimits),
    number<&ToothedBelt::specificStiffness>("specificStiffness", "Specific stiffness", Force, stiffnessLimits,
                                            "Force per unit strain."),
    number<&ToothedBelt::spanTotal>("spanTotal", "Free loop", Length, lengthLimits),
    number<&ToothedBelt::nearSpan>("nearSpan", "Drive to carriage", Length, lengthLimits,
                                   "Along the pulled side, at the begin of the travel. Empty: only the softest place, "
                                   "the middle of the loop, is known."),
    flag<&ToothedBelt::nearShrinks>("nearShrinks", "It shrinks along the travel",
                                    "The pulled side gets shorter as the position rises."),
    number<&ToothedBelt::lineMass>("lineMass", "Belt mass per length", LineMass, positive),
    number<&ToothedBelt::strandLength>("strandLength", "Plucked strand", Length, lengthLimits, "Its free length."),
    number<&ToothedBelt::strandTone>("strandTone", "Tone of the strand", Frequency, {0, 5000, true, "out-of-range"},
                                     "Pluck it at standstill and measure its tone: the tension follows."),
};
constexpr std::array rackTable{
    number<&Rack::module>("module", "Module", Length, lengthLimits),
    number<&Rack::teeth>("teeth", "Pinion teeth", Count, teethLimits),
    number<&Rack::helix>("helix", "Helix angle", Angle, {0, 0.8, false, "out-of-range"}),
    number<&Rack::efficiency>("efficiency", "Efficiency", Share, efficiencyLimits),
    number<&Rack::drag>("drag", "Drag torque", Torque, magnitudeLimits),
    number<&Rack::pinionInertia>("pinionInertia", "Pinion inertia", Inertia, inertiaLimits),
    number<&Rack::forceLimit>("forceLimit", "Permitted tooth force", Force, ratingLimits),
};
constexpr std::array conveyorTable{
    number<&ConveyorBelt::drumRadius>("drumRadius", "Drum radius", Length, lengthLimits),
    number<&ConveyorBelt::drumInertia>("drumInertia", "Drum inertia", Inertia, inertiaLimits),
    number<&ConveyorBelt::beltMass>("beltMass", "Belt, whole loop", Mass, massLimits),
    number<&ConveyorBelt::rollerInertia>("rollerInertia", "Inertia of one roller", Inertia, inertiaLimits),
    number<&ConveyorBelt::rollerRadius>("rollerRadius", "Roller radius", Length, {0, 10, false, "length"}),
    number<&ConveyorBelt::rollerCount>("rollerCount", "Rollers", Count, {0, 10000, false, "count"}),
    number<&ConveyorBelt::efficiency>("efficiency", "Efficiency", Share, efficiencyLimits),
    number<&ConveyorBelt::drag>("drag", "Drag torque", Torque, magnitudeLimits),
    number<&ConveyorBelt::drumFriction>("drumFriction", "Friction drum to belt", Ratio, frictionLimits),
    number<&ConveyorBelt::wrap>("wrap", "Wrap of the drum", Angle, {0, 6.283185307179587, true, "wrap"}),
    number<&ConveyorBelt::slackTension>("slackTension", "Tension of the slack side", Force, notNegative,
                                        "Of the strand that leaves the drum, as it is set by take-up or weight."),
    number<&ConveyorBelt::goodsFriction>("goodsFriction", "Friction goods to belt", Ratio, frictionLimits),
};
constexpr std::array hoistTable{
    number<&HoistDrum::drum>("drum", "Drum diameter", Length, lengthLimits, "Under the first layer of rope."),
    number<&HoistDrum::rope>("rope", "Rope diameter", Length, lengthLimits),
    number<&HoistDrum::layer>("layer", "Layer of rope", Count, {1, 20, false, "count"}),
    number<&HoistDrum::falls>("falls", "Falls of rope", Count, {1, 12, false, "count"}),
    number<&HoistDrum::sheaveEfficiency>("sheaveEfficiency", "Efficiency of one sheave", Share, efficiencyLimits),
    number<&HoistDrum::drumInertia>("drumInertia", "Drum inertia", Inertia, inertiaLimits),
    number<&HoistDrum::drag>("drag", "Drag torque", Torque, magnitudeLimits),
};
constexpr std::array tableTable{
    number<&RotaryTable::efficiency>("efficiency", "Efficiency", Share, efficiencyLimits),
    number<&RotaryTable::drag>("drag", "Bearing drag", Torque, magnitudeLimits),
    number<&RotaryTable::inertia>("inertia", "Hub inertia", Inertia, inertiaLimits),
};
constexpr std::array nipTable{
    number<&NipRoller::radius>("radius", "Driven roll radius", Length, lengthLimits),
    number<&NipRoller::pressRadius>("pressRadius", "Pressed roll radius", Length, lengthLimits),
    number<&NipRoller::inertia>("inertia", "Driven roll inertia", Inertia, inertiaLimits),
    number<&NipRoller::pressInertia>("pressInertia", "Pressed roll inertia", Inertia, inertiaLimits),
    number<&NipRoller::force>("force", "Nip force", Force, {0, 1e6, false, "negative-preload"}),
    number<&NipRoller::lever>("lever", "Rolling lever", Length, {0, 0.05, false, "out-of-range"}),
    number<&NipRoller::bearing>("bearing", "Bearing drag, driven", Torque, magnitudeLimits),
    number<&NipRoller::pressBearing>("pressBearing", "Bearing drag, pressed", Torque, magnitudeLimits),
    number<&NipRoller::friction>("friction", "Friction to the web", Ratio, frictionLimits),
};
constexpr std::array linearTable{
    number<&LinearDrive::moverMass>("moverMass", "Mass of the coil part", Mass, massLimits,
                                    "Until a motor is chosen; then that of the motor counts."),
    number<&LinearDrive::attraction>("attraction", "Magnetic attraction", Force, notNegative,
                                     "Loads the guides and their friction; zero for ironless motors. Until a motor is "
                                     "chosen; then that of the motor counts."),
};
constexpr std::array couplingTable{
    words<&StageElement::name>("name", "Name"),
    number<&StageElement::inertia>("inertia", "Inertia", Inertia, inertiaLimits),
    number<&StageElement::ratedTorque>("ratedTorque", "Rated torque", Torque, ratingLimits),
    number<&StageElement::maxSpeed>("maxSpeed", "Top speed", AngularSpeed, ratingLimits),
    number<&StageElement::stiffness>("stiffness", "Torsional stiffness", TorsionalStiffness, stiffnessLimits),
};
constexpr std::array gearboxTable{
    words<&StageElement::name>("name", "Name"),
    number<&StageElement::ratio>("ratio", "Ratio", Ratio, {-1e4, 1e4, false, "ratio-zero"},
                                 "Motor side over load side; negative reverses."),
    number<&StageElement::efficiency>("efficiency", "Efficiency, driving", Share, efficiencyLimits),
    number<&StageElement::backEfficiency>("backEfficiency", "Efficiency, back-driven", Share, backLimits,
                                          "When the load drives. Empty: as driving. Zero or less: a worm that locks."),
    number<&StageElement::inertia>("inertia", "Inertia at its input", Inertia, inertiaLimits,
                                   "A gearbox adds its own inertia at the motor side."),
    number<&StageElement::drag>("drag", "Drag torque at its input", Torque, magnitudeLimits),
    number<&StageElement::ratedTorque>("ratedTorque", "Nominal output torque", Torque, ratingLimits),
    number<&StageElement::peakTorque>("peakTorque", "Acceleration torque", Torque, ratingLimits),
    number<&StageElement::ratedSpeed>("ratedSpeed", "Rated input speed", AngularSpeed, ratingLimits,
                                      "Mean over the moving time."),
    number<&StageElement::maxSpeed>("maxSpeed", "Top input speed", AngularSpeed, ratingLimits),
    number<&StageElement::stiffness>("stiffness", "Output stiffness", TorsionalStiffness, stiffnessLimits),
    number<&StageElement::backlash>("backlash", "Output backlash", Angle, backlashLimits),
};
constexpr std::array shaftTable{
    words<&StageElement::name>("name", "Name"),
    number<&StageElement::inertia>("inertia", "Inertia", Inertia, inertiaLimits),
    number<&StageElement::drag>("drag", "Drag torque", Torque, magnitudeLimits),
    number<&StageElement::stiffness>("stiffness", "Torsional stiffness", TorsionalStiffness, stiffnessLimits),
};
constexpr std::array winderTable{
    number<&WinderReel::core>("core", "Core radius", Length, lengthLimits, "Of the empty reel."),
    number<&WinderReel::full>("full", "Radius of the full roll", Length, lengthLimits),
    number<&WinderReel::radius>("radius", "Radius now", Length, lengthLimits,
                                "The cycle is computed here; empty: the full roll. Both ends are judged beside it."),
    number<&WinderReel::thickness>("thickness", "Web thickness", SmallLength, lengthLimits),
    number<&WinderReel::width>("width", "Web width", Length, lengthLimits),
    number<&WinderReel::density>("density", "Web density", Density, {0, 25000, false, "density"}),
    number<&WinderReel::coreInertia>("coreInertia", "Core inertia", Inertia, inertiaLimits),
    number<&WinderReel::tension>("tension", "Web tension at the core", Force, {0, 1e6, false, "negative-preload"}),
    number<&WinderReel::taper>("taper", "Taper of the tension", Share, shareLimits,
                               "Tension falls by this share times 1 − core/radius; 0 to 0.6 is usual."),
    number<&WinderReel::drag>("drag", "Bearing drag", Torque, magnitudeLimits),
    choice<&WinderReel::way>("way", "The reel", "Unwinding, the web helps the motor."),
};
constexpr std::array crankTable{
    number<&CrankDrive::radius>("radius", "Crank radius", Length, lengthLimits),
    number<&CrankDrive::rod>("rod", "Rod length", Length, lengthLimits,
                             "Longer than radius and offset together, or the crank cannot go round. Near a dead centre "
                             "a small torque makes a very large force: compare rod and bearings with the peak torque."),
    number<&CrankDrive::offset>("offset", "Offset of the slide", Length, {-10, 10, false, "out-of-range"}),
    number<&CrankDrive::slideMass>("slideMass", "Mass of the slide", Mass, massLimits),
    number<&CrankDrive::rodMass>("rodMass", "Mass of the rod", Mass, massLimits),
    number<&CrankDrive::rodCentre>("rodCentre", "Pin to the rod's centre", Length, {0, 1000, false, "position"},
                                   "From the crank pin to the centre of mass."),
    number<&CrankDrive::inertia>("inertia", "Crank inertia", Inertia, inertiaLimits),
    number<&CrankDrive::slideForce>("slideForce", "Force on the slide", Force, forceLimits,
                                    "Positive when it pushes the slide towards the crank."),
    number<&CrankDrive::slideFriction>("slideFriction", "Slide friction", Force, magnitudeLimits),
    number<&CrankDrive::slideForceBack>("slideForceBack", "Force on its way back", Force, forceLimits,
                                        "While the slide returns; empty: as out."),
    number<&CrankDrive::rodForceLimit>("rodForceLimit", "Rod stands", Force, ratingLimits,
                                       "Of rod and bearings; empty: the force is shown and not judged."),
    number<&CrankDrive::slideIncline>("slideIncline", "Incline of the slide", Angle, inclineLimits,
                                      "+90° lifts straight up away from the crank."),
    number<&CrankDrive::efficiency>("efficiency", "Efficiency", Share, efficiencyLimits),
    number<&CrankDrive::drag>("drag", "Bearing drag", Torque, magnitudeLimits),
};
/// One mechanism: its word in files, its title and its fields, in the order of the variant.
struct Kind {
    std::string_view type, title;
    std::span<const Field> fields;
};
const std::array<Kind, std::variant_size_v<Mechanism::Kind>> mechanismKinds{{
    {"ball-screw", "Ball screw", screwTable},
    {"lead-screw", "Lead screw", leadScrewTable},
    {"belt", "Toothed belt", beltTable},
    {"rack", "Rack and pinion", rackTable},
    {"conveyor", "Conveyor", conveyorTable},
    {"nip-roll", "Nip roll", nipTable},
    {"winder", "Winder", winderTable},
    {"hoist", "Hoist drum", hoistTable},
    {"rotary-table", "Rotary table", tableTable},
    {"index-dial", "Index dial", tableTable},
    {"crank", "Crank and slide", crankTable},
    {"direct", "Motor straight on the load", tableTable},
    {"linear-motor", "Linear motor", linearTable},
}};

template <std::size_t... I>
Mechanism nth(std::size_t wanted, std::index_sequence<I...>)
{
    Mechanism m;
    ((I == wanted ? static_cast<void>(m.kind.emplace<I>()) : static_cast<void>(0)), ...);
    return m;
}
const Kind& kindOf(const Mechanism& m) { return mechanismKinds.at(m.kind.index()); }
} // namespace

std::span<const std::string_view> mechanismTypes()
{
    static const auto types = [] {
        std::array<std::string_view, mechanismKinds.size()> all;
        std::ranges::transform(mechanismKinds, all.begin(), &Kind::type);
        return all;
    }();
    return types;
}

std::optional<Mechanism> mechanismOf(std::string_view type)
{
    const auto it = std::ranges::find(mechanismKinds, type, &Kind::type);
    if (it == mechanismKinds.end())
        return {};
    return nth(static_cast<std::size_t>(it - mechanismKinds.begin()),
               std::make_index_sequence<mechanismKinds.size()>());
}

std::string_view mechanismType(const Mechanism& m) { return kindOf(m).type; }
std::string_view mechanismTitle(const Mechanism& m) { return kindOf(m).title; }
std::span<const Field> mechanismFields(const Mechanism& m) { return kindOf(m).fields; }
void* mechanismObject(Mechanism& m)
{
    return std::visit([](auto& entries) -> void* { return &entries; }, m.kind);
}
const void* mechanismObject(const Mechanism& m)
{
    return std::visit([](const auto& entries) -> const void* { return &entries; }, m.kind);
}
std::span<const Field> stageFields(StageKind type)
{
    if (type == StageKind::Gearbox)
        return gearboxTable;
    if (type == StageKind::Shaft)
        return shaftTable;
    return couplingTable;
}

std::string nameOf(const StageElement& element)
{
    return element.name.empty() ? std::string(wordOf(element.type)) : element.name;
}

StageElement stageOf(const Gearbox& g)
{
    StageElement s;
    s.type = StageKind::Gearbox;
    s.name = g.name;
    s.ratio = g.ratio;
    s.efficiency = g.efficiency;
    s.inertia = g.inertia;
    s.drag = g.drag;
    s.stiffness = g.stiffness;
    s.backlash = g.backlash;
    s.ratedTorque = g.ratedTorque;
    s.peakTorque = g.peakTorque;
    s.maxSpeed = g.maxSpeed;
    s.ratedSpeed = g.ratedSpeed;
    return s;
}

} // namespace ridge
