#include "core/mechanics/stage.h"
#include "core/motion/cycle.h"
#include "core/motion/recorded.h"
#include "core/units/parse.h"

#include <QTest>

#include <cmath>
#include <random>

using namespace ridge;

namespace {

bool near(double a, double b, double tolerance = 1e-9) { return std::abs(a - b) <= tolerance * (1 + std::abs(b)); }

Segment made(SegmentKind kind, std::optional<double> distance, std::optional<double> time,
             std::optional<double> speed = {}, std::optional<double> acceleration = {})
{
    Segment s;
    s.kind = kind;
    s.distance = distance;
    s.time = time;
    s.speed = speed;
    s.acceleration = acceleration;
    return s;
}

/// A motion is sound when its position is the integral of its speed, its speed that of its acceleration, and nothing
/// jumps but the acceleration: checked against a plain step-by-step integration.
QString unsound(const Motion& m)
{
    double end = 0, x = m.at(0).position;
    for (const Phase& p : m.phases) {
        if (std::abs(p.start - end) > 1e-12)
            return QStringLiteral("a gap at %1 s").arg(p.start);
        const MotionPoint first = motionAt(p, 0), last = motionAt(p, p.duration);
        if (std::abs(first.position - x) > 1e-9 * (1 + std::abs(x)))
            return QStringLiteral("the position jumps at %1 s from %2 to %3").arg(p.start).arg(x).arg(first.position);
        double v = first.speed, at = first.position;
        const int steps = 400;
        const double h = p.duration / steps;
        for (int k = 0; k < steps; ++k) {
            const double a = motionAt(p, (k + 0.5) * h).acceleration;
            at += h * (v + a * h / 2);
            v += a * h;
        }
        if (std::abs(at - last.position) > 2e-5 * (1 + std::abs(last.position))
            || std::abs(v - last.speed) > 2e-5 * (1 + std::abs(last.speed)))
            return QStringLiteral("acceleration, speed and position disagree in the phase at %1 s").arg(p.start);
        x = last.position;
        end = p.start + p.duration;
    }
    if (std::abs(end - m.duration) > 1e-9 || std::abs(x - m.endPosition) > 1e-9)
        return QStringLiteral("the end is not the end");
    return {};
}

std::string codeOf(const std::vector<Segment>& segments)
{
    const auto m = layMotion(segments);
    return m ? std::string() : m.error().code;
}
std::string fieldOf(const std::vector<Segment>& segments)
{
    const auto m = layMotion(segments);
    return m ? std::string() : m.error().subject;
}

} // namespace

/// Segments of a cycle of every kind, and motions that were recorded.
class TestMotion : public QObject {
    Q_OBJECT

private Q_SLOTS:
    /// One third speeding up, one third running, one third braking: peak speed 1.5·s/T and acceleration 4.5·s/T²
    /// (common practice).
    void thirds()
    {
        const auto m = layMotion({made(SegmentKind::Thirds, 0.6, 0.9)});
        QVERIFY(m.has_value());
        QVERIFY(near(m->peakSpeed, 1.0));
        QVERIFY(near(m->peakAcceleration, 4.5 * 0.6 / 0.81));
        QCOMPARE(m->phases.size(), std::size_t(3));
        for (const Phase& p : m->phases)
            QVERIFY(near(p.duration, 0.3));
        QCOMPARE(unsound(*m), QString());
        const auto back = layMotion({made(SegmentKind::Thirds, -0.6, 0.9)});
        QVERIFY(back && near(back->endPosition, -0.6));
    }

    /// A triangle has twice its mean speed at the top, and 4·s/T² all the way.
    void triangle()
    {
        const auto byTime = layMotion({made(SegmentKind::Triangle, 0.4, 0.5)});
        QVERIFY(byTime && near(byTime->peakSpeed, 1.6) && near(byTime->peakAcceleration, 6.4));
        const auto byAcceleration = layMotion({made(SegmentKind::Triangle, 0.4, {}, {}, 6.4)});
        QVERIFY(byAcceleration && near(byAcceleration->duration, 0.5));
        const auto bySpeed = layMotion({made(SegmentKind::Triangle, 0.4, {}, 1.6)});
        QVERIFY(bySpeed && near(bySpeed->duration, 0.5));
        QCOMPARE(unsound(*byTime), QString());
        QCOMPARE(codeOf({made(SegmentKind::Triangle, 0.4, {})}), std::string("needs-two"));
        QCOMPARE(codeOf({made(SegmentKind::Triangle, 0.4, 0.5, 1.0)}), std::string("speed-below-mean"));
        QCOMPARE(codeOf({made(SegmentKind::Thirds, 0.4, 0.5, {}, 1.0)}), std::string("accel-too-low"));
    }

