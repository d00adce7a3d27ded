#include "core/mechanics/stage.h"
#include "core/units/print.h"

#include "context.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace ridge::detail {

namespace {
using enum Quantity;

/// An entry far from the usual that another unit or reading would put right: watched, with the value it would be. It is
/// computed as it stands. All bounds: common practice.
class Slips {
public:
    explicit Slips(Context& c)
        : m_c(c)
    {}
    void look(bool applies, const char* id, Station station, const char* asks, double entered, double wouldBe,
              Quantity q)
    {
        if (!applies || !std::isfinite(wouldBe))
            return;
        const Quantity unit = resolve(q, m_c.rotary());
        Check& k = m_c.fact(
            "", "", station, false,
            say("{} is entered. {} Then it is {}.", amount(entered, unit), Message(asks), amount(wouldBe, unit)),
            "Enter it again with its unit, or leave it as it is.", Verdict::Watch);
        k.id = std::string("slip.") + id;
        k.title = std::string("A slip? ") + (id[0] == 'i' && id[1] == '_' ? "ratio" : std::string(id));
    }

private:
    Context& m_c;
};

void ofLengths(Context& c, Slips& s)
{
    const Axis& a = c.axis;
    for (const Segment& g : a.cycle.segments)
        if (!c.rotary() && g.distance && std::abs(*g.distance) > 50) {
            s.look(true, "distance", Station::Move, "Millimetres taken for metres?", *g.distance, *g.distance * 1e-3,
                   Length);
            break;
        }
    if (const auto* b = a.mechanism.as<BallScrew>(); b && b->lead && b->diameter) {
        s.look(*b->lead <= 0.5e-3, "lead", Station::Load, "Metres taken for millimetres?", *b->lead, *b->lead * 1e3,
               Length);
        // a lead far under the diameter with a fast nut: the pitch of a screw with several starts
        const double turns = c.out.move.motion ? c.out.move.motion->peakSpeed / *b->lead * 60 : 0;
        s.look(turns > 6000, "pitch", Station::Load,
               "The screw would turn more than 6000 times a minute: is it the pitch of one with two starts?", *b->lead,
               2 * *b->lead, Length);
    }
    if (const auto* r = a.mechanism.as<HoistDrum>(); r && r->drum && r->rope)
        s.look(*r->rope > *r->drum / 4, "rope", Station::Load, "Rope and drum exchanged, or a unit?", *r->rope,
               *r->rope * 1e-1, Length);
    if (const auto* t = a.mechanism.as<ToothedBelt>(); t && t->teeth && t->pitch) {
        // an outside diameter is a little under the pitch diameter: pi·d/z is then no pitch there is
        constexpr std::array<double, 9> pitches{2e-3, 2.5e-3, 3e-3, 5e-3, 8e-3, 10e-3, 14e-3, 20e-3, 9.525e-3};
        const double near = *std::ranges::min_element(pitches, {}, [&](double p) { return std::abs(p - *t->pitch); });
        s.look(std::abs(near - *t->pitch) > 0.001 * near && std::abs(near - *t->pitch) < 0.06 * near, "belt pitch",
               Station::Load, "No toothed belt has this pitch; was it reckoned from the outside diameter?", *t->pitch,
               near, Length);
    }
}

void ofInertias(Context& c, Slips& s)
{
    const Axis& a = c.axis;
    const double rotor = a.actuator.rotor();
    if (const auto* chain = c.out.load.chain ? &*c.out.load.chain : nullptr; chain && rotor > 0) {
        const double rest = chain->reflectedInertia(c.out.move.maxPayload);
        if (!a.mechanism.is<LinearDrive>()) {
            s.look(rotor > 1e3 * rest && rest > 0, "rotor inertia", Station::Match, "kg·cm² taken for kg·m²?", rotor,
                   rotor * 1e-4, Inertia);
            for (const StageElement& e : a.stages)
                s.look(e.inertia > 1e3 * (rest - e.inertia) && rest > e.inertia && e.inertia > 1e-3, "element inertia",
                       Station::Load, "kg·cm² taken for kg·m²?", e.inertia, e.inertia * 1e-4, Inertia);
        }
        if (c.rotary() && a.load.moving)
            s.look(*a.load.moving > 1e3 && rest > 1e3 * rotor, "moving inertia", Station::Load,
                   "kg·cm² taken for kg·m²?", *a.load.moving, *a.load.moving * 1e-4, Inertia);
    }
}

/// i for i², or squared once too often: a ratio that is the square of a usual one, with a motor that hardly turns.
void ofRatios(Context& c, Slips& s)
{
    if (!c.out.move.motion || !c.out.load.chain)
        return;
    const ServoMotor* m = c.axis.actuator.motor();
    const double speed = c.out.move.motion->peakSpeed * std::abs(c.out.load.chain->ratio() / c.out.load.chain->radius);
    for (const StageElement& e : c.axis.stages) {
        if (e.type != StageKind::Gearbox)
            continue;
        const double root = std::sqrt(std::abs(e.ratio));
        const bool square = root >= 3 && std::abs(root - std::round(root)) < 1e-9;
        s.look(square && m && m->maxSpeed > 0 && speed > m->maxSpeed, "i_ratio", Station::Load,
               "The motor cannot turn that fast; i² taken for i?", e.ratio, std::copysign(root, e.ratio), Ratio);
    }
}

void ofMotors(Context& c, Slips& s)
{
    const ServoMotor* m = c.axis.actuator.motor();
    if (!m)
        return;
    if (m->kind == MotorKind::Linear)
        s.look(m->polePeriod > 0 && m->polePeriod < 0.018, "magnet period", Station::Match,
               "Shorter than any north to north: the pitch from pole to pole?", m->polePeriod, 2 * m->polePeriod,
               Length);
    else
        s.look(m->frame > 0 && m->frame < 0.15 && m->polePairs > 6 && m->kind == MotorKind::Servo
                   && std::fmod(m->polePairs, 2) == 0,
               "pole pairs", Station::Match, "Many for its size: poles taken for pairs?", m->polePairs,
               m->polePairs / 2, Count);
    if (m->torqueConstant > 0 && m->voltageConstant > 0) {
        const double ratio = m->torqueConstant / (std::numbers::sqrt3 * m->voltageConstant);
        const auto near = [&](double f) { return std::abs(ratio / f - 1) < 0.02; };
        const double told = m->torqueConstant;
        s.look(near(1 / std::numbers::sqrt2), "torque constant", Station::Match,
               "It is √2 under what the voltage constant says: per ampere peak?", told, told * std::numbers::sqrt2,
               TorqueConstant);
        s.look(near(std::numbers::sqrt2), "voltage constant", Station::Match,
               "It is √2 under what the torque constant says: torque per ampere peak times two, or rms and peak mixed?",
               m->voltageConstant, m->voltageConstant * std::numbers::sqrt2, VoltageConstant);
        s.look(near(std::numbers::sqrt3), "voltage constant", Station::Match,
               "It is √3 under what the torque constant says: of a phase instead of line to line?", m->voltageConstant,
               m->voltageConstant * std::numbers::sqrt3, VoltageConstant);
        s.look(near(0.5), "constants", Station::Match,
               "Torque and voltage constant lie a factor 2 apart: both peak values?", told, 2 * told, TorqueConstant);
    }
    if (m->stallTorque > 0 && m->torqueConstant > 0 && m->stallCurrent > 0) {
        const double k = m->stallTorque / (m->torqueConstant * m->stallCurrent);
        s.look(std::abs(k * std::numbers::sqrt2 - 1) < 0.03, "stall current", Station::Match,
               "Stall torque is √2 under constant times current: was the current a peak value?", m->stallCurrent,
               m->stallCurrent / std::numbers::sqrt2, Current);
    }
}
} // namespace

void evaluateSlips(Context& c)
{
    Slips s(c);
    ofLengths(c, s);
    ofInertias(c, s);
    ofRatios(c, s);
    ofMotors(c, s);
}

} // namespace ridge::detail
