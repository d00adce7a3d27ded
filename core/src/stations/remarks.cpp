#include "core/mechanics/stage.h"
#include "core/units/print.h"

#include "context.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>

namespace ridge::detail {

namespace {
using enum Quantity;

/// Remarks are watched, never failed: the entry is computed as it stands. All bounds: common practice.
class Remarks {
public:
    explicit Remarks(Context& c)
        : m_c(c)
    {}
    void look(bool applies, const char* id, Station station, Message sentence, const char* help)
    {
        const std::string title = "Worth a look: " + std::string(std::string_view(id).substr(7)); // behind "remark."
        if (applies)
            m_c.fact(id, title.c_str(), station, false, std::move(sentence), help, Verdict::Watch);
    }

private:
    Context& m_c;
};

void ofLoad(Context& c, Remarks& r)
{
    const Axis& a = c.axis;
    const Load& l = a.load;
    if (!a.mechanism.rotary())
        r.look(l.friction > 0.3, "remark.friction", Station::Load,
               say("A friction coefficient of {} is more than a dry slide has.", amount(l.friction, Ratio)),
               "Ball guides have 0.003 to 0.005, slides 0.05 to 0.15.");
    if (const auto* s = a.mechanism.as<BallScrew>(); s && s->lead && s->diameter) {
        r.look(
            *s->lead > 2 * *s->diameter, "remark.lead", Station::Load,
            say("A lead of {} on a diameter of {} is steep.", amount(*s->lead, Length), amount(*s->diameter, Length)),
            "Check that the lead and not the whole travel was entered.");
        r.look(s->freeLength && *s->freeLength > 60 * *s->diameter, "remark.slender", Station::Load,
               "The screw is free over more than 60 diameters.", "A support that travels along, or a rotating nut.");
    }
    if (c.out.move.motion) {
        const double travel = c.out.move.motion->highest - c.out.move.motion->lowest;
        r.look(!a.mechanism.rotary() && !a.mechanism.endless() && travel > 50, "remark.travel", Station::Move,
               say("A stroke of {} is very long.", amount(travel, Length)), "Were millimetres taken for metres?");
        r.look(!a.mechanism.rotary() && c.out.move.motion->peakAcceleration > 100, "remark.acceleration", Station::Move,
               say("{} is more than 10 g.", amount(c.out.move.motion->peakAcceleration, Acceleration)),
               "Check the unit; guides and goods have their own limits.");
    }
    const auto& segments = a.cycle.segments;
    const bool carried = std::ranges::any_of(segments, [](const Segment&g) { return g.payload > 0; }),
               empty = std::ranges::any_of(segments, [](const Segment&g) { return g.payload == 0 && !g.standing(); });
    r.look(carried && !empty, "remark.payload", Station::Move,
           "The payload is carried in every move and never set down.",
           "Part of the moving mass? Then enter it in Load.");
    const auto worm = std::ranges::find_if(
        a.stages, [](const StageElement& e) { return e.type == StageKind::Gearbox && e.efficiency < 0.5; });
    if (worm != a.stages.end())
        r.look(true, "remark.efficiency", Station::Load,
               say("{}: an efficiency of {} is that of a worm, which may not turn back.", nameOf(*worm),
                   amount(worm->efficiency, Share)),
               "Check it, and whether the axis may hang on it.");
    const auto loose = std::ranges::find_if(
        a.stages, [](const StageElement& e) { return e.backlash && *e.backlash > 0.5 * pi / 180; });
    if (loose != a.stages.end())
        r.look(true, "remark.backlash", Station::Load,
               say("{}: {} of backlash is more than half a degree.", nameOf(*loose), amount(*loose->backlash, Angle)),
               "Minutes of arc taken for degrees?");
}

void ofChoice(Context& c, Remarks& r)
{
    if (!c.out.match.servo || !c.axis.actuator.motor())
        return;
    const ServoMotor& m = *c.axis.actuator.motor();
    const ServoDrive& d = *c.axis.actuator.drive();
    const MatchResult& match = *c.out.match.servo;
    const bool linear = m.kind == MotorKind::Linear;
    r.look(!linear && match.speedMax > 10000 * pi / 30, "remark.speed", Station::Match,
           say("{} at the motor is beyond most bearings and encoders.", amount(match.speedMax, AngularSpeed)),
           "A smaller ratio.");
    if (const LinearDrive* l = c.axis.mechanism.as<LinearDrive>()) {
        const auto other = [](double entered, double motor) {
            return entered > 0 && std::abs(entered - motor) > 0.02 * std::max(entered, motor);
        };
        r.look(other(l->moverMass, m.inertia), "remark.coil_mass", Station::Load,
               say("The coil part is entered with {}, the motor chosen has {}; the motor counts.",
                   amount(l->moverMass, Mass), amount(m.inertia, Mass)),
               "Enter what belongs to the load beside the coil under the moving mass.");
        r.look(other(l->attraction, m.attraction), "remark.coil_attraction", Station::Load,
               say("The attraction is entered with {}, the motor chosen has {}; the motor counts.",
                   amount(l->attraction, Force), amount(m.attraction, Force)),
               "Take the entry out, or check the motor's data sheet.");
    }
    r.look(std::abs(m.peakCurrent / m.stallCurrent - std::sqrt(2.0)) < 0.004, "remark.current", Station::Match,
           "Peak over stall current is √2: the peak of the sine and an rms value may have been mixed.",
           "Enter both as rms.");
    r.look(m.ratedTorque > m.stallTorque * (1 + 1e-9) || m.stallTorque > m.peakTorque * (1 + 1e-9), "remark.torques",
           Station::Match,
           say("Rated {}, stall {}, peak {}: each is at most the next.", amount(m.ratedTorque, c.atMotor(Torque)),
               amount(m.stallTorque, c.atMotor(Torque)), amount(m.peakTorque, c.atMotor(Torque))),
           "Check which column of the data sheet is which.");
    r.look(!linear && m.torqueConstant < 0.005, "remark.constant", Station::Match, "The torque constant is very small.",
           "Millinewton metres taken for newton metres?");
    r.look(m.thermalResistance > 20, "remark.heat", Station::Match, "The thermal resistance is very large.",
           "Check the unit and the plate it belongs to.");
    r.look(m.stallCurrent < 0.2 * d.continuousCurrent, "remark.resolution", Station::Match,
           say("The drive measures {} where the motor has {}: its current is coarse.",
               amount(d.continuousCurrent, Current), amount(m.stallCurrent, Current)),
           "A smaller drive.");
    r.look(match.torquePeak > 6 * match.torqueRms && match.torqueRms > 0, "remark.idle", Station::Match,
           "The peak is more than six times the rms torque: the motor idles.",
           "A bigger drive on a smaller motor may do.");
}

} // namespace

void evaluateRemarks(Context& c)
{
    Remarks r(c);
    ofLoad(c, r);
    ofChoice(c, r);
}

} // namespace ridge::detail
