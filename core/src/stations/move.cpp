#include "core/model/fields.h"
#include "core/units/print.h"

#include "context.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>

namespace ridge::detail {

namespace {
/// An axis is stopped and held anywhere it may go; a gas spring keeps it inside its stroke.
HoldRange holdRangeOf(const Context& c)
{
    HoldRange s;
    if (c.out.move.motion) {
        s.low = c.out.move.motion->lowest;
        s.high = c.out.move.motion->highest;
    }
    if (!c.axis.cycle.segments.empty())
        s.leastPayload = std::ranges::min(c.axis.cycle.segments, {}, &Segment::payload).payload;
    s.mostPayload = c.out.move.maxPayload;
    const auto low = c.axis.load.travelLow, high = c.axis.load.travelHigh;
    if (!low || !high || !(*high > *low))
        return s;
    double from = *low, to = *high;
    if (c.out.load.chain && c.out.load.chain->load.hasSpring) {
        const LoadModel& l = c.out.load.chain->load;
        from = std::max(from, l.springAtZero - l.spring.stroke);
        to = std::min(to, l.springAtZero);
    }
    return {std::min(s.low, from), std::max(s.high, to), s.leastPayload, s.mostPayload};
}
} // namespace

void layCycle(Context& c)
{
    MoveFindings& out = c.out.move;
    const std::vector<Segment>& segments = c.axis.cycle.segments;
    const bool cycleRefused = c.refusedIn({"cycle.", "segments["}),
               partRefused = c.refusedIn({"site.", "motor.", "drive.", "stepper.", "stepping.", "stepperDrive."});
    auto motion = layMotion(segments, c.axis.cycle.start);
    if (motion && !cycleRefused)
        out.motion = std::move(*motion);
    else if (!motion)
        c.out.problems.push_back(motion.error());
    for (const Segment& s : segments)
        out.maxPayload = std::max(out.maxPayload, s.payload);
    out.held = holdRangeOf(c);
    if (!c.out.load.chain || !out.motion || partRefused)
        return;
    const double rotor = c.axis.actuator.rotor();
    if (auto path = dutyPath(*c.out.load.chain, *out.motion, segments, rotor)) {
        out.path = std::move(*path);
        out.duty = dutyFigures(*out.path, rotor);
    } else {
        c.out.problems.push_back(path.error());
    }
}

namespace {
/// What a segment's kind has no use for is told, not passed over.
void unused(Context& c)
{
    for (std::size_t k = 0; k < c.axis.cycle.segments.size(); ++k) {
        const Segment& s = c.axis.cycle.segments[k];
        const auto keys = unusedValues(s);
        if (keys.empty())
            continue;
        std::string names;
        for (const std::string_view key : keys) {
            const auto field = std::ranges::find(segmentFields(), key, &Field::key);
            names += (names.empty() ? "" : ", ") + std::string(field == segmentFields().end() ? key : field->label);
        }
        Check& told = c.fact("move.unused", "Worth a look: a value without use", Station::Move, false,
                             say("Segment {}: {}. A {} has no use for it.", k + 1, names, wordOf(s.kind)),
                             "Clear it, or choose another kind of move.", Verdict::Watch);
        told.id += "[" + std::to_string(k) + "]";
    }
}
} // namespace

void evaluateMove(Context& c)
{
    using enum Quantity;
    const auto problem = std::ranges::find_if(
        c.out.problems, [](const Error& e) { return e.subject.starts_with("segment[") || e.subject == "move"; });
    c.fact("move.possible", "Every move is possible", Station::Move,
           c.axis.cycle.segments.empty() ? std::nullopt : std::optional(c.out.move.motion.has_value()),
           c.out.move.motion
               ? say(c.axis.cycle.segments.size() == 1 ? "{} segment, {} a cycle." : "{} segments, {} a cycle.",
                     c.axis.cycle.segments.size(), amount(c.out.move.motion->duration, Time))
           : problem != c.out.problems.end()
               ? fieldWords(c.axis, problem->subject) + ": " + messageFor(*problem, c.rotary())
               : "The cycle has no move.",
           c.axis.cycle.segments.empty() ? "Enter the first segment." : "Change the segment that the sentence names.");
    if (!c.out.move.motion)
        return;
    const Motion& m = *c.out.move.motion;
    if (Recorder* rec = c.steps()) {
        // the segment with the highest speed, as it was solved
        std::size_t best = 0;
        for (std::size_t k = 0; k < m.solved.size(); ++k)
            if (m.solved[k].peakSpeed > m.solved[best].peakSpeed)
                best = k;
        const Trapezoid& t = m.solved[best];
        if (c.axis.cycle.segments[best].kind == SegmentKind::Trapezoid && t.kind != ProfileKind::None) {
            const double k = 1 / t.acceleration + 1 / t.deceleration;
            const double disc = t.time * t.time - 2 * std::abs(t.distance) * k;
            rec->add(
                {{"v_p", "peak speed", c.rotary() ? "rad/s" : "m/s", (t.time - std::sqrt(std::max(disc, 0.0))) / k},
                 "({T}-sqrt(max({T}^2-2*{s}*(1/{a}+1/{d}),0)))/(1/{a}+1/{d})",
                 {{"T", "time of the move", "s", t.time},
                  {"s", "distance", c.rotary() ? "rad" : "m", std::abs(t.distance)},
                  {"a", "acceleration", "m/s2", t.acceleration},
                  {"d", "deceleration", "m/s2", t.deceleration}},
                 "trapezoid s = v·T − v²·(1/a + 1/d)/2, derived"});
        }
    }
    c.result("move.peak_speed", "Peak speed", Station::Move, c.q(TravelSpeed), m.peakSpeed);
    c.result("move.peak_acceleration", "Peak acceleration", Station::Move, c.q(TravelAcceleration), m.peakAcceleration);
    c.result("move.cycle_time", "Cycle time", Station::Move, Time, m.duration);
    c.result("move.stroke", "Stroke", Station::Move, c.q(Travel), m.highest - m.lowest);
    const auto low = c.axis.load.travelLow, high = c.axis.load.travelHigh;
    std::optional<double> demand, capacity;
    if (low && high && *high > *low) {
        const double middle = (*low + *high) / 2;
        demand = std::max(m.highest - middle, middle - m.lowest);
        capacity = (*high - *low) / 2;
    }
    const bool endless = c.axis.mechanism.endless();
    if (!endless || low || high) { // an endless axis without limits has nothing to leave
        auto& travel =
            c.check("move.travel", "Cycle inside the travel", Station::Move, c.q(Travel), demand, capacity, 0.0);
        travel.reason =
            demand ? say("The cycle runs from {} to {}; the axis may go from {} to {}.", amount(m.lowest, c.q(Travel)),
                         amount(m.highest, c.q(Travel)), amount(*low, c.q(Travel)), amount(*high, c.q(Travel)))
                   : "The permitted travel is not entered.";
        if (travel.verdict != Verdict::Ok)
            travel.help = demand ? "Shorten the move or shift its start." : "Enter both ends of the travel in Load.";
    }
    const double gap = m.endPosition - c.axis.cycle.start;
    const bool returns = std::abs(gap) < 1e-9 + 1e-6 * (m.highest - m.lowest);
    c.fact("move.returns", "Cycle ends where it began", Station::Move, returns || endless,
           returns ? "The cycle closes." : say("The cycle ends {} from its start.", amount(gap, c.q(Travel))),
           "Add the move back, or accept it for an endless axis.", Verdict::Watch);
    unused(c);
    double jump = 0;
    for (const Segment& s : c.axis.cycle.segments)
        if (s.kind == SegmentKind::Cam && s.law == CamLaw::Harmonic)
            jump = 1;
    if (jump > 0)
        c.fact("move.smooth", "Smoothness", Station::Move, false,
               "The harmonic law jumps in acceleration at both ends.", "Another law between dwells.", Verdict::Watch);
}

} // namespace ridge::detail
