#include "core/sizing/duty.h"

#include "core/mechanics/stage.h"

#include <algorithm>
#include <cmath>

namespace ridge {

bool AxisChain::locks() const noexcept
{
    return backward <= 0 || std::any_of(stages.begin(), stages.begin() + stageCount, [](const ChainStage& s) {
               return s.backward <= 0;
           });
}

double AxisChain::ratio() const noexcept
{
    double i = 1;
    for (int k = 0; k < stageCount; ++k)
        i *= stages[static_cast<std::size_t>(k)].ratio;
    return i;
}

double AxisChain::reflectedInertia(double payload) const noexcept
{
    double j = loadInertia(payload) * radius * radius + inertia;
    for (int k = 0; k < stageCount; ++k) {
        const ChainStage& s = stages[static_cast<std::size_t>(k)];
        j = j / (s.ratio * s.ratio) + s.inertia;
    }
    return j;
}

double AxisChain::loadInertia(double payload) const noexcept
{
    double most = 0;
    if (load.hasCrank)
        for (int k = 0; k < 360; ++k) // smooth and periodic: a degree is far finer than its shape
            if (const auto p = ridge::crank(load.crank, k * pi / 180, 0, 0, 0, 0, 0))
                most = std::max(most, p->inertia);
    return load.moving + load.rolling + load.payloadShare * payload + most;
}

namespace {
double loadForce(const LoadModel& l, double payload, double force, const MotionPoint& p, int way) noexcept
{
    const double m = l.moving + l.payloadShare * payload;
    double total = (m + l.rolling) * p.acceleration + force + l.viscous * p.speed - l.counterForce;
    double rubbing = l.coulomb;
    if (!l.rotary) {
        const double weight = (m + l.carried) * standardGravity;
        const bool level = l.incline == 0;
        total += level ? 0 : weight * std::sin(l.incline);
        rubbing +=
            l.friction
            * (std::abs((weight + l.dragging * standardGravity) * (level ? 1 : std::cos(l.incline))) + l.attraction);
    } else if (l.unbalance != 0) {
        total += l.unbalance * std::cos(p.position);
    }
    if (l.hasCrank) { // friction and force of the slide follow its own direction; at rest there is no friction
        // the way of the segment decides: at the end of a move its speed is dust of either sign
        const double turning = way != 0 ? way * std::max(std::abs(p.speed), 1e-9) : p.speed;
        double pressed = l.crankForce;
        if (l.crankForceBack != l.crankForce && way != 0)
            if (const auto unit = crank(l.crank, p.position, 1, 0, 0, 0, 0))
                pressed = slideForce(l, unit->speed * way);
        if (const auto c = crank(l.crank, p.position, turning, p.acceleration, pressed, way != 0 ? l.crankCoulomb : 0,
                                 l.crankGravity))
            total += c->torque;
    }
    if (l.hasSpring) {
        const GasSpring& s = l.spring;
        total -= springForceAt(s, l.springAtZero - p.position);
        rubbing += s.friction * s.count;
    }
    return total + way * rubbing;
}
} // namespace

ChainPoint chainPoint(const AxisChain& c, double payload, double force, const MotionPoint& p, int way) noexcept
{
    ChainPoint out;
    out.force = loadForce(c.load, payload, force, p, way);
    const double r = c.radius;
    double speed = p.speed / r, acceleration = p.acceleration / r;
    int turn = way * sign(r);
    out.sides[0] = out.force * r;
    double t = stageTorque(out.sides[0], turn, 1.0, c.forward, c.backward);
    t += c.inertia * acceleration + turn * c.drag;
    for (int k = 0; k < c.stageCount; ++k) {
        const ChainStage& s = c.stages[static_cast<std::size_t>(k)];
        out.sides[static_cast<std::size_t>(k) + 1] = t;
        t = stageTorque(t, turn, s.ratio, s.forward, s.backward);
        speed *= s.ratio;
        acceleration *= s.ratio;
        turn *= sign(s.ratio);
        t += s.inertia * acceleration + turn * s.drag;
    }
    out.torque = t;
    out.speed = speed;
    out.acceleration = acceleration;
    return out;
}

namespace {

constexpr std::array<double, 4> gaussAt{-0.8611363115940526, -0.3399810435848563, 0.3399810435848563,
                                        0.8611363115940526};
constexpr std::array<double, 4> gaussWeight{0.3478548451374538, 0.6521451548625461, 0.6521451548625461,
                                            0.3478548451374538};

/// Walks the phases of a motion and collects pieces, nodes and extremes.
class PathBuilder {
public:
    PathBuilder(const AxisChain& chain, const std::vector<Segment>& segments, double rotor, DutyPath& path)
        : m_chain(chain)
        , m_segments(segments)
        , m_rotor(rotor)
        , m_path(path)
    {}

