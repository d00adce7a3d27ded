#include "core/mechanics/stage.h"
#include "core/stations/candidates.h"
#include "core/stations/machinebus.h"
#include "core/stations/planfacts.h"
#include "core/stations/timing.h"
#include "support/sizing.h"

#include <QTest>

#include <array>
#include <cmath>
#include <random>

using namespace ridge;
using namespace sizing;

namespace {

/// What is written again of an axis, from first principles: a force over position, speed and acceleration at the load,
/// and one shaft.
struct Plain {
    double radius = 1, own = 0, forward = 1, backward = 1, drag = 0; ///< of the mechanism's shaft
    double rolling = 0, dragging = 0, coulomb = 0, pull = 0; ///< masses that roll or rub, friction, force of a web
};

double steelShaft(double d, double length) { return 7850 * pi / 32 * std::pow(d, 4) * length; }

Plain plainOf(const Mechanism& m)
{
    Plain p;
    if (const auto* s = m.as<BallScrew>()) {
        p = {*s->lead / (2 * pi), steelShaft(*s->diameter, *s->length), s->efficiency, 2 - 1 / s->efficiency, s->drag};
    } else if (const auto* l = m.as<LeadScrew>()) {
        const double tangent = *l->lead / (pi * *l->meanDiameter), climb = std::atan(tangent),
                     rub = std::atan(*l->friction / std::cos(l->flank));
        p = {*l->lead / (2 * pi), steelShaft(*l->diameter, *l->length), tangent / std::tan(climb + rub),
             std::tan(climb - rub) / tangent, l->drag};
    } else if (const auto* b = m.as<ToothedBelt>()) {
        p = {*b->teeth * *b->pitch / (2 * pi), b->pulleyInertia, b->efficiency, b->efficiency, b->drag};
        p.own += b->beltMass * p.radius * p.radius;
    } else if (const auto* r = m.as<Rack>()) {
        p = {*r->module * *r->teeth / 2, r->pinionInertia, r->efficiency, r->efficiency, r->drag};
    } else if (const auto* c = m.as<ConveyorBelt>()) {
        p = {*c->drumRadius, c->drumInertia, c->efficiency, c->efficiency, c->drag};
        p.rolling = c->beltMass + c->rollerCount * c->rollerInertia / (c->rollerRadius * c->rollerRadius);
        p.dragging = c->beltMass;
    } else if (const auto* n = m.as<NipRoller>()) {
        const double faster = *n->radius / *n->pressRadius;
        p = {*n->radius, n->inertia + n->pressInertia * faster * faster, 1, 1, n->bearing};
        p.coulomb = n->lever * n->force * (1 / *n->radius + 1 / *n->pressRadius) + n->pressBearing / *n->pressRadius;
    } else if (const auto* w = m.as<WinderReel>()) {
        const double r = *w->radius, roll = pi / 2 * w->density * *w->width * (std::pow(r, 4) - std::pow(*w->core, 4)),
                     tension = w->tension * (1 - w->taper * (1 - *w->core / r));
        p = {r, w->coreInertia + roll, 1, 1, w->drag};
        p.pull = w->way == ReelWay::Winds ? tension : -tension;
    } else if (const auto* h = m.as<HoistDrum>()) {
        double lifted = 0; // rope by rope: each sheave passes on its efficiency
        for (int k = 0; k < static_cast<int>(h->falls); ++k)
            lifted += std::pow(h->sheaveEfficiency, k);
        const double up = lifted / h->falls, down = std::pow(h->sheaveEfficiency, h->falls - 1) / up;
        p = {(*h->drum / 2 + (2 * h->layer - 1) * *h->rope / 2) / h->falls, h->drumInertia, up, down, h->drag};
    } else if (const auto* t = m.as<RotaryTable>()) {
        p = {1, t->inertia, t->efficiency, t->efficiency, t->drag};
    } else if (const auto* i = m.as<IndexDial>()) {
        p = {1, i->inertia, i->efficiency, i->efficiency, i->drag};
    } else if (const auto* d = m.as<DirectMount>()) {
        p = {1, d->inertia, d->efficiency, d->efficiency, d->drag};
    } else if (const auto* k = m.as<CrankDrive>()) {
        p = {1, 0, k->efficiency, k->efficiency, k->drag};
    }
    return p;
}

/// A slider crank by nothing but its geometry: lever and its change by differences.
double crankTorque(const CrankDrive& k, const MotionPoint& p, int way)
{
    const auto x = [&](double phi) {
        const double u = *k.radius * std::sin(phi) - k.offset;
        return *k.radius * std::cos(phi) + std::sqrt(*k.rod * *k.rod - u * u);
    };
    constexpr double h = 1e-4;
    const double lever = (x(p.position + h) - x(p.position - h)) / (2 * h),
                 bend = (x(p.position + h) - 2 * x(p.position) + x(p.position - h)) / (h * h);
    const double mass = k.slideMass + k.rodMass * k.rodCentre / *k.rod,
                 j0 = k.inertia + k.rodMass * (1 - k.rodCentre / *k.rod) * *k.radius * *k.radius;
    const double out = lever * way, pressed = out < 0 ? k.slideForceBack.value_or(k.slideForce) : k.slideForce;
    const double along = mass * (lever * p.acceleration + bend * p.speed * p.speed)
                         + (way == 0 ? k.slideForce : pressed) + mass * standardGravity * std::sin(k.slideIncline)
                         + (out > 0   ? 1
                            : out < 0 ? -1
                                      : 0)
                               * k.slideFriction;
    return j0 * p.acceleration + along * lever;
}

double loadForce(const Axis& a, const Plain& plain, const Segment& s, double share, const MotionPoint& p, int way)
{
    const Load& l = a.load;
    const double mass = *l.moving + s.payload, g = standardGravity;
    double rolling = plain.rolling, rub = l.coulomb + plain.coulomb, counter = 0;
    switch (l.counterbalance) {
    case Counterbalance::None: break;
    case Counterbalance::ConstantForce: counter = l.constantForce; break;
    case Counterbalance::Counterweight:
        counter = l.counterMass * g * l.counterReeving;
        rolling += l.counterMass * l.counterReeving * l.counterReeving;
        break;
    case Counterbalance::GasSpring: {
        const double compressed = l.springAtZero - p.position;
        counter = l.springCount * l.springForce * (1 + (l.springRatio - 1) * compressed / l.springStroke);
        rub += l.springCount * l.springFriction;
        break;
    }
    case Counterbalance::Cylinder: {
        const double area = pi / 4 * (l.cylinderBore * l.cylinderBore - l.cylinderRod * l.cylinderRod);
        counter = l.cylinderPressure * area;
        rub += counter * (1 - l.cylinderEfficiency);
        break;
    }
    }
    const double process = s.force + (s.forceEnd ? share * (*s.forceEnd - s.force) : 0);
    double f = (mass + rolling) * p.acceleration + process + plain.pull + l.viscous * p.speed - counter;
    if (!a.mechanism.rotary()) {
        f += mass * g * std::sin(l.incline);
        rub += l.friction * std::abs((mass + plain.dragging) * g * std::cos(l.incline));
    } else {
        f += l.unbalance * g * std::sin(l.tilt) * std::cos(p.position);
    }
    if (const auto* k = a.mechanism.as<CrankDrive>())
        f += crankTorque(*k, p, way);
    return f + way * rub;
}

struct Sums {
    double peak = 0, rms = 0, speed = 0, motoring = 0, returned = 0;
    std::vector<double> power; ///< even samples of the shaft
};
/// One instant at the motor's shaft.
struct Instant {
    double torque = 0, speed = 0;
};

/// What a force torque asks through a transmission that loses on the way up, or gives back when driven.
double through(double torque, double way, double i, double eta, double back)
{
    if (torque * way == 0)
        return torque / i;
    return torque / i * (torque * way > 0 ? 1 / eta : back);
}

/// @param share  of the segment's way, behind the axis
Instant instantAt(const Axis& a, const Plain& plain, const Segment& s, double share, const MotionPoint& p, int way,
                  double rotor)
{
    const bool held = s.brakeClosed && way == 0;
    Instant out{0, p.speed / plain.radius};
    if (!held)
        out.torque =
            through(loadForce(a, plain, s, share, p, way) * plain.radius, way, 1, plain.forward, plain.backward)
            + plain.own * p.acceleration / plain.radius + way * plain.drag;
    double alpha = p.acceleration / plain.radius;
    for (const StageElement& e : a.stages) {
        const bool gears = e.type == StageKind::Gearbox;
        const double i = gears ? e.ratio : 1, eta = gears ? e.efficiency : 1;
        out.speed *= i;
        alpha *= i;
        if (held)
            continue;
        out.torque = through(out.torque, way, i, eta, e.backEfficiency.value_or(eta));
        way *= i < 0 ? -1 : 1; // it turns the other way round from here on
        out.torque += e.inertia * alpha + way * e.drag;
    }
    out.torque += held ? 0 : rotor * alpha;
    return out;
}

/// The equation of motion, sampled: it shares with the product nothing but the positions over time.
Sums sampled(const Axis& a, const Motion& motion, double rotor, int n = 24000)
{
    const Plain plain = plainOf(a.mechanism);
    Sums out;
    double squares = 0;
    const double dt = motion.duration / n;
    std::size_t at = 0;
    std::vector<double> from{a.cycle.start};
    for (const Trapezoid& t : motion.solved)
        from.push_back(from.back() + t.distance);
    for (int k = 0; k < n; ++k) {
        const double t = (k + 0.5) * dt;
        while (at + 1 < motion.phases.size() && t >= motion.phases[at + 1].start)
            ++at;
        const Phase& phase = motion.phases[at];
        const auto index = static_cast<std::size_t>(phase.segment);
        const MotionPoint p = motion.at(t);
        const double whole = from[index + 1] - from[index], share = whole != 0 ? (p.position - from[index]) / whole : 0;
        const Instant now = instantAt(a, plain, a.cycle.segments[index], share, p, phase.way, rotor);
        const double power = now.torque * now.speed;
        squares += now.torque * now.torque * dt;
        out.peak = std::max(out.peak, std::abs(now.torque));
        out.speed = std::max(out.speed, std::abs(now.speed));
        (power > 0 ? out.motoring : out.returned) += std::abs(power) * dt;
        out.power.push_back(power);
    }
    out.rms = std::sqrt(squares / motion.duration);
    return out;
}

/// Axes of every mechanism, counterbalance and kind of segment, made by chance.
class Any {
public:
    explicit Any(unsigned seed)
        : m_random(seed)
    {}
    double between(double low, double high)
    {
        return low * std::pow(high / low, std::uniform_real_distribution(0.0, 1.0)(m_random));
    }
    bool toss() { return m_random() % 2 == 0; }

