// What a sweep, a search and a hand turn say: every word of the report on a rotor that is known.
#include "core/mechanics/stage.h"
#include "core/stations/turn.h"
#include "store/machinejson.h"

#include <QTest>

#include <cmath>
#include <functional>

using namespace ridge;

namespace {
constexpr double degrees = 180 / pi;

/// A rotor that hangs on the field with a lag of so much, as its counter, halls and currents tell it.
struct Rotor {
    double counts = 4096, pairs = 4; ///< true ones
    double offset = 40, lag = 6;     ///< electrical [deg]
    double current = 2;              ///< amplitude [A]
    HallWiring halls;
    std::function<void(SweepSample&, bool back)> spoil = [](SweepSample&, bool) {};

    [[nodiscard]] std::vector<SweepSample> way(bool back, double turns = 3) const
    {
        std::vector<SweepSample> out;
        const int n = static_cast<int>(turns * 120);
        for (int k = 0; k <= n; ++k) {
            SweepSample s;
            s.field = back ? 3.0 * (n - k) : 3.0 * k;
            const double rotor = s.field - offset + (back ? lag : -lag); // counted from where the counter is at zero
            s.counts = std::round(rotor / 360 * counts / pairs);
            s.halls = hallThrough(hallCode(rotor + offset), halls);
            s.u = current * std::cos(s.field / degrees);
            s.v = current * std::cos(s.field / degrees - 2 * pi / 3);
            s.w = -s.u - s.v;
            spoil(s, back);
            out.push_back(s);
        }
        return out;
    }
    [[nodiscard]] SweepReport report(SweepExpected e) const
    {
        const auto r = reportSweep(way(false), way(true), e);
        return r ? *r : SweepReport{};
    }
};
SweepExpected asEntered() { return {4096, 4, false, true, 2, 4}; }
} // namespace

/// The first turn, judged.
class TestTurning : public QObject {
    Q_OBJECT

private Q_SLOTS:
    /// Offset and lag come back as they were put in; friction shifts both ways by the same and falls out (common
    /// practice).
    void aCleanSweepGivesTheOffset()
    {
        const SweepReport r = Rotor{}.report(asEntered());
        QVERIFY(r.clean());
        QVERIFY(offsetsApart(r.offset->offset_deg, 40) < 0.5);
        QVERIFY(std::abs(r.offset->lag_deg - 6) < 0.5);
        QVERIFY(std::abs(r.poles->polePairs - 4) < 0.01); // whole counts
        QVERIFY(r.halls && r.halls->wiring == HallWiring{});
        QVERIFY(offsetsApart(r.halls->offset_deg, 0) < 3);
        QVERIFY(!r.locus->open);
    }

