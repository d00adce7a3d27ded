#include "core/drives/stepper.h"
#include "core/mechanics/stage.h"
#include "core/units/print.h"

#include "context.h"

#include <algorithm>
#include <cmath>

namespace ridge {

double nominalCurrent(const StepperMotor& motor, LeadConnection connection, CurrentKind kind)
{
    const auto w =
        connectWinding({motor.resistance, motor.inductance, motor.current, motor.torqueConstant}, connection);
    return w ? w->current * (kind == CurrentKind::Rms ? 1 : std::sqrt(2.0)) : 0;
}

std::optional<double> settingWithin(const std::vector<double>& settings, double nominal)
{
    std::optional<double> best;
    for (const double s : settings)
        if (s <= nominal * (1 + 1e-9))
            best = std::max(best.value_or(0), s);
    return best;
}

std::optional<double> settingOf(const StepperActuator& a)
{
    if (!a.motor || !a.drive)
        return {};
    const auto setting = a.stepping.currentSetting
                             ? a.stepping.currentSetting
                             : settingWithin(a.drive->currentSettings,
                                             nominalCurrent(*a.motor, a.stepping.connection, a.drive->settingsAre));
    return setting ? std::optional(*setting * (a.drive->settingsAre == CurrentKind::Rms ? std::sqrt(2.0) : 1))
                   : std::nullopt;
}

namespace detail {

namespace {
using enum Quantity;

/// The set current against the motor: the highest that is not above it, never the nearest.
void current(Context& c, const StepperActuator& a)
{
    const StepperDrive& d = *a.drive;
    const Stepping& s = a.stepping;
    if (d.currentSettings.empty() && !s.currentSetting)
        return;
    constexpr const char *id = "match.current_setting", *title = "Current setting";
    if (d.settingsAre == CurrentKind::NotSaid) {
        c.fact(id, title, Station::Match, std::nullopt,
               "Whether the drive prints its settings as rms or as peak of the sine is not said; √2 lies between.",
               "Say it under Parts, Data of the drive. Until then peak is reckoned with, which is never too much "
               "current.");
        return;
    }
    const double nominal = nominalCurrent(*a.motor, s.connection, d.settingsAre);
    const auto best = settingWithin(d.currentSettings, nominal);
    const Message kind(wordOf(d.settingsAre));
    if (!best && !d.currentSettings.empty()) {
        c.fact(id, title, Station::Match, false,
               say("No setting is low enough (NO_SETTING_LOW_ENOUGH): the motor has {} {}, the lowest is {}.",
                   amount(nominal, Current, 3), kind, amount(d.currentSettings.front(), Current)),
               "Another drive, or coils connected for more current.");
        return;
    }
    const double set = s.currentSetting.value_or(best.value_or(nominal)), share = set / nominal;
    if (Recorder* rec = c.steps())
        rec->add({{"k", "share of the nominal current", "1", share},
                  "{I_s}/{I_n}",
                  {{"I_s", "set, as the drive prints it", "A", set},
                   {"I_n",
                    d.settingsAre == CurrentKind::Rms ? "of the motor as connected, rms"
                                                      : "of the motor as connected, peak of the sine",
                    "A", nominal}},
                  "the highest setting not above nominal, common practice"});
    const bool listed = d.currentSettings.empty() || std::ranges::any_of(d.currentSettings, [&](double x) {
                            return std::abs(x - set) < 1e-9 * x;
                        });
    auto& k = c.check(id, title, Station::Match, Current, set, nominal, 0.0);
    k.reason =
        say("{} of {} {}: {} of it.", amount(set, Current), amount(nominal, Current, 3), kind, amount(share, Share, 3));
    if (!listed) {
        k.verdict = Verdict::Fail;
        k.reason.then("The drive's list has no such setting.");
        k.help = best ? say("Set {}.", amount(*best, Current)) : Message("A setting of its list.");
    } else if (k.verdict == Verdict::Fail) {
        k.help = best ? say("The motor overheats: set {} (W-MOT-10).", amount(*best, Current))
                      : Message("The motor overheats (W-MOT-10): set less.");
    } else if (best && set < *best * (1 - 1e-9)) {
        k.verdict = Verdict::Watch;
        k.reason.then(say("{} would still be permitted (W-MOT-11).", amount(*best, Current)));
    } else if (share < 0.7) {
        k.reason.then("Less than 70 %: torque is given away in proportion.");
    }
    c.result("match.current_share", "Set current over nominal", Station::Match, Share, share);
}

/// Steps a turn of the plan in the drive's own list.
void steps(Context& c, const StepperActuator& a)
{
    const StepperDrive& d = *a.drive;
    const auto geometry = stepGeometry(static_cast<int>(a.motor->phases), a.motor->rotorTeeth);
    if (!geometry)
        return;
    const double wanted = a.stepping.microsteps * geometry->stepsPerTurn;
    const bool fine = a.stepping.microsteps <= d.microsteps * (1 + 1e-9);
    const bool listed = d.stepSettings.empty()
                        || std::ranges::any_of(d.stepSettings, [&](double x) { return std::abs(x - wanted) < 0.5; });
    if (Recorder* rec = c.steps())
        rec->add({{"n", "steps a turn", "1", wanted},
                  "{N}*{m}",
                  {{"N", "full steps a turn", "1", geometry->stepsPerTurn},
                   {"m", "microsteps a full step", "1", a.stepping.microsteps}},
                  "geometry of the motor"});
    double near = 0;
    for (const double x : d.stepSettings)
        if (near == 0 || std::abs(std::log(x / wanted)) < std::abs(std::log(near / wanted)))
            near = x;
    const double angle = geometry->stepAngle;
    c.fact("match.step_setting", "Steps a turn of the drive", Station::Match, listed && fine,
           !listed ? say("{} steps a turn are not in the drive's list.", decimal(wanted, 0))
           : !fine ? say("{} microsteps; the drive makes at most {}.", decimal(a.stepping.microsteps, 0),
                         decimal(d.microsteps, 0))
                   : say("{} steps a turn, {} each, full steps of {}. Finer resolves, it does not position.",
                         decimal(wanted, 0), amount(angle / a.stepping.microsteps, Angle, 3), amount(angle, Angle, 3)),
           near > 0 ? say("Nearest in its list: {} steps a turn, {} microsteps.", decimal(near, 0),
                          decimal(near / geometry->stepsPerTurn, 4))
                    : Message("A setting that it has."));
}

void encoder(Context& c, const StepperActuator& a, const StepperElectric& e)
{
    const Stepping& s = a.stepping;
    if (s.encoder == StepperEncoder::None)
        return;
    const auto geometry = stepGeometry(static_cast<int>(a.motor->phases), a.motor->rotorTeeth);
    if (!geometry)
        return;
    const bool keeps = s.encoder == StepperEncoder::PositionKeeping;
    const double full = geometry->stepsPerTurn, wanted = keeps ? full * s.microsteps : full;
    auto& k = c.check("match.encoder_counts", "Encoder against the steps", Station::Match, Count, wanted,
                      s.encoderCounts, 0.0);
    k.reason = !s.encoderCounts ? Message("Enter its counts a turn.")
               : keeps          ? say("{} steps a turn are kept, {} counts tell them.", decimal(wanted, 0),
                                      decimal(*s.encoderCounts, 0))
                       : say("{} full steps a turn; {} counts tell a stall. Steps are lost in multiples of four.",
                             decimal(full, 0), decimal(*s.encoderCounts, 0));
    if (k.verdict != Verdict::Ok)
        k.help = keeps ? "More counts a turn, or coarser microsteps." : "At least a count a full step.";
    const double peak = c.out.match.stepper ? c.out.match.stepper->torquePeak : 0,
                 hold = e.phases / 2.0 * e.constant * e.current;
    const auto lag = loadAngle(peak, hold, e.rotorTeeth);
    const double error = geometry->stepAngle * a.motor->stepError;
    if (Recorder* rec = c.steps(); rec && lag)
        rec->add({{"δ", "rotor behind its command at the peak torque", "rad", *lag + error},
                  "{φ}/{N}+{e}",
                  {{"φ", "electrical angle whose sine is peak over holding torque", "rad", *lag * e.rotorTeeth},
                   {"N", "rotor teeth", "1", e.rotorTeeth},
                   {"e", "step error of the motor", "rad", error}},
                  "rotor in its magnetic spring, derived"});
    auto& p = c.check("match.permitted_lag", "Lag that is told", Station::Match, Angle,
                      lag ? std::optional(*lag + error) : std::nullopt, s.permittedLag, 0.0);
    const double lost = 2 * geometry->stepAngle * (a.motor->phases == 2 ? 1 : full / (4 * a.motor->rotorTeeth));
    p.reason = !s.permittedLag ? Message("Enter the lag beyond which it is told.")
               : !lag          ? Message("The cycle's peak is beyond the holding torque.")
                      : say("{} at the peak of the cycle, {} permitted; at {} the rotor falls into another well.",
                            amount(*lag + error, Angle, 3), amount(*s.permittedLag, Angle, 3), amount(lost, Angle, 3));
    if (p.verdict == Verdict::Fail)
        p.help = "A wider limit, more torque, or gentler ramps: it would be told in every cycle.";
    if (s.permittedLag && *s.permittedLag > lost) {
        p.verdict = Verdict::Fail;
        p.help = "Beyond half an electrical turn four full steps are lost already: a limit below that.";
    }
}
} // namespace

void evaluateStepping(Context& c, const StepperElectric& electric)
{
    const StepperActuator& a = *c.axis.actuator.stepper();
    current(c, a);
    steps(c, a);
    encoder(c, a, electric);
}

} // namespace detail
} // namespace ridge