    Mechanism mechanism(std::string_view type)
    {
        Mechanism m = *mechanismOf(type);
        if (auto* s = std::get_if<BallScrew>(&m.kind)) {
            s->lead = between(0.004, 0.03);
            s->diameter = between(0.016, 0.04);
            s->length = between(0.5, 2);
            s->drag = between(0.01, 0.2);
        } else if (auto* l = std::get_if<LeadScrew>(&m.kind)) {
            l->lead = between(0.003, 0.012);
            l->diameter = between(0.016, 0.03);
            l->meanDiameter = 0.9 * *l->diameter;
            l->length = between(0.5, 1.5);
            l->friction = between(0.05, 0.2);
        } else if (auto* b = std::get_if<ToothedBelt>(&m.kind)) {
            b->teeth = std::round(between(16, 60));
            b->pitch = 0.005;
            b->beltMass = between(0.1, 1);
            b->pulleyInertia = between(1e-5, 1e-3);
        } else if (auto* r = std::get_if<Rack>(&m.kind)) {
            r->module = 0.002;
            r->teeth = std::round(between(18, 40));
        } else if (auto* c = std::get_if<ConveyorBelt>(&m.kind)) {
            c->drumRadius = between(0.03, 0.1);
            c->beltMass = between(1, 8);
            c->rollerInertia = between(1e-4, 1e-3);
            c->rollerRadius = between(0.02, 0.04);
            c->rollerCount = std::round(between(1, 12));
            c->drumInertia = between(1e-4, 1e-2);
        } else if (auto* n = std::get_if<NipRoller>(&m.kind)) {
            n->radius = between(0.02, 0.08);
            n->pressRadius = between(0.02, 0.08);
            n->inertia = between(1e-4, 1e-2);
            n->pressInertia = between(1e-4, 1e-2);
            n->force = between(50, 500);
            n->lever = between(1e-4, 1e-3);
            n->bearing = between(0.01, 0.1);
            n->pressBearing = between(0.01, 0.1);
        } else if (auto* w = std::get_if<WinderReel>(&m.kind)) {
            w->core = between(0.04, 0.06);
            w->full = between(0.15, 0.3);
            w->radius = between(0.08, 0.14);
            w->thickness = 1e-4;
            w->width = between(0.2, 0.8);
            w->density = between(300, 1000);
            w->tension = between(20, 100);
            w->way = toss() ? ReelWay::Winds : ReelWay::Unwinds;
        } else if (auto* h = std::get_if<HoistDrum>(&m.kind)) {
            h->drum = between(0.15, 0.3);
            h->rope = 0.006;
            h->falls = std::round(between(1, 4));
            h->drumInertia = between(1e-3, 1e-1);
        } else if (auto* k = std::get_if<CrankDrive>(&m.kind)) {
            k->radius = between(0.02, 0.06);
            k->rod = between(0.15, 0.3);
            k->offset = toss() ? 0 : 0.01;
            k->slideMass = between(1, 8);
            k->rodMass = between(0.2, 1);
            k->rodCentre = 0.4 * *k->rod;
            k->inertia = between(1e-3, 1e-2);
            k->slideForce = between(5, 100);
            if (toss())
                k->slideForceBack = -between(5, 60);
            k->slideFriction = between(1, 20);
            k->slideIncline = toss() ? pi / 2 : 0;
        } else if (auto* t = std::get_if<RotaryTable>(&m.kind)) {
            t->efficiency = between(0.7, 1);
            t->inertia = between(1e-4, 1e-2);
        } else if (auto* i = std::get_if<IndexDial>(&m.kind)) {
            i->efficiency = between(0.7, 1);
            i->inertia = between(1e-4, 1e-2);
        }
        return m;
    }