    void everyFindingHasItsWord_data()
    {
        QTest::addColumn<QString>("code");
        QTest::addColumn<QString>("phase");
        for (const char* code :
             {"NO_MOTION", "COUNTS_AGAINST_FIELD", "POLES_AND_PAIRS_MIXED", "POLE_PAIRS_WRONG",
              "COUNTS_PER_REV_DOUBTFUL", "PITCH_HALF_ENTERED", "PITCH_DOUBLE_ENTERED", "PITCH_WRONG", "COUNTS_DIFFER",
              "LAG_TOO_LARGE", "LAG_NEGATIVE", "HALL_CHANNEL_STUCK", "HALL_SPREAD", "HALL_NOT_PERIODIC"})
            QTest::newRow(code) << code << QString();
        QTest::newRow("OPEN_PHASE U") << "OPEN_PHASE"
                                      << "U";
        QTest::newRow("OPEN_PHASE W") << "OPEN_PHASE"
                                      << "W";
        QTest::newRow("ONE_POLARITY V") << "ONE_POLARITY"
                                        << "V";
        QTest::newRow("CURRENT_SENSOR_OFFSET U") << "CURRENT_SENSOR_OFFSET"
                                                 << "U";
    }
    void everyFindingHasItsWord()
    {
        QFETCH(QString, code);
        QFETCH(QString, phase);
        Rotor rotor;
        SweepExpected e = asEntered();
        if (code == "NO_MOTION")
            rotor.spoil = [](SweepSample& s, bool) { s.counts = 17; };
        else if (code == "COUNTS_AGAINST_FIELD")
            rotor.spoil = [](SweepSample& s, bool) { s.counts = -s.counts; };
        else if (code == "POLES_AND_PAIRS_MIXED")
            e.polePairs = 8; // the number of poles was entered
        else if (code == "POLE_PAIRS_WRONG")
            e.polePairs = 5;
        else if (code == "COUNTS_PER_REV_DOUBTFUL")
            e.counts = 4600;
        else if (code.startsWith("PITCH")) {
            e.linear = true;
            e.polePairs = rotor.pairs = 1;
            e.counts = rotor.counts * (code == "PITCH_HALF_ENTERED" ? 0.5 : code == "PITCH_DOUBLE_ENTERED" ? 2 : 1.3);
        } else if (code == "COUNTS_DIFFER")
            rotor.spoil = [](SweepSample& s, bool back) { s.counts *= back ? 0.95 : 1; };
        else if (code == "LAG_TOO_LARGE")
            rotor.lag = 35;
        else if (code == "LAG_NEGATIVE")
            rotor.lag = -8;
        else if (code == "HALL_CHANNEL_STUCK")
            rotor.spoil = [](SweepSample& s, bool) { s.halls |= 2; };
        else if (code == "HALL_SPREAD") // V comes 45 degrees late
            rotor.spoil = [](SweepSample& s, bool) {
                s.halls = (hallCode(s.field - 6) & ~2) | (hallCode(s.field - 51) & 2);
            };
        else if (code == "HALL_NOT_PERIODIC") // halls of another number of poles
            rotor.spoil = [](SweepSample& s, bool) { s.halls = hallCode(s.field * 0.7); };
        else if (code == "OPEN_PHASE")
            rotor.spoil = [phase](SweepSample& s, bool) {
                const double i = 2 * std::cos(s.field / degrees);
                s.u = phase == "U" ? 0.01 : i;
                s.v = phase == "U" ? i : -i;
                s.w = phase == "W" ? 0.01 : -s.u - s.v;
            };
        else if (code == "ONE_POLARITY")
            rotor.spoil = [](SweepSample& s, bool) { s.v = std::max(s.v, -0.1); };
        else
            rotor.spoil = [](SweepSample& s, bool) { s.u += 0.3; };
        const SweepReport r = rotor.report(e);
        QVERIFY(!r.clean());
        QVERIFY(r.first());
        QCOMPARE(QString::fromUtf8(sweepCode(r.first()->word).data()), code);
        QCOMPARE(r.first()->phase ? QString(QLatin1Char(r.first()->phase)) : QString(), phase);
        // and it is told in words, with what helps
        const TurnWords words = sweepWords(sweepCode(r.first()->word), phase.toStdString(), r.first()->value);
        QVERIFY(!plain(words.cure).empty());
        QVERIFY2(plain(words.what).find('{') == std::string::npos, plain(words.what).c_str());
    }

    /// An open phase hides what else is wrong; nothing is computed from it.
    void oneThingHidesAnother()
    {
        Rotor rotor;
        rotor.spoil = [](SweepSample& s, bool) {
            s.u = 0;
            s.w = -s.v;
            s.counts = 17;
        };
        const SweepReport r = rotor.report(asEntered());
        QCOMPARE(r.found.size(), std::size_t(1));
        QCOMPARE(r.first()->word, SweepWord::OpenPhase);
        QVERIFY(!r.poles && !r.offset && !r.halls);
    }

    void hallWiringComesBack()
    {
        Rotor rotor;
        rotor.halls.permutation = {1, 2, 0};
        rotor.halls.inverted = {false, true, false};
        const SweepReport r = rotor.report(asEntered());
        QVERIFY(r.halls);
        // what was found explains every code that was read
        for (int a = 0; a < 360; a += 10)
            QVERIFY(hallThrough(hallCode(a + 5 - r.halls->offset_deg), r.halls->wiring)
                        == hallThrough(hallCode(a + 5), rotor.halls)
                    || offsetsApart(std::fmod(a + 5, 60), 0) < 6);
    }