    /// A jog covers the area under its speed: 0.2 m/s for 2 s with two ramps of 0.1 s is 0.38 m.
    void jog()
    {
        const auto m = layMotion({made(SegmentKind::Jog, {}, 2.0, 0.2, 2.0)});
        QVERIFY(m.has_value());
        QVERIFY(near(m->endPosition, 0.38));
        QVERIFY(near(m->duration, 2.0));
        const auto back = layMotion({made(SegmentKind::Jog, {}, 2.0, -0.2, 2.0)});
        QVERIFY(back && near(back->endPosition, -0.38));
        QCOMPARE(unsound(*back), QString());
        QCOMPARE(codeOf({made(SegmentKind::Jog, {}, 0.15, 0.2, 2.0)}), std::string("jog-too-short"));
        QCOMPARE(codeOf({made(SegmentKind::Jog, {}, 2.0, 0.2)}), std::string("missing"));
        QCOMPARE(fieldOf({made(SegmentKind::Jog, {}, 2.0, 0.2)}), std::string("segment[0].acceleration"));
    }

    /// A conveyor that never stops: one jog that ends as fast as it runs, so the cycle repeats without a ramp.
    void aCycleWithoutAStop()
    {
        Segment run = made(SegmentKind::Jog, {}, 1.5, 0.4, 1.0);
        run.endSpeed = 0.4;
        const auto m = layMotion({run});
        QVERIFY(m.has_value());
        QCOMPARE(m->phases.size(), std::size_t(1));
        QVERIFY(near(m->endPosition, 0.6));
        QCOMPARE(m->peakAcceleration, 0.0);
    }

    /// From rest to 0.5 m/s, on at 0.8 m/s, and to rest: speed is continuous through both borders.
    void blend()
    {
        Segment a = made(SegmentKind::Blend, 0.3, {}, 0.5, 4.0), b = made(SegmentKind::Blend, 0.5, {}, 0.8, 4.0),
                c = made(SegmentKind::Blend, 0.2, {}, 0.8, 4.0);
        a.endSpeed = 0.5;
        b.endSpeed = 0.8;
        const auto m = layMotion({a, b, c, made(SegmentKind::Dwell, {}, 0.2)});
        QVERIFY2(m.has_value(), m ? "" : m.error().code.c_str());
        QCOMPARE(unsound(*m), QString());
        QVERIFY(near(m->endPosition, 1.0));
        for (std::size_t k = 0; k + 1 < m->phases.size(); ++k)
            QVERIFY(
                near(motionAt(m->phases[k], m->phases[k].duration).speed, motionAt(m->phases[k + 1], 0).speed, 1e-9));
        // kinematics of the school book: the last piece needs v²/2a = 0.08 m to stop and runs the rest
        QVERIFY(near(m->solved[2].time, 0.2 + (0.2 - 0.08) / 0.8));
        QVERIFY(near(m->peakSpeed, 0.8));
    }

    void whatCannotBlend_data()
    {
        QTest::addColumn<QString>("code");
        QTest::addColumn<int>("which");
        for (const auto& [code, which] : {std::pair("starts-moving", 0),
                                          {"turns-moving", 1},
                                          {"payload-moving", 2},
                                          {"blend-too-short", 3},
                                          {"blend-speed", 4},
                                          {"missing", 5}})
            QTest::newRow(code) << QString::fromLatin1(code) << which;
    }
    void whatCannotBlend()
    {
        QFETCH(QString, code);
        QFETCH(int, which);
        Segment first = made(SegmentKind::Blend, 0.3, {}, 0.5, 4.0);
        first.endSpeed = 0.5;
        Segment next = made(which == 0 ? SegmentKind::Trapezoid : SegmentKind::Blend,
                            which == 1   ? -0.2
                            : which == 3 ? 0.01
                                         : 0.2,
                            {}, which == 4 ? 0.3 : 0.8, 4.0);
        if (which == 2)
            next.payload = 3;
        if (which == 5)
            next.acceleration.reset();
        const auto m = layMotion({first, next, made(SegmentKind::Dwell, {}, 0.1)});
        QVERIFY(!m.has_value());
        QCOMPARE(QString::fromStdString(m.error().code), code);
        QVERIFY2(m.error().subject.starts_with("segment[1]."), m.error().subject.c_str());
        QVERIFY(messageFor(m.error()).size() > 20);
    }