    /// @param way  stroke of the cycle
    void counterbalance(Load& l, Counterbalance kind, double way)
    {
        l.counterbalance = kind;
        l.constantForce = between(20, 200);
        l.counterMass = between(2, 20);
        l.counterReeving = toss() ? 1 : 2;
        l.cylinderPressure = between(1e5, 6e5);
        l.cylinderBore = between(0.02, 0.05);
        l.cylinderRod = 0.3 * l.cylinderBore;
        l.springForce = between(50, 300);
        l.springStroke = 4 * way;
        l.springAtZero = 2.5 * way;
        l.springFriction = between(1, 10);
    }

    std::vector<Segment> there(SegmentKind kind, double way, bool rotary)
    {
        Segment s;
        s.kind = kind;
        s.distance = way;
        const double time = between(0.4, 1.5);
        if (kind == SegmentKind::Trapezoid) {
            s.time = time;
            s.acceleration = between(5, 9) * std::abs(way) / (time * time);
        } else if (kind == SegmentKind::JerkLimited) {
            s.speed = between(1.2, 3) * std::abs(way) / time;
            s.acceleration = 8 * std::abs(way) / (time * time);
            s.jerk = 60 * std::abs(way) / (time * time * time);
        } else if (kind == SegmentKind::Cam) {
            s.time = time;
            s.law = static_cast<CamLaw>(m_random() % 6);
        } else if (kind == SegmentKind::Recorded) {
            s.time = time / 20;
            s.distance.reset();
            for (int k = 0; k <= 20; ++k)
                s.recorded.push_back(way * (1 - std::cos(pi * k / 20.0)) / 2);
        } else if (kind == SegmentKind::Blend) {
            Segment slow = s; // into a slower run and to rest
            s.distance = 0.6 * way;
            s.speed = 1.5 * std::abs(way) / time;
            s.acceleration = 12 * std::abs(way) / (time * time);
            s.endSpeed = 0.5 * std::abs(way) / time;
            slow.distance = 0.4 * way;
            slow.speed = *s.endSpeed;
            slow.acceleration = *s.acceleration;
            return {s, slow};
        } else if (kind == SegmentKind::Jog) {
            s.distance.reset();
            s.time = time;
            s.speed = way / time * 1.2;
            s.acceleration = 8 * std::abs(way) / (time * time);
        } else {
            s.time = time;
        }
        s.force = rotary ? between(0.1, 2) : between(2, 40);
        if (toss())
            s.forceEnd = -s.force * between(0.5, 2);
        return {s};
    }

private:
    std::mt19937 m_random;
};

bool close(double a, double b, double relative, double floor = 1e-9)
{
    return std::abs(a - b) <= relative * std::max(std::abs(a), std::abs(b)) + floor;
}
} // namespace

