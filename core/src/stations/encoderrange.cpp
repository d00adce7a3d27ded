#include "core/mechanics/stage.h"
#include "core/units/print.h"

#include "context.h"

#include <cmath>

namespace ridge::detail {

namespace {
using enum Quantity;

Message keeps(TurnsKeeper keeper)
{
    switch (keeper) {
    case TurnsKeeper::Battery: return "A battery keeps the turns: change it in time and with power on, or home again.";
    case TurnsKeeper::Capacitor: return "A capacitor keeps the turns for days: home after a longer rest.";
    case TurnsKeeper::Gear: return "A gear keeps the turns, without power and without an end.";
    case TurnsKeeper::NotStated: break;
    }
    return "What keeps the turns without power is not stated: ask, before the first long rest.";
}

/// An axis without an end: at every wrap of the turns behind a gear the angle of the load jumps.
void wraps(Context& c, const ServoMotor& m, double perTurn)
{
    const double whole = c.rotary() ? 2 * pi : 0;
    if (!(whole > 0))
        return;
    const double turns = m.encoderTurns * perTurn / whole, jump = turns - std::floor(turns + 1e-9),
                 least = std::min(std::abs(jump), std::abs(1 - jump)) < 1e-9 ? 0 : jump;
    const auto explain = [&] {
        if (Recorder* rec = c.steps())
            rec->add({{"jump", "angle of the load jumps by", "rad", least * whole},
                      "({n}*{s}/{u}-{w})*{u}",
                      {{"n", "turns the encoder tells apart", "1", m.encoderTurns},
                       {"s", "travel of the load in a motor turn", "rad", perTurn},
                       {"u", "one turn of the load", "rad", whole},
                       {"w", "whole turns of the load in it", "1", turns - least}},
                      "what is left of a turn where the count begins again, derived"});
    };
    explain();
    c.result("match.wrap_jump", "Jump at a wrap", Station::Match, Angle, least * whole);
    explain();
    c.fact("match.absolute_range", "Turns the encoder tells apart", Station::Match, least == 0,
           least == 0 ? say("{} turns are whole turns of the load: a wrap goes unseen.", decimal(m.encoderTurns, 0))
                            .then(keeps(m.turnsKept))
                      : say("Behind this ratio the angle of the load jumps by {} whenever {} motor turns are full.",
                            amount(least * whole, Angle, 4), decimal(m.encoderTurns, 0))
                            .then(keeps(m.turnsKept)),
           "Keep a count of one's own and save it, limit the travel to one range, or choose a ratio that fits.",
           Verdict::Watch);
}
} // namespace

void evaluateRange(Context& c)
{
    const ServoMotor* m = c.axis.actuator.motor();
    if (!m || !c.out.load.chain || !c.axis.actuator.is<ServoActuator>() || !(m->encoderTurns > 0))
        return;
    const double perTurn = 2 * pi * std::abs(c.out.load.chain->radius / c.out.load.chain->ratio());
    const auto low = c.axis.load.travelLow, high = c.axis.load.travelHigh;
    if (!low || !high || !(*high > *low)) {
        wraps(c, *m, perTurn);
        return;
    }
    const double turns = (*high - *low) / perTurn;
    if (Recorder* rec = c.steps())
        rec->add({{"n", "motor turns over the travel", "1", turns},
                  "({b}-{a})/{s}",
                  {{"a", "travel from", c.rotary() ? "rad" : "m", *low},
                   {"b", "travel to", c.rotary() ? "rad" : "m", *high},
                   {"s", "travel in a motor turn", c.rotary() ? "rad" : "m", perTurn}},
                  "kinematics"});
    auto& k = c.check("match.absolute_range", "Turns the encoder tells apart", Station::Match, Number, turns,
                      m->encoderTurns, 0.0);
    k.reason =
        say("The travel takes {} motor turns, the encoder tells {} apart.", decimal(turns, 1),
            decimal(m->encoderTurns, 0))
            .then(m->encoderTurns == 1 && turns <= 1 ? Message("One turn is enough here.") : keeps(m->turnsKept));
    if (k.verdict == Verdict::Fail) {
        k.verdict = Verdict::Watch; // it has to be homed, which is a way to work
        k.help = "Home after every start, or an encoder that counts more turns.";
    }
}

} // namespace ridge::detail
