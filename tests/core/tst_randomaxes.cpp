#include "core/control/fixedstep.h"
#include "core/control/plantmotion.h"
#include "core/control/random.h"
#include "core/mechanics/stage.h"
#include "core/sizing/ratio.h"

#include <QFile>
#include <QTest>

#include <nlohmann/json.hpp>

#include <algorithm>
#include <cmath>
#include <map>

using namespace ridge;
using nlohmann::json;

namespace {
/// As near to continuous time as the fixed-step code comes: every loop every tick, the torque at once.
StepTiming fineFor(double bandwidth) { return {std::clamp(8e4 * bandwidth, 1e6, 8e6), 1, 1, 0, 0}; }

struct Draw {
    SplitMix random;
    double between(double low, double high) { return low + (high - low) * random.uniform(); }
    double over(double low, double high) { return std::exp(between(std::log(low), std::log(high))); }
    AxisPlant oneMass()
    {
        AxisPlant p;
        p.inertia = over(1e-5, 1e-2);
        return p;
    }
    AxisPlant twoMasses()
    {
        AxisPlant p = oneMass();
        p.load = p.inertia * between(0.3, 0.85);
        p.stiffness = std::pow(2 * pi * between(20, 250), 2) * p.load * (p.inertia - p.load) / p.inertia;
        return p;
    }
};

/// Frequency of the load against the motor, by its upward crossings.
double swingOf(PlantMotion& plant, const AxisPlant& p, bool held, double h)
{
    std::vector<double> crossings;
    double last = 0;
    for (int k = 0; k < 400000 && crossings.size() < 21; ++k) {
        plant.step(0, 0);
        const double both = held ? 0 : (plant.speed() * (p.inertia - p.load) + plant.loadSpeed() * p.load) / p.inertia;
        const double now = plant.loadSpeed() - both;
        if (last < 0 && now >= 0)
            crossings.push_back((k + now / (last - now)) * h);
        last = now;
    }
    return crossings.size() == 21 ? 20 / (crossings.back() - crossings.front()) : 0;
}
} // namespace