    void press()
    {
        Segment s = made(SegmentKind::Press, {}, 0.4);
        QCOMPARE(fieldOf({made(SegmentKind::Thirds, 0.1, 0.2), s}), std::string("segment[1].force"));
        s.force = 80;
        const auto m = layMotion({made(SegmentKind::Thirds, 0.1, 0.2), s});
        QVERIFY(m && near(m->duration, 0.6));
    }

    /// The spline through positions of 3-4-5 (VDI 2143, from memory) reproduces it: 1.875·s/T and 5.7735·s/T².
    void theSplineKeepsALaw()
    {
        const double stroke = 0.3, time = 0.8;
        Segment s;
        s.kind = SegmentKind::Recorded;
        s.time = time;
        for (int k = 0; k <= 64; ++k) {
            const double z = k / 64.0;
            s.recorded.push_back(1.2 + stroke * (10 * std::pow(z, 3) - 15 * std::pow(z, 4) + 6 * std::pow(z, 5)));
        }
        const auto m = layMotion({s}, 5.0);
        QVERIFY(m.has_value());
        QCOMPARE(unsound(*m), QString());
        QVERIFY(near(m->endPosition, 5.3));
        QVERIFY(near(m->peakSpeed, 1.875 * stroke / time, 1e-4));
        QVERIFY(near(m->peakAcceleration, 5.7735 * stroke / (time * time), 3e-3));
        QCOMPARE(m->at(0).speed, 0.0);
        QVERIFY(std::abs(m->at(time).speed) < 1e-9);
    }

    /// A motion that goes out and comes back: every phase has the direction of its speed, and the ends of the stroke
    /// are found.
    void aRecordedMotionMayTurn()
    {
        Segment s;
        s.kind = SegmentKind::Recorded;
        s.time = 2.0;
        for (int k = 0; k <= 80; ++k)
            s.recorded.push_back(0.1 * (1 - std::cos(2 * pi * k / 80.0)));
        const auto m = layMotion({s});
        QVERIFY(m.has_value());
        QCOMPARE(unsound(*m), QString());
        QVERIFY(near(m->highest, 0.2, 1e-6));
        QVERIFY(std::abs(m->endPosition) < 1e-12);
        for (const Phase& p : m->phases) {
            const double v = motionAt(p, p.duration / 2).speed;
            QCOMPARE(p.way, sign(v));
        }
    }

    /// Noise of a known size is taken out: the fit is nearer to the true motion than the samples are, and its
    /// acceleration stays that of the motion although the noise alone would ask for hundreds of times as much.
    void noiseIsLeftOut()
    {
        std::mt19937 chance(11);
        std::normal_distribution<double> noise(0, 2e-5);
        std::vector<double> t, x;
        const double stroke = 0.25, time = 1.0;
        const auto truth = [&](double z) { return stroke * (z - std::sin(2 * pi * z) / (2 * pi)); };
        for (int k = 0; k <= 1000; ++k) {
            t.push_back(3 + k * 1e-3);
            x.push_back(0.7 + truth(k * 1e-3) + noise(chance));
        }
        const auto fit = fitRecorded(t, x, 1.2e-4);
        QVERIFY(fit.has_value());
        QVERIFY(fit->kept);
        QVERIFY(fit->largestDeviation <= 1.2e-4);
        QVERIFY(fit->positions.size() <= 33);
        QVERIFY(fit->rmsDeviation > 1e-5 && fit->rmsDeviation < 3e-5);
        QVERIFY(near(fit->peakAcceleration, 2 * pi * stroke / (time * time), 0.05)); // cycloidal: 2π·s/T²
        double worst = 0;
        for (std::size_t k = 0; k < fit->positions.size(); ++k)
            worst = std::max(
                worst, std::abs(fit->positions[k]
                                - truth(static_cast<double>(k) / static_cast<double>(fit->positions.size() - 1))));
        QVERIFY2(worst < 5e-5, qPrintable(QString::number(worst)));
    }