/// Every mechanism with every counterbalance and every kind of segment, over many turns, against a sampled equation of
/// motion that is written here again; and what match, bus and fastest say of the same axis.
class TestEveryAxis : public QObject {
    Q_OBJECT

    static Axis axis(unsigned seed, std::string_view type, Counterbalance counter, SegmentKind kind, double turns)
    {
        Any any(seed);
        Axis a = axisOf("A2");
        a.load = {};
        a.stages.clear();
        a.cycle = {};
        a.travel = {};
        a.mechanism = any.mechanism(type);
        const bool rotary = a.mechanism.rotary();
        a.load.moving = rotary ? any.between(1e-3, 0.2) : any.between(2, 60);
        a.load.coulomb = rotary ? any.between(0.05, 1) : any.between(2, 40);
        a.load.viscous = any.toss() ? 0 : rotary ? 0.01 : 5;
        const double way = rotary ? (turns > 0 ? 2 * pi * turns : any.between(0.5, 6)) : any.between(0.05, 0.5);
        if (!rotary) {
            a.load.incline = any.toss() ? 0 : any.between(0.1, pi / 2);
            a.load.friction = any.between(0.002, 0.1);
        } else if (!a.mechanism.is<CrankDrive>()) {
            a.load.unbalance = any.between(0.05, 1);
            a.load.tilt = any.between(0.1, pi / 2);
        }
        if (!(rotary
              && (counter == Counterbalance::GasSpring || counter == Counterbalance::Cylinder
                  || counter == Counterbalance::Counterweight)))
            any.counterbalance(a.load, counter, way);
        if (any.toss()) {
            StageElement gear;
            gear.type = StageKind::Gearbox;
            gear.ratio = any.toss() ? any.between(2, 12) : -any.between(2, 12);
            gear.efficiency = any.between(0.8, 0.97);
            gear.inertia = any.between(1e-6, 1e-4);
            gear.drag = any.between(0.001, 0.05);
            a.stages.push_back(gear);
        }
        a.cycle.segments = any.there(kind, way, rotary);
        a.cycle.segments.front().payload = kind == SegmentKind::Blend || kind == SegmentKind::Jog || rotary ? 0 : 3;
        Segment rest;
        rest.kind = any.toss() ? SegmentKind::Press : SegmentKind::Dwell;
        rest.time = any.between(0.1, 0.5);
        rest.force = rest.kind == SegmentKind::Press ? (rotary ? 1 : 60) : 0;
        a.cycle.segments.push_back(rest);
        for (Segment& back : any.there(SegmentKind::Thirds, -way, rotary))
            a.cycle.segments.push_back(back);
        rest.kind = SegmentKind::Dwell;
        rest.brakeClosed = any.toss();
        rest.force = 0;
        a.cycle.segments.push_back(rest);
        return a;
    }

private Q_SLOTS:
    void theSampledEquationAgrees_data()
    {
        QTest::addColumn<QString>("type");
        for (const auto type : mechanismTypes())
            if (type != "linear-motor")
                QTest::newRow(std::string(type).c_str()) << QString::fromStdString(std::string(type));
    }
    void theSampledEquationAgrees()
    {
        QFETCH(QString, type);
        unsigned seed = 100;
        int compared = 0;
        for (std::size_t counter = 0; counter < wordsOf<Counterbalance>.size(); ++counter)
            for (const auto kind :
                 {SegmentKind::Trapezoid, SegmentKind::Triangle, SegmentKind::Thirds, SegmentKind::JerkLimited,
                  SegmentKind::Cam, SegmentKind::Blend, SegmentKind::Jog, SegmentKind::Recorded}) {
                const Axis a = axis(++seed, type.toStdString(), static_cast<Counterbalance>(counter), kind, 0);
                const Evaluation e = evaluate(demo(), a);
                const std::string what = type.toStdString() + ", " + std::string(wordsOf<Counterbalance>[counter])
                                         + ", " + std::string(wordOf(kind)) + ", seed " + std::to_string(seed);
                QVERIFY2(e.move.motion && e.move.path,
                         (what + ": " + (e.problems.empty() ? "" : e.problems[0].subject + " " + e.problems[0].code))
                             .c_str());
                const Sums s = sampled(a, *e.move.motion, a.actuator.rotor());
                const DutyFigures& d = e.move.duty;
                const auto says = [&](const char* name, double mine, double theirs) {
                    return what + ": " + name + " " + std::to_string(mine) + " against " + std::to_string(theirs);
                };
                QVERIFY2(close(d.torqueRms, s.rms, 3e-3), says("rms", d.torqueRms, s.rms).c_str());
                QVERIFY2(close(d.torquePeak, s.peak, 1e-2), says("peak", d.torquePeak, s.peak).c_str());
                QVERIFY2(close(d.speedMax, s.speed, 2e-3), says("speed", d.speedMax, s.speed).c_str());
                QVERIFY2(close(d.energyMotoring, s.motoring, 5e-3, 1e-4 * (s.motoring + s.returned)),
                         says("motoring", d.energyMotoring, s.motoring).c_str());
                QVERIFY2(close(d.energyRegenerated, s.returned, 5e-3, 2e-3 * (s.motoring + s.returned)),
                         says("returned", d.energyRegenerated, s.returned).c_str());
                ++compared;
            }
        QCOMPARE(compared, 40);
    }

