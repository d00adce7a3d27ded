#include "core/model/gaps.h"
#include "core/units/print.h"

#include "matchsteps.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <string>

namespace ridge::detail {

namespace {
using enum Quantity;

/// What a test asks of the plates and they do not tell, by its label.
std::vector<std::string_view> missingFor(MatchTest test, const ServoMotor& m, const ServoDrive& d)
{
    std::vector<std::string_view> out;
    const auto motor = [&](std::initializer_list<std::string_view> keys) {
        for (const std::string_view label : gapsIn(motorFields(), &m, keys))
            out.push_back(label);
    };
    const auto drive = [&](std::initializer_list<std::string_view> keys) {
        for (const std::string_view label : gapsIn(driveFields(), &d, keys))
            out.push_back(label);
    };
    const auto curve = [&] { motor({"inertia", "stallTorque", "stallCurrent", "peakTorque", "peakCurrent"}); };
    switch (test) {
    case MatchTest::Speed: motor({"maxSpeed"}); break;
    case MatchTest::ShortTimeTorque:
        curve();
        if (m.measured.empty())
            motor({"polePairs", "torqueConstant", "resistance", "inductance"});
        drive({"peakCurrent"});
        break;
    case MatchTest::ContinuousTorque:
        motor({"inertia", "stallTorque"});
        if (m.measured.empty())
            motor({"ratedTorque", "ratedSpeed"});
        break;
    case MatchTest::DriveContinuous:
        curve();
        drive({"continuousCurrent"});
        break;
    case MatchTest::DrivePeak:
    case MatchTest::DrivePeakTime:
        curve();
        drive({"peakCurrent", "continuousCurrent"});
        break;
    case MatchTest::InertiaRatio: motor({"inertia"}); break;
    case MatchTest::Voltage:
        if (d.feed == DriveFeed::Mains) {
            motor({"ratedVoltage"});
            drive({"mainsHighest"});
        }
        break;
    default: break;
    }
    return out;
}

std::string listed(const std::vector<std::string_view>& labels)
{
    std::string words;
    for (const std::string_view l : labels)
        words += (words.empty() ? "" : ", ") + std::string(l);
    return words;
}

using Gaps = std::array<std::vector<std::string_view>, motorTestCount>;

/// A test that needs none of the gaps is judged, another is unknown and names them.
void judgeOrName(Context& c, MatchTest test, const Demand& d, const std::vector<std::string_view>& gaps)
{
    const Quantity q = c.atMotor(quantityOf(test));
    const bool known = gaps.empty();
    Check& k = known ? c.check("", "", Station::Match, q, d.demand, d.capacity, c.machine.site.shortTimeReserve)
                     : c.fact("", "", Station::Match, std::nullopt, say("Not on the plate: {}.", listed(gaps)),
                              "Read it, or measure it.");
    k.id = "match." + std::string(matchTestKey(test));
    k.title = matchTestTitle(test);
    k.title[0] = static_cast<char>(std::toupper(k.title[0]));
    if (!known)
        return;
    k.reason = say("{} of {}.", amount(d.demand, q), amount(d.capacity, q));
    if (k.verdict != Verdict::Ok)
        k.help = leverOf(test, false);
}

/// What every test lacks, and all of it once.
std::vector<std::string_view> gapsOf(const Context& c, Gaps& missing)
{
    const ServoMotor& m = *c.axis.actuator.motor();
    const ServoDrive& d = *c.axis.actuator.drive();
    std::vector<std::string_view> all;
    for (int k = 0; k < motorTestCount; ++k)
        missing[static_cast<std::size_t>(k)] = missingFor(static_cast<MatchTest>(k), m, d);
    if (d.feed == DriveFeed::LowDc && !c.axis.supply.dcVoltage)
        missing[static_cast<std::size_t>(MatchTest::ShortTimeTorque)].push_back("D.c. supply");
    std::vector<std::string_view> bus;
    if (d.feed == DriveFeed::Mains) // a low d.c. drive may have no chopper
        bus = gapsIn(driveFields(), &d, {"busCapacitance", "chopperOn", "overVoltage", "chopperCurrent"});
    const auto collect = [&](const std::vector<std::string_view>& labels) {
        for (const std::string_view label : labels)
            if (std::ranges::find(all, label) == all.end())
                all.push_back(label);
    };
    for (const auto& labels : missing)
        collect(labels);
    collect(bus);
    return all;
}

} // namespace

/// Nothing is invented: the copy that is computed with has a one in every gap, and nothing that hangs on one is shown.
bool judgeWithGaps(Context& c)
{
    Gaps missing;
    const std::vector<std::string_view> all = gapsOf(c, missing);
    if (all.empty())
        return false;
    c.fact("match.plates", "Figures of the name plates", Station::Match, std::nullopt,
           say("Not on the plates: {}.", listed(all)),
           "Read the sheet and enter them under Parts; what needs none of them is judged all the same, and the wiring "
           "can go on.");
    ServoMotor m = *c.axis.actuator.motor();
    ServoDrive d = *c.axis.actuator.drive();
    const bool weighs = m.inertia > 0, timed = d.peakTime > 0;
    fillGaps(motorFields(), &m);
    fillGaps(driveFields(), &d);
    const MatchConditions& conditions = c.out.match.conditions;
    const MatchResult r =
        matchServo(m, d, *c.out.move.path, c.out.load.chain->reflectedInertia(c.out.move.maxPayload), conditions);
    if (weighs) {
        peakResult(c, r);
        rmsResult(c, r);
    }
    speedResult(c, r);
    for (int k = 0; k < motorTestCount; ++k) {
        const auto test = static_cast<MatchTest>(k);
        const bool judged = test == MatchTest::BrakeHolding    ? false
                            : test == MatchTest::DrivePeakTime ? timed
                            : test == MatchTest::InertiaRatio  ? conditions.inertiaLimit > 0
                            : test == MatchTest::Voltage       ? conditions.mains > 0
                                                               : true;
        if (judged)
            judgeOrName(c, test, r.tests[static_cast<std::size_t>(k)], missing[static_cast<std::size_t>(k)]);
    }
    if (weighs)
        evaluateBrake(c, r.speedMax);
    return true;
}

} // namespace ridge::detail