    void moreIsAllowedWithFewerPieces()
    {
        std::vector<double> t, x;
        for (int k = 0; k <= 400; ++k) {
            const double z = k / 400.0;
            t.push_back(z);
            x.push_back(std::pow(std::sin(pi * z), 4) * (1 + 0.3 * std::sin(14 * pi * z)));
        }
        std::size_t before = 1000;
        for (const double permitted : {1e-4, 1e-3, 1e-2, 0.2}) {
            const auto fit = fitRecorded(t, x, permitted);
            QVERIFY(fit && fit->kept && fit->largestDeviation <= permitted);
            QVERIFY(fit->positions.size() <= before);
            before = fit->positions.size();
        }
    }

    void badRecordings_data()
    {
        QTest::addColumn<QVector<double>>("t");
        QTest::addColumn<QVector<double>>("x");
        QTest::addColumn<QString>("code");
        const QVector<double> up{0, 1, 2, 3, 4, 5, 6, 7}, moving{0, 0, 1, 2, 3, 4, 4, 4};
        QTest::newRow("too short") << QVector<double>{0, 1, 2} << QVector<double>{0, 1, 2} << "recorded-short";
        QTest::newRow("not the same length") << up << QVector<double>{0, 1} << "recorded-short";
        QTest::newRow("time stands") << QVector<double>{0, 1, 1, 3, 4, 5, 6, 7} << moving << "recorded-order";
        QTest::newRow("time runs back") << QVector<double>{0, 1, 0.5, 3, 4, 5, 6, 7} << moving << "recorded-order";
        QTest::newRow("nothing moves") << up << QVector<double>(8, 2.0) << "no-motion";
        QTest::newRow("not finite") << up << QVector<double>{0, 0, std::nan(""), 2, 3, 4, 4, 4} << "not-a-number";
    }
    void badRecordings()
    {
        QFETCH(QVector<double>, t);
        QFETCH(QVector<double>, x);
        QFETCH(QString, code);
        const auto fit = fitRecorded(std::span<const double>(t.constData(), static_cast<std::size_t>(t.size())),
                                     std::span<const double>(x.constData(), static_cast<std::size_t>(x.size())), 1e-3);
        QVERIFY(!fit.has_value());
        QCOMPARE(QString::fromStdString(fit.error().code), code);
    }

    /// Random cycles of every kind are sound, whatever follows what.
    void randomCyclesAreSound()
    {
        std::mt19937 chance(5);
        std::uniform_real_distribution<double> share(0, 1);
        const std::vector<SegmentKind> kinds{SegmentKind::Trapezoid,   SegmentKind::Triangle, SegmentKind::Thirds,
                                             SegmentKind::JerkLimited, SegmentKind::Cam,      SegmentKind::Jog,
                                             SegmentKind::Dwell};
        int laid = 0;
        for (int n = 0; n < 300; ++n) {
            std::vector<Segment> cycle;
            for (int k = 0; k < 5; ++k) {
                const SegmentKind kind = kinds[static_cast<std::size_t>(share(chance) * 6.999)];
                Segment s = made(kind, (share(chance) - 0.4) * 0.5, 0.2 + share(chance), 0.1 + share(chance),
                                 2 + 8 * share(chance));
                if (kind == SegmentKind::Trapezoid || kind == SegmentKind::JerkLimited)
                    s.time.reset();
                if (kind == SegmentKind::Triangle || kind == SegmentKind::Thirds || kind == SegmentKind::Cam) {
                    s.speed.reset();
                    s.acceleration.reset();
                }
                if (kind == SegmentKind::JerkLimited)
                    s.jerk = 20 + 200 * share(chance);
                if (kind == SegmentKind::Jog) {
                    s.time = 1 + share(chance);
                    s.distance.reset();
                }
                cycle.push_back(s);
            }
            const auto m = layMotion(cycle, share(chance));
            if (!m)
                continue; // nothing but dwells, or a jog that is too short
            ++laid;
            const QString wrong = unsound(*m);
            QVERIFY2(wrong.isEmpty(), qPrintable(QStringLiteral("cycle %1: %2").arg(n).arg(wrong)));
        }
        QVERIFY(laid > 200);
    }