    /// Held at the worst place between the ends, not only at them: every position scanned, with every payload.
    void heldAtTheWorstPlace()
    {
        unsigned seed = 5000;
        int inside = 0;
        for (const auto type : mechanismTypes())
            for (const auto counter : {Counterbalance::None, Counterbalance::GasSpring}) {
                if (type == "linear-motor")
                    continue;
                Axis a = axis(++seed, type, counter, SegmentKind::Thirds, 0);
                a.load.travelLow = a.mechanism.rotary() ? -1.2 : 0; // an unbalance is level in between
                a.load.travelHigh = evaluate(demo(), a).move.motion->highest * 1.3;
                const Evaluation e = evaluate(demo(), a);
                QVERIFY2(e.load.chain && e.move.motion, type.data());
                const Plain plain = plainOf(a.mechanism);
                double ratio = 1, worst = 0, at = 0;
                for (const StageElement& s : a.stages)
                    ratio *= s.type == StageKind::Gearbox ? s.ratio : 1;
                const double low = std::min(*a.load.travelLow, e.move.motion->lowest),
                             high = std::max(*a.load.travelHigh, e.move.motion->highest);
                for (int k = 0; k <= 20000; ++k)
                    for (const double payload : {0.0, e.move.maxPayload}) {
                        Segment still;
                        still.payload = payload;
                        const double x = low + (high - low) * k / 20000,
                                     held = loadForce(a, plain, still, 0, {x, 0, 0, 0}, 0) * plain.radius / ratio;
                        if (std::abs(held) > std::abs(worst)) {
                            worst = held;
                            at = k / 20000.0;
                        }
                    }
                inside += at > 0.01 && at < 0.99;
                QVERIFY2(close(std::abs(value(e, "load.hold_torque")), std::abs(worst), 1e-5, 1e-9),
                         qPrintable(QStringLiteral("%1 %2 against %3")
                                        .arg(QString::fromStdString(std::string(type)))
                                        .arg(value(e, "load.hold_torque"))
                                        .arg(worst)));
            }
        QVERIFY2(inside >= 3, qPrintable(QString::number(inside))); // some are worst between the ends
    }

