#pragma once
#include "core/units/dimension.h"

#include <span>
#include <string>
#include <string_view>

namespace ridge {

/// What a number is. Each has one SI unit inside and one preferred unit a system of display.
enum class Quantity {
    Number,
    Ratio,
    Share,
    Count,
    Length,
    Mass,
    Time,
    Speed,
    Acceleration,
    Jerk,
    Force,
    Torque,
    Inertia,
    Angle,
    AngularSpeed,
    AngularAcceleration,
    AngularJerk,
    Stiffness,
    TorsionalStiffness,
    Viscous,
    RotaryViscous,
    Power,
    Energy,
    Voltage,
    Current,
    Resistance,
    Inductance,
    Capacitance,
    Temperature,
    TemperatureDifference,
    Frequency,
    Rate,
    Pressure,
    Density,
    TorqueConstant,
    VoltageConstant,
    ThermalResistance,
    HeatCapacity,
    Area,
    LineMass,
    SmallLength,
    Moment,
    Expansion,
    Gain,
    Revolutions,
    Life,
    ForcePerWidth,
    Altitude,
    PerLength,
    PerAngle,
    // resolved by the kind of axis, see resolve()
    Travel,
    TravelSpeed,
    TravelAcceleration,
    TravelJerk,
    TravelForce,
    TravelInertia,
    TravelViscous,
    PerTravel,
};

enum class UnitSystem { Metric, Imperial };

struct QuantityInfo {
    Quantity quantity;
    std::string_view id;     ///< stable key
    std::string_view name;   ///< in the field's words, lower case: "torque"
    std::string_view si;     ///< SI unit as the parser reads it; values inside are in this unit
    std::string_view suffix; ///< for JSON keys, e.g. "_Nm"
    std::string_view metric; ///< preferred display unit
    std::string_view imperial;
};

[[nodiscard]] const QuantityInfo& info(Quantity quantity);
[[nodiscard]] std::span<const QuantityInfo> allQuantities();

/// Travel quantities become length or angle quantities.
[[nodiscard]] Quantity resolve(Quantity quantity, bool rotary);

/// Dimension of a quantity, from its SI unit.
[[nodiscard]] Dimension dimensionOf(Quantity quantity);

/// Unit in which values of this quantity are shown.
[[nodiscard]] std::string_view displayUnit(Quantity quantity, UnitSystem system);

} // namespace ridge
