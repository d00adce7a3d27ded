#include "core/drives/sheet.h"

#include <cmath>
#include <numbers>

namespace ridge {

namespace {
using std::numbers::sqrt2, std::numbers::sqrt3;

double perRms(ConstantKind kind) { return kind == ConstantKind::PerPeakAmpere ? sqrt2 : 1; }
/// To line to line, rms.
double lineRms(VoltageKind kind)
{
    switch (kind) {
    case VoltageKind::LinePeak: return 1 / sqrt2;
    case VoltageKind::PhaseRms: return sqrt3;
    case VoltageKind::PhasePeak: return sqrt3 / sqrt2;
    case VoltageKind::NotSaid:
    case VoltageKind::LineRms: break;
    }
    return 1;
}

/// The convention that is not said though a figure that needs it is entered.
std::optional<Error> unsaid(const MotorSheet& s)
{
    const auto ask = [](bool there, bool said, const char* field) {
        return there && !said ? std::optional(Error{"convention", field, {}, {}}) : std::nullopt;
    };
    for (const auto& e :
         {ask(s.poles.has_value(), s.polesAre != PoleKind::NotSaid, "polesAre"),
          ask(s.polePeriod.has_value(), s.magnetsAre != MagnetKind::NotSaid, "magnetsAre"),
          ask(s.torqueConstant.has_value(), s.constantIs != ConstantKind::NotSaid, "constantIs"),
          ask(s.voltageConstant.has_value(), s.voltageIs != VoltageKind::NotSaid, "voltageIs"),
          ask(s.resistance || s.inductance, s.windingIs != WindingKind::NotSaid, "windingIs"),
          ask(s.stallCurrent || s.ratedCurrent || s.peakCurrent, s.currentsAre != CurrentKind::NotSaid, "currentsAre")})
        if (e)
            return e;
    return {};
}
} // namespace

Result<ServoMotor> motorOfSheet(const MotorSheet& s)
{
    if (s.kind == SheetKind::Induction)
        return refuse("induction", "kind");
    if (auto error = unsaid(s))
        return tl::make_unexpected(std::move(*error));
    if (s.poles && s.polesAre == PoleKind::Poles && std::fmod(*s.poles, 2) != 0)
        return refuse("odd-poles", "poles");
    ServoMotor m;
    m.name = s.name;
    m.kind = s.kind == SheetKind::Linear      ? MotorKind::Linear
             : s.kind == SheetKind::Frameless ? MotorKind::Frameless
                                              : MotorKind::Servo;
    m.polePairs = s.poles.value_or(0) / (s.polesAre == PoleKind::Poles ? 2 : 1);
    if (m.kind == MotorKind::Linear)
        m.polePairs = 1;
    m.polePeriod = s.polePeriod.value_or(0) * (s.magnetsAre == MagnetKind::Pitch ? 2 : 1);
    m.torqueConstant = s.torqueConstant.value_or(0) * perRms(s.constantIs);
    m.voltageConstant = s.voltageConstant.value_or(0) * lineRms(s.voltageIs);
    if (!s.torqueConstant && s.voltageConstant)
        m.torqueConstant = sqrt3 * m.voltageConstant; // the same physics, derived
    if (!s.voltageConstant && s.torqueConstant)
        m.voltageConstant = m.torqueConstant / sqrt3;
    const double lines = s.windingIs == WindingKind::Phase ? 2 : 1;
    m.resistance = s.resistance.value_or(0) * lines;
    m.inductance = s.inductance.value_or(0) * lines;
    const double rms = s.currentsAre == CurrentKind::Peak ? 1 / sqrt2 : 1;
    m.stallCurrent = s.stallCurrent.value_or(0) * rms;
    m.ratedCurrent = s.ratedCurrent.value_or(0) * rms;
    m.peakCurrent = s.peakCurrent.value_or(0) * rms;
    m.stallTorque = s.stallTorque.value_or(0);
    m.ratedTorque = s.ratedTorque.value_or(s.ratedPower && s.ratedSpeed ? *s.ratedPower / *s.ratedSpeed : 0);
    m.peakTorque = s.peakTorque.value_or(0);
    m.ratedSpeed = s.ratedSpeed.value_or(0);
    m.maxSpeed = s.maxSpeed.value_or(0);
    m.inertia = s.inertia.value_or(0);
    m.ratedVoltage = s.ratedVoltage.value_or(0);
    m.encoder.clear();
    return m;
}

} // namespace ridge
