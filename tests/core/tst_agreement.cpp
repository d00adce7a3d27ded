#include "core/mechanics/stage.h"
#include "core/stations/candidates.h"
#include "core/stations/evaluate.h"
#include "core/stations/machinebus.h"
#include "store/catalogue.h"
#include "store/machinejson.h"

#include <QTest>

#include <cmath>
#include <random>

using namespace ridge;

namespace {

/// Plain axes of every kind of chain, made by chance, with a load and a cycle that are possible.
class AnyAxis {
public:
    explicit AnyAxis(unsigned seed)
        : m_random(seed)
    {}
    double between(double low, double high)
    {
        return low * std::pow(high / low, std::uniform_real_distribution(0.0, 1.0)(m_random));
    }
    bool toss() { return m_random() % 2 == 0; }

    Axis make()
    {
        Axis a = store::demoMachine().axes[0];
        a.load = {};
        a.stages.clear();
        a.cycle = {};
        Mechanism& m = a.mechanism = {};
        switch (m_random() % 5) {
        case 0: {
            auto& screw = m.become<BallScrew>();
            screw.lead = between(0.004, 0.04);
            screw.diameter = between(0.012, 0.04);
            screw.length = between(0.3, 1.5);
            screw.efficiency = between(0.7, 0.95);
            screw.drag = between(0.01, 0.2);
            break;
        }
        case 1: {
            auto& belt = m.become<ToothedBelt>();
            belt.teeth = std::round(between(16, 60));
            belt.pitch = toss() ? 0.005 : 0.008;
            belt.pulleyInertia = between(1e-5, 1e-3);
            belt.efficiency = between(0.85, 0.98);
            break;
        }
        case 2: {
            auto& rack = m.become<Rack>();
            rack.module = 0.002;
            rack.teeth = std::round(between(18, 40));
            rack.pinionInertia = between(1e-5, 1e-3);
            break;
        }
        case 3: {
            auto& table = m.become<RotaryTable>();
            table.efficiency = between(0.6, 1);
            table.inertia = between(1e-4, 1e-2);
            break;
        }
        default: m = *mechanismOf("direct"); break;
        }
        const bool rotary = m.rotary();
        a.load.moving = rotary ? between(1e-3, 0.3) : between(2, 80);
        a.load.coulomb = rotary ? between(0.05, 2) : between(2, 60);
        a.load.viscous = toss() ? 0 : rotary ? between(1e-3, 0.05) : between(1, 30);
        if (!rotary) {
            a.load.incline = toss() ? 0 : between(0.1, pi / 2);
            a.load.friction = between(0.002, 0.1);
        }
        if (toss()) {
            StageElement gear;
            gear.type = StageKind::Gearbox;
            gear.ratio = between(2, 12);
            gear.efficiency = between(0.8, 0.97);
            gear.inertia = between(1e-6, 1e-4);
            a.stages.push_back(gear);
        }
        const double way = rotary ? between(0.5, 6) : between(0.05, 0.6), time = between(0.4, 2);
        for (const double sign : {1.0, -1.0}) {
            Segment s;
            s.kind = toss() ? SegmentKind::Trapezoid : SegmentKind::Thirds;
            s.distance = sign * way;
            s.time = time;
            if (s.kind == SegmentKind::Trapezoid)
                s.acceleration = 8 * way / (time * time);
            s.payload = sign > 0 && !rotary ? between(0.5, 10) : 0;
            a.cycle.segments.push_back(s);
            Segment rest;
            rest.kind = SegmentKind::Dwell;
            rest.time = between(0.1, 1);
            a.cycle.segments.push_back(rest);
        }
        return a;
    }

private:
    std::mt19937 m_random;
};

/// The equation of motion of a chain, written again and sampled: no shared code but the motion's own positions.
struct Sampled {
    double peak = 0, rms = 0, speed = 0, motoring = 0, returned = 0;
};
Sampled sampled(const Axis& a, const Motion& motion, double rotor)
{
    const Mechanism& m = a.mechanism;
    double radius = 1, own = 0, forward = 1, backward = 1, drag = 0;
    if (const auto* screw = m.as<BallScrew>()) {
        radius = *screw->lead / (2 * pi);
        own = 7850 * pi / 32 * std::pow(*screw->diameter, 4) * *screw->length;
        forward = screw->efficiency;
        backward = 2 - 1 / forward;
        drag = screw->drag;
    } else if (const auto* belt = m.as<ToothedBelt>()) {
        radius = *belt->teeth * *belt->pitch / (2 * pi);
        own = belt->pulleyInertia;
        forward = backward = belt->efficiency;
    } else if (const auto* rack = m.as<Rack>()) {
        radius = *rack->module * *rack->teeth / 2;
        own = rack->pinionInertia;
        forward = backward = rack->efficiency;
    } else if (const auto* table = m.as<RotaryTable>()) {
        own = table->inertia;
        forward = backward = table->efficiency;
    }
    const StageElement* gear = a.stages.empty() ? nullptr : &a.stages.front();
    const double ratio = gear ? gear->ratio : 1, g = 9.80665;
    const auto through = [](double torque, double way, double i, double eta, double back) {
        return torque / i * (torque * way > 0 ? 1 / eta : torque * way < 0 ? back : 1);
    };
    Sampled out;
    const int n = 40000;
    const double period = motion.duration, dt = period / n;
    double squares = 0;
    for (int k = 0; k < n; ++k) {
        const double t = (k + 0.5) * dt;
        const MotionPoint p = motion.at(t);
        double ends = 0, payload = 0;
        for (const Segment& s : a.cycle.segments) {
            ends += s.time.value_or(0);
            if (t < ends) {
                payload = s.payload;
                break;
            }
        }
        const double way = p.speed > 0 ? 1 : p.speed < 0 ? -1 : 0, mass = *a.load.moving + payload;
        double force = mass * p.acceleration + a.load.viscous * p.speed + way * a.load.coulomb;
        if (!m.rotary())
            force += mass * g * std::sin(a.load.incline) + way * a.load.friction * mass * g * std::cos(a.load.incline);
        double torque = through(force * radius, way, 1, forward, backward);
        torque += own * p.acceleration / radius + way * drag;
        const double shaft = p.speed / radius * ratio, alpha = p.acceleration / radius * ratio;
        if (gear)
            torque = through(torque, way, ratio, gear->efficiency, gear->efficiency) + gear->inertia * alpha;
        torque += rotor * alpha;
        squares += torque * torque * dt;
        out.peak = std::max(out.peak, std::abs(torque));
        out.speed = std::max(out.speed, std::abs(shaft));
        (torque * shaft > 0 ? out.motoring : out.returned) += std::abs(torque * shaft) * dt;
    }
    out.rms = std::sqrt(squares / period);
    return out;
}

bool near(double a, double b, double relative)
{
    return std::abs(a - b) <= relative * std::max(std::abs(a), std::abs(b)) + 1e-9;
}

} // namespace

