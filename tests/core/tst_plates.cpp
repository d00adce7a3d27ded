#include "core/drives/sheet.h"
#include "core/mechanics/stage.h"
#include "core/stations/candidates.h"
#include "core/stations/machinebus.h"
#include "core/stations/steps.h"
#include "support/sizing.h"

#include <QTest>

#include <array>
#include <cmath>
#include <numbers>

using namespace ridge;
using namespace sizing;

namespace {
bool found(const Evaluation& e, const char* rule)
{
    return std::ranges::find(e.wire.findings, rule, &Finding::rule) != e.wire.findings.end();
}
} // namespace

/// Motors and drives as their plates tell them, or do not: gaps, conventions, supplies, places for signals, turns of an
/// encoder, brakes, resistors, and how a frameless motor is put together.
class TestPlates : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // ------------------------------------------------------------ name plates

    void aGapIsUnknownAndNamed()
    {
        Axis a = axisOf("A2");
        const Evaluation whole = evaluate(demo(), a);
        a.actuator.servo()->motor->stallCurrent = 0;
        const Evaluation e = evaluate(demo(), a, {.working = true});
        const Check* plates = check(e, "match.plates");
        QVERIFY(plates && plates->verdict == Verdict::Unknown);
        QVERIFY(plates->reason.says("Stall current"));
        for (const char* id : {"match.short_time_torque", "match.drive_continuous", "match.drive_peak"}) {
            QVERIFY2(verdict(e, id) == Verdict::Unknown, id);
            QVERIFY2(check(e, id)->reason.says("Stall current"), id);
        }
        // what needs no current is judged as before, to the last digit
        for (const char* id : {"match.speed", "match.continuous_torque"}) {
            QVERIFY2(near(*check(e, id)->demand, *check(whole, id)->demand, 1e-15), id);
            QVERIFY2(near(*check(e, id)->capacity, *check(whole, id)->capacity, 1e-15), id);
        }
        QVERIFY(near(value(e, "match.torque_rms"), value(whole, "match.torque_rms"), 1e-15));
        QCOMPARE(falseWorking(e), QString());
        // nothing is invented: no current is shown, no gain planned, no parameter written; the wiring goes on
        QVERIFY(!e.result("match.current_rms") && !e.match.servo && !e.tune && e.set.parameters.empty());
        QVERIFY(!e.wire.plan().conductors.empty());
    }

    /// Every figure a plate may lack, one at a time: some check is unknown for it and no check turns better.
    void everyGapMakesSomethingUnknown()
    {
        const Evaluation whole = evaluate(demo(), axisOf("A2"));
        for (const Field& f : motorFields()) {
            if (!f.gap || f.key == "frame" || f.key == "mass" || f.key == "thermalResistance" || f.key == "ratedCurrent"
                || f.key == "voltageConstant" || f.key == "countsPerTurn")
                continue;
            Axis a = axisOf("A2");
            f.set(&*a.actuator.servo()->motor, std::nullopt);
            const Evaluation e = evaluate(demo(), a);
            QVERIFY2(e.problems.empty(), f.key.data());
            const Check* plates = check(e, "match.plates");
            QVERIFY2(plates && plates->reason.says(f.label), f.key.data());
            for (const Check& k : e.checks)
                if (k.verdict == Verdict::Ok && k.station == Station::Match)
                    QVERIFY2(verdict(whole, k.id.c_str()) == Verdict::Ok || k.id.starts_with("match.voltage"),
                             (std::string(f.key) + " " + k.id).c_str());
        }
    }

    void aMotorAndADriveWithoutPlatesGoOnToWire()
    {
        Axis a = axisOf("A2");
        ServoParts& p = *a.actuator.servo();
        p.motor = ServoMotor{};
        p.motor->name = "motor without a plate";
        p.motor->polePairs = 0;
        p.drive = ServoDrive{};
        p.drive->name = "drive without a plate";
        p.drive->switchingFrequency = p.drive->maxOutputFrequency = 0;
        const Evaluation e = evaluate(demo(), a);
        QVERIFY(e.problems.empty());
        for (const Check& k : e.checks)
            if (k.station == Station::Match && k.id != "command.loops") // where loops close no plate says
                QVERIFY2(k.verdict != Verdict::Ok, k.id.c_str());
        QVERIFY(!e.wire.plan().conductors.empty());
        QVERIFY(found(e, "W-MNS-01")); // its supply is not known: no power before it is
        QCOMPARE(verdict(e, "wire.plan"), Verdict::Fail);
    }

    /// 400 V part: 257 V; two of 200 V in series the same (common practice). A doubler spoils the rule.
    void capacitorsBoundTheSupply()
    {
        Axis a = axisOf("A2");
        a.actuator.servo()->drive->mainsHighest = 0;
        a.supply.capacitorRating = 400;
        Evaluation e = evaluate(demo(), a, {.working = true});
        QCOMPARE(verdict(e, "match.supply"), Verdict::Unknown); // is there a doubler?
        QVERIFY(found(e, "W-MNS-01"));
        a.supply.doubler = Asked::No;
        e = evaluate(demo(), a, {.working = true});
        QVERIFY(near(*check(e, "match.supply")->capacity, 257.13, 1e-4));
        QCOMPARE(verdict(e, "match.supply"), Verdict::Fail); // 400 V on this site
        QVERIFY(found(e, "W-MNS-15") && !found(e, "W-MNS-01"));
        QCOMPARE(falseWorking(e), QString());
        a.supply.capacitorRating = 350;
        a.supply.capacitorsInSeries = 2;
        e = evaluate(demo(), a, {.working = true});
        QVERIFY(near(*check(e, "match.supply")->capacity, 700 / (std::numbers::sqrt2 * 1.1)));
        QCOMPARE(verdict(e, "match.supply"), Verdict::Watch); // it bounds, it does not prove
        QVERIFY(found(e, "W-MNS-16") && !found(e, "W-MNS-15"));
        a.supply.transformer = 230; // the label of the transformer is the lower one
        e = evaluate(demo(), a);
        QVERIFY(near(*check(e, "match.supply")->capacity, 230));
        a.supply.transformer.reset();
        a.supply.doubler = Asked::Yes;
        QCOMPARE(verdict(evaluate(demo(), a), "match.supply"), Verdict::Unknown);
    }

    void everySupplyHasItsWindow()
    {
        Axis a = axisOf("A2");
        ServoDrive& d = *a.actuator.servo()->drive;
        Machine m = demo();
        QCOMPARE(verdict(evaluate(m, a), "match.supply"), Verdict::Ok);
        d.mainsLowest = 180;
        d.mainsHighest = 264; // a 230 V part on 400 V
        QCOMPARE(verdict(evaluate(m, a), "match.supply"), Verdict::Fail);
        m.site.mains = 115; // and 115 V on 230
        QCOMPARE(verdict(evaluate(m, a), "match.supply"), Verdict::Fail);
        a.supply.lowVoltage = true; // a wish is no leave
        QCOMPARE(verdict(evaluate(m, a), "match.supply"), Verdict::Fail);
        d.lowVoltageFrom = 100; // its sheet permits it
        QCOMPARE(verdict(evaluate(m, a), "match.supply"), Verdict::Watch);
        QVERIFY(evaluate(m, a).match.conditions.bus.nominal < std::numbers::sqrt2 * 120);
        m = demo();
        d.mainsHighest = 528;
        m.site.mainsPhases = 1;
        QCOMPARE(verdict(evaluate(m, a), "match.supply"), Verdict::Fail); // three phases wanted
        // low d.c.: never from the mains; the torque at speed follows the d.c. voltage, control has its own window
        m = demo();
        d.feed = DriveFeed::LowDc;
        d.dcLowest = 24;
        d.dcHighest = 60;
        QCOMPARE(verdict(evaluate(m, a), "match.supply"), Verdict::Unknown);
        QCOMPARE(verdict(evaluate(m, a), "match.short_time_torque"), Verdict::Unknown);
        a.supply.dcVoltage = 565; // the rectified mains
        QCOMPARE(verdict(evaluate(m, a), "match.supply"), Verdict::Fail);
        a.supply.dcVoltage = 48;
        d.controlLowest = 20.4;
        d.controlHighest = 28.8;
        const Evaluation e = evaluate(m, a);
        QCOMPARE(verdict(e, "match.supply"), Verdict::Ok);
        QCOMPARE(e.match.conditions.bus.lowest, 48.0);
        QVERIFY(!check(e, "match.voltage")); // a winding for the mains does not judge a battery
        QCOMPARE(verdict(e, "match.control_supply"), Verdict::Unknown);
        a.supply.controlVoltage = 24;
        QCOMPARE(verdict(evaluate(m, a), "match.control_supply"), Verdict::Ok);
        a.supply.controlVoltage = 48;
        QCOMPARE(verdict(evaluate(m, a), "match.control_supply"), Verdict::Fail);
        m.axes = {a}; // and no bus of the mains carries it
        m.shared = {};
        QVERIFY(machineBus(m).axes.empty() && machineBus(m).leftOut.size() == 1);
    }

    // ------------------------------------------------------------ conventions

    /// One motor printed in every convention comes out as the same motor: √2, √3 and 2 between them.
    void conventionsMeetInOneMotor()
    {
        const ServoMotor m = *axisOf("A2").actuator.motor();
        const double r2 = std::numbers::sqrt2, r3 = std::numbers::sqrt3;
        MotorSheet s;
        s.name = m.name;
        s.poles = m.polePairs;
        s.torqueConstant = m.torqueConstant;
        s.resistance = m.resistance;
        s.inductance = m.inductance;
        s.stallCurrent = m.stallCurrent;
        s.peakCurrent = m.peakCurrent;
        s.stallTorque = m.stallTorque;
        s.ratedPower = m.ratedTorque * m.ratedSpeed;
        s.ratedSpeed = m.ratedSpeed;
        for (const char* asked : {"polesAre", "constantIs", "windingIs", "currentsAre"}) {
            const auto refused = motorOfSheet(s);
            QVERIFY(!refused);
            QCOMPARE(refused.error().code, std::string("convention"));
            QCOMPARE(refused.error().subject, std::string(asked));
            if (std::string_view(asked) == "polesAre")
                s.polesAre = PoleKind::Pairs;
            else if (std::string_view(asked) == "constantIs")
                s.constantIs = ConstantKind::PerRmsAmpere;
            else if (std::string_view(asked) == "windingIs")
                s.windingIs = WindingKind::LineToLine;
            else
                s.currentsAre = CurrentKind::Rms;
        }
        const auto same = [&](const MotorSheet& sheet) {
            const auto out = motorOfSheet(sheet);
            return out && near(out->polePairs, m.polePairs) && near(out->torqueConstant, m.torqueConstant)
                   && near(out->voltageConstant, m.torqueConstant / r3) && near(out->resistance, m.resistance)
                   && near(out->inductance, m.inductance) && near(out->stallCurrent, m.stallCurrent)
                   && near(out->peakCurrent, m.peakCurrent) && near(out->ratedTorque, m.ratedTorque);
        };
        QVERIFY(same(s));
        MotorSheet peak = s;
        peak.poles = 2 * m.polePairs;
        peak.polesAre = PoleKind::Poles;
        peak.torqueConstant = m.torqueConstant / r2;
        peak.constantIs = ConstantKind::PerPeakAmpere;
        peak.resistance = m.resistance / 2;
        peak.inductance = m.inductance / 2;
        peak.windingIs = WindingKind::Phase;
        peak.stallCurrent = m.stallCurrent * r2;
        peak.peakCurrent = m.peakCurrent * r2;
        peak.currentsAre = CurrentKind::Peak;
        QVERIFY(same(peak));
        // the voltage constant alone: line to line rms, its peak, of a phase (MOT chapter A.2)
        const double ke = m.torqueConstant / r3;
        for (const auto& [kind, printed] : {std::pair{VoltageKind::LineRms, ke},
                                            {VoltageKind::LinePeak, ke * r2},
                                            {VoltageKind::PhaseRms, ke / r3},
                                            {VoltageKind::PhasePeak, ke * r2 / r3}}) {
            MotorSheet v = s;
            v.torqueConstant.reset();
            v.constantIs = ConstantKind::NotSaid;
            v.voltageConstant = printed;
            v.voltageIs = kind;
            QVERIFY2(same(v), wordOf(kind).data());
        }
        MotorSheet odd = s;
        odd.poles = 5;
        odd.polesAre = PoleKind::Poles;
        QCOMPARE(motorOfSheet(odd).error().code, std::string("odd-poles"));
        MotorSheet linear;
        linear.kind = SheetKind::Linear;
        linear.polePeriod = 0.016;
        linear.magnetsAre = MagnetKind::Pitch;
        QVERIFY(near(motorOfSheet(linear)->polePeriod, 0.032));
        QVERIFY(near(motorOfSheet(linear)->torqueConstant, 0)); // nothing follows from nothing
    }

    void inductionMotorsAreRefusedByName()
    {
        MotorSheet s;
        s.kind = SheetKind::Induction;
        const auto refused = motorOfSheet(s);
        QVERIFY(!refused);
        QVERIFY(messageFor(refused.error()).find("Induction motors are not sized") != std::string::npos);
        const auto catalogue = store::parseCatalogueCsv("motors", "name,kind\nPlate 1,induction\n");
        QVERIFY(catalogue && catalogue->motors.empty() && catalogue->refused.size() == 1);
        QVERIFY2(messageFor(catalogue->refused.front()).find("Induction motors are not sized") != std::string::npos,
                 messageFor(catalogue->refused.front()).c_str());
    }

    /// Constants apart by exactly √2, √3 or 2 name the slip, with the value it would be.
    void slipsOfConstantsAreNamed()
    {
        Axis a = axisOf("A2");
        ServoMotor& m = *a.actuator.servo()->motor;
        const double told = m.torqueConstant;
        m.voltageConstant = told / std::numbers::sqrt3;
        QVERIFY(!check(evaluate(demo(), a), "slip.torque constant"));
        m.torqueConstant = told / std::numbers::sqrt2;
        const Evaluation e = evaluate(demo(), a);
        QCOMPARE(verdict(e, "slip.torque constant"), Verdict::Watch);
        QVERIFY(check(e, "slip.torque constant")->reason.says("per ampere peak"));
        const auto& terms = check(e, "slip.torque constant")->reason.terms;
        QVERIFY(near(std::get<Amount>(terms.back()).value, told)); // the value it would be
        m.torqueConstant = told;
        m.voltageConstant = told / 3;
        QCOMPARE(verdict(evaluate(demo(), a), "slip.voltage constant"), Verdict::Watch);
    }

    // ------------------------------------------------------------ places and turns

    void signalsWithoutAPlaceAreNamed()
    {
        Axis a = axisOf("A2");
        ServoDrive& d = *a.actuator.servo()->drive;
        a.travel.switchLow = -0.1;
        a.travel.switchHigh = 2;
        a.io = {.inputs = 2,
                .outputs = 1,
                .analogInputs = 1,
                .pulseRate = 4e5,
                .secondEncoder = true,
                .alarmOutput = true,
                .homeSwitch = true};
        d.digitalInputs = 5;
        d.digitalOutputs = 2;
        d.analogInputs = 0;
        d.encoderPorts = 1;
        d.safeInputs = 2;
        d.pulseRate = 5e5;
        Evaluation e = evaluate(demo(), a, {.working = true});
        QCOMPARE(*check(e, "match.inputs")->demand, 5.0); // two switches, home, two of the process
        QCOMPARE(verdict(e, "match.inputs"), Verdict::Ok);
        QCOMPARE(verdict(e, "match.outputs"), Verdict::Ok);
        QCOMPARE(verdict(e, "match.analog"), Verdict::Fail);
        QVERIFY(check(e, "match.analog")->reason.says("analog input 1"));
        QCOMPARE(verdict(e, "match.encoder_ports"), Verdict::Fail);
        QVERIFY(check(e, "match.encoder_ports")->reason.says("encoder on the load"));
        QVERIFY(near(*check(e, "match.pulse_rate")->capacity, 4e5)); // 80 % of the input, common practice
        QCOMPARE(verdict(e, "match.pulse_rate"), Verdict::Ok);
        QCOMPARE(falseWorking(e), QString());
        d.digitalInputs = 4;
        e = evaluate(demo(), a);
        QVERIFY(check(e, "match.inputs")->reason.says("input 2"));
        static_cast<DriveSignals&>(d) = {};
        QCOMPARE(verdict(evaluate(demo(), a), "match.signals"), Verdict::Unknown);
        // the coil of the brake on the drive's output
        a = axisOf("A1");
        a.actuator.servo()->drive->brakeOutputCurrent = a.actuator.brake()->current / 2;
        QCOMPARE(verdict(evaluate(demo(), a), "match.brake_output"), Verdict::Fail);
    }

    /// The load angle jumps by the fraction of a turn that is left when the encoder's turns are full (the check value
    /// 3:1 over 2^16 turns leaves a third).
    void turnsOfTheEncoderAgainstTheTravel()
    {
        Axis a = axisOf("A3");
        ServoMotor& m = *a.actuator.servo()->motor;
        a.load.travelLow.reset();
        a.load.travelHigh.reset();
        for (StageElement& s : a.stages)
            if (s.type == StageKind::Gearbox)
                s.ratio = 3;
        m.encoderTurns = 65536;
        const double ratio = std::abs(buildChain(a)->ratio());
        const Evaluation e = evaluate(demo(), a, {.working = true});
        const double left = std::fmod(65536, ratio) / ratio;
        QVERIFY(near(value(e, "match.wrap_jump"), left * 2 * pi, 1e-6));
        QCOMPARE(verdict(e, "match.absolute_range"), Verdict::Watch);
        QCOMPARE(falseWorking(e), QString());
        m.encoderTurns = std::round(ratio) * 100; // whole turns of the load: nobody sees the wrap
        QVERIFY(near(std::remainder(ratio, 1), 0));
        QCOMPARE(verdict(evaluate(demo(), a), "match.absolute_range"), Verdict::Ok);
        // a screw: the travel in motor turns
        a = axisOf("A1");
        ServoMotor& s = *a.actuator.servo()->motor;
        a.load.travelLow = 0;
        a.load.travelHigh = 0.4;
        s.encoderTurns = 1;
        s.turnsKept = TurnsKeeper::Battery;
        const Evaluation one = evaluate(demo(), a, {.working = true});
        const double perTurn = value(one, "load.travel_per_turn");
        QVERIFY(near(*check(one, "match.absolute_range")->demand, 0.4 / perTurn));
        QCOMPARE(verdict(one, "match.absolute_range"), Verdict::Watch); // it has to be homed
        s.encoderTurns = 4096;
        const Evaluation many = evaluate(demo(), a);
        QCOMPARE(verdict(many, "match.absolute_range"), Verdict::Ok);
        QVERIFY(check(many, "match.absolute_range")->reason.says("battery"));
    }

    // ------------------------------------------------------------ brake and resistor

    /// A brake on a stepper is judged as one on a servo: holding by three schools, its coil, its drop by hand.
    void aBrakeHoldsAnyMotor()
    {
        Axis a = axisOf("A4");
        a.load.incline = pi / 2;
        a.load.moving = 2;
        Evaluation e = evaluate(demo(), a);
        QCOMPARE(verdict(e, "load.secured"), Verdict::Watch); // watched here
        QVERIFY(found(e, "W-BRK-02"));                        // refused there
        QCOMPARE(verdict(e, "wire.held"), Verdict::Fail);
        QCOMPARE(verdict(e, "match.brake_holding"), Verdict::Fail);
        const double hold = std::abs(value(e, "load.hold_torque")), rotor = a.actuator.rotor();
        HoldingBrake b{"own", 1.6 * hold / 0.85, 2e-6, 0.5, 0.03, 0.02, 0};
        chooseBrake(a, b);
        QVERIFY(near(a.actuator.rotor(), rotor + 2e-6));
        e = evaluate(demo(), a, {.working = true});
        QCOMPARE(verdict(e, "load.secured"), Verdict::Ok);
        QVERIFY(!found(e, "W-BRK-02") && !check(e, "wire.held"));
        QVERIFY(check(e, "match.brake_holding")->reason.says("1.3 enough, 1.5 enough, 2 too weak"));
        const double j = e.load.chain->reflectedInertia(e.move.maxPayload) + a.actuator.rotor(),
                     perRadian = std::abs(e.load.chain->radius / e.load.chain->ratio()),
                     fall = hold / j * 0.02; // free for the engagement time, then braked
        const double by = (0.5 * hold / j * 0.02 * 0.02 + fall * fall * j / (2 * (b.torque - hold))) * perRadian;
        QVERIFY(near(value(e, "match.brake_drop"), by, 1e-9));
        QCOMPARE(falseWorking(e), QString());
        b.torque = 0.9 * hold;
        chooseBrake(a, b);
        e = evaluate(demo(), a);
        QCOMPARE(verdict(e, "match.brake_holding"), Verdict::Fail);
        QVERIFY(check(e, "match.brake_holding")->help.says("brake-too-weak"));
        QVERIFY(!e.result("match.brake_drop"));
    }

    void resistorOutsideInsideOrNone()
    {
        Axis a = axisOf("A1");
        const Evaluation with = evaluate(demo(), a, {.working = true});
        // a stop by hand: the energy of the largest braking stretch is not more than what comes back in a cycle
        QVERIFY(value(with, "match.stop_energy") <= value(with, "match.energy_returned") * (1 + 1e-9));
        QVERIFY(value(with, "match.stop_energy") > 0 && value(with, "match.stop_loss") > 0);
        QCOMPARE(falseWorking(with), QString());
        a.wiring.resistorWiring = ResistorWiring::None;
        const Evaluation none = evaluate(demo(), a);
        QVERIFY(found(none, "W-DBR-01"));
        QVERIFY(*check(none, "match.regen_pulse")->capacity < 1e-6 && *check(with, "match.regen_pulse")->capacity > 1);
        QVERIFY(check(none, "match.regen_power")->reason.says("no resistor")
                || none.match.bus.energyResistor == 0); // an internal one is not counted when none is connected
        a.wiring.resistorWiring = ResistorWiring::Both;
        a.actuator.servo()->resistor = parts().resistors.front();
        QVERIFY(found(evaluate(demo(), a), "W-DBR-02"));
        a.wiring.resistorWiring = ResistorWiring::Internal;
        const Evaluation inside = evaluate(demo(), a);
        QVERIFY(!found(inside, "W-DBR-01") && !found(inside, "W-DBR-02"));
    }

    /// A chopper that lets go lower burns more in each burst: by hand ½·C·(V_on² − V_off²) on top of what is beyond.
    void theChopperLetsGoLower()
    {
        ServoDrive d = *axisOf("A1").actuator.drive();
        ServoMotor m = *axisOf("A1").actuator.motor();
        d.standbyPower = 0;
        m.resistance = 1e-9; // no copper, no iron: what is braked comes back
        m.ratedTorque = m.stallTorque;
        const double c = d.busCapacitance, on = d.chopperOn, before = 560, room = 0.5 * c * (on * on - before * before);
        DutyPath path; // one second of driving, one of braking with a little more than the capacitor takes
        path.period = 2;
        path.nodes = {{1, 1, 1.2 * room, 0, 0.5, 0}, {1, -1, 1.2 * room, 0, 1.5, 0}};
        const double without = walkBus(m, d, path, 0, before).energyResistor;
        QVERIFY(near(without, 0.2 * room, 1e-6));
        d.chopperOff = on - 20;
        const double band = 0.5 * c * (on * on - d.chopperOff * d.chopperOff);
        QVERIFY(near(walkBus(m, d, path, 0, before).energyResistor, 0.2 * room + band, 1e-6));
    }

    /// A drive that weakens the field has more at speed, and the ranking says the same of it as the evaluation; a motor
    /// that would charge the bus by itself is told.
    void aDriveThatWeakensTheField()
    {
        Machine m = demo();
        m.site.mains = 230;
        Axis a = axisOf("A2");
        ServoDrive& d = *a.actuator.servo()->drive;
        d.mainsLowest = 180;
        d.mainsHighest = 264;
        d.chopperOn = 390;
        d.overVoltage = 410;
        for (Segment& s :
             a.cycle.segments) { // faster, into the voltage limit: the same shapes in two thirds of the time
            if (s.speed)
                s.speed = *s.speed * 1.5;
            for (auto* x : {&s.acceleration, &s.deceleration})
                if (*x)
                    *x = **x * 2.25;
            if (s.time && !s.standing())
                s.time = *s.time / 1.5;
        }
        const Evaluation plainDrive = evaluate(m, a);
        const std::array motors{*a.actuator.motor()};
        const auto tightest = [&](const Evaluation& e) {
            const std::array drives{d};
            return rank(m, a, e, {motors, drives}).candidates.front().result.tests[1];
        };
        QVERIFY(plainDrive.match.servo
                && near(tightest(plainDrive).capacity, *check(plainDrive, "match.short_time_torque")->capacity));
        d.fieldWeakening = true;
        const Evaluation weak = evaluate(m, a, {.working = true});
        QVERIFY(weak.match.conditions.fieldWeakening);
        QVERIFY(*check(weak, "match.short_time_torque")->margin
                >= *check(plainDrive, "match.short_time_torque")->margin);
        QVERIFY(near(tightest(weak).capacity, *check(weak, "match.short_time_torque")->capacity));
        QVERIFY(near(tightest(weak).demand, *check(weak, "match.short_time_torque")->demand));
        // √2·Ke·ω by hand; told only above the bus of the mains
        const double bus =
            std::numbers::sqrt2 * motors[0].torqueConstant / std::numbers::sqrt3 * weak.match.servo->speedMax;
        QCOMPARE(check(weak, "match.weakening") != nullptr, bus > weak.match.conditions.bus.highest);
        QCOMPARE(falseWorking(weak), QString());
    }

    /// Where a sheet splits the heat path, its share counts; from a warm start the overload lasts shorter than from a
    /// cold one.
    void theHeatPathAndTheStart()
    {
        Axis a = axisOf("A2");
        ServoParts& p = *a.actuator.servo();
        const double usual = value(evaluate(demo(), a), "match.overload_time");
        p.motor->innerShare = 0.35;
        QVERIFY(near(value(evaluate(demo(), a), "match.overload_time"), usual));
        p.motor->innerShare = 0;
        p.mounting.warmStart = 353.15; // both nodes there: the worse the way to the housing, the sooner it is hot
        const double from = value(evaluate(demo(), a), "match.overload_time");
        p.motor->innerShare = 0.6;
        QVERIFY(value(evaluate(demo(), a), "match.overload_time") < from);
        p.motor->innerShare = 0;
        p.mounting.warmStart = 293.15;
        const double cold = value(evaluate(demo(), a), "match.overload_time");
        p.mounting.warmStart = 373.15;
        QVERIFY(value(evaluate(demo(), a), "match.overload_time") < cold);
    }

    // ------------------------------------------------------------ frameless

    /// Bearings and seals of one's own rub, and the hub turns, whatever the rotor drives: by hand at the shaft.
    void aFramelessMotorOnAnyMechanism()
    {
        for (const std::string type : {"ball-screw", "toothed-belt", "rack", "rotary-table", "direct"}) {
            Axis a;
            for (const char* id : {"A1", "A2", "A3", "A6"})
                if (mechanismType(axisOf(id).mechanism) == type)
                    a = axisOf(id);
            if (a.id.empty())
                continue;
            ServoMotor m = *axisOf("A6").actuator.motor();
            m.kind = MotorKind::Frameless;
            a.actuator.become<ServoActuator>().motor = m;
            a.actuator.servo()->drive = axisOf("A6").actuator.drive() ? *axisOf("A6").actuator.drive() : ServoDrive{};
            a.actuator.servo()->mounting = {};
            const Evaluation before = evaluate(demo(), a);
            a.actuator.servo()->mounting.bearingFriction = 0.7;
            a.actuator.servo()->mounting.hubInertia = 3e-4;
            const Evaluation e = evaluate(demo(), a, {.working = true});
            const auto& motion = *e.move.motion;
            const MotionPoint even{(motion.lowest + motion.highest) / 2, 0, 0, 0};
            const int turn = sign(e.load.chain->radius);
            double way = turn;
            for (int k = 0; k < e.load.chain->stageCount; ++k)
                way *= sign(e.load.chain->stages[static_cast<std::size_t>(k)].ratio);
            const double off =
                chainPoint(*e.load.chain, 0, 0, even, 1).torque - chainPoint(*before.load.chain, 0, 0, even, 1).torque;
            QVERIFY2(near(off, 0.7 * way), type.c_str());
            QVERIFY2(near(value(e, "load.reflected_inertia"), value(before, "load.reflected_inertia") + 3e-4, 1e-9),
                     type.c_str());
            QCOMPARE(falseWorking(e), QString());
        }
    }

    void aFramelessMotorIsPutTogetherInOrder()
    {
        Axis a = axisOf("A6");
        QVERIFY(a.actuator.motor()->kind == MotorKind::Frameless);
        const WorkStep& step = stepOf(7, a);
        QCOMPARE(step.id, std::string_view("S07"));
        QVERIFY(std::ranges::find(step.cautions, "C-18") != step.cautions.end());
        const auto at = [&](const char* word) { return step.work.find(word); };
        QVERIFY(at("shaft and bore") < at("bond") && at("bond") < at("stator") && at("stator") < at("jig")
                && at("jig") < at("run-out") && at("air gap") < at("encoder") && at("encoder") < at("insulation"));
        Mounting& m = a.actuator.servo()->mounting;
        m.diameter = 0.1; // H7/g6: 12 to 69 µm
        m.airGap = 0.5e-3;
        const auto judge = [&](double shaft, double bore, double gap, double runOut, double ohm) {
            StepDone done{"S07", {}, {}, {}, {}};
            done.values = {{"shaft", shaft},   {"bore", bore},      {"centred", 1},
                           {"runOut", runOut}, {"airGap", gap},     {"encoder", 1},
                           {"unplugged", 1},   {"resistance", ohm}, {"temperature", 313.15}};
            return judgeStep(step, demo(), a, done).value();
        };
        QVERIFY(judge(0.09998, 0.10001, 0.49e-3, 20e-6, 5e8).passed);
        QVERIFY(judge(0.10002, 0.10001, 0.49e-3, 20e-6, 5e8).reason.says("thicker"));
        QVERIFY(!judge(0.0999, 0.10001, 0.49e-3, 20e-6, 5e8).passed);  // 110 µm is no g6
        QVERIFY(!judge(0.09998, 0.10001, 0.40e-3, 20e-6, 5e8).passed); // off centre
        QVERIFY(!judge(0.09998, 0.10001, 0.49e-3, 80e-6, 5e8).passed); // runs out
        QVERIFY(!judge(0.09998, 0.10001, 0.49e-3, 20e-6, 2e5).passed); // a pinched cable
        StepDone forgot{"S07", {}, {}, {}, {}};
        forgot.values = {{"shaft", 0.09998}};
        QCOMPARE(judgeStep(step, demo(), a, forgot).error().code, std::string("missing"));
        // with its own bearings it is only measured
        QVERIFY(stepOf(7, axisOf("A1")).entries.size() < step.entries.size());
    }
};

QTEST_APPLESS_MAIN(TestPlates)
#include "tst_plates.moc"
