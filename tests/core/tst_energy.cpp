#include "core/stations/evaluate.h"
#include "core/working/root.h"
#include "store/machinejson.h"

#include <QTest>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <random>

using namespace ridge;

namespace {

constexpr double g = 9.80665;

/// Random axes: any mechanism with a constant radius, any counterbalance, slope, friction, up to three stages in any
/// order, and cycles of every kind of segment.
class Dice {
public:
    explicit Dice(unsigned seed)
        : m_random(seed)
    {}
    double between(double low, double high) { return std::uniform_real_distribution(low, high)(m_random); }
    int pick(int count) { return static_cast<int>(between(0, count - 1e-9)); }
    bool chance(double share) { return between(0, 1) < share; }

    Axis axis()
    {
        Axis a = *store::demoMachine().axis("A1");
        a.stages.clear();
        a.actuator.servo()->motor->measured.clear();
        load(a.load);
        mechanism(a.mechanism);
        const int stages = pick(4);
        for (int k = 0; k < stages; ++k)
            a.stages.push_back(stage());
        cycle(a.cycle);
        return a;
    }

private:
    void load(Load& l)
    {
        l = {};
        l.moving = between(2, 60);
        l.incline = chance(0.5) ? between(-1.5, 1.5) : 0;
        l.friction = between(0, 0.1);
        l.coulomb = between(0, 40);
        l.viscous = between(0, 30);
        switch (pick(4)) {
        case 0: break;
        case 1:
            l.counterbalance = Counterbalance::Counterweight;
            l.counterMass = between(1, 30);
            l.counterReeving = chance(0.5) ? 1 : 2;
            break;
        case 2:
            l.counterbalance = Counterbalance::ConstantForce;
            l.constantForce = between(-100, 200);
            break;
        default:
            l.counterbalance = Counterbalance::GasSpring;
            l.springForce = between(50, 200);
            l.springStroke = 4;
            l.springCount = 1;
            l.springAtZero = 2;
            l.springFriction = between(0, 10);
        }
    }
    void mechanism(Mechanism& m)
    {
        m = {};
        switch (pick(4)) {
        case 0: {
            auto& screw = m.become<BallScrew>();
            screw.lead = between(0.005, 0.04);
            screw.diameter = 0.025;
            screw.length = 1.0;
            screw.efficiency = between(0.85, 0.97);
            screw.backEfficiency = between(0.7, 0.95);
            screw.drag = between(0, 0.2);
            break;
        }
        case 1: {
            auto& belt = m.become<ToothedBelt>();
            belt.teeth = 24;
            belt.pitch = 0.005;
            belt.efficiency = between(0.9, 0.99);
            belt.pulleyInertia = between(0, 1e-3);
            belt.drag = between(0, 0.3);
            break;
        }
        case 2: {
            auto& rack = m.become<Rack>();
            rack.module = 0.002;
            rack.teeth = 20;
            rack.efficiency = between(0.9, 0.99);
            break;
        }
        default: {
            auto& hoist = m.become<HoistDrum>();
            hoist.drum = 0.1;
            hoist.rope = 0.005;
            hoist.falls = 1 + pick(4);
            hoist.sheaveEfficiency = between(0.95, 1);
            hoist.drumInertia = between(0, 0.01);
        }
        }
    }
    StageElement stage()
    {
        StageElement s;
        s.inertia = between(0, 3e-4);
        if (chance(0.5)) {
            s.type = StageKind::Gearbox;
            s.ratio = (chance(0.2) ? -1 : 1) * between(1.5, 8);
            s.efficiency = between(0.85, 0.99);
            s.drag = between(0, 0.05);
        }
        return s;
    }
    void cycle(CycleSettings& c)
    {
        c = {};
        c.start = between(-0.2, 0.2);
        const double stroke = between(0.2, 0.8);
        for (const double way : {1.0, -1.0}) {
            Segment s;
            static constexpr std::array kinds{SegmentKind::Trapezoid, SegmentKind::Triangle, SegmentKind::Thirds,
                                              SegmentKind::JerkLimited, SegmentKind::Cam};
            s.kind = kinds[static_cast<std::size_t>(pick(5))];
            s.distance = way * stroke;
            if (s.kind == SegmentKind::Cam || s.kind == SegmentKind::Thirds || s.kind == SegmentKind::Triangle)
                s.time = between(0.4, 1.2);
            else {
                s.speed = between(0.3, 1.5);
                s.acceleration = between(2, 8);
            }
            if (s.kind == SegmentKind::JerkLimited)
                s.jerk = between(20, 200);
            s.law = chance(0.5) ? CamLaw::ModifiedSine : CamLaw::Poly345;
            s.payload = between(0, 10);
            s.force = between(-80, 80);
            c.segments.push_back(s);
            Segment rest;
            rest.kind = SegmentKind::Dwell;
            rest.time = between(0.1, 0.5);
            rest.force = between(-50, 50);
            c.segments.push_back(rest);
        }
    }
    std::mt19937 m_random;
};

/// What the shaft does, in steps of time and from the equations of motion written down anew.
struct Stepped {
    double rms = 0, peak = 0, motoring = 0, regenerated = 0, top = 0;
    double lost = 0;      ///< in friction, drag, seals and stages
    double stored = 0;    ///< gain of potential energy and work on process and counterbalance
    double leastLoss = 0; ///< smallest momentary loss of any stage [W]
};
Stepped stepThrough(const Axis& a, const Motion& motion, double radius, double forward, double backward,
                    double shaftInertia, double shaftDrag, double rotor)
{
    Stepped s;
    double squares = 0;
    const Load& l = a.load;
    for (const Phase& phase : motion.phases) {
        const Segment& seg = a.cycle.segments[static_cast<std::size_t>(phase.segment)];
        const int steps = 4000, way = phase.way;
        const double h = phase.duration / steps, m = *l.moving + seg.payload;
        for (int k = 0; k < steps; ++k) {
            const MotionPoint p = motionAt(phase, (k + 0.5) * h);
            double counter = 0, rolling = 0, rub = l.coulomb + l.friction * m * g * std::abs(std::cos(l.incline));
            if (l.counterbalance == Counterbalance::Counterweight) {
                counter = l.counterMass * g * l.counterReeving;
                rolling = l.counterMass * l.counterReeving * l.counterReeving;
            } else if (l.counterbalance == Counterbalance::ConstantForce) {
                counter = l.constantForce;
            } else if (l.counterbalance == Counterbalance::GasSpring) {
                counter = l.springForce * (1 + (l.springRatio - 1) * (l.springAtZero - p.position) / l.springStroke);
                rub += l.springFriction;
            }
            const double still = m * g * std::sin(l.incline) + seg.force - counter,
                         rubbing = way * rub + l.viscous * p.speed;
            const double force = (m + rolling) * p.acceleration + still + rubbing;
            s.stored += still * p.speed * h;
            s.lost += rubbing * p.speed * h;
            double torque = force * radius, speed = p.speed / radius, acceleration = p.acceleration / radius;
            const auto through = [&](double ratio, double eta, double etaBack, double inertia, double drag) {
                const double in = torque * speed;
                const double out = torque / ratio * (in > 0 ? 1 / eta : in < 0 ? etaBack : 1);
                speed *= ratio;
                acceleration *= ratio;
                const double loss = out * speed - in;
                s.leastLoss = std::min(s.leastLoss, loss);
                const double turn = way == 0 ? 0 : speed > 0 ? 1 : -1;
                torque = out + inertia * acceleration + turn * drag;
                s.lost += (loss + turn * drag * speed) * h;
            };
            through(1, forward, backward, shaftInertia, shaftDrag);
            for (const StageElement& e : a.stages)
                through(e.type == StageKind::Gearbox ? e.ratio : 1, e.type == StageKind::Gearbox ? e.efficiency : 1,
                        e.type == StageKind::Gearbox ? e.efficiency : 1, e.inertia, e.drag);
            torque += rotor * acceleration;
            squares += torque * torque * h;
            s.peak = std::max(s.peak, std::abs(torque));
            s.top = std::max(s.top, std::abs(speed));
            (torque * speed > 0 ? s.motoring : s.regenerated) += std::abs(torque * speed) * h;
        }
    }
    s.rms = std::sqrt(squares / motion.duration);
    return s;
}

bool near(double a, double b, double relative, double absolute)
{
    return std::abs(a - b) <= relative * std::max(std::abs(a), std::abs(b)) + absolute;
}

} // namespace

