#include "core/mechanics/stage.h"
#include "core/motion/cycle.h"
#include "core/sizing/duty.h"
#include "core/stations/gearcompare.h"
#include "core/stations/machineplan.h"
#include "core/stations/measured.h"
#include "support/sizing.h"
#include "support/story.h"

#include <QTest>

#include <array>
#include <cmath>

using namespace ridge;
using namespace sizing;

namespace {
const Check* in(const std::vector<Check>& checks, const std::string& id)
{
    const auto it = std::ranges::find(checks, id, &Check::id);
    return it == checks.end() ? nullptr : &*it;
}
} // namespace

/// What was measured of an axis beside what is planned, gearboxes in and out, modes along the travel, usual slips, what
/// the process permits, forces over the way, rolls and cranks, and what axes share.
class TestMeasured : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // ------------------------------------------------------------ measured beside planned

    void measuredStandsBesidePlannedUntilAdopted()
    {
        Story story;
        Axis& a = story.axis();
        const auto rows = [&] { return measuredRows(a, story.evaluated(), story.evidence()); };
        const double planned = *rows()[0].planned;
        QVERIFY(!rows()[0].measured && !check(story.evaluated(), "load.measured_inertia"));
        story.add(AxisMeasured{.inertia = 1.6 * planned, .friction = 0.4, .low = -0.01, .how = "run-out, trace 3"});
        QCOMPARE(verdict(story.evaluated(), "load.measured_inertia"), Verdict::Fail); // above 1.5 times planned
        QVERIFY(near(*rows()[0].deviation(), 0.6));
        QCOMPARE(*rows()[0].planned, planned); // nothing is adopted by itself
        story.add(AxisMeasured{.inertia = 1.3 * planned, .how = "again, with the tool off"});
        const Evaluation e = story.evaluated();
        QCOMPARE(verdict(e, "load.measured_inertia"), Verdict::Watch);
        const auto axis = adopted(a, e, rows()[0]);
        QVERIFY(axis);
        a = *axis;
        QVERIFY(near(*rows()[0].planned, 1.3 * planned, 1e-9)); // by the moving mass alone
        QVERIFY(a.load.moving > 0 && verdict(story.evaluated(), "load.measured_inertia") == Verdict::Ok);
        const auto rubs = adopted(a, story.evaluated(), rows()[1]);
        QVERIFY(rubs);
        a = *rubs;
        QVERIFY(near(*rows()[1].planned, 0.4, 1e-9));
        a = adopted(a, story.evaluated(), rows()[3]).value();
        QCOMPARE(*a.load.travelLow, -0.01);
    }

    void whatCannotBeAdopted()
    {
        Story story;
        Axis& a = story.axis();
        story.add(AxisMeasured{.inertia = 1e-4, .bare = true, .how = "bare motor"});
        story.add(AxisMeasured{.gravity = 0.5, .how = "mean of both ways"});
        auto rows = measuredRows(a, story.evaluated(), story.evidence());
        QVERIFY(rows[0].bare);
        QVERIFY(near(*rows[0].planned, a.actuator.rotor())); // the rotor alone is compared
        QCOMPARE(adopted(a, story.evaluated(), rows[0]).error().code, std::string("bare"));
        QVERIFY(!check(story.evaluated(), "load.measured_inertia"));
        // gravity of a mass on springs follows from other entries; a constant counterforce takes it
        QCOMPARE(adopted(a, story.evaluated(), rows[2]).error().code, std::string("follows"));
        a.load.counterbalance = Counterbalance::ConstantForce;
        a.load.constantForce = 100;
        rows = measuredRows(a, story.evaluated(), story.evidence());
        a = adopted(a, story.evaluated(), rows[2]).value();
        rows = measuredRows(a, story.evaluated(), story.evidence());
        QVERIFY(near(*rows[2].planned, 0.5, 1e-9));
        QCOMPARE(measuredProblem({.how = " "})->subject, std::string("how"));
        QCOMPARE(measuredProblem({.how = "x"})->code, std::string("missing"));
        QCOMPARE(measuredProblem({.inertia = -1, .how = "x"})->code, std::string("not-positive"));
        QCOMPARE(measuredProblem({.friction = std::nan(""), .how = "x"})->code, std::string("not-a-number"));
        QCOMPARE(measuredProblem({.low = 1, .high = 0, .how = "x"})->subject, std::string("high"));
        QVERIFY(!measuredProblem({.low = 0, .high = 1, .how = "x"}));
    }

    // ------------------------------------------------------------ gearbox, modes

    void aGearboxInOrOut()
    {
        const Axis& a = axisOf("A2");
        const auto lines = compareGears(demo(), a, withoutGearbox(a));
        const auto line = [&](std::string_view label) { return *std::ranges::find(lines, label, &GearLine::label); };
        const Axis bare = withoutGearbox(a);
        QVERIFY(std::ranges::none_of(bare.stages, [](const StageElement& s) { return s.type == StageKind::Gearbox; }));
        const double i = *line("Ratio of all stages").before;
        QVERIFY(i > 1 && near(*line("Ratio of all stages").after, 1));
        // by hand: all that lies beyond the gearbox by i², and its own inertia on top at the motor side
        double gear = 0, beyond = *line("Reflected inertia at the motor").after, coupling = 0;
        for (const StageElement& s : a.stages)
            (s.type == StageKind::Gearbox ? gear : coupling) += s.inertia;
        if (coupling == 0)
            QVERIFY(near(*line("Reflected inertia at the motor").before, beyond / (i * i) + gear, 1e-6));
        const double rotor = a.actuator.rotor();
        QVERIFY(near(*line("Inertia ratio").before, *line("Reflected inertia at the motor").before / rotor, 1e-9));
        QVERIFY(*line("Inertia ratio").after > *line("Inertia ratio").before);
        QVERIFY(near(*line("Top motor speed").before, i * *line("Top motor speed").after, 1e-9));
        QVERIFY(line("Lost motion at reversal").before && line("Anti-resonance").before && line("Resonance").before);
        QVERIFY(!line("Lost motion at reversal").after); // without the gearbox nothing of it is known
    }

    /// A belt's two strands as springs in parallel, a screw's free part: by hand at both ends and in the middle; Tune
    /// and the simulated axis swing at the same frequencies as Match says.
    void modesAlongTheTravel()
    {
        Axis a = axisOf("A2");
        auto& b = a.mechanism.become<ToothedBelt>();
        a.stages.clear();
        a.load.travelLow = 0;
        a.load.travelHigh = 1.2;
        b.specificStiffness = 2e5;
        b.spanTotal = 3.4;
        b.nearSpan = 0.25;
        for (const bool shrinks : {false, true}) {
            b.nearShrinks = shrinks;
            if (shrinks)
                b.nearSpan = 1.45;
            const Evaluation e = evaluate(demo(), a, {.working = true});
            QCOMPARE(falseWorking(e), QString());
            QCOMPARE(e.match.along.size(), std::size_t{3});
            const double mass = e.load.chain->loadInertia(e.move.maxPayload), r = e.load.chain->radius,
                         motor = a.actuator.rotor() + e.load.chain->inertia;
            for (const auto& at : e.match.along) {
                const double l = *b.nearSpan + (shrinks ? -1 : 1) * at.share * 1.2,
                             k = *b.specificStiffness * (1 / l + 1 / (*b.spanTotal - l)),
                             anti = std::sqrt(k / mass) / (2 * pi), free = anti * std::sqrt(1 + mass * r * r / motor);
                QVERIFY2(near(at.antiResonance, anti, 1e-9), qPrintable(QString::number(at.share)));
                QVERIFY2(near(at.resonance, free, 1e-9), qPrintable(QString::number(at.share)));
            }
        }
        // fixed-fixed screw, 4EA/L in the middle, nut in series (tuning a.3)
        Axis s = axisOf("A1");
        auto& screw = s.mechanism.become<BallScrew>();
        screw.ends = ScrewEnds::FixedFixed;
        s.load.travelLow = 0;
        s.load.travelHigh = 0.4;
        s.stages.clear();
        const Evaluation e = evaluate(demo(), s);
        QVERIFY(near(e.match.along[1].antiResonance, value(e, "match.anti_resonance"), 1e-9)); // softest in the middle
        const double mass = e.load.chain->loadInertia(e.move.maxPayload), d = *screw.rootDiameter,
                     whole = *screw.freeLength, steel = 206e9 * pi / 4 * d * d, turn = *screw.lead / (2 * pi);
        for (const auto& at : e.match.along) {
            const double x = (whole - 0.4) / 2 + at.share * 0.4,
                         give = 1 / screw.stiffness + x * (whole - x) / (whole * steel)
                                + turn * turn * 32 * x / (79e9 * pi * std::pow(d, 4));
            QVERIFY(near(at.antiResonance, std::sqrt(1 / (give * mass)) / (2 * pi), 1e-6));
        }
    }

    /// Match, Tune and the simulated axis: hit the axis that Tune simulates and count its swings.
    void oneTwoMassModel()
    {
        const Evaluation e = evaluate(demo(), axisOf("A1"));
        QVERIFY(e.match.masses && e.tune && e.tune->plant.twoMasses());
        const AxisPlant& p = e.tune->plant;
        QVERIFY(near(p.stiffness, e.match.masses->stiffness));
        QVERIFY(near(p.inertia - p.load, e.match.masses->motor));
        QVERIFY(e.tune->loop.plant.twoMass && near(e.tune->loop.plant.stiffness, p.stiffness));
        AxisPlant free = p;
        free.coulomb = free.breakaway = free.viscous = free.gravity = free.damping = 0;
        FixedStepAxis axis({}, free, {});
        axis.setMode(LoopMode::Off);
        axis.place(0, 1); // both masses run on; a blow to the load makes them swing against each other
        for (int k = 0; k < 32; ++k)
            axis.tick([](double) { return MotionDemand{}; }, 2.0);
        double last = axis.angle() - axis.loadAngle();
        std::vector<double> crossings;
        for (int k = 0; k < 16000 && crossings.size() < 41; ++k) {
            axis.tick([](double) { return MotionDemand{}; });
            const double twist = axis.angle() - axis.loadAngle();
            if (last < 0 && twist >= 0)
                crossings.push_back(k - twist / (twist - last));
            last = twist;
        }
        QCOMPARE(crossings.size(), std::size_t{41});
        const double found = 40 / ((crossings.back() - crossings.front()) / 16000);
        const double resonance = std::sqrt(p.stiffness * (1 / p.load + 1 / (p.inertia - p.load))) / (2 * pi);
        QVERIFY2(near(found, resonance, 3e-3), qPrintable(QStringLiteral("%1 %2").arg(found).arg(resonance)));
        // a bandwidth that the compliance does not carry is no plan
        Axis a = axisOf("A2");
        a.tune.bandwidth = 40;
        const Evaluation belt = evaluate(demo(), a);
        QCOMPARE(verdict(belt, "match.bandwidth"), Verdict::Fail);
        QCOMPARE(verdict(belt, "tune.margins"), Verdict::Fail);
    }

    // ------------------------------------------------------------ slips

    void slipsComeWithTheValueTheyWouldBe()
    {
        const auto would = [](const Evaluation& e, const char* id) {
            const Check* k = check(e, id);
            return k && k->verdict == Verdict::Watch ? std::get<Amount>(k->reason.terms.back()).value : std::nan("");
        };
        for (const char* id : {"A1", "A2", "A3", "A4", "A5", "A6"}) // the demo has none
            for (const Check& k : evaluate(demo(), axisOf(id)).checks)
                QVERIFY2(!k.id.starts_with("slip."), (std::string(id) + " " + k.id).c_str());
        Axis a = axisOf("A2"); // millimetres for metres
        a.load.travelLow.reset();
        a.load.travelHigh.reset();
        for (Segment& s : a.cycle.segments)
            if (s.distance) {
                s.distance = *s.distance * 1000;
                s.speed.reset();
                s.acceleration.reset();
                s.deceleration.reset();
                s.kind = SegmentKind::Thirds;
                s.time = 60;
            }
        const Evaluation far = evaluate(demo(), a);
        QVERIFY(std::abs(would(far, "slip.distance")) < 5);
        a = axisOf("A1"); // kg·cm² for kg·m²
        const double rotor = a.actuator.servo()->motor->inertia;
        a.actuator.servo()->motor->inertia = rotor * 1e4;
        QVERIFY(near(would(evaluate(demo(), a), "slip.rotor inertia"), a.actuator.rotor() * 1e-4, 1e-9));
        a = axisOf("A1"); // the pitch of a screw with two starts
        a.mechanism.become<BallScrew>().lead = 0.004;
        QVERIFY(near(would(evaluate(demo(), a), "slip.pitch"), 0.008));
        a = axisOf("A5"); // pole to pole for north to north
        a.actuator.servo()->motor->polePeriod = 0.016;
        QVERIFY(near(would(evaluate(demo(), a), "slip.magnet period"), 0.032));
        a = axisOf("A2"); // an outside diameter: a 5 mm pitch reckoned from 1.14 mm less
        auto& belt = a.mechanism.become<ToothedBelt>();
        belt.pitch = 0.005 - 1.14e-3 * pi / *belt.teeth;
        QVERIFY(near(would(evaluate(demo(), a), "slip.belt pitch"), 0.005));
        a = axisOf("A2"); // i² for i
        for (StageElement& s : a.stages)
            if (s.type == StageKind::Gearbox)
                s.ratio = 49;
        QVERIFY(near(would(evaluate(demo(), a), "slip.i_ratio"), 7));
    }

    // ------------------------------------------------------------ the process

    void theProcessPermitsWhatIsEntered()
    {
        Axis a = axisOf("A2");
        a.tune.followLimit.reset();
        a.tune.repeatability.reset();
        Evaluation e = evaluate(demo(), a);
        for (const char* id : {"move.permits_following", "move.permits_settling", "move.permits_evenness",
                               "move.permits_repeatability"}) {
            QVERIFY2(verdict(e, id) == Verdict::Unknown, id);
            QVERIFY2(check(e, id)->help.says("Enter it in Move"), id);
        }
        // by hand: v·((1-k)/Kp + Td) + a·(1-ka)/(w·Kp) and the lag of the load on its spring
        a.tune = {};
        a.tune.bandwidth = 5;
        a.tune.speedFeedforward = 0.9;
        a.tune.accelerationFeedforward = 0.8;
        a.tune.followLimit = 1e-3;
        a.tune.band = 1e-4;
        a.tune.settleLimit = 1;
        e = evaluate(demo(), a, {.working = true});
        const double w = 2 * pi * 5, kp = w / 5, v = e.move.motion->peakSpeed, acc = e.move.motion->peakAcceleration,
                     anti = 2 * pi * value(e, "match.anti_resonance");
        const double expected = v * (0.1 / kp + 2.5e-4) + acc * 0.2 / (w * kp) + acc / (anti * anti);
        QVERIFY(near(*check(e, "move.permits_following")->demand, expected, 1e-9));
        QCOMPARE(verdict(e, "move.permits_following"), Verdict::Watch); // planned gains; Tune judges what is captured
        QVERIFY(near(*check(e, "move.permits_settling")->demand, 16 / (2 * pi * 5)));
        QCOMPARE(falseWorking(e), QString());
        // the budget has it where the process works while it moves
        QVERIFY(!e.result("load.error_following") && near(value(e, "load.following"), expected, 1e-9));
        a.load.tolerance = 1e-3;
        const double standing = *check(evaluate(demo(), a), "load.accuracy")->demand;
        a.tune.worksMoving = true;
        const Evaluation moving = evaluate(demo(), a, {.working = true});
        QVERIFY(near(*check(moving, "load.accuracy")->demand, standing + expected, 1e-9));
        QCOMPARE(falseWorking(moving), QString());
        // repeatability: reversals half, random by squares, nothing of what is the same each time
        a.tune.repeatability = 1e-3;
        e = evaluate(demo(), a, {.working = true});
        const auto term = [&](const char* id) { return e.result(id) ? e.result(id)->value : 0.0; };
        const double scatter = (term("load.lost_motion") + term("load.error_friction")) / 2
                               + std::hypot(term("load.error_count"), term("load.error_band"));
        QVERIFY(scatter > 0 && near(*check(e, "move.permits_repeatability")->demand, scatter, 1e-9));
        a.load.leadError *= 10;
        QVERIFY(near(*check(evaluate(demo(), a), "move.permits_repeatability")->demand, scatter, 1e-9));
        QCOMPARE(falseWorking(e), QString());
    }

    // ------------------------------------------------------------ forces over the way

    /// A spring that is pressed: the force rises over the distance; work and rms by hand on a lossless axis.
    void aForceThatRisesOverTheDistance()
    {
        Axis a = bare("rack");
        a.mechanism.become<Rack>() = {.module = 0.002, .teeth = 20, .efficiency = 1};
        a.load.moving = 0;
        Segment s;
        s.kind = SegmentKind::Jog; // even speed but for ramps that weigh nothing
        s.speed = 0.1;
        s.acceleration = 1e4;
        s.time = 1;
        s.force = 0;
        s.forceEnd = 300;
        a.cycle.segments = {s};
        const Evaluation e = evaluate(demo(), a);
        QVERIFY(e.move.path);
        const double r = 0.02, x = e.move.motion->solved[0].distance;
        QVERIFY(near(e.move.duty.torquePeak, 300 * r, 1e-4));
        QVERIFY(near(e.move.duty.energyMotoring, 300 * x / 2, 1e-4)); // ½·F·s
        QVERIFY(near(e.move.duty.torqueRms, 300 * r / std::sqrt(3.0), 1e-3));
        // back it pushes: the same segment the other way gives the work again
        Segment back = s;
        back.speed = -0.1;
        back.force = 300;
        back.forceEnd = 0;
        a.cycle.segments = {s, back};
        const Evaluation both = evaluate(demo(), a);
        QVERIFY(near(both.move.duty.energyRegenerated, 300 * x / 2, 1e-4));
        s.kind = SegmentKind::Dwell;
        QCOMPARE(unusedValues(s).back(), std::string_view("forceEnd"));
    }

    /// The rod near a dead centre carries the whole inertia of the slide though the torque there is nothing: at even
    /// speed m·r·ω²·(1 + r/l) at the outer one.
    void theRodAtItsDeadCentre()
    {
        Axis a = bare("crank");
        auto& k = a.mechanism.become<CrankDrive>();
        k = {};
        k.radius = 0.05;
        k.rod = 0.2;
        k.slideMass = 4;
        k.rodForceLimit = 2000;
        Segment s;
        s.kind = SegmentKind::Jog;
        s.speed = 30;
        s.time = 1;
        s.acceleration = 3000;
        s.acceleration = 100;
        s.time = 2;
        a.cycle.segments = {s};
        Evaluation e = evaluate(demo(), a, {.working = true});
        const double inertia = 4 * 0.05 * 30 * 30 * (1 + 0.05 / 0.2);
        QVERIFY(near(value(e, "load.rod_force"), inertia, 2e-3));
        QCOMPARE(falseWorking(e), QString());
        QCOMPARE(verdict(e, "load.rod"), Verdict::Ok);
        k.slideForce = 1500; // helps the inertia at the outer dead centre: the slide is pressed outward
        e = evaluate(demo(), a);
        QVERIFY(value(e, "load.rod_force") > inertia);
        k.rodForceLimit = 100;
        QCOMPARE(verdict(evaluate(demo(), a), "load.rod"), Verdict::Fail);
        // work of a force that only resists going out: once a turn over the stroke
        k = {};
        k.radius = 0.05;
        k.rod = 0.2;
        k.slideForce = 100;
        k.slideForceBack = 0;
        a.cycle.segments.front().speed = 2 * pi;
        a.cycle.segments.front().acceleration = 1e5;
        a.cycle.segments.front().time = 10;
        e = evaluate(demo(), a);
        const double turns = e.move.motion->solved[0].distance / (2 * pi);
        QVERIFY2(near(e.move.duty.energyMotoring - e.move.duty.energyRegenerated, 100 * 0.1 * turns, 2e-3),
                 qPrintable(QString::number(e.move.duty.energyMotoring - e.move.duty.energyRegenerated)));
    }

    /// The rms over a whole roll by a thousand radii of equal length of web.
    void theWholeRoll()
    {
        Axis a = axisOf("A2");
        a.stages.clear();
        auto& w = a.mechanism.become<WinderReel>();
        w = {};
        w.core = 0.05;
        w.full = 0.3;
        w.thickness = 1e-4;
        w.width = 0.5;
        w.density = 800;
        w.tension = 60;
        w.taper = 0.3;
        a.load = {};
        a.load.moving = 0;
        const Evaluation e = evaluate(demo(), a, {.working = true});
        QVERIFY(e.result("match.torque_rms_roll"));
        double mean = 0;
        const int n = 1000;
        for (int k = 0; k < n; ++k) {
            Axis there = a;
            const double s = 0.05 * 0.05 + (0.3 * 0.3 - 0.05 * 0.05) * (k + 0.5) / n;
            there.mechanism.become<WinderReel>().radius = std::sqrt(s);
            const auto path = dutyPath(*buildChain(there), *e.move.motion, a.cycle.segments, a.actuator.rotor());
            const double rms = torqueRms(*path, a.actuator.rotor());
            mean += rms * rms / n;
        }
        QVERIFY2(near(value(e, "match.torque_rms_roll"), std::sqrt(mean), 1e-5),
                 qPrintable(QString::number(value(e, "match.torque_rms_roll") / std::sqrt(mean))));
        QCOMPARE(falseWorking(e), QString());
    }

    // ------------------------------------------------------------ what axes share

    void aHousingOfTwoAxes()
    {
        Machine m = demo();
        m.shared = {};
        m.shared.units.push_back({.name = "N1", .axes = {"A1", "A2"}});
        DriveUnit& u = m.shared.units[0];
        QCOMPARE(axisLetter(m, "A1"), std::string("A"));
        QCOMPARE(axisLetter(m, "A2"), std::string("B"));
        auto checks = machineChecks(m);
        QCOMPARE(in(checks, "machine.housing.current.N1")->verdict, Verdict::Unknown);
        const double one = value(evaluate(m, m.axes[0]), "match.current_rms"),
                     two = value(evaluate(m, m.axes[1]), "match.current_rms");
        u.current = (one + two) * 1.2;
        u.controlCurrent = 0.1;
        checks = machineChecks(m);
        QVERIFY(near(*in(checks, "machine.housing.current.N1")->demand, one + two, 1e-9));
        QCOMPARE(in(checks, "machine.housing.current.N1")->verdict, Verdict::Ok);
        QCOMPARE(in(checks, "machine.housing.control.N1")->verdict, Verdict::Fail); // the brake of A1
        QCOMPARE(in(checks, "machine.housing.torque_off.N1")->verdict, Verdict::Ok);
        u.torqueOffShared = true;
        u.current = (one + two) * 0.9;
        checks = machineChecks(m);
        QCOMPARE(in(checks, "machine.housing.current.N1")->verdict, Verdict::Fail);
        QCOMPARE(in(checks, "machine.housing.torque_off.N1")->verdict, Verdict::Watch);
        u.current = -1;
        QVERIFY(!sharedProblems(m).empty());
    }

    /// Nodes and metres that are left (TIA/EIA-485, CiA 301, ISO/IEC 11801, from memory).
    void networksHaveNodesAndMetresLeft()
    {
        Machine m = demo();
        m.shared = {};
        m.shared.networks = {
            {.name = "F1", .kind = NetworkKind::Serial, .axes = {"A1", "A2"}, .length = 300, .others = 30},
            {.name = "F2", .kind = NetworkKind::Can, .axes = {"A3"}, .bitRate = 1e6, .length = 26},
            {.name = "F3", .kind = NetworkKind::Ethernet, .axes = {"A4"}, .length = 90, .others = 500}};
        QVERIFY(sharedProblems(m).empty());
        auto checks = machineChecks(m);
        QCOMPARE(in(checks, "machine.network.nodes.F1")->verdict, Verdict::Ok); // 32 of 32
        QVERIFY(in(checks, "machine.network.nodes.F1")->reason.says("0 left"));
        QCOMPARE(in(checks, "machine.network.length.F2")->verdict, Verdict::Fail); // 25 m at 1 Mbit/s
        QCOMPARE(in(checks, "machine.network.length.F3")->verdict, Verdict::Ok);
        QVERIFY(!in(checks, "machine.network.nodes.F3")); // practically any
        m.shared.networks[0].others = 31;
        m.shared.networks[1].bitRate = 500e3;
        checks = machineChecks(m);
        QCOMPARE(in(checks, "machine.network.nodes.F1")->verdict, Verdict::Fail);
        QCOMPARE(in(checks, "machine.network.length.F2")->verdict, Verdict::Ok);
        m.shared.networks[0].unitLoad = 0.125;
        QCOMPARE(in(machineChecks(m), "machine.network.nodes.F1")->verdict, Verdict::Ok);
        m.shared.networks[1].axes = {"A1"};
        QCOMPARE(sharedProblems(m).front().code, std::string("twice")); // on two networks
    }
};

QTEST_APPLESS_MAIN(TestMeasured)
#include "tst_measured.moc"