/// Axes drawn at random (by a seed): the plant and the loops of prediction and simulated drive against continuous time
/// by scipy (tests/reference/axes.py) and against the closed forms of core.
class TestRandomAxes : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void agreeWithScipy()
    {
        QFile file(QStringLiteral(TEST_DATA_DIR "/axes_reference.json"));
        QVERIFY(file.open(QIODevice::ReadOnly));
        const json all = json::parse(file.readAll().toStdString());
        QVERIFY(all.at("cases").size() >= 40);
        for (const json& c : all.at("cases")) {
            const json &a = c.at("axis"), &course = c.at("course");
            AxisPlant p;
            p.inertia = a.at("J");
            p.load = a.at("JL");
            p.stiffness = a.at("k");
            p.damping = a.at("c");
            p.viscous = a.at("B");
            LoopGains g;
            g.velocityGain = a.at("Kv");
            g.integralTime = a.at("Ti");
            g.positionGain = a.at("Kp");
            g.currentLag = a.at("tau");
            FixedStepAxis axis(g, p, fineFor(a.at("bandwidth")));
            const double size = a.at("size"), push = a.at("push");
            const bool position = g.positionGain > 0;
            axis.setMode(position ? LoopMode::Position : LoopMode::Velocity);
            const auto demand = [&](double) { return position ? MotionDemand{size, 0, 0} : MotionDemand{0, size, 0}; };
            std::map<std::string, double> most;
            for (const char* name : {"theta", "w", "w_load", "T"})
                for (const double v : course.at(name))
                    most[name] = std::max(most[name], std::abs(v));
            std::int64_t done = 0;
            for (std::size_t k = 0; k < course.at("t").size(); ++k) {
                const std::int64_t until = std::llround(course.at("t")[k].get<double>() / axis.step());
                axis.run(until - done, demand, push);
                done = until;
                const std::map<std::string, double> now{
                    {"theta", axis.angle()}, {"w", axis.speed()}, {"w_load", axis.loadSpeed()}, {"T", axis.torque()}};
                for (const auto& [name, value] : now) {
                    const double wanted = course.at(name)[k];
                    QVERIFY2(std::abs(value - wanted) < 2e-3 * most[name],
                             qPrintable(QStringLiteral("%1: %2, scipy %3; %4")
                                            .arg(QString::fromStdString(name))
                                            .arg(value)
                                            .arg(wanted)
                                            .arg(QString::fromStdString(a.dump()))));
                }
            }
        }
    }

    /// A free spring swings with the frequency of both masses, and with the motor held with that of the load.
    void swingsWithItsResonances()
    {
        Draw draw;
        for (int n = 0; n < 30; ++n) {
            AxisPlant p = draw.twoMasses();
            const auto f = twoInertias(p.inertia - p.load, p.load, p.stiffness);
            for (const bool held : {false, true}) {
                p.hold = held ? 1e9 : 0; // a brake that nothing moves
                const double h = 1 / (f.resonance * 4000);
                PlantMotion plant(h);
                plant.setPlant(p);
                plant.place(0);
                for (int k = 0; k < 20; ++k) // a knock on the load
                    plant.step(0, -p.stiffness * 0.1);
                const double found = swingOf(plant, p, held, h), wanted = held ? f.antiResonance : f.resonance;
                QVERIFY2(std::abs(found / wanted - 1) < 2e-3,
                         qPrintable(QStringLiteral("%1, %2").arg(found).arg(wanted)));
            }
        }
    }

    /// Coasting ends when the closed form says.
    void coastsAsLong()
    {
        Draw draw;
        for (int n = 0; n < 30; ++n) {
            AxisPlant p = draw.oneMass();
            p.coulomb = p.breakaway = p.inertia * draw.between(20, 200);
            p.viscous = p.inertia * draw.between(0.5, 5);
            const double from = draw.between(20, 300), time = coastingTime(p, from), h = time / 20000;
            PlantMotion coast(h);
            coast.setPlant(p);
            coast.place(0, from);
            int k = 0;
            for (; k < 25000 && coast.speed() > 0; ++k) {
                if (k == 10000)
                    QVERIFY(std::abs(coast.speed() - coastingSpeed(p, from, k * h)) < 1e-3 * from);
                coast.step(0, 0);
            }
            QVERIFY2(std::abs(k * h / time - 1) < 2e-3, qPrintable(QString::number(k * h / time)));
        }
    }

    /// The following error is speed over gain; a twist is torque over stiffness plus half the gap.
    void steadyStates()
    {
        Draw draw;
        for (int n = 0; n < 30; ++n) {
            const AxisPlant p = draw.oneMass();
            const double w = 2 * pi * draw.between(10, 60), v = draw.between(1, 100);
            LoopGains g;
            g.velocityGain = w * p.inertia;
            g.integralTime = 5 / w;
            g.positionGain = w / 5;
            FixedStepAxis axis(g, p, {16000, 8, 2, 2, 0});
            axis.run(std::llround(16000 * 80 / w), [v](double t) { return MotionDemand{v * t, v, 0}; });
            QVERIFY2(std::abs(axis.positionError() * g.positionGain / v - 1) < 0.01,
                     qPrintable(QString::number(axis.positionError() * g.positionGain / v)));
            AxisPlant two = draw.twoMasses();
            two.damping = 0.2 * std::sqrt(two.stiffness * two.load);
            two.gap = draw.between(0, 0.02);
            two.hold = 1e9;
            const double load = two.stiffness * draw.between(0.001, 0.05);
            PlantMotion bent(1.0 / 16000);
            bent.setPlant(two);
            bent.place(0);
            for (int s = 0; s < 64000; ++s)
                bent.step(0, load);
            QVERIFY2(std::abs(bent.twist() / (load / two.stiffness + two.gap / 2) - 1) < 1e-3,
                     qPrintable(QString::number(bent.twist())));
        }
    }

    /// In a row or one by one: the same bits.
    void aRunIsItsTicks()
    {
        Draw draw;
        for (int n = 0; n < 12; ++n) {
            AxisPlant p = n % 3 == 0 ? draw.twoMasses() : draw.oneMass();
            p.coulomb = p.breakaway = p.inertia * draw.between(0, 200);
            p.viscous = n % 2 == 0 ? 0 : p.inertia;
            p.gravity = p.inertia * 30;
            LoopGains g;
            g.velocityGain = 200 * p.inertia;
            g.integralTime = 0.03;
            g.positionGain = 40;
            g.speedFeedforward = 1;
            g.torqueFilter = 0.5e-3;
            g.currentLag = 0.2e-3;
            const auto demand = [](double t) { return MotionDemand{5 * std::sin(7 * t), 35 * std::cos(7 * t), 0}; };
            FixedStepAxis one(g, p, {16000, 8, 2, 2, 10000}), row(g, p, {16000, 8, 2, 2, 10000});
            for (int k = 0; k < 9000; ++k)
                one.tick(demand, 0.01);
            for (const int part : {1, 7, 4992, 4000})
                row.run(part, demand, 0.01);
            QVERIFY(one.angle() == row.angle() && one.speed() == row.speed() && one.torque() == row.torque());
            QVERIFY(one.loadAngle() == row.loadAngle() && one.ticks() == row.ticks());
        }
    }
};

QTEST_GUILESS_MAIN(TestRandomAxes)
#include "tst_randomaxes.moc"