/// Closed forms against a plain integration in time, and the balance of energy, over random axes and cycles.
class TestEnergy : public QObject {
    Q_OBJECT

private Q_SLOTS:
    /// Roots known from textbooks: Wallis' x³ - 2x - 5, and the fixed point of the cosine; a flat and a steep one.
    void rootsAreFound()
    {
        QVERIFY(std::abs(rootIn([](double x) { return x * x * x - 2 * x - 5; }, 2, 3) - 2.0945514815423265) < 1e-12);
        QVERIFY(std::abs(rootIn([](double x) { return std::cos(x) - x; }, 0, 1) - 0.7390851332151607) < 1e-12);
        QVERIFY(std::abs(rootIn([](double x) { return std::exp(50 * x) - 2; }, -1, 1) - std::log(2.0) / 50) < 1e-12);
        int calls = 0;
        const double tenth = rootIn(
            [&calls](double x) {
                ++calls;
                return std::pow(x, 9) - 1e-9;
            },
            0, 1);
        QVERIFY(std::abs(tenth - 0.1) < 1e-9);
        QVERIFY2(calls < 150, qPrintable(QString::number(calls)));
        QCOMPARE(rootIn([](double x) { return x; }, 0, 1), 0.0); // it is an end
        QCOMPARE(rootIn([](double x) { return x - 1; }, 0, 1), 1.0);
        QCOMPARE(rootIn([](double x) { return x + 1; }, 0, 1), 1.0); // there is none: the second end
    }

