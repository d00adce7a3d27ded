#include "core/objects/scaling.h"
#include "core/units/print.h"
#include "core/wiring/io.h"

#include "context.h"

#include <algorithm>
#include <string>
#include <vector>

namespace ridge::detail {

namespace {
using enum Quantity;

/// Signals that want a place of one kind, the most needed first, each by its name.
using Names = std::vector<std::string>;

Names further(Names names, double count, const char* word)
{
    for (int k = 1; k <= static_cast<int>(count); ++k)
        names.push_back(word + std::string(" ") + std::to_string(k));
    return names;
}

Names inputsOf(const Axis& a)
{
    Names out;
    if (a.travel.switchLow)
        out.emplace_back("limit switch, low");
    if (a.travel.switchHigh)
        out.emplace_back("limit switch, high");
    if (a.io.homeSwitch)
        out.emplace_back("home switch");
    return further(std::move(out), a.io.inputs, "input");
}

Names outputsOf(const Axis& a)
{
    Names out;
    if (a.io.alarmOutput)
        out.emplace_back("alarm");
    return further(std::move(out), a.io.outputs, "output");
}

Names encodersOf(const Axis& a)
{
    Names out;
    if (!a.actuator.stepper() || a.actuator.stepper()->stepping.encoder != StepperEncoder::None)
        out.emplace_back("encoder of the motor");
    if (a.io.secondEncoder)
        out.emplace_back("encoder on the load");
    return out;
}

void places(Context& c, const char* id, const char* title, const Names& wanted, const std::optional<double>& has)
{
    if (wanted.empty())
        return;
    auto& k = c.check(id, title, Station::Match, Count, static_cast<double>(wanted.size()), has, 0.0);
    const auto count = static_cast<std::size_t>(has.value_or(0));
    if (!has) {
        k.reason = say("{} wanted; the drive's sheet was not read for it.", wanted.size());
        k.help = "Enter its places under Parts, Data of the drive.";
        return;
    }
    k.reason = say("{} wanted, {} there, {} left.", wanted.size(), count, count - std::min(count, wanted.size()));
    if (k.verdict == Verdict::Ok)
        k.margin.reset(); // places are counted: all of them taken is no narrow fit
    if (k.verdict == Verdict::Fail) {
        k.reason.then(say("Without a place: {}.", wanted[count]));
        k.help = "Another drive, an extension, or the signal at the controller.";
    }
}

void rates(Context& c, const DriveSignals& d)
{
    const double pulses = c.axis.io.pulseRate;
    if (!(pulses > 0))
        return;
    const auto limit = d.pulseRate ? std::optional(0.8 * *d.pulseRate) : std::nullopt;
    if (Recorder* rec = c.steps(); rec && limit)
        rec->add({{"f", "pulses that may be used", "1/s", *limit},
                  "0.8*{f_in}",
                  {{"f_in", "rate of the input", "1/s", *d.pulseRate}},
                  "80 % of the input's rate, common practice"});
    auto& k = c.check("match.pulse_rate", "Pulses into the drive", Station::Match, Rate, pulses, limit, 0.0);
    k.reason = limit ? say("{} of {}, four fifths of what its input takes.", amount(pulses, Rate), amount(*limit, Rate))
                     : Message("The rate of the drive's pulse input was not read.");
    if (k.verdict != Verdict::Ok)
        k.help = limit && *limit == 0 ? "It has no pulse input: command it over the network or by an analog voltage."
                                      : "A coarser pulse weight, a differential input, or a network.";
}

void brakeCoil(Context& c)
{
    const auto brake = c.axis.actuator.brake();
    const ServoDrive* d = c.axis.actuator.drive();
    if (!brake || !d || !(brake->current > 0))
        return;
    auto& k = c.check("match.brake_output", "Brake coil on the drive's output", Station::Match, Current, brake->current,
                      d->brakeOutputCurrent, 0.0);
    k.reason = d->brakeOutputCurrent > 0
                   ? say("{} of {}.", amount(brake->current, Current), amount(d->brakeOutputCurrent, Current))
                   : say("{} wanted; the drive has no brake output.", amount(brake->current, Current));
    if (k.verdict != Verdict::Ok)
        k.help = "A relay of its own with suppression (W-BRK-03).";
}
/// A scale: way of a count, counts of a magnet period, and the speed its signals allow. @param speed  of the scale
/// [m/s]
void scale(Context& c, const DriveSignals& d, const Encoder& e, const std::string& id, double speed)
{
    const ServoMotor* m = c.axis.actuator.is<LinearActuator>() ? c.axis.actuator.motor() : nullptr;
    if (!(e.period > 0)) {
        c.fact((id + "_period").c_str(), "Signal period of the scale", Station::Match, std::nullopt,
               "Its signal period is not entered.", "Enter it under Parts, Data of the encoder.");
        return;
    }
    const LinearScale s = linearScale(e.period, e.counts, speed);
    if (Recorder* rec = c.steps())
        rec->add({{"x", "way of a count", "m", s.perCount},
                  "{p}/{z}",
                  {{"p", "signal period", "m", e.period}, {"z", "counts a period", "1", e.counts}},
                  "counts of the scale and its interpolation"});
    c.result((id + "_count").c_str(), "Way of a count of the scale", Station::Match, SmallLength, s.perCount);
    if (m && m->polePeriod > 0) {
        const double counts = m->polePeriod / s.perCount;
        const bool same = std::abs(counts - m->countsPerTurn) <= 1;
        c.fact((id + "_magnets").c_str(), "Counts of a magnet period", Station::Match, same,
               say("{} counts of the scale lie in a magnet period of {}; the motor is entered with {}.",
                   decimal(counts, 0), amount(m->polePeriod, Length), decimal(m->countsPerTurn, 0)),
               say("Enter {} counts with the motor, or look at signal period and magnet period (W-LIN-01).",
                   decimal(counts, 0)));
    }
    if (e.interface == FeedbackKind::ScaleAbsolute && e.tells == ScaleTells::NotSaid)
        c.fact((id + "_tells").c_str(), "What the scale tells at power-up", Station::Match, std::nullopt,
               "Whether it tells its place within a signal period or on the whole travel is not said.",
               "Say it with the encoder: without the whole travel the axis has to home.");
    if (e.interface != FeedbackKind::Scale || !(speed > 0))
        return;
    if (Recorder* rec = c.steps())
        rec->add({{"f", "signal periods a second", "1/s", s.signalRate},
                  "{v}/{p}",
                  {{"v", "fastest of the scale", "m/s", speed}, {"p", "signal period", "m", e.period}},
                  "periods that pass the head"});
    auto& k = c.check((id + "_rate").c_str(), "Signals of the scale into the drive", Station::Match, Frequency,
                      s.signalRate, d.feedbackRate, 0.0);
    k.reason = d.feedbackRate ? say("{} at {}; the input takes {}, that is {} at most.",
                                    amount(s.signalRate, Frequency), amount(speed, Speed, 3),
                                    amount(*d.feedbackRate, Frequency), amount(*d.feedbackRate * e.period, Speed, 3))
                              : Message("How fast its feedback input is was not read.");
    if (k.verdict == Verdict::Fail)
        k.help = "A coarser period, less interpolation before the drive, or a serial scale (W-FBG-09).";
}

/// A feedback device that was chosen as a part, against what the drive takes and gives.
void feedback(Context& c, const DriveSignals& d, const Encoder& e, const char* which, double speed)
{
    const std::string id = std::string("match.feedback_") + which;
    if (e.interface != FeedbackKind::AsMotor) {
        const auto takes = feedbackKindsOf(d.feedbackKinds);
        const bool there = std::ranges::find(takes, e.interface) != takes.end();
        c.fact((id + "_kind").c_str(), "Interface of the feedback", Station::Match,
               takes.empty() ? std::nullopt : std::optional(there),
               takes.empty() ? Message("What feedback this drive takes was not read from its sheet.")
               : there       ? say("{}: the drive takes it.", Message(wordOf(e.interface)))
                             : say("{}; the drive takes {}.", Message(wordOf(e.interface)), d.feedbackKinds),
               takes.empty() ? "Enter it under Parts, Data of the drive."
                             : "Another encoder, or another variant of the drive.");
    }
    if (e.supplyLow > 0 && e.supplyHigh > 0)
        c.fact((id + "_supply").c_str(), "Supply of the feedback", Station::Match,
               d.feedbackVoltage
                   ? std::optional(*d.feedbackVoltage >= e.supplyLow && *d.feedbackVoltage <= e.supplyHigh)
                   : std::nullopt,
               d.feedbackVoltage ? say("{} from the drive; {} to {} is wanted.", amount(*d.feedbackVoltage, Voltage),
                                       amount(e.supplyLow, Voltage), amount(e.supplyHigh, Voltage))
                                 : Message("What the drive supplies its feedback with was not read."),
               d.feedbackVoltage ? "A supply of its own, or another encoder (W-FBG-02)."
                                 : "Enter it under Parts, Data of the drive.");
    if (e.supplyCurrent > 0) {
        auto& k = c.check((id + "_current").c_str(), "Current of the feedback", Station::Match, Current,
                          e.supplyCurrent, d.feedbackCurrent, 0.0);
        k.reason = d.feedbackCurrent
                       ? say("{} of {}.", amount(e.supplyCurrent, Current), amount(*d.feedbackCurrent, Current))
                       : Message("What the drive's feedback supply gives was not read.");
    }
    if (e.interface == FeedbackKind::Scale || e.interface == FeedbackKind::ScaleAbsolute) {
        scale(c, d, e, id, speed);
        return;
    }
    const bool lines = e.interface == FeedbackKind::Incremental || e.interface == FeedbackKind::IncrementalHalls
                       || e.interface == FeedbackKind::SineCosine;
    if (!lines || !(e.counts > 0) || !(speed > 0))
        return;
    const double rate = lineFrequency(e.counts / 4, speed);
    if (Recorder* rec = c.steps())
        rec->add({{"f", "lines a second", "1/s", rate},
                  "{z}/4*{w}/(2*pi)",
                  {{"z", "counts a turn", "1", e.counts}, {"w", "fastest of the motor", "rad/s", speed}},
                  "four counts to a line"});
    auto& k = c.check((id + "_rate").c_str(), "Lines a second into the drive", Station::Match, Frequency, rate,
                      d.feedbackRate, 0.0);
    k.reason = d.feedbackRate ? say("{} at {}; the input takes {}.", amount(rate, Frequency),
                                    amount(speed, AngularSpeed, 3), amount(*d.feedbackRate, Frequency))
                              : Message("How fast its feedback input is was not read.");
    if (k.verdict == Verdict::Fail)
        k.help = "Fewer lines, or a serial encoder (W-FBG-09).";
}
} // namespace

void evaluateSignals(Context& c)
{
    const Actuator& a = c.axis.actuator;
    const DriveSignals* d = a.drive();
    if (!d)
        d = a.stepperDrive();
    if (!d)
        return;
    const DriveSignals none;
    brakeCoil(c);
    rates(c, *d);
    const double fastest = c.out.match.servo     ? c.out.match.servo->speedMax
                           : c.out.match.stepper ? c.out.match.stepper->speedMax
                           : a.motor()           ? a.motor()->maxSpeed
                                                 : 0;
    if (a.feedback)
        feedback(c, *d, *a.feedback, "motor", fastest);
    if (a.loadFeedback)
        feedback(c, *d, *a.loadFeedback, "load", 0);
    if (*d == none) {
        c.fact("match.signals", "Places for the signals", Station::Match, std::nullopt,
               "Inputs, outputs and encoder ports of this drive were not read from its sheet.",
               "Enter them under Parts, Data of the drive.");
        return;
    }
    places(c, "match.inputs", "Digital inputs", inputsOf(c.axis), d->digitalInputs);
    places(c, "match.outputs", "Digital outputs", outputsOf(c.axis), d->digitalOutputs);
    places(c, "match.analog", "Analog inputs", further({}, c.axis.io.analogInputs, "analog input"), d->analogInputs);
    if (a.drive()) // a stepper loses its torque with its supply
        places(c, "match.safe_inputs", "Torque-off inputs",
               c.axis.wiring.twoChannels ? Names{"channel A", "channel B"} : Names{"channel A"}, d->safeInputs);
    places(c, "match.encoder_ports", "Encoder ports", encodersOf(c.axis), d->encoderPorts);
}

} // namespace ridge::detail
