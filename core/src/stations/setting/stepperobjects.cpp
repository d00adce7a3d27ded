// What a stepper drive on a network holds; of one with switches the same values are set by hand.
#include "core/drives/stepper.h"
#include "core/mechanics/stage.h"
#include "core/stations/planfacts.h"
#include "core/units/print.h"

#include "sheet.h"

#include <cmath>

namespace ridge::detail {

namespace {
using enum Quantity;
constexpr double restDelay = 0.2;  ///< until the current at rest is lowered [s], common practice
constexpr double stallLimit = 1.8; ///< full steps behind: at two the rotor falls into another well
} // namespace

void stepperObjects(Sheet& s, const Before& e)
{
    const StepperActuator& a = *e.axis.actuator.stepper();
    const double set = settingOf(a).value_or(e.match.electric->current), steps = countsOfTurn(e.axis);
    s.add(0x202A, 1, set * 1e3,
          say("{} peak of the sine, {} rms", amount(set, Current), amount(set / std::sqrt(2.0), Current)),
          "highest setting of its list that the motor permits");
    s.add(0x202A, 2, steps, say("{}", amount(steps, Count)), "full steps of the motor × microsteps");
    s.add(0x202A, 3, a.stepping.standstillShare * 1000, say("{} %", decimal(a.stepping.standstillShare * 100, 0)),
          "current at rest; what holds the load then");
    s.add(0x202A, 4, restDelay * 1e3, say("{}", amount(restDelay, Time)), "rest before it is lowered, common practice");
    const bool encoder = a.stepping.encoder != StepperEncoder::None;
    s.add(0x202A, 5, encoder ? 1 : 0, std::string(wordOf(a.stepping.encoder)), "what its encoder is for");
    if (encoder) {
        const auto g = stepGeometry(static_cast<int>(a.motor->phases), a.motor->rotorTeeth);
        const double lag = a.stepping.permittedLag && g ? *a.stepping.permittedLag / g->stepAngle : stallLimit;
        s.add(0x202A, 6, lag * 100, say("{} full steps", decimal(lag, 2)),
              a.stepping.permittedLag ? "permitted lag of the plan" : "at two full steps behind, four are lost");
    }
    const double current = set / std::sqrt(2.0), torque = e.match.electric->constant * set;
    s.add(0x6075, 0, current * 1e3, say("{} rms", amount(current, Current)), "set current, rms");
    s.add(0x6076, 0, torque * 1e3, say("{}", amount(torque, Torque)), "of both phases at the set current");
    const double u = e.unitsPerTravel(), each = std::abs(e.load.chain->radius / e.load.chain->ratio()) * 2 * pi / steps;
    s.add(0x6067, 0, std::ceil(each * u), say("{}", amount(each, e.q(Travel))), "one step, rounded up");
}

} // namespace ridge::detail
