#include "core/commutation/sweepreport.h"

#include "core/working/root.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <numbers>

namespace ridge {

namespace {
constexpr double begins = 120; ///< electrical degrees that a sweep takes to drag the rotor along, our choice
constexpr double degree = std::numbers::pi / 180;

using Samples = std::span<const SweepSample>;

/// Extremes and mean of one phase current over both ways.
struct Reach {
    double highest = 0, lowest = 0, mean = 0;
};
Reach reachOf(Samples forward, Samples backward, double SweepSample::*phase)
{
    Reach r;
    for (const Samples part : {forward, backward})
        for (const SweepSample& s : part) {
            r.highest = std::max(r.highest, s.*phase);
            r.lowest = std::min(r.lowest, s.*phase);
        }
    r.mean = (r.highest + r.lowest) / 2;
    return r;
}

/// Sensors, open phases and polarities; they come first, for without current nothing else means anything.
void currents(SweepReport& out, Samples forward, Samples backward, const SweepExpected& e)
{
    if (!(e.demand > 0))
        return;
    std::vector<double> u, v;
    for (const Samples part : {forward, backward})
        for (const SweepSample& s : part) {
            u.push_back(s.u);
            v.push_back(s.v);
        }
    if (const auto locus = currentLocus(u, v))
        out.locus = *locus;
    if (out.locus && out.locus->open) {
        out.found.push_back({SweepWord::OpenPhase, *out.locus->open, out.locus->ratio});
        return;
    }
    constexpr std::array<std::pair<char, double SweepSample::*>, 3> phases{
        std::pair{'U', &SweepSample::u}, {'V', &SweepSample::v}, {'W', &SweepSample::w}};
    for (const auto& [name, phase] : phases) {
        const Reach r = reachOf(forward, backward, phase);
        const double up = r.highest, down = -r.lowest;
        if (up > 3 * down || down > 3 * up)
            out.found.push_back({SweepWord::OnePolarity, name, down > 0 ? up / down : 0});
        else if (e.rated > 0 && std::abs(r.mean) > 0.02 * e.rated && std::abs(r.mean) > 0.02 * e.demand)
            out.found.push_back({SweepWord::CurrentOffset, name, r.mean});
    }
}

/// What lies behind the first drag of the rotor.
Samples settled(Samples way)
{
    const double from = way.front().field;
    const auto it = std::ranges::find_if(way, [&](const SweepSample& s) { return std::abs(s.field - from) > begins; });
    return way.subspan(static_cast<std::size_t>(it - way.begin()));
}

std::optional<double> meanOffset(Samples way, const SweepExpected& e)
{
    std::vector<double> angles;
    for (const SweepSample& s : settled(way))
        angles.push_back(s.field - e.polePairs * 360 * s.counts / e.counts);
    return angles.size() < 10 ? std::nullopt : std::optional(circularMean(angles));
}

void motion(SweepReport& out, Samples forward, Samples backward, const SweepExpected& e)
{
    // over what is swept once the rotor hangs on the field
    const Samples f = settled(forward), b = settled(backward);
    if (f.size() < 10 || b.size() < 10)
        return;
    const auto turnsOf = [](Samples s) { return (s.back().field - s.front().field) / 360; };
    const auto movedIn = [](Samples s) { return s.back().counts - s.front().counts; };
    out.turns = turnsOf(f);
    out.moved = movedIn(f);
    out.movedBack = movedIn(b);
    const double perTurn = e.counts / e.polePairs, wanted = std::abs(out.turns) * perTurn;
    if (std::abs(out.moved) < 0.05 * wanted) {
        out.found.push_back({SweepWord::NoMotion, 0, out.moved});
        return;
    }
    if (out.moved * out.turns < 0) {
        out.found.push_back({SweepWord::Against, 0, out.moved});
        return;
    }
    const double back = std::abs(out.movedBack) / std::max(1e-9, std::abs(turnsOf(b))),
                 ahead = std::abs(out.moved) / std::abs(out.turns);
    if (std::abs(back / ahead - 1) > 0.01 * std::max(1.0, 3 / std::abs(out.turns)))
        out.found.push_back({SweepWord::CountsDiffer, 0, back / ahead - 1});
    if (e.linear) {
        if (const auto pitch = checkPitch(e.counts, 1, std::abs(out.moved), std::abs(out.turns))) {
            out.pitch = *pitch;
            if (pitch->found != PitchFound::Ok)
                out.found.insert(out.found.begin(),
                                 {pitch->found == PitchFound::HalfEntered     ? SweepWord::PitchHalf
                                  : pitch->found == PitchFound::DoubleEntered ? SweepWord::PitchDouble
                                                                              : SweepWord::PitchWrong,
                                  0, pitch->ratio});
        }
    } else if (const auto poles = checkPoles(e.counts, std::abs(out.moved), std::abs(out.turns), e.polePairs)) {
        out.poles = *poles;
        if (poles->found != PolesFound::Ok)
            out.found.insert(out.found.begin(), {poles->found == PolesFound::Mixed   ? SweepWord::PolesMixed
                                                 : poles->found == PolesFound::Wrong ? SweepWord::PolesWrong
                                                                                     : SweepWord::CountsDoubtful,
                                                 0, poles->polePairs});
    }
    if (!out.found.empty())
        return;
    out.forward = meanOffset(forward, e);
    out.backward = meanOffset(backward, e);
    if (!out.forward || !out.backward)
        return;
    out.offset = sweepOffset(*out.forward, *out.backward);
    if (out.offset->lag_deg < -1)
        out.found.push_back({SweepWord::LagNegative, 0, out.offset->lag_deg});
    else if (out.offset->lag_deg > lagLimit)
        out.found.push_back({SweepWord::LagLarge, 0, out.offset->lag_deg});
}

void halls(SweepReport& out, Samples forward, const SweepExpected& e)
{
    if (!e.halls || !out.offset)
        return;
    std::vector<HallReading> readings;
    for (const SweepSample& s : settled(forward))
        readings.push_back({e.polePairs * 360 * s.counts / e.counts + out.offset->offset_deg, s.halls});
    const auto solved = solveHalls(readings);
    if (solved) {
        out.halls = *solved;
        return;
    }
    const std::string& code = solved.error().code;
    out.found.push_back({code == "hall-channel-stuck" ? SweepWord::HallStuck
                         : code == "hall-spread"      ? SweepWord::HallSpread
                                                      : SweepWord::HallNotPeriodic,
                         0, 0});
}
} // namespace

std::string_view sweepCode(SweepWord word)
{
    constexpr std::array<std::string_view, 17> codes{"CURRENT_SENSOR_OFFSET", "OPEN_PHASE",
                                                     "ONE_POLARITY",          "NO_MOTION",
                                                     "COUNTS_AGAINST_FIELD",  "POLES_AND_PAIRS_MIXED",
                                                     "POLE_PAIRS_WRONG",      "COUNTS_PER_REV_DOUBTFUL",
                                                     "PITCH_HALF_ENTERED",    "PITCH_DOUBLE_ENTERED",
                                                     "PITCH_WRONG",           "COUNTS_DIFFER",
                                                     "LAG_TOO_LARGE",         "LAG_NEGATIVE",
                                                     "HALL_CHANNEL_STUCK",    "HALL_SPREAD",
                                                     "HALL_NOT_PERIODIC"};
    return codes.at(static_cast<std::size_t>(word));
}

Result<SweepReport> reportSweep(Samples forward, Samples backward, const SweepExpected& e)
{
    if (forward.size() < 30 || backward.size() < 30 || !(e.counts > 0) || !(e.polePairs > 0))
        return refuse("trace-too-short");
    SweepReport out;
    currents(out, forward, backward, e);
    const bool carries = std::ranges::none_of(out.found, [](const SweepFound& f) {
        return f.word == SweepWord::OpenPhase || f.word == SweepWord::OnePolarity;
    });
    if (carries) {
        motion(out, forward, backward, e);
        halls(out, forward, e);
    }
    return out;
}

std::string writeSweep(Samples forward, Samples backward)
{
    constexpr double apart = 3; // deg
    std::string out;
    const auto way = [&out](Samples samples) {
        double last = -1e9;
        for (const SweepSample& s : samples)
            if (std::abs(s.field - last) >= apart) {
                last = s.field;
                out +=
                    fmt::format("{:.1f} {:.0f} {} {:.3f} {:.3f} {:.3f}\n", s.field, s.counts, s.halls, s.u, s.v, s.w);
            }
    };
    way(forward);
    out += '\n';
    way(backward);
    return out;
}

SweepWays readSweep(std::string_view text)
{
    SweepWays ways;
    bool back = false;
    for (std::size_t from = 0; from < text.size();) {
        const std::size_t to = std::min(text.find('\n', from), text.size());
        const std::string line(text.substr(from, to - from));
        from = to + 1;
        if (line.empty()) {
            back = true;
            continue;
        }
        std::array<double, 6> x{};
        const char* at = line.c_str();
        bool whole = true;
        for (double& value : x) {
            char* end = nullptr;
            value = std::strtod(at, &end); // the locale of numbers is "C" everywhere
            whole = whole && end != at && std::isfinite(value);
            at = end;
        }
        if (whole && std::abs(x[2]) < 8)
            (back ? ways.backward : ways.forward).push_back({x[0], x[1], static_cast<int>(x[2]), x[3], x[4], x[5]});
    }
    return ways;
}

double offsetsApart(double a, double b) noexcept { return std::abs(std::remainder(a - b, 360)); }

Result<HeldApart> holdApart(double o1, double i1, double o2, double i2)
{
    if (!(i1 > 0) || !(i2 > 0) || std::abs(i2 - i1) < 0.1 * std::max(i1, i2))
        return refuse("currents-too-close");
    const double difference = std::remainder(o1 - o2, 360) * degree, most = 0.999 * std::min(i1, i2);
    const auto left = [&](double t) { return std::asin(t / i1) - std::asin(t / i2) - difference; };
    if (left(-most) * left(most) > 0)
        return refuse("load-above-holding");
    const double torque = rootIn(left, -most, most);
    HeldApart out;
    out.torque = torque;
    out.offset_deg = std::remainder(o1 - std::asin(torque / i1) / degree, 360);
    return out;
}

} // namespace ridge