    /// Torque that hangs on the position, over many turns: nothing is aliased.
    void manyTurns()
    {
        unsigned seed = 900;
        for (const std::string type : {"rotary-table", "index-dial", "crank"})
            for (const double turns : {1.0, 7.3, 48.0, 160.0}) {
                const Axis a = axis(++seed, type, Counterbalance::None, SegmentKind::Trapezoid, turns);
                const Evaluation e = evaluate(demo(), a);
                const std::string what = type + " " + std::to_string(turns);
                QVERIFY2(e.move.path, what.c_str());
                const Sums s = sampled(a, *e.move.motion, a.actuator.rotor(), 400000);
                QVERIFY2(close(e.move.duty.torqueRms, s.rms, 2e-3), (what + " rms").c_str());
                QVERIFY2(close(e.move.duty.torquePeak, s.peak, 5e-3), (what + " peak").c_str());
                QVERIFY2(close(e.move.duty.energyMotoring, s.motoring, 5e-3), (what + " energy").c_str());
            }
    }

    /// One axis by four doors: evaluation, ranking, bus, and the fastest cycle judged again.
    void fourDoorsSayTheSame()
    {
        const auto& all = parts();
        int ranked = 0, timed = 0;
        unsigned seed = 2000;
        for (const auto type : mechanismTypes()) {
            if (type == "linear-motor")
                continue;
            const Axis a = axis(++seed, type, Counterbalance::None, SegmentKind::Trapezoid, 0);
            const Evaluation e = evaluate(demo(), a);
            QVERIFY(e.move.path);
            const auto best = rank(demo(), a, e, {all.motors, all.drives, {}, true, true, 2}).candidates;
            const bool one = otherStates(a, *e.move.motion).empty(); // a ranking tells the worst of all states
            for (std::size_t k = 0; one && k < best.size(); k += 23) {
                Axis with = a;
                chooseServo(with, all.motors[best[k].motor], all.drives[best[k].drive]);
                with.actuator.servo()->withBrake = a.actuator.withBrake() || loadHangs(a);
                const Evaluation chosen = evaluate(demo(), with);
                QVERIFY(chosen.match.servo);
                QVERIFY2(close(chosen.match.servo->tests[0].margin(), best[k].result.tests[0].margin(), 1e-9),
                         type.data());
                QVERIFY2(close(chosen.match.servo->torqueRms, best[k].result.torqueRms, 1e-9), type.data());
                ++ranked;
            }
            Machine machine = demo();
            machine.axes = {a};
            machine.shared = {};
            const MachineBus bus = machineBus(machine);
            QVERIFY2(bus.axes.size() == 1 && close(bus.axes[0].period, e.move.path->period, 1e-9), type.data());
            QVERIFY2(close(bus.resistorApart, e.match.bus.energyResistor, 1e-9), type.data());
            const auto quick = fastest(demo(), a, std::nullopt);
            if (!quick)
                continue;
            Axis faster = a;
            faster.cycle.segments = quick->segments;
            const Evaluation then = evaluate(demo(), faster);
            QVERIFY2(then.move.motion && close(then.move.motion->duration, quick->cycleAfter, 1e-6), type.data());
            QVERIFY2(close(then.move.duty.torqueRms, quick->rmsAfter, 1e-6), type.data());
            for (const Check& k : then.checks) // nothing fails that did not fail slowly too
                if (k.verdict == Verdict::Fail && (k.station == Station::Load || k.station == Station::Match))
                    QVERIFY2(std::ranges::find(quick->standing, k.title) != quick->standing.end(),
                             (std::string(type) + " " + k.id).c_str());
            ++timed;
        }
        QVERIFY2(ranked > 30 && timed > 6, qPrintable(QStringLiteral("%1 %2").arg(ranked).arg(timed)));
    }