    void add(const Phase& phase, int index)
    {
        m_phase = &phase;
        m_index = index;
        const Segment& s = m_segments[static_cast<std::size_t>(phase.segment)];
        m_segment = &s;
        m_brake = s.brakeClosed && phase.way == 0;
        const LoadModel& load = m_chain.load;
        // what goes round is looked at turn by turn: a cosine in sixteenths, a crank with its harmonics in 48ths
        const int perTurn = load.hasCrank ? 48 : load.unbalance != 0 ? 16 : 0;
        m_perSecond = phase.duration > 0 ? turnsOf(phase) * perTurn / phase.duration : 0;
        const int turning = static_cast<int>(std::ceil(turnsOf(phase) * perTurn));
        const int cells = phase.cam                                               ? 12
                          : load.hasCrank                                         ? 24
                          : (load.hasSpring || load.unbalance != 0 || s.forceEnd) ? 4
                                                                                  : 2;
        m_smooth = !phase.cam && perTurn == 0;
        cutAtSigns(std::max(cells, turning));
        for (std::size_t k = 0; k + 1 < m_cuts.size(); ++k)
            piece(m_cuts[k], m_cuts[k + 1]);
        extremes(std::max(phase.cam || load.hasCrank ? 24 : 4, turning));
    }

    static double turnsOf(const Phase& phase)
    {
        return std::abs(motionAt(phase, phase.duration).position - motionAt(phase, 0).position) / (2 * pi);
    }

private:
    ChainPoint at(double t) const
    {
        if (m_brake)
            return {};
        const MotionPoint p = motionAt(*m_phase, t);
        return chainPoint(m_chain, m_segment->payload, processForce(*m_segment, *m_phase, p.position), p, m_phase->way);
    }
    /// Value whose sign matters: the load side of each stage, then the motor's own torque.
    double key(const ChainPoint& p, int which) const
    {
        return which <= m_chain.stageCount ? p.sides[static_cast<std::size_t>(which)]
                                           : p.torque + m_rotor * p.acceleration;
    }

    void cutAtSigns(int cells)
    {
        const double dur = m_phase->duration;
        m_cuts.assign({0.0, dur});
        ChainPoint before = at(0.0);
        double t0 = 0.0;
        for (int n = 1; n <= cells; ++n) {
            const double t1 = dur * n / cells;
            const ChainPoint after = at(t1);
            for (int which = 0; which <= m_chain.stageCount + 1; ++which)
                if (key(before, which) * key(after, which) < 0)
                    m_cuts.push_back(root(which, t0, t1, key(before, which), key(after, which)));
            before = after;
            t0 = t1;
        }
        std::ranges::sort(m_cuts);
    }

    /// Illinois variant of the false position; the bracket never widens.
    double root(int which, double a, double b, double fa, double fb) const
    {
        int side = 0;
        for (int k = 0; k < 100 && b - a > 1e-15 * m_phase->duration; ++k) {
            const double c = (fa * b - fb * a) / (fa - fb), fc = key(at(c), which);
            if (fc == 0)
                return c;
            if (fc * fb > 0) {
                b = c;
                fb = fc;
                if (side == -1)
                    fa /= 2;
                side = -1;
            } else {
                a = c;
                fa = fc;
                if (side == 1)
                    fb /= 2;
                side = 1;
            }
            if (std::abs(fc) < 1e-14 * (std::abs(fa) + std::abs(fb)))
                return c;
        }
        return (a + b) / 2;
    }

    void piece(double from, double to)
    {
        if (!(to - from > 0))
            return;
        // a phase of a cam is a quarter of its law: in four parts the squares are good to eight digits
        const double rate = std::max((m_phase->cam ? 4 : 2) / m_phase->duration, m_perSecond);
        const int parts = m_smooth ? 1 : std::max(2, static_cast<int>(std::ceil(rate * (to - from) - 1e-9)));
        const ChainPoint p0 = at(from + 1e-9 * (to - from)), p1 = at(to - 1e-9 * (to - from));
        m_path.pieces.push_back({m_phase->start + from, to - from, p0.torque, p1.torque, p0.speed, p1.speed,
                                 p0.acceleration, p1.acceleration, m_phase->segment, m_phase->way, m_brake,
                                 m_path.nodes.size(), static_cast<std::size_t>(4 * parts)});
        for (int n = 0; n < parts; ++n) {
            const double half = (to - from) / parts / 2, middle = from + (to - from) * (n + 0.5) / parts;
            for (std::size_t g = 0; g < 4; ++g) {
                const double t = middle + half * gaussAt[g], w = half * gaussWeight[g];
                const ChainPoint p = at(t);
                m_path.nodes.push_back({w, p.torque, p.speed, p.acceleration, m_phase->start + t, m_index});
                m_path.torqueSquares += w * p.torque * p.torque;
                m_path.torqueAcceleration += w * p.torque * p.acceleration;
                m_path.accelerationSquares += w * p.acceleration * p.acceleration;
            }
        }
    }

