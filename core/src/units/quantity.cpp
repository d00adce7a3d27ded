#include "core/units/quantity.h"

#include "core/units/parse.h"

#include <array>
#include <cassert>

namespace ridge {

namespace {
using enum Quantity;
// quantity, id, name, SI, JSON suffix, metric display, imperial display
constexpr std::array table{
    QuantityInfo{Number, "number", "number", "1", "", "1", "1"},
    QuantityInfo{Ratio, "ratio", "ratio", "1", "", "1", "1"},
    QuantityInfo{Share, "share", "share", "1", "", "%", "%"},
    QuantityInfo{Count, "count", "count", "1", "", "1", "1"},
    QuantityInfo{Length, "length", "length", "m", "_m", "mm", "in"},
    QuantityInfo{Mass, "mass", "mass", "kg", "_kg", "kg", "lb"},
    QuantityInfo{Time, "time", "time", "s", "_s", "s", "s"},
    QuantityInfo{Speed, "speed", "speed", "m/s", "_m_s", "mm/s", "in/s"},
    QuantityInfo{Acceleration, "acceleration", "acceleration", "m/s2", "_m_s2", "m/s2", "in/s2"},
    QuantityInfo{Jerk, "jerk", "jerk", "m/s3", "_m_s3", "m/s3", "in/s3"},
    QuantityInfo{Force, "force", "force", "N", "_N", "N", "lbf"},
    QuantityInfo{Torque, "torque", "torque", "N*m", "_Nm", "N*m", "lb-in"},
    QuantityInfo{Inertia, "inertia", "moment of inertia", "kg*m2", "_kgm2", "kg*cm2", "lb-in-s2"},
    QuantityInfo{Angle, "angle", "angle", "rad", "_rad", "deg", "deg"},
    QuantityInfo{AngularSpeed, "angular_speed", "angular speed", "rad/s", "_rad_s", "rpm", "rpm"},
    QuantityInfo{AngularAcceleration, "angular_acceleration", "angular acceleration", "rad/s2", "_rad_s2", "rad/s2",
                 "rad/s2"},
    QuantityInfo{AngularJerk, "angular_jerk", "angular jerk", "rad/s3", "_rad_s3", "rad/s3", "rad/s3"},
    QuantityInfo{Stiffness, "stiffness", "stiffness", "N/m", "_N_m", "N/um", "lbf/in"},
    QuantityInfo{TorsionalStiffness, "torsional_stiffness", "torsional stiffness", "N*m/rad", "_Nm_rad", "N*m/rad",
                 "lb-in/rad"},
    QuantityInfo{Viscous, "viscous", "viscous coefficient", "N*s/m", "_Ns_m", "N*s/m", "lbf*s/in"},
    QuantityInfo{RotaryViscous, "rotary_viscous", "rotary viscous coefficient", "N*m*s/rad", "_Nms_rad", "N*m*s/rad",
                 "lb-in*s/rad"},
    QuantityInfo{Power, "power", "power", "W", "_W", "W", "W"},
    QuantityInfo{Energy, "energy", "energy", "J", "_J", "J", "J"},
    QuantityInfo{Voltage, "voltage", "voltage", "V", "_V", "V", "V"},
    QuantityInfo{Current, "current", "current", "A", "_A", "A", "A"},
    QuantityInfo{Resistance, "resistance", "resistance", "ohm", "_ohm", "ohm", "ohm"},
    QuantityInfo{Inductance, "inductance", "inductance", "H", "_H", "mH", "mH"},
    QuantityInfo{Capacitance, "capacitance", "capacitance", "F", "_F", "uF", "uF"},
    QuantityInfo{Temperature, "temperature", "temperature", "K", "_K", "degC", "degF"},
    QuantityInfo{TemperatureDifference, "temperature_difference", "temperature difference", "K", "_K", "K", "K"},
    QuantityInfo{Frequency, "frequency", "frequency", "Hz", "_Hz", "Hz", "Hz"},
    QuantityInfo{Rate, "rate", "rate", "1/s", "_1_s", "1/s", "1/s"},
    QuantityInfo{Pressure, "pressure", "pressure", "Pa", "_Pa", "bar", "psi"},
    QuantityInfo{Density, "density", "density", "kg/m3", "_kg_m3", "kg/m3", "lb/in3"},
    QuantityInfo{TorqueConstant, "torque_constant", "torque constant", "N*m/A", "_Nm_A", "N*m/A", "lb-in/A"},
    QuantityInfo{VoltageConstant, "voltage_constant", "voltage constant", "V*s/rad", "_Vs_rad", "V/krpm", "V/krpm"},
    QuantityInfo{ThermalResistance, "thermal_resistance", "thermal resistance", "K/W", "_K_W", "K/W", "K/W"},
    QuantityInfo{HeatCapacity, "heat_capacity", "heat capacity", "J/K", "_J_K", "J/K", "J/K"},
    QuantityInfo{Area, "area", "area", "m2", "_m2", "mm2", "mm2"},
    QuantityInfo{LineMass, "line_mass", "mass per length", "kg/m", "_kg_m", "kg/m", "lb/ft"},
    QuantityInfo{SmallLength, "small_length", "length", "m", "_m", "um", "mil"},
    QuantityInfo{Moment, "moment", "mass times radius", "kg*m", "_kgm", "kg*mm", "lb*in"},
    QuantityInfo{Expansion, "expansion", "expansion coefficient", "1/K", "_1_K", "1/K", "1/K"},
    QuantityInfo{Gain, "gain", "velocity gain", "N*m*s/rad", "_Nms_rad", "N*m*s/rad", "lb-in*s/rad"},
    QuantityInfo{Revolutions, "revolutions", "revolutions", "rad", "_rad", "rev", "rev"},
    QuantityInfo{Life, "life", "life", "s", "_s", "h", "h"},
    QuantityInfo{ForcePerWidth, "force_per_width", "force per width", "N/m", "_N_m", "N/mm", "lbf/in"},
    QuantityInfo{Altitude, "altitude", "altitude", "m", "_m", "m", "ft"},
    QuantityInfo{PerLength, "per_length", "number per length", "1/m", "_1_m", "1/mm", "1/in"},
    QuantityInfo{PerAngle, "per_angle", "number per angle", "1/rad", "_1_rad", "1/deg", "1/deg"},
    QuantityInfo{Travel, "travel", "travel", "1", "", "1", "1"},
    QuantityInfo{TravelSpeed, "travel_speed", "speed", "1", "", "1", "1"},
    QuantityInfo{TravelAcceleration, "travel_acceleration", "acceleration", "1", "", "1", "1"},
    QuantityInfo{TravelJerk, "travel_jerk", "jerk", "1", "", "1", "1"},
    QuantityInfo{TravelForce, "travel_force", "force", "1", "", "1", "1"},
    QuantityInfo{TravelInertia, "travel_inertia", "moving mass", "1", "", "1", "1"},
    QuantityInfo{TravelViscous, "travel_viscous", "viscous coefficient", "1", "", "1", "1"},
    QuantityInfo{PerTravel, "per_travel", "number per travel", "1", "", "1", "1"},
};
} // namespace

const QuantityInfo& info(Quantity quantity)
{
    const auto& entry = table.at(static_cast<std::size_t>(quantity));
    assert(entry.quantity == quantity);
    return entry;
}

std::span<const QuantityInfo> allQuantities() { return table; }

Quantity resolve(Quantity quantity, bool rotary)
{
    switch (quantity) {
    case Travel: return rotary ? Angle : Length;
    case TravelSpeed: return rotary ? AngularSpeed : Speed;
    case TravelAcceleration: return rotary ? AngularAcceleration : Acceleration;
    case TravelJerk: return rotary ? AngularJerk : Jerk;
    case TravelForce: return rotary ? Torque : Force;
    case TravelInertia: return rotary ? Inertia : Mass;
    case TravelViscous: return rotary ? RotaryViscous : Viscous;
    case PerTravel: return rotary ? PerAngle : PerLength;
    default: return quantity;
    }
}

Dimension dimensionOf(Quantity quantity)
{
    const auto unit = parseUnit(info(quantity).si);
    return unit ? unit->dimension : Dimension{};
}

std::string_view displayUnit(Quantity quantity, UnitSystem system)
{
    return system == UnitSystem::Metric ? info(quantity).metric : info(quantity).imperial;
}

} // namespace ridge
