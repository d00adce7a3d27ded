#include "core/wiring/buses.h"

#include "groups.h"

#include <fmt/core.h>

#include <algorithm>
#include <set>

namespace ridge::detail {

void temperatureRules(const Nets& n, const Report& report)
{
    for (const WireDevice* d : n.kinds({"drive"})) {
        const std::string wanted = d->word("temp_type");
        const int one = n.one(d->id, "tmp.1"), two = n.one(d->id, "tmp.2");
        if (one < 0 || wanted.empty() || wanted == "none")
            continue;
        const auto sensors = n.hits(one, {"tmp.1", "tmp.2"}, {"motor", "temp_sensor"});
        if (sensors.empty() || two < 0 || !n.wired(two)) {
            report("W-TMP-01", d->id, "");
            continue;
        }
        const WireDevice& sensor = n.owner(sensors.front());
        if (const std::string is = sensor.word("temp_type"); is != wanted)
            report("W-TMP-02", d->id, fmt::format("{} / {}", is, wanted));
        if (sensor.flag("temp_polarised") && n.role(sensors.front()) == "tmp.2")
            report("W-TMP-03", d->id, "");
    }
}

namespace {

void addresses(const PlanBus& b, const Report& report)
{
    std::vector<double> all;
    for (const BusNode& node : b.nodes)
        if (node.address)
            all.push_back(*node.address);
    if (std::set<double>(all.begin(), all.end()).size() < all.size())
        report("W-BUS-01", b.id, "");
    auto range = b.addressRange;
    if (!range && b.type == "can")
        range = {1, canNodes};
    if (!range && b.type == "rs485")
        range = {1, serialAddresses};
    if (range && std::ranges::any_of(all, [&](double a) { return a < range->first || a > range->second; }))
        report("W-BUS-02", b.id, "");
}

void electrical(const PlanBus& b, const Report& report)
{
    const bool can = b.type == "can", serial = b.type == "rs485";
    const auto ends = std::ranges::count_if(b.nodes, &BusNode::terminated);
    if ((can || serial) && static_cast<double>(ends) + b.looseTerminators != 2)
        report("W-BUS-03", b.id, fmt::format("{:g}", static_cast<double>(ends) + b.looseTerminators));
    double unitLoads = 0;
    std::set<double> rates;
    for (const BusNode& node : b.nodes) {
        unitLoads += node.unitLoad;
        rates.insert(node.bitRate.value_or(b.bitRate));
        if (b.longestStub && node.stub > *b.longestStub)
            report("W-BUS-08", b.id, node.device);
    }
    if (serial && unitLoads > 32 + 1e-9)
        report("W-BUS-04", b.id, fmt::format("{:g}", unitLoads));
    if (can && static_cast<double>(b.nodes.size()) > canNodes)
        report("W-BUS-04", b.id, "");
    if (can && b.length > canLongest(b.bitRate))
        report("W-BUS-05", b.id, fmt::format("{:g} m > {:g} m", b.length, canLongest(b.bitRate)));
    if (serial && b.length > serialLongest)
        report("W-BUS-05", b.id, fmt::format("{:g} m > {:g} m", b.length, serialLongest));
    if (rates.size() > 1)
        report("W-BUS-07", b.id, "");
    if (serial && b.commonReference == false)
        report("W-BUS-09", b.id, "");
    if (b.type == "eth100" && std::ranges::any_of(b.segments, [](double s) { return s > ethernetSegment; }))
        report("W-BUS-10", b.id, "");
}

void pairs(const Nets& n, const Report& report)
{
    for (const auto& [a, z] : {std::pair{"can.h", "can.l"}, std::pair{"rs.a", "rs.b"}}) {
        for (const WireDevice& d : n.plan.devices) {
            const int one = n.one(d.id, a), other = n.one(d.id, z);
            if (one >= 0 && other >= 0 && (n.wired(one) || n.wired(other))
                && (n.hits(one, {a, z}).empty() || n.hits(other, {a, z}).empty()))
                report("W-BUS-11", d.id, "");
        }
        for (const int t : n.find(a))
            if (!n.hits(t, {z}).empty())
                report("W-BUS-06", n.owner(t).id, "");
    }
}

} // namespace

void busRules(const Nets& n, const Report& report)
{
    for (const PlanBus& b : n.plan.buses) {
        addresses(b, report);
        electrical(b, report);
    }
    pairs(n, report);
}

} // namespace ridge::detail