    void keep(double t)
    {
        const ChainPoint p = at(t);
        m_path.extremes.push_back({0, p.torque, p.speed, p.acceleration, m_phase->start + t, m_index});
    }

    /// Ends always; inside, local extremes of torque and power, refined by golden section.
    void extremes(int cells)
    {
        const double dur = m_phase->duration;
        keep(0.0);
        keep(dur);
        if (m_smooth && !m_chain.load.hasSpring && !m_segment->forceEnd && m_phase->j == 0 && m_phase->a == 0)
            return;
        const auto torque = [this](double t) {
            const ChainPoint p = at(t);
            return p.torque + m_rotor * p.acceleration;
        };
        const auto power = [this](double t) {
            const ChainPoint p = at(t);
            return (p.torque + m_rotor * p.acceleration) * p.speed;
        };
        refine(torque, cells);
        refine(power, cells);
        if (!m_smooth)
            refine([this](double t) { return at(t).sides[0]; }, cells);
    }
    template <class F>
    void refine(F f, int cells)
    {
        const double dur = m_phase->duration;
        double before = f(0.0), here = f(dur / cells);
        for (int n = 1; n < cells; ++n) {
            const double after = f(dur * (n + 1) / cells);
            if ((here - before) * (after - here) < 0) {
                const double up = here > before ? 1 : -1;
                double lo = dur * (n - 1) / cells, hi = dur * (n + 1) / cells;
                for (int k = 0; k < 32; ++k) { // a square in the value: far below a double's last digit
                    const double p = lo + 0.381966 * (hi - lo), q = lo + 0.618034 * (hi - lo);
                    (up * f(p) < up * f(q) ? lo : hi) = up * f(p) < up * f(q) ? p : q;
                }
                keep((lo + hi) / 2);
            }
            before = here;
            here = after;
        }
    }