    void closedFormsAgreeWithTime_data()
    {
        QTest::addColumn<int>("seed");
        for (int seed = 1; seed <= 60; ++seed)
            QTest::addRow("axis %d", seed) << seed;
    }
    void closedFormsAgreeWithTime()
    {
        QFETCH(int, seed);
        Dice dice(static_cast<unsigned>(seed));
        const Axis a = dice.axis();
        const Evaluation e = evaluate(store::demoMachine(), a, {.sizingOnly = true});
        for (const Error& p : e.problems)
            QFAIL((p.subject + ": " + messageFor(p)).c_str());
        QVERIFY(e.move.path && e.load.chain && e.match.servo);
        const double rotor = a.actuator.rotor();
        const Stepped s = stepThrough(a, *e.move.motion, e.load.chain->radius, e.load.chain->forward,
                                      e.load.chain->backward, e.load.chain->inertia, e.load.chain->drag, rotor);
        const auto words = [&](const char* what, double closed, double stepped) {
            return qPrintable(
                QStringLiteral("%1 %2: %3 against %4")
                    .arg(QString::fromStdString(std::string(mechanismType(a.mechanism))), QString::fromLatin1(what))
                    .arg(closed)
                    .arg(stepped));
        };
        QVERIFY2(near(e.move.duty.torqueRms, s.rms, 1e-3, 1e-6), words("rms", e.move.duty.torqueRms, s.rms));
        QVERIFY2(near(e.move.duty.torquePeak, s.peak, 2e-3, 1e-6), words("peak", e.move.duty.torquePeak, s.peak));
        QVERIFY2(near(e.move.duty.speedMax, s.top, 1e-3, 1e-6), words("top speed", e.move.duty.speedMax, s.top));
        const double scale = s.motoring + s.regenerated;
        QVERIFY2(near(e.move.duty.energyMotoring, s.motoring, 2e-3, 1e-3 * scale),
                 words("motoring", e.move.duty.energyMotoring, s.motoring));
        QVERIFY2(near(e.move.duty.energyRegenerated, s.regenerated, 2e-3, 1e-3 * scale),
                 words("regenerated", e.move.duty.energyRegenerated, s.regenerated));
        // energy in = work done + losses; kinetic energy is back where it began (every move ends at rest)
        QVERIFY2(near(s.motoring - s.regenerated, s.stored + s.lost, 0, 2e-3 * scale),
                 words("balance", s.motoring - s.regenerated, s.stored + s.lost));
        QVERIFY2(near(e.move.duty.energyMotoring - e.move.duty.energyRegenerated, s.stored + s.lost, 0, 2e-3 * scale),
                 words("balance of the closed form", e.move.duty.energyMotoring - e.move.duty.energyRegenerated,
                       s.stored + s.lost));
        QVERIFY2(s.leastLoss >= -1e-9, "a stage gains energy");
    }

