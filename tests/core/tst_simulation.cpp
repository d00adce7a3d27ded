#include "core/control/metrics.h"
#include "core/control/trace.h"
#include "core/safety/stopmeasure.h"
#include "support/stepmetrics.h"

#include "bench/kernel.h"
#include "bench/sameloops.h"

#include <QFile>
#include <QTest>

#include <nlohmann/json.hpp>

#include <cmath>
#include <numbers>

using namespace ridge;
using nlohmann::json;

namespace {
constexpr double pi = std::numbers::pi;

json reference()
{
    QFile file(QStringLiteral(TEST_DATA_DIR "/loops_reference.json"));
    return file.open(QIODevice::ReadOnly) ? json::parse(file.readAll().toStdString()) : json();
}
LoopGains gainsOf(const json& r)
{
    const json& g = r.at("gains");
    LoopGains out;
    out.velocityGain = g.at("Kv");
    out.integralTime = g.at("Ti");
    out.positionGain = g.at("Kp");
    out.torqueFilter = g.at("tau_t");
    out.speedFilter = g.at("tau_v");
    out.currentLag = g.at("tau_i");
    return out;
}
AxisPlant plantOf(const json& r)
{
    AxisPlant p;
    p.inertia = r.at("plant").at("J");
    p.viscous = r.at("plant").at("B");
    p.gravity = r.at("plant").at("Tg");
    return p;
}
/// As near to continuous time as the fixed-step code comes: every loop every tick.
constexpr StepTiming fine{2e6, 1, 1, 1, 0};
} // namespace

/// The simulation and the measures against continuous-time solutions by scipy (tests/reference/loops.py), closed forms
/// and laws that any axis obeys.
class TestSimulation : public QObject {
    Q_OBJECT

private Q_SLOTS:
    /// What the benchmark measures itself against does the same: the bare loops in C, ten seconds of swings, end where
    /// the simulation ends, between two counts of the encoder.
    void theBareKernelIsTheSameLoops()
    {
        const double count = 2 * pi / 131072;
        FixedStepAxis rigid = bench::rigidAxis(), two = bench::twoMassAxis();
        rigid.run(160000, bench::swing);
        two.run(160000, bench::swing);
        QVERIFY(std::abs(rigid.angle() - 250) < 10 * count); // ten swings of 25 rad
        QVERIFY2(std::abs(rigid.angle() - ridgeBareKernel(10)) < count,
                 qPrintable(QString::number(rigid.angle(), 'g', 12)));
        QVERIFY2(
            std::abs(two.loadAngle() - ridgeBareTwoMassKernel(10)) < count,
            qPrintable(
                QStringLiteral("%1 %2").arg(two.loadAngle(), 0, 'g', 12).arg(ridgeBareTwoMassKernel(10), 0, 'g', 12)));
        QVERIFY(std::abs(two.loadAngle() - 250) < 0.01); // and the free travel
    }

    void velocityStepAgreesWithScipy()
    {
        const json r = reference(), &v = r.at("velocity_step");
        AxisPlant p = plantOf(r);
        p.gravity = 0;
        FixedStepAxis axis(gainsOf(r), p, fine);
        axis.setMode(LoopMode::Velocity);
        const double step = v.at("step");
        const auto demand = [step](double) { return MotionDemand{0, step, 0}; };
        std::vector<double> time, speed;
        std::size_t next = 0;
        for (std::int64_t n = 0; n <= 160000; ++n) {
            const double t = static_cast<double>(n) / fine.rate;
            if (n % 20 == 0) {
                time.push_back(t);
                speed.push_back(axis.speed());
            }
            if (next < v.at("time").size() && t >= v.at("time")[next].get<double>() - 1e-9) {
                QVERIFY2(std::abs(axis.speed() - v.at("speed")[next].get<double>()) < 0.1,
                         qPrintable(QStringLiteral("%1 s: %2").arg(t).arg(axis.speed()))); // 0.1 % of the step
                ++next;
            }
            axis.tick(demand);
        }
        QVERIFY(next >= 40);
        const auto m = stepMetrics(time, speed, step);
        QVERIFY(m.has_value());
        const json& want = v.at("metrics");
        QVERIFY(std::abs(m->rise / want.at("rise").get<double>() - 1) < 2e-3);
        QVERIFY(std::abs(m->overshootPercent - want.at("overshoot_percent").get<double>()) < 0.05);
        QVERIFY(std::abs(m->settling / want.at("settling").get<double>() - 1) < 5e-3);
    }