    // ------------------------------------------------------------ any three of its values

    /// A jerk-limited move in a given time: whichever of speed, acceleration and jerk is left open follows, and the
    /// move that results is the one that would be laid with that value.
    void aJerkLimitedMoveTakesItsTime_data()
    {
        QTest::addColumn<int>("open");
        for (int open = 0; open < 4; ++open)
            QTest::addRow("%s open",
                          std::array{"speed", "acceleration", "jerk", "nothing"}[static_cast<std::size_t>(open)])
                << open;
    }
    void aJerkLimitedMoveTakesItsTime()
    {
        QFETCH(int, open);
        for (const double time : {0.9, 1.2, 4.0}) {
            Segment s = made(SegmentKind::JerkLimited, 0.8, time, 2.0, 8.0);
            s.jerk = 100;
            if (open == 0)
                s.speed.reset();
            if (open == 1)
                s.acceleration.reset();
            if (open == 2)
                s.jerk.reset();
            const auto m = layMotion({s});
            QVERIFY2(m.has_value(), qPrintable(QStringLiteral("%1 s").arg(time)));
            QCOMPARE(unsound(*m), QString());
            QVERIFY(near(m->duration, time, 1e-9));
            QVERIFY(near(m->endPosition, 0.8));
            QVERIFY(!s.speed || m->peakSpeed <= 2.0 * (1 + 1e-9));
            QVERIFY(!s.acceleration || m->peakAcceleration <= 8.0 * (1 + 1e-9));
            QVERIFY(!s.jerk || m->peakJerk <= 100 * (1 + 1e-9));
        }
        // quicker than the other values allow: the least time is told, and taken when it is entered
        Segment s = made(SegmentKind::JerkLimited, 0.8, 0.2, 2.0, 8.0);
        s.jerk = 100;
        const auto refused = layMotion({s});
        QVERIFY(!refused);
        QCOMPARE(refused.error().code, std::string("time-too-short"));
        QCOMPARE(refused.error().subject, std::string("segment[0].time"));
        s.time = *refused.error().limit;
        QVERIFY(layMotion({s}).has_value());
        s.speed.reset();
        s.jerk.reset();
        QCOMPARE(codeOf({s}), std::string("needs-three"));
    }

    /// Coefficients of the cycloid: v = 2·s/T, a = 2π·s/T², j = 4π²·s/T³ (VDI 2143, from memory; derived).
    void aCamKeepsItsLimits()
    {
        Segment s = made(SegmentKind::Cam, 0.3, {}, 1.0);
        auto m = layMotion({s});
        QVERIFY(m.has_value());
        QVERIFY(near(m->duration, 2 * 0.3 / 1.0));
        s.acceleration = 3;
        m = layMotion({s});
        QVERIFY(near(m->duration, std::sqrt(2 * pi * 0.3 / 3)));
        s.jerk = 20;
        m = layMotion({s});
        QVERIFY(near(m->duration, std::cbrt(4 * pi * pi * 0.3 / 20)));
        QVERIFY(near(m->peakJerk, 20, 1e-6));
        s.time = 0.5;
        QCOMPARE(codeOf({s}), std::string("speed-below-mean"));
        s.speed.reset();
        QCOMPARE(codeOf({s}), std::string("accel-too-low"));
        s.acceleration.reset();
        QCOMPARE(codeOf({s}), std::string("jerk-too-low"));
        s.jerk.reset();
        QVERIFY(near(layMotion({s})->duration, 0.5));
        s.time.reset();
        QCOMPARE(codeOf({s}), std::string("needs-two"));
    }

    /// Braking gentler than speeding up is a limit of the symmetric shapes too.
    void aTriangleKeepsItsDeceleration()
    {
        Segment s = made(SegmentKind::Triangle, 0.4, {}, {}, 8);
        s.deceleration = 2;
        const auto m = layMotion({s});
        QVERIFY(m.has_value());
        QVERIFY(near(m->peakAcceleration, 2));
    }