    /// Two cycles of unequal length on one bus, walked sample by sample over the time after which both begin again.
    void unequalCyclesOnOneBus()
    {
        Axis a = axis(31, "ball-screw", Counterbalance::None, SegmentKind::Trapezoid, 0),
             b = axis(32, "rack", Counterbalance::None, SegmentKind::Thirds, 0);
        b.id = "T2";
        b.name = "second";
        for (auto* x : {&a, &b}) { // whole tenths of a second, three against two
            const double now = evaluate(demo(), *x).move.motion->duration, wanted = x == &a ? 6 : 4;
            QVERIFY(now < wanted);
            x->cycle.segments.back().time = *x->cycle.segments.back().time + wanted - now;
        }
        Machine machine = demo();
        machine.axes = {a, b};
        machine.shared = {};
        const MachineBus bus = machineBus(machine);
        QVERIFY(bus.meets && close(bus.cycle, 12, 1e-6));
        // energy: what is drawn less what is burnt in the resistor is what the shafts and the losses take
        double wanted = 0;
        for (const MachineBus::AxisPower& x : bus.axes) {
            double work = 0;
            for (std::size_t k = 0; k + 1 < x.time.size(); ++k)
                work += (x.power[k] + x.power[k + 1]) / 2 * (x.time[k + 1] - x.time[k]);
            const double span = x.time.back() - x.time.front();
            wanted += work / span * bus.cycle;
        }
        QVERIFY2(close(bus.fromMains - bus.toResistor, wanted, 0.02),
                 qPrintable(QStringLiteral("%1 %2").arg(bus.fromMains - bus.toResistor).arg(wanted)));
    }
};

QTEST_APPLESS_MAIN(TestEveryAxis)
#include "tst_everyaxis.moc"