    void movesAgreeWithScipy_data()
    {
        QTest::addColumn<int>("index");
        for (int k = 0; k < 3; ++k)
            QTest::addRow("move %d", k) << k;
    }
    void movesAgreeWithScipy()
    {
        QFETCH(int, index);
        const json r = reference(), m = r.at("moves")[static_cast<std::size_t>(index)];
        LoopGains g = gainsOf(r);
        g.speedFeedforward = m.at("kvff");
        g.accelerationFeedforward = m.at("kaff");
        g.feedforwardInertia = r.at("plant").at("J");
        const auto move = trapezoid({m.at("distance").get<double>(),
                                     {},
                                     m.at("speed").get<double>(),
                                     m.at("acceleration").get<double>(),
                                     m.at("acceleration").get<double>()});
        QVERIFY(move.has_value());
        const Trace t = predictMove(g, plantOf(r), fine, *move, 0.15, 100);
        std::size_t k = 0;
        int compared = 0;
        for (std::size_t n = 0; n < m.at("time").size(); ++n) {
            const double at = m.at("time")[n];
            while (k + 1 < t.time.size() && t.time[k] < at - 1e-9)
                ++k;
            if (std::abs(t.time[k] - at) > 1e-7)
                continue;
            QVERIFY2(std::abs(t.positionError[k] - m.at("error")[n].get<double>()) < 2e-4,
                     qPrintable(QStringLiteral("%1 s: %2").arg(at).arg(t.positionError[k])));
            // at the corners of the profile the torque jumps with the feedforward: one tick there is one tick
            if (n > 0 && std::abs(m.at("torque")[n].get<double>() - m.at("torque")[n - 1].get<double>()) < 0.05)
                QVERIFY2(std::abs(t.torque[k] - m.at("torque")[n].get<double>()) < 4e-3,
                         qPrintable(QStringLiteral("%1 s: %2").arg(at).arg(t.torque[k])));
            ++compared;
        }
        QVERIFY(compared > 50);
    }

    /// Overshoot exp(-pi·zeta/sqrt(1-zeta²)) and peak time pi/w_d of a second-order step: textbook closed forms.
    void metricsAgreeWithClosedForms()
    {
        const json r = reference().at("second_order");
        const double w = 2 * pi * r.at("frequency_Hz").get<double>(), z = r.at("zeta"), wd = w * std::sqrt(1 - z * z);
        std::vector<double> t, y;
        for (int k = 0; k <= 20000; ++k) {
            t.push_back(k * 1e-5);
            y.push_back(
                1 - std::exp(-z * w * t.back()) * (std::cos(wd * t.back()) + z * w / wd * std::sin(wd * t.back())));
        }
        const auto m = stepMetrics(t, y, 1.0);
        QVERIFY(m.has_value());
        QVERIFY(std::abs(m->overshootPercent - 100 * std::exp(-pi * z / std::sqrt(1 - z * z))) < 1e-3);
        QVERIFY(std::abs(m->peakTime - pi / wd) < 1.1e-5);
        QVERIFY(std::abs(m->settling / r.at("metrics").at("settling").get<double>() - 1) < 1e-6);
        QVERIFY(std::abs(m->rise / r.at("metrics").at("rise").get<double>() - 1) < 1e-4);
    }

    void sameInputSameBits()
    {
        const json r = reference();
        const auto move = trapezoid({60.0, {}, 200.0, 2000.0, 2000.0});
        const Trace a = predictMove(gainsOf(r), plantOf(r), {16000, 8, 2, 2, 131072}, *move, 0.1, 1),
                    b = predictMove(gainsOf(r), plantOf(r), {16000, 8, 2, 2, 131072}, *move, 0.1, 1);
        QVERIFY(a == b);
    }