    void aBlendTakesItsTime()
    {
        Segment first = made(SegmentKind::Blend, 0.5, {}, 1.0, 4), second = made(SegmentKind::Blend, 0.5, {}, 1.0, 4);
        first.endSpeed = 0.4;
        for (const double time : {0.9, 1.0, 1.1}) {
            second.time = time;
            const auto m = layMotion({first, second});
            QVERIFY2(m.has_value(), qPrintable(QString::number(time)));
            QCOMPARE(unsound(*m), QString());
            QVERIFY(near(m->solved[1].time, time));
            QVERIFY(near(m->endPosition, 1.0));
        }
        second.time = 0.3;
        QCOMPARE(codeOf({first, second}), std::string("time-too-short"));
        second.time = 9;
        QCOMPARE(codeOf({first, second}), std::string("time-too-long"));
    }

    void aJogGoesForATimeOrOverADistance()
    {
        Segment s = made(SegmentKind::Jog, 2.0, {}, 0.5, 1);
        const auto m = layMotion({s});
        QVERIFY(m.has_value());
        QVERIFY(near(m->endPosition, 2));
        QVERIFY(near(m->duration, 2 / 0.5 + 0.5)); // both ramps together run half as far
        s.time = m->duration;
        QVERIFY(layMotion({s}).has_value());
        s.time = 7;
        QCOMPARE(codeOf({s}), std::string("over-determined"));
        s.time.reset();
        s.distance = 0.1;
        QCOMPARE(codeOf({s}), std::string("blend-too-short"));
        s.distance = -2;
        QVERIFY(!layMotion({s}).has_value()); // against its speed
    }

    /// What a sentence tells as the least is accepted when it is typed.
    void theLeastThatIsToldIsAccepted()
    {
        std::mt19937 random(5);
        for (int n = 0; n < 300; ++n) {
            const auto between = [&](double a, double b) { return std::uniform_real_distribution(a, b)(random); };
            Segment s = made(SegmentKind::Trapezoid, between(0.1, 2), between(0.3, 2), {}, 1e-3);
            const auto refused = layMotion({s});
            QVERIFY(!refused);
            QCOMPARE(refused.error().code, std::string("accel-too-low"));
            const std::string told = messageFor(refused.error());
            const auto from = told.find("at least ") + 9;
            const auto typed = parseQuantity(told.substr(from, told.size() - from - 1), Quantity::Acceleration);
            QVERIFY2(typed.has_value(), told.c_str());
            s.acceleration = *typed;
            QVERIFY2(layMotion({s}).has_value(), told.c_str());
            QVERIFY(*typed < *refused.error().limit * 1.002);
        }
    }

    void whatAKindHasNoUseForIsNamed()
    {
        Segment s = made(SegmentKind::Trapezoid, 0.4, {}, 1, 2);
        QVERIFY(unusedValues(s).empty());
        s.jerk = 30;
        QCOMPARE(unusedValues(s), std::vector<std::string_view>{"jerk"});
        s.kind = SegmentKind::JerkLimited;
        QVERIFY(unusedValues(s).empty());
        s.kind = SegmentKind::Dwell;
        QCOMPARE(unusedValues(s).size(), std::size_t{4}); // distance, speed, acceleration, jerk
    }

    /// Braking with a gentler jerk of its own: the move is sound, brakes longer, and each side keeps its jerk.
    void aMoveBrakesWithItsOwnJerk()
    {
        Segment s = made(SegmentKind::JerkLimited, 0.8, {}, 2.0, 8.0);
        s.jerk = 400;
        const double same = layMotion({s})->duration;
        s.brakingJerk = 40;
        const auto m = layMotion({s});
        QVERIFY(m.has_value());
        QCOMPARE(unsound(*m), QString());
        QVERIFY(m->duration > same);
        QVERIFY(near(m->phases.front().j, 400) && near(m->phases.back().j, 40));
    }

    /// A value below zero is told at its own field, not at the distance.
    void whatIsNegativeIsNamed()
    {
        Segment s = made(SegmentKind::Trapezoid, 0.4, {}, -1, 2);
        QCOMPARE(layMotion({s}).error().subject, std::string("segment[0].speed"));
        s = made(SegmentKind::Trapezoid, 0.4, -2, 1);
        QCOMPARE(layMotion({s}).error().subject, std::string("segment[0].time"));
        s = made(SegmentKind::JerkLimited, 0.4, {}, 1, 2);
        s.jerk = -3;
        QCOMPARE(layMotion({s}).error().subject, std::string("segment[0].jerk"));
    }
};

QTEST_APPLESS_MAIN(TestMotion)
#include "tst_motion.moc"