    const AxisChain& m_chain;
    const std::vector<Segment>& m_segments;
    double m_rotor;
    DutyPath& m_path;
    const Phase* m_phase = nullptr;
    int m_index = 0;
    const Segment* m_segment = nullptr;
    double m_perSecond = 0; ///< cells a second that the turns ask for, in the mean
    bool m_brake = false, m_smooth = true;
    std::vector<double> m_cuts;
};

} // namespace

namespace {
tl::unexpected<Error> springRefused(double stroke)
{
    auto refused = refuseBeyond("spring-stroke", stroke, Quantity::Length);
    refused.value().subject = "load.springAtZero";
    return refused;
}
} // namespace

Result<DutyPath> dutyPath(const AxisChain& chain, const Motion& motion, const std::vector<Segment>& segments,
                          double rotor)
{
    if (chain.load.hasSpring) {
        const double most = chain.load.springAtZero - motion.lowest, least = chain.load.springAtZero - motion.highest;
        if (least < 0 || most > chain.load.spring.stroke)
            return springRefused(chain.load.spring.stroke);
    }
    DutyPath path;
    path.period = motion.duration;
    PathBuilder builder(chain, segments, rotor, path);
    for (std::size_t k = 0; k < motion.phases.size(); ++k) {
        const Phase& phase = motion.phases[k];
        if ((chain.load.hasCrank || chain.load.unbalance != 0) && PathBuilder::turnsOf(phase) > mostTurns) {
            auto refused = refuseBeyond("too-many-turns", mostTurns, Quantity::Number);
            refused.value().subject = "segment[" + std::to_string(phase.segment) + "].distance";
            return refused;
        }
        builder.add(phase, static_cast<int>(k));
    }
    return path;
}

ChainPoint chainAt(const AxisChain& chain, const Motion& motion, const std::vector<Segment>& segments,
                   const DutyNode& node) noexcept
{
    const Phase& phase = motion.phases[static_cast<std::size_t>(node.phase)];
    const Segment& s = segments[static_cast<std::size_t>(phase.segment)];
    const MotionPoint p = motionAt(phase, std::clamp(node.at - phase.start, 0.0, phase.duration));
    return chainPoint(chain, s.payload, processForce(s, phase, p.position), p, phase.way);
}

double torqueRms(const DutyPath& path, double rotor) noexcept
{
    const double squares =
        path.torqueSquares + 2 * rotor * path.torqueAcceleration + rotor * rotor * path.accelerationSquares;
    return std::sqrt(std::max(0.0, squares) / path.period);
}

DutyFigures dutyFigures(const DutyPath& path, double rotor) noexcept
{
    DutyFigures f;
    f.period = path.period;
    double meanAbs = 0, speed = 0, speedSquares = 0;
    for (const DutyNode& n : path.nodes) {
        const double t = n.torque + rotor * n.acceleration, w = std::abs(n.speed), energy = n.weight * t * n.speed;
        meanAbs += n.weight * std::abs(t);
        speed += n.weight * w;
        speedSquares += n.weight * w * w;
        (energy > 0 ? f.energyMotoring : f.energyRegenerated) += std::abs(energy);
    }
    for (const DutyNode& n : path.extremes) {
        const double t = n.torque + rotor * n.acceleration, power = t * n.speed;
        f.torqueMax = std::max(f.torqueMax, t);
        if (t < f.torqueMin) {
            f.torqueMin = t;
            f.leastAt = n.at;
        }
        if (std::abs(t) > f.torquePeak) {
            f.torquePeak = std::abs(t);
            f.peakAt = n.at;
            f.peakSpeed = std::abs(n.speed);
        }
        f.speedMax = std::max(f.speedMax, std::abs(n.speed));
        f.powerPeak = std::max(f.powerPeak, power);
        if (power < f.powerLeast) {
            f.powerLeast = power;
            f.powerLeastAt = n.at;
        }
    }
    f.torqueRms = torqueRms(path, rotor);
    f.torqueMeanAbs = meanAbs / path.period;
    f.speedMeanAbs = speed / path.period;
    f.speedRms = std::sqrt(speedSquares / path.period);
    f.powerMean = (f.energyMotoring - f.energyRegenerated) / path.period;
    return f;
}

Result<DutyFigures> linearDuty(const std::vector<LinearPhase>& phases)
{
    DutyFigures f;
    double squares = 0, meanAbs = 0, speed = 0, speedSquares = 0;
    for (const LinearPhase& p : phases) {
        if (!(p.time >= 0))
            return refuse("not-positive");
        std::array<double, 4> cuts{0.0, 1.0, 1.0, 1.0};
        std::size_t count = 2;
        if (p.torque0 * p.torque1 < 0)
            cuts[count++ - 1] = p.torque0 / (p.torque0 - p.torque1);
        if (p.speed0 * p.speed1 < 0)
            cuts[count++ - 1] = p.speed0 / (p.speed0 - p.speed1);
        cuts[count - 1] = 1.0;
        std::sort(cuts.begin(), cuts.begin() + static_cast<std::ptrdiff_t>(count));
        const double dt = p.torque1 - p.torque0, dw = p.speed1 - p.speed0;
        for (std::size_t k = 0; k + 1 < count; ++k) {
            const double a0 = p.torque0 + dt * cuts[k], a1 = p.torque0 + dt * cuts[k + 1];
            const double b0 = p.speed0 + dw * cuts[k], b1 = p.speed0 + dw * cuts[k + 1],
                         h = p.time * (cuts[k + 1] - cuts[k]);
            squares += h * (a0 * a0 + a0 * a1 + a1 * a1) / 3;
            speedSquares += h * (b0 * b0 + b0 * b1 + b1 * b1) / 3;
            meanAbs += h * std::abs(a0 + a1) / 2;
            speed += h * std::abs(b0 + b1) / 2;
            const double e = h * (2 * a0 * b0 + a0 * b1 + a1 * b0 + 2 * a1 * b1) / 6;
            (e > 0 ? f.energyMotoring : f.energyRegenerated) += std::abs(e);
        }
        const double stationary =
            dt * dw != 0 ? std::clamp(-(p.torque0 * dw + p.speed0 * dt) / (2 * dt * dw), 0.0, 1.0) : 0.0;
        for (const double c : {0.0, 1.0, stationary}) {
            const double power = (p.torque0 + dt * c) * (p.speed0 + dw * c);
            f.powerPeak = std::max(f.powerPeak, power);
            f.powerLeast = std::min(f.powerLeast, power);
        }
        f.torquePeak = std::max({f.torquePeak, std::abs(p.torque0), std::abs(p.torque1)});
        f.speedMax = std::max({f.speedMax, std::abs(p.speed0), std::abs(p.speed1)});
        f.period += p.time;
    }
    if (!(f.period > 0))
        return refuse("no-motion");
    f.torqueRms = std::sqrt(squares / f.period);
    f.torqueMeanAbs = meanAbs / f.period;
    f.speedMeanAbs = speed / f.period;
    f.speedRms = std::sqrt(speedSquares / f.period);
    f.powerMean = (f.energyMotoring - f.energyRegenerated) / f.period;
    return f;
}

} // namespace ridge