/// Random axes. What the stations compute exactly agrees with a plain sampled equation of motion, and the ranking, the
/// bus and the evaluation say the same of one axis.
class TestAgreement : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void evaluationAndSampledEquation()
    {
        const Machine& machine = store::demoMachine();
        int compared = 0;
        for (unsigned seed = 1; seed <= 200; ++seed) {
            const Axis a = AnyAxis(seed).make();
            const Evaluation e = evaluate(machine, a);
            const std::string what = "seed " + std::to_string(seed) + ", " + std::string(mechanismType(a.mechanism));
            QVERIFY2(e.problems.empty(), (what + ": " + (e.problems.empty() ? "" : e.problems[0].subject)).c_str());
            QVERIFY2(e.move.motion && e.move.path, what.c_str());
            const double rotor = a.actuator.rotor();
            const Sampled s = sampled(a, *e.move.motion, rotor);
            const auto says = [&](const char* name, double mine, double theirs) {
                return what + ": " + name + " " + std::to_string(mine) + " against " + std::to_string(theirs);
            };
            QVERIFY2(near(e.move.duty.torqueRms, s.rms, 2e-3), says("rms", e.move.duty.torqueRms, s.rms).c_str());
            QVERIFY2(near(e.move.duty.torquePeak, s.peak, 5e-3), says("peak", e.move.duty.torquePeak, s.peak).c_str());
            QVERIFY2(near(e.move.duty.speedMax, s.speed, 1e-3), says("speed", e.move.duty.speedMax, s.speed).c_str());
            QVERIFY2(near(e.move.duty.energyMotoring, s.motoring, 5e-3),
                     says("motoring", e.move.duty.energyMotoring, s.motoring).c_str());
            QVERIFY2(std::abs(e.move.duty.energyRegenerated - s.returned) <= 5e-3 * s.motoring + 1e-6,
                     says("returned", e.move.duty.energyRegenerated, s.returned).c_str());
            ++compared;
        }
        QCOMPARE(compared, 200);
    }

    void rankingAndEvaluation()
    {
        const auto& parts = store::shippedCatalogue();
        int compared = 0;
        for (unsigned seed = 1; seed <= 25; ++seed) {
            const Machine& machine = store::demoMachine();
            Axis a = AnyAxis(seed).make();
            a.actuator.servo()->withBrake = false;
            const Evaluation e = evaluate(machine, a);
            const auto ranked = rank(machine, a, e, {parts.motors, parts.drives}).candidates;
            for (std::size_t k = 0; k < ranked.size(); k += 37) {
                const Candidate& c = ranked[k];
                chooseServo(a, parts.motors[c.motor], parts.drives[c.drive]);
                const Evaluation chosen = evaluate(machine, a);
                QVERIFY(chosen.match.servo);
                const std::string what = "seed " + std::to_string(seed) + ", " + a.actuator.motor()->name + " with "
                                         + a.actuator.drive()->name;
                QVERIFY2(near(chosen.match.servo->torqueRms, c.result.torqueRms, 1e-9), what.c_str());
                QVERIFY2(near(chosen.match.servo->torquePeak, c.result.torquePeak, 1e-9), what.c_str());
                for (int t = 0; t < matchTestCount; ++t) {
                    if (static_cast<MatchTest>(t) == MatchTest::BrakeHolding)
                        continue; // a check of its own in the evaluation
                    const double mine = chosen.match.servo->tests[static_cast<std::size_t>(t)].margin(),
                                 theirs = c.result.tests[static_cast<std::size_t>(t)].margin();
                    QVERIFY2(near(mine, theirs, 1e-9),
                             (what + ": " + std::string(matchTestKey(static_cast<MatchTest>(t))) + " "
                              + std::to_string(mine) + " against " + std::to_string(theirs))
                                 .c_str());
                }
                const bool brakeFails = c.result.tests[static_cast<std::size_t>(MatchTest::BrakeHolding)].margin() < 0;
                const Check* holding = chosen.check("match.brake_holding");
                QVERIFY2(!brakeFails || (holding && holding->verdict == Verdict::Fail), what.c_str());
                QVERIFY2((chosen.match.servo->passes() && !brakeFails) == c.result.passes(), what.c_str());
                ++compared;
            }
        }
        QVERIFY2(compared > 100, qPrintable(QString::number(compared)));
    }

    /// One axis alone on its bus takes what its own evaluation says; a second one that only rests changes nothing.
    void busAndEvaluation()
    {
        int compared = 0;
        for (unsigned seed = 1; seed <= 40; ++seed) {
            Machine machine = store::demoMachine();
            Axis a = AnyAxis(seed).make();
            machine.axes = {a};
            machine.shared = {};
            const MachineBus alone = machineBus(machine);
            if (alone.axes.empty())
                continue;
            const Evaluation e = evaluate(machine, a);
            QVERIFY2(near(alone.axes[0].period, e.move.path->period, 1e-9),
                     std::string(mechanismType(a.mechanism)).c_str());
            QVERIFY(alone.fromMains >= 0 && alone.toResistor >= 0 && alone.peakReturned >= 0);
            QVERIFY(near(alone.resistorApart, e.match.bus.energyResistor, 1e-9));
            QVERIFY(alone.toResistor <= e.move.duty.energyRegenerated + 1e-9); // no more than comes back at the shaft
            QVERIFY(alone.fromMains
                    >= e.move.duty.energyMotoring - e.move.duty.energyRegenerated - 1e-9); // losses come on top
            ++compared;
        }
        QVERIFY2(compared > 20, qPrintable(QString::number(compared)));
    }

    /// A site that cannot be is told and computed with by nobody.
    void aSiteThatCannotBe()
    {
        Machine machine = store::demoMachine();
        const Axis& a = machine.axes[0];
        QVERIFY(siteProblems(machine.site).empty() && refusedValues(machine, a).empty());
        machine.site.ambient = 20; // kelvin
        QCOMPARE(refusedValues(machine, a).size(), std::size_t{1});
        QCOMPARE(refusedValues(machine, a)[0].subject, std::string("site.ambient"));
        const Evaluation e = evaluate(machine, a);
        QCOMPARE(e.problems.size(), std::size_t{1});
        QVERIFY(!e.match.servo && !e.result("match.torque_rms"));
        machine.site.ambient = 308.15;
        QVERIFY(evaluate(machine, a).match.servo);
    }
};

QTEST_GUILESS_MAIN(TestAgreement)
#include "tst_agreement.moc"