    /// A constant torque T holds the rotor asin(T/(K·I)) off the field; two currents part it from the poles
    /// (torque of a synchronous machine, T = K·I·sin).
    void twoCurrentsPartLoadAndPoles()
    {
        const double torque = 0.8, poles = 25; // as a current; deg
        const auto at = [&](double i) { return poles + std::asin(torque / i) * degrees; };
        const auto h = holdApart(at(2), 2, at(4), 4);
        QVERIFY(h);
        QVERIFY(std::abs(h->torque - torque) < 1e-6);
        QVERIFY(std::abs(h->offset_deg - poles) < 1e-4);
        QCOMPARE(holdApart(at(2), 2, at(2.1), 2.1).error().code, std::string("currents-too-close"));
        QCOMPARE(holdApart(80, 2, -80, 4).error().code, std::string("load-above-holding"));
    }

    void samplesGoIntoTheRecordAndBack()
    {
        const Rotor rotor;
        const auto f = rotor.way(false), b = rotor.way(true);
        const SweepWays back = readSweep(writeSweep(f, b));
        const auto r = reportSweep(back.forward, back.backward, asEntered());
        QVERIFY(r && r->clean());
        QVERIFY(offsetsApart(r->offset->offset_deg, 40) < 0.5);
        // hostile text is not taken for samples
        QVERIFY(readSweep("1 2\nnan 0 0 0 0 0\n1 2 99 0 0 0\nabc\n").forward.empty());
        QVERIFY(!reportSweep({}, {}, asEntered()));
    }

    void aHandTurnNamesTheWrongShaft()
    {
        Axis a = store::demoMachine().axes[0];
        const double n = a.actuator.motor()->countsPerTurn;
        QCOMPARE(handCheck(a, {n, n}).found, OneTurn::Ok);
        QVERIFY(handCheck(a, {n, -n}).ratio < 0);
        QVERIFY(handCheck(a, {n, 4 * n}).found != OneTurn::Ok);
    }

    /// The order of the six codes forward is 5 1 3 2 6 4 with channels U V W as bits 1 2 4 (common practice).
    void hallCodesAreAnOrder()
    {
        QVERIFY(hallsInOrder("5 1 3 2 6 4 5"));
        QVERIFY(hallsInOrder("2 6 4 5 1 3"));
        QVERIFY(!hallsInOrder("5 4 6 2 3 1")); // backwards
        QVERIFY(!hallsInOrder("5 1 7 2 6 4")); // impossible code
        QVERIFY(!hallsInOrder("5 1 3"));       // not a whole turn
    }

    /// C-10, C-11 and the free travel: a routine that may harm is not begun.
    void routinesAreRefusedWithTheirReason()
    {
        const Machine machine = store::demoMachine();
        const Axis& lift = machine.axes[0];
        const SearchRoom little = searchRoom(lift, 0.001, 1);
        const auto said = [&](Routine r, const SearchRoom& room, Confirmed c) {
            return plain(refusalOfRoutine(lift, r, room, c));
        };
        QVERIFY(said(Routine::Pulses, little, {}).find("brake alone") != std::string::npos);
        QVERIFY(said(Routine::Pulses, little, {true, false}).empty());
        QVERIFY(said(Routine::Sweep, little, {}).find("C-10") != std::string::npos);
        QVERIFY(said(Routine::Standing, little, {}).empty()); // its brake holds
        QVERIFY(said(Routine::TurningBare, little, {true, false}).find("C-11") != std::string::npos);
        SearchRoom far = little;
        far.free = 0.01;
        far.travel = 0.02;
        QVERIFY(said(Routine::TurningLoaded, far, {true, true}).find("free travel") != std::string::npos);
        // the room grows with the vector that turns
        QVERIFY(searchRoom(lift, 0.001, 0, 3).travel > searchRoom(lift, 0.001, 2).travel);
        QVERIFY(searchRoom(lift, 0.001, 2).travel > little.travel);
    }

    void causesComeInTheirOrder()
    {
        for (int result = 3; result < 12; ++result)
            QVERIFY(!routineWord(result).empty());
        QVERIFY(routineWord(0).empty());
        QCOMPARE(std::string(routineWord(99)), std::string("UNKNOWN_RESULT"));
        const auto friction = searchCauses("ESTIMATE_FRICTION", false);
        QVERIFY(plain(friction.front().what).find("friction") != std::string::npos);
        const auto bias = searchCauses("", false), hanging = searchCauses("", true);
        QCOMPARE(hanging.size(), bias.size() + 1); // gravity is no cause where nothing hangs
    }
};

QTEST_GUILESS_MAIN(TestTurning)
#include "tst_turning.moc"