    /// Half the time: an axis of inertia alone needs four times the torque (second law).
    void timeCountsSquared()
    {
        Dice dice(99);
        for (int n = 0; n < 20; ++n) {
            Axis a = dice.axis();
            Load pure;
            pure.moving = a.load.moving;
            a.load = pure;
            if (auto* screw = std::get_if<BallScrew>(&a.mechanism.kind)) {
                screw->drag = 0;
                screw->efficiency = 1;
                screw->backEfficiency = 1;
            } else if (auto* belt = std::get_if<ToothedBelt>(&a.mechanism.kind)) {
                belt->drag = 0;
                belt->efficiency = 1;
            } else if (auto* rack = std::get_if<Rack>(&a.mechanism.kind)) {
                rack->efficiency = 1;
            } else if (auto* hoist = std::get_if<HoistDrum>(&a.mechanism.kind)) {
                hoist->sheaveEfficiency = 1;
            }
            for (StageElement& s : a.stages) {
                s.efficiency = 1;
                s.drag = 0;
            }
            Segment there;
            there.kind = SegmentKind::Thirds;
            there.distance = 0.5;
            there.time = 0.8;
            Segment back = there;
            back.distance = -0.5;
            a.cycle.segments = {there, back};
            const double slow = evaluate(store::demoMachine(), a).move.duty.torqueRms;
            a.cycle.segments[0].time = a.cycle.segments[1].time = 0.4;
            const Evaluation fast = evaluate(store::demoMachine(), a);
            QVERIFY(near(fast.move.duty.torqueRms, 4 * slow, 1e-9, 0));
            QVERIFY(near(fast.move.duty.energyMotoring, fast.move.duty.energyRegenerated, 1e-9,
                         1e-12)); // what is taken comes back
            // momentum: the mean torque of a closed cycle of inertia is zero, so largest and smallest are opposite
            QVERIFY(near(fast.move.duty.torqueMax, -fast.move.duty.torqueMin, 1e-9, 0));
        }
    }

    /// A dwell with the brake closed costs the motor nothing; open, it holds the static torque.
    void theBrakeTakesTheDwell()
    {
        Axis a = *store::demoMachine().axis("A1");
        const Evaluation open = evaluate(store::demoMachine(), a);
        for (Segment& s : a.cycle.segments)
            s.brakeClosed = s.standing();
        const Evaluation closed = evaluate(store::demoMachine(), a);
        QVERIFY(closed.move.duty.torqueRms < open.move.duty.torqueRms);
        QVERIFY(near(closed.move.duty.energyMotoring, open.move.duty.energyMotoring, 1e-9,
                     1e-9)); // nothing moves in a dwell
        QVERIFY(near(closed.move.duty.torquePeak, open.move.duty.torquePeak, 1e-9, 0));
    }
};

QTEST_APPLESS_MAIN(TestEnergy)
#include "tst_energy.moc"
