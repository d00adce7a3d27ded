#include "core/mechanics/counterbalance.h"
#include "core/mechanics/stage.h"

#include "context.h"

#include <algorithm>
#include <cmath>

namespace ridge {

namespace {
tl::unexpected<Error> missing(const char* field) { return refuse("missing", field); }

/// Half of the beam, and of the carriage what a moment balance leaves on this side.
Result<void> gantryInto(LoadModel& load, const Load& l)
{
    if (!l.gantrySpan || load.rotary)
        return {};
    const double near = l.carriageNear.value_or(0);
    if (near > *l.gantrySpan)
        return refuseBeyond("carriage", *l.gantrySpan, Quantity::Length, "load.carriageNear");
    if (l.carriageFar && (*l.carriageFar > *l.gantrySpan || *l.carriageFar < near))
        return refuseBeyond("carriage", *l.gantrySpan, Quantity::Length, "load.carriageFar");
    load.payloadShare = 1 - near / *l.gantrySpan;
    load.moving += l.gantryBeam / 2 + l.gantryCarriage * load.payloadShare;
    return {};
}
} // namespace

Result<AxisChain> buildChain(const Axis& axis)
{
    AxisChain c;
    const Load& l = axis.load;
    if (!l.moving)
        return missing("load.moving");
    c.load.rotary = axis.mechanism.rotary();
    c.load.moving = *l.moving;
    if (const auto gantry = gantryInto(c.load, l); !gantry)
        return tl::make_unexpected(gantry.error());
    c.load.incline = l.incline;
    c.load.friction = l.friction;
    c.load.coulomb = l.coulomb;
    c.load.viscous = l.viscous;
    c.load.unbalance = c.load.rotary ? l.unbalance * standardGravity * std::sin(l.tilt) : 0;
    if (l.counterbalance == Counterbalance::GasSpring && l.springForce > 0) {
        if (!(l.springStroke > 0))
            return missing("load.springStroke");
        c.load.hasSpring = true;
        c.load.spring = {l.springForce, l.springRatio, l.springStroke, 293.15, l.springFriction, l.springCount};
        c.load.springAtZero = l.springAtZero;
    } else if (l.counterbalance == Counterbalance::ConstantForce) {
        c.load.counterForce = l.constantForce;
    } else if (l.counterbalance == Counterbalance::Counterweight) { // hangs over sheaves: it pulls and has to be moved
        const CounterMass over = counterMass(0, l.counterMass, l.counterReeving, 0);
        c.load.counterForce = -over.staticForce;
        c.load.rolling = over.movingMass;
    } else if (l.counterbalance == Counterbalance::Cylinder) {
        if (l.cylinderRod >= l.cylinderBore)
            return refuse("bore-not-smaller", "load.cylinderRod");
        const CylinderForce f = counterCylinder(l.cylinderPressure, l.cylinderBore, l.cylinderRod, 1, true);
        c.load.counterForce = f.force;
        c.load.coulomb += f.force * (1 - l.cylinderEfficiency); // its seals rub both ways
    }
    if (const auto built = detail::mechanismInto(c, axis.mechanism); !built)
        return tl::make_unexpected(built.error());
    if (const LinearDrive* l = axis.mechanism.as<LinearDrive>()) { // the motor chosen, or what was entered until then
        const ServoMotor* motor = axis.actuator.motor();
        c.load.attraction = motor ? motor->attraction : l->attraction;
        (motor ? c.load.carried : c.load.moving) += motor ? axis.actuator.rotor() : l->moverMass;
    }
    if (axis.stages.size() > c.stages.size())
        return refuseBeyond("too-many", static_cast<double>(c.stages.size()), Quantity::Count);
    for (const StageElement& s : axis.stages) {
        if (s.ratio == 0)
            return refuse("ratio-zero", "stages[" + std::to_string(c.stageCount) + "].ratio");
        const bool gear = s.type == StageKind::Gearbox;
        c.stages[static_cast<std::size_t>(c.stageCount++)] = {gear ? s.ratio : 1, gear ? s.efficiency : 1,
                                                              gear ? s.backEfficiency.value_or(s.efficiency) : 1,
                                                              s.inertia, s.drag};
    }
    if (const ServoParts* servo = axis.actuator.servo(); servo && axis.actuator.is<ServoActuator>()) {
        // bearings and hub of one's own turn with the rotor, on the motor side of what comes before it
        const auto last = static_cast<std::size_t>(std::max(0, c.stageCount - 1));
        (c.stageCount ? c.stages[last].drag : c.drag) += servo->mounting.bearingFriction;
        (c.stageCount ? c.stages[last].inertia : c.inertia) += servo->mounting.hubInertia;
    }
    return c;
}

namespace detail {

namespace {
/// The torque that crank, rod and slide ask for at an angle.
double explainCrank(Recorder& rec, const LoadModel& l, const MotionPoint& p, int way)
{
    const auto unit = crank(l.crank, p.position, 1, 0, 0, 0, 0), none = crank(l.crank, p.position, 0, 0, 0, 0, 0);
    if (!unit || !none)
        return 0;
    const double x1 = unit->speed, x2 = unit->acceleration,
                 m = l.crank.slide + l.crank.rodMass * l.crank.rodCentre / l.crank.rod, force = slideForce(l, x1 * way);
    const double a = x1 * p.acceleration + x2 * p.speed * p.speed, j0 = none->inertia - m * x1 * x1;
    const double dir = way == 0 ? 0 : sign(x1 * way),
                 torque = j0 * p.acceleration + (m * a + force + l.crankGravity + l.crankCoulomb * dir) * x1;
    rec.add({{"a", "acceleration of the slide", "m/s2", a},
             "{x_1}*{alpha}+{x_2}*{w}^2",
             {{"x_1", "slide per radian of the crank", "m/rad", x1},
              {"alpha", "angular acceleration", "rad/s2", p.acceleration},
              {"x_2", "its change", "m/rad2", x2},
              {"w", "angular speed", "rad/s", p.speed}},
             "kinematics of the slider crank, derived"});
    rec.add({{"T_k", "crank and slide", "N*m", torque},
             "{J_0}*{alpha}+({m}*{a}+{F}+{G}+{F_c}*{dir})*{x_1}",
             {{"J_0", "crank with the rod's share", "kg*m2", j0},
              {"alpha", "angular acceleration", "rad/s2", p.acceleration},
              {"m", "slide with the rod's share", "kg", m},
              {"a", "acceleration of the slide", "m/s2", a},
              {"F", "force on the slide", "N", force},
              {"G", "weight along the slide", "N", l.crankGravity},
              {"F_c", "friction of the slide", "N", l.crankCoulomb},
              {"dir", "direction of the slide", "1", dir},
              {"x_1", "slide per radian of the crank", "m/rad", x1}},
             "virtual work, derived"});
    return torque;
}
} // namespace

void explainTorque(Recorder& rec, const AxisChain& c, double payload, double force, const MotionPoint& p, int way,
                   double rotor)
{
    const LoadModel& l = c.load;
    const ChainPoint at = chainPoint(c, payload, force, p, way);
    double counter = l.counterForce, springFriction = 0;
    if (l.hasSpring) {
        const double s = l.springAtZero - p.position;
        const auto spring = gasSpringForce(l.spring, s);
        counter = spring ? spring->force : springForceAt(l.spring, s);
        springFriction = spring ? spring->force - spring->pushExtending : 0;
        rec.add({{"F_cb", "counterbalance force", "N", counter},
                 "{n}*{F_1}*(1+({chi}-1)*{s}/{s_max})",
                 {{"n", "gas springs", "1", l.spring.count},
                  {"F_1", "force, extended", "N", l.spring.forceExtended},
                  {"chi", "force ratio", "1", l.spring.forceRatio},
                  {"s", "compression here", "m", s},
                  {"s_max", "stroke", "m", l.spring.stroke}},
                 "gas spring, linear, common practice"});
    }
    const double m = l.moving + l.payloadShare * payload;
    const double rubbing = l.coulomb + springFriction;
    if (!l.rotary) {
        rec.add({{"F_L", "force at the load", "N", at.force},
                 "({m}+{m_r})*{a}+({m}+{m_c})*{g}*sin({beta})+{F_p}+{b}*{v}-{F_cb}+{dir}*({F_c}+{mu}*(abs(({m}+{m_c}+{"
                 "m_d})*{g}*cos({beta}))+{F_n}))",
                 {{"m", "moving mass with payload", "kg", m},
                  {"m_c", "coil of the motor, its acceleration counts with the motor", "kg", l.carried},
                  {"m_r", "belt and rollers, only accelerated", "kg", l.rolling},
                  {"m_d", "belt, only rubbing", "kg", l.dragging},
                  {"a", "acceleration", "m/s2", p.acceleration},
                  {"g", "standard gravity", "m/s2", standardGravity},
                  {"beta", "incline", "rad", l.incline},
                  {"F_p", "process force", "N", force},
                  {"b", "viscous coefficient", "N*s/m", l.viscous},
                  {"v", "speed", "m/s", p.speed},
                  {"F_cb", "counterbalance", "N", counter},
                  {"dir", "direction of motion", "1", static_cast<double>(way)},
                  {"F_c", "constant friction", "N", rubbing},
                  {"mu", "friction coefficient", "1", l.friction},
                  {"F_n", "attraction", "N", l.attraction}},
                 "balance of forces, derived"});
    } else {
        Step step{{"F_L", "torque at the load", "N*m", at.force},
                  "{J}*{alpha}+{T_u}*cos({theta})+{T_p}+{b}*{w}-{T_cb}+{dir}*{T_c}",
                  {{"J", "moment of inertia with payload", "kg*m2", m},
                   {"alpha", "angular acceleration", "rad/s2", p.acceleration},
                   {"T_u", "unbalance", "N*m", l.unbalance},
                   {"theta", "angle", "rad", p.position},
                   {"T_p", "process torque", "N*m", force},
                   {"b", "viscous coefficient", "N*m*s/rad", l.viscous},
                   {"w", "angular speed", "rad/s", p.speed},
                   {"T_cb", "counterbalance", "N*m", counter},
                   {"dir", "direction of motion", "1", static_cast<double>(way)},
                   {"T_c", "friction", "N*m", rubbing}},
                  "balance of torques, derived"};
        if (l.hasCrank) {
            step.formula += "+{T_k}";
            step.inputs.push_back({"T_k", "crank and slide", "N*m", explainCrank(rec, l, p, way)});
        }
        rec.add(std::move(step));
    }
    const auto stageStep = [&](const char* symbol, const char* name, double in, int turn, double ratio, double forward,
                               double backward, double inertia, double acceleration, double drag, double result) {
        const double power = in * turn;
        const Term load{"T_L", "torque on its load side", "N*m", in}, i{"i", "ratio", "1", ratio};
        const Term j{"J_k", "its inertia on the motor side", "kg*m2", inertia},
            alpha{"alpha", "angular acceleration there", "rad/s2", acceleration};
        const Term dir{"dir", "direction of rotation", "1", static_cast<double>(turn)}, d{"T_d", "drag", "N*m", drag};
        const Term out{symbol, name, "N*m", result};
        if (power > 0)
            rec.add({out,
                     "{T_L}/({i}*{eta})+{J_k}*{alpha}+{dir}*{T_d}",
                     {load, i, {"eta", "efficiency, driving", "1", forward}, j, alpha, dir, d},
                     "efficiency by power flow: the motor drives the load"});
        else if (power < 0)
            rec.add({out,
                     "{T_L}*{eta_b}/{i}+{J_k}*{alpha}+{dir}*{T_d}",
                     {load, {"eta_b", "efficiency, back-driven", "1", backward}, i, j, alpha, dir, d},
                     "efficiency by power flow: the load drives the motor"});
        else
            rec.add({out,
                     "{T_L}/{i}+{J_k}*{alpha}+{dir}*{T_d}",
                     {load, i, j, alpha, dir, d},
                     "at rest: no friction, no loss"});
    };
    int turn = way * sign(c.radius);
    double acceleration = p.acceleration / c.radius;
    rec.add({{"T_0", "torque before losses at the mechanism's shaft", "N*m", at.sides[0]},
             "{F_L}*{r}",
             {{"F_L", "at the load", l.rotary ? "N*m" : "N", at.force},
              {"r", "transmission radius", l.rotary ? "1" : "m/rad", c.radius}},
             "radius of the mechanism, derived"});
    double after =
        stageTorque(at.sides[0], turn, 1.0, c.forward, c.backward) + c.inertia * acceleration + turn * c.drag;
    stageStep("T_1", "torque at the mechanism's shaft", at.sides[0], turn, 1, c.forward, c.backward, c.inertia,
              acceleration, c.drag, after);
    for (int k = 0; k < c.stageCount; ++k) {
        const ChainStage& s = c.stages[static_cast<std::size_t>(k)];
        const double in = after;
        acceleration *= s.ratio;
        after = stageTorque(in, turn, s.ratio, s.forward, s.backward);
        const int before = turn;
        turn *= sign(s.ratio);
        after += s.inertia * acceleration + turn * s.drag;
        stageStep(("T_" + std::to_string(k + 2)).c_str(), "torque after the next stage", in, before, s.ratio, s.forward,
                  s.backward, s.inertia, acceleration, s.ratio < 0 ? -s.drag : s.drag, after);
    }
    rec.add({{"T_m", "torque of the motor", "N*m", after + rotor * acceleration},
             "{T}+{J_r}*{alpha}",
             {{"T", "torque at the motor shaft", "N*m", after},
              {"J_r", "rotor inertia", "kg*m2", rotor},
              {"alpha", "angular acceleration", "rad/s2", acceleration}},
             "the rotor is part of the load, derived"});
}

} // namespace detail
} // namespace ridge
