#pragma once
#include "core/record/evidence.h"
#include "core/stations/evaluate.h"
#include "core/stations/planfacts.h"

#include <algorithm>
#include <initializer_list>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace ridge::detail {

/// Shared by the station files while one evaluation is made.
struct Context {
    const Machine& machine;
    const Axis& axis;
    const Evidence& evidence;
    Evaluation& out;
    bool working = false;
    Recorder recorder;
    EvaluationMemo* memo = nullptr;

    /// A refused value is not computed with, whoever brought it in.
    [[nodiscard]] bool refusedIn(std::initializer_list<std::string_view> groups) const
    {
        return std::ranges::any_of(out.problems, [&](const Error& e) {
            return std::ranges::any_of(groups, [&](std::string_view g) { return e.subject.starts_with(g); });
        });
    }
    [[nodiscard]] Recorder* steps() { return working ? &recorder : nullptr; }
    [[nodiscard]] bool rotary() const { return axis.mechanism.rotary(); }
    [[nodiscard]] Quantity q(Quantity quantity) const { return resolve(quantity, rotary()); }
    /// A linear motor has newtons for newton metres, and so on, at its "shaft".
    [[nodiscard]] Quantity atMotor(Quantity quantity) const
    {
        if (!axis.mechanism.is<LinearDrive>())
            return quantity;
        switch (quantity) {
        case Quantity::Torque: return Quantity::Force;
        case Quantity::AngularSpeed: return Quantity::Speed;
        case Quantity::Inertia: return Quantity::Mass;
        default: return quantity;
        }
    }

    void result(const char* id, const char* label, Station station, Quantity quantity, double value)
    {
        out.results.push_back({id, label, station, quantity, value, working ? recorder.take() : Working{}});
    }
    /// A demand against a capacity; takes the recorded steps.
    Check& check(const char* id, const char* title, Station station, Quantity quantity, std::optional<double> demand,
                 std::optional<double> capacity, double watch = 0.1)
    {
        Check c = judge(id, station, quantity, demand, capacity, watch);
        c.title = title;
        if (working)
            c.working = recorder.take();
        out.checks.push_back(std::move(c));
        return out.checks.back();
    }
    /// A yes, a no, or not known yet.
    Check& fact(const char* id, const char* title, Station station, std::optional<bool> good, Message reason,
                Message help = {}, Verdict bad = Verdict::Fail)
    {
        Check c;
        c.id = id;
        c.title = title;
        c.station = station;
        c.verdict = !good ? Verdict::Unknown : *good ? Verdict::Ok : bad;
        c.reason = std::move(reason);
        if (!good || !*good)
            c.help = std::move(help);
        if (working)
            c.working = recorder.take();
        out.checks.push_back(std::move(c));
        return out.checks.back();
    }
    /// A good verdict that rests on a simulated fact is practised, never ok.
    static void rests(Check& check, const Fact* fact)
    {
        if (fact && fact->origin == Origin::Simulated && check.verdict == Verdict::Ok)
            check.verdict = Verdict::Practised;
    }
};

/// The chain from load to motor, unless one of its entries is refused.
void layChain(Context& c);
/// The motion, and with the chain the duty at the motor; after layChain.
void layCycle(Context& c);
void evaluateLoad(Context& c);
void evaluateMove(Context& c);
void evaluateTravel(Context& c);   ///< ends of the travel and the ways of the stops; with evaluateMove
void evaluateStopRamp(Context& c); ///< that of Move against that of Guard
void evaluateProcess(Context& c);  ///< what the process permits, against what is to be expected; last of the sizing
void evaluateSupply(Context& c);   ///< what feeds power and control part of the drive
void evaluateSignals(Context& c);  ///< places of the drive for the signals of the axis
void evaluateRange(Context& c);    ///< turns an absolute encoder tells apart
void evaluateMeasured(Context& c); ///< what was measured of the axis, beside what is planned
void evaluateStepping(Context& c, const StepperElectric& electric); ///< current, steps and encoder of a stepper
/// The states beside the one that is entered: each by its tightest margin, and a reel over its whole roll.
void evaluateStates(Context& c);
void evaluateSlips(Context& c);    ///< entries that look like a usual slip, each with the value it would be
void evaluateMounting(Context& c); ///< heat path, fit, bond and clearances of the motor as built in
void evaluateMatch(Context& c);
/// Holding, stopping alone, dropping; after the match. @param speedMax  of the motor [rad/s]
void evaluateBrake(Context& c, double speedMax);
void evaluateEnergy(Context& c);     ///< regeneration, mains, heat
void evaluateCompliance(Context& c); ///< schools of the inertia ratio
void evaluateStepper(Context& c);
/// Radius, losses and own inertia of the mechanism. @error missing and its limits, with the field
[[nodiscard]] Result<void> mechanismInto(AxisChain& chain, const Mechanism& mechanism);
/// The axis in every state it runs in but the one that is entered, by name.
[[nodiscard]] std::vector<std::pair<std::string, Axis>> inOtherStates(const Axis& axis);
/// Records where the travel per radian comes from.
void explainRadius(Recorder& recorder, const Mechanism& mechanism, double radius);
/// Where on its travel a mechanism is looked at.
struct Along {
    double share = 0, travel = 0; ///< 0 at the low end, 1 at the high one; all of the travel [m]
};
/// Working of how far the mechanism gives way at the load, per newton [m/N]; see complianceStep. @param along  not
/// given: where it is softest
[[nodiscard]] std::optional<Step> mechanismCompliance(const Mechanism& mechanism,
                                                      const std::optional<Along>& along = {});
/// Inertia and web tension of a reel at a radius; core, full, thickness and width are there.
struct ReelState {
    double inertia = 0, tension = 0;
};
[[nodiscard]] ReelState reelAt(const WinderReel& reel, double radius);
/// Belt, rack, nip, gearbox and accuracy: what the mechanism and the stages stand.
void evaluateMechanics(Context& c);
void evaluateAccuracy(Context& c); ///< the budget of the position error
/// What usually turns out to be a slip: entries far from the usual, and habits that cost later. Only what applies
/// appears.
void evaluateRemarks(Context& c);
void evaluateCommand(Context& c); ///< loops, pulses, analog reference, homing
void evaluateWire(Context& c);
void evaluateAsked(Context& c); ///< readings and answers; a wrong answer is a finding; with evaluateWire
void evaluateTune(Context& c);  ///< plans gains and the test move; before evaluateSet
void evaluateSet(Context& c);   ///< what is known to stand in the drive; after evaluateTune
void evaluateTurn(Context& c);
void evaluateGuard(Context& c);
void evaluateSign(Context& c); ///< the steps and what is defeated; last

inline constexpr double transportDelay = 2.5e-4; ///< of the torque path in the loop model [s]
/// Following error to be expected of the planned gains at the fastest and hardest instant [m or rad], with its working.
[[nodiscard]] std::optional<Step> followingExpected(const Context& c);
/// How far the load drops when torque goes before the brake holds, from rest; nothing without a brake stronger than it.
struct Dropped {
    double travel = 0; ///< [m or rad]
    Working steps;
};
[[nodiscard]] std::optional<Dropped> dropped(const Context& c);
/// What would help where a test fails. @param nearTop  the tightest instant runs near the rated speed
[[nodiscard]] const char* leverOf(MatchTest test, bool nearTop);
[[nodiscard]] Quantity quantityOf(MatchTest test);
/// Records how the torque at the motor comes from the load at one instant; rotor included in the last step.
void explainTorque(Recorder& recorder, const AxisChain& chain, double payload, double force, const MotionPoint& point,
                   int way, double rotor);

} // namespace ridge::detail