    /// Coasting from w against Coulomb friction alone stops after J·w/Tc (balance of momentum).
    void coastingStopsByFriction()
    {
        AxisPlant p;
        p.inertia = 5e-4;
        p.coulomb = p.breakaway = 0.2;
        FixedStepAxis axis({}, p, {16000, 8, 2, 2, 0});
        axis.setMode(LoopMode::Off);
        axis.place(0, 100);
        int n = 0;
        while (axis.speed() != 0 && n < 100000) {
            axis.tick([](double) { return MotionDemand{}; });
            ++n;
        }
        QVERIFY(std::abs(n / 16000.0 - 5e-4 * 100 / 0.2) < 2.0 / 16000);
        QVERIFY(std::abs(axis.angle() - 100 * 0.25 / 2) < 0.01); // half the speed times the time
    }

    void heldByFrictionBelowBreakaway()
    {
        AxisPlant p;
        p.coulomb = p.breakaway = 0.3;
        p.gravity = 0.25;
        FixedStepAxis axis({}, p, {16000, 8, 2, 2, 0});
        axis.setMode(LoopMode::Off);
        for (int n = 0; n < 1000; ++n)
            axis.tick([](double) { return MotionDemand{}; });
        QCOMPARE(axis.angle(), 0.0);
    }

    /// v·(1 - kvff)/Kp, derived in docs/checks/following.md.
    void followingErrorIsSpeedOverGain()
    {
        const json r = reference();
        LoopGains g = gainsOf(r);
        g.speedFeedforward = 0.3;
        const auto move = trapezoid({100.0, {}, 200.0, 5000.0, 5000.0});
        const Trace t = predictMove(g, plantOf(r), {16000, 8, 2, 2, 0}, *move, 0.2, 8);
        const auto m = moveMetrics(t, 1e-3, 10);
        QVERIFY(m.has_value());
        QVERIFY2(std::abs(m->steadyError / (200 * 0.7 / 50) - 1) < 0.01, qPrintable(QString::number(m->steadyError)));
        QVERIFY(std::abs(followingError(200, g) - 2.8) < 1e-12);
    }

    void stopsAreMeasured()
    {
        StopSamples s; // 100 rad/s, ramp from 10 ms to 60 ms, brake at 80 ms, torque off at 100 ms, then 0.2 mm of drop
        for (int k = 0; k <= 300; ++k) {
            const double t = k * 1e-3;
            s.time.push_back(t);
            s.speed.push_back(t < 0.01 ? 100 : t < 0.06 ? 100 * (0.06 - t) / 0.05 : 0);
            s.travel.push_back(t < 0.1 ? 0.01 : 0.01 - 2e-4 * std::min(1.0, (t - 0.1) / 0.05));
            s.powered.push_back(t < 0.0995);
            s.brakeClosed.push_back(t >= 0.0795);
        }
        const auto m = measureStop(s);
        QVERIFY(m.has_value());
        QVERIFY(std::abs(m->ramp - 0.011) < 1.1e-3);
        QVERIFY(std::abs(m->standstill - 0.059) < 1.1e-3);
        QCOMPARE(m->brakeClosed, 0.080);
        QCOMPARE(m->torqueOff, 0.100);
        QVERIFY(std::abs(m->drop - 2e-4) < 1e-12);
        QVERIFY(stoppedInTime(*m, true));
        StopSamples late = s;
        for (std::size_t k = 0; k < late.time.size(); ++k)
            late.brakeClosed[k] = late.time[k] > 0.15;
        QVERIFY(!stoppedInTime(*measureStop(late), true));
        QVERIFY(stoppedInTime(*measureStop(late), false));
        StopSamples still = s;
        std::ranges::fill(still.speed, 0.0);
        QCOMPARE(measureStop(still).error().code, std::string("no-move"));
        still.time.resize(3);
        QCOMPARE(measureStop(still).error().code, std::string("trace-too-short"));
    }
};

QTEST_GUILESS_MAIN(TestSimulation)
#include "tst_simulation.moc"
