#include "core/stations/defeated.h"

#include "core/objects/protections.h"
#include "core/stations/rawvalue.h"
#include "core/stations/set.h"

#include <algorithm>

namespace ridge {

namespace {

std::string typedAs(const std::string& protection, const std::string& found)
{
    return "typed " + protection + "=" + found;
}
std::string stateOf(ObjectKey key, std::int64_t value) { return keyText(key) + "=" + std::to_string(value); }

/// What the drive holds, compared with the list.
class Comparison {
public:
    Comparison(const Axis& axis, const std::vector<PlannedParameter>& planned, const DriveMemory& memory,
               std::vector<Defeat>& into)
        : m_axis(axis)
        , m_planned(planned)
        , m_memory(memory)
        , m_into(into)
    {}

    void values()
    {
        for (const Protection& p : protections()) {
            const auto held = m_memory.held.find(p.key);
            if (held == m_memory.held.end() || switchedOff(p, held->second))
                continue;
            const auto row = std::ranges::find(m_planned, p.key, &PlannedParameter::key);
            if (row != m_planned.end() && protectsLess(p, held->second, row->value))
                add(stateOf(p.key, held->second), std::string(p.name), rawAmount(m_axis, p.key, held->second),
                    say("planned {}", rawAmount(m_axis, p.key, row->value)), {{p.key, -1, held->second}});
        }
    }
    void bits()
    {
        if (const auto off = m_memory.held.find(monitorsOff); off != m_memory.held.end())
            for (const NamedBit& b : monitors())
                if (off->second >> b.bit & 1)
                    add(keyText(monitorsOff) + " bit " + std::to_string(b.bit), say("monitor: {}", Message(b.name)),
                        "switched off", "on", {bitAt(monitorsOff, b.bit, true)});
        const auto forced = m_memory.held.find(inputsForced), to = m_memory.held.find(inputsForcedTo);
        if (forced == m_memory.held.end())
            return;
        for (const NamedBit& b : digitalInputs())
            if (forced->second >> b.bit & 1) {
                const bool high = to != m_memory.held.end() && (to->second >> b.bit & 1);
                add(keyText(inputsForced) + " bit " + std::to_string(b.bit) + (high ? "=1" : "=0"),
                    say("input: {}", Message(b.name)), high ? "forced to 1" : "forced to 0", "as wired",
                    {bitAt(inputsForced, b.bit, true), bitAt(inputsForcedTo, b.bit, high)});
            }
    }

private:
    void add(std::string what, Message protection, Message found, Message wanted, std::vector<Defeat::Bits> held)
    {
        m_into.push_back({std::move(what), std::move(protection), std::move(found), std::move(wanted),
                          m_memory.lastWrite ? m_memory.lastWrite : m_memory.lastRead, nullptr, true, std::move(held)});
    }
    static Defeat::Bits bitAt(ObjectKey key, int bit, bool on)
    {
        const std::int64_t mask = std::int64_t{1} << bit;
        return {key, mask, on ? mask : 0};
    }
    /// Off altogether: a window that watches nothing, soft limits of which the low one is not below the high one.
    bool switchedOff(const Protection& p, std::int64_t value)
    {
        if (p.key == ObjectKey{0x6065, 0} && value == windowOff) {
            add(stateOf(p.key, value), std::string(p.name), "switched off", "on", {{p.key, -1, value}});
            return true;
        }
        if (p.key.index != 0x607D)
            return false;
        const auto low = m_memory.held.find({0x607D, 1}), high = m_memory.held.find({0x607D, 2});
        if (low == m_memory.held.end() || high == m_memory.held.end() || low->second < high->second)
            return false;
        if (p.key.sub == 1)
            add(stateOf({0x607D, 1}, low->second) + " " + stateOf({0x607D, 2}, high->second), "soft limits",
                "switched off", "on at both ends", {{{0x607D, 1}, -1, low->second}, {{0x607D, 2}, -1, high->second}});
        return true;
    }

    const Axis& m_axis;
    const std::vector<PlannedParameter>& m_planned;
    const DriveMemory& m_memory;
    std::vector<Defeat>& m_into;
};

/// Whether the drive was seen without it after this fact: what comes back has to be justified anew.
bool goneSince(const Fact& fact, const Defeat& d, const Evidence& evidence)
{
    const auto without = [&](const DriveValues& values) {
        return std::ranges::any_of(d.held, [&](const Defeat::Bits& b) {
            const auto it = values.find(b.key);
            return it != values.end() && (it->second & b.mask) != b.value;
        });
    };
    for (const Fact* f : evidence.every<DriveRead>())
        if (f->number > fact.number && without(f->as<DriveRead>()->values))
            return true;
    for (const Fact* f : evidence.every<DriveWritten>())
        if (f->number > fact.number && without(f->as<DriveWritten>()->readBack))
            return true;
    if (d.held.empty()) // it was typed
        for (const Fact* f : evidence.every<ProtectionsSeen>())
            if (f->number > fact.number && std::ranges::none_of(f->as<ProtectionsSeen>()->off, [&](const auto& seen) {
                    return typedAs(seen.first, seen.second) == d.what;
                }))
                return true;
    return false;
}

/// Whether the write it was given for has happened: the next raise is acknowledged anew.
bool usedUp(const Fact& acknowledged, ObjectKey key, std::int64_t value, const Evidence& evidence)
{
    return std::ranges::any_of(evidence.every<DriveWritten>(), [&](const Fact* f) {
        const DriveValues& values = f->as<DriveWritten>()->readBack;
        const auto it = values.find(key);
        return f->number > acknowledged.number && it != values.end() && it->second == value;
    });
}

} // namespace

std::int64_t Defeats::open() const { return std::ranges::count_if(all, &Defeat::open); }

Defeats defeatedProtections(const Axis& axis, const std::vector<PlannedParameter>& planned, const DriveMemory& memory,
                            const Evidence& evidence)
{
    Defeats out;
    Comparison comparison(axis, planned, memory, out.all);
    comparison.values();
    comparison.bits();
    const Fact* typed = evidence.newest<ProtectionsSeen>();
    out.known = typed || !memory.held.empty();
    if (typed)
        for (const auto& [protection, found] : typed->as<ProtectionsSeen>()->off)
            out.all.push_back(
                {typedAs(protection, found), say("{}", protection), say("{}", found), "on", typed, nullptr, true, {}});
    for (const Fact* justification : evidence.every<Justified>())
        for (Defeat& d : out.all)
            if (d.what == justification->as<Justified>()->what && !goneSince(*justification, d, evidence))
                d.justified = justification;
    for (const Fact* b : openBridges(evidence)) {
        const auto& in = *b->as<BridgeIn>();
        out.all.push_back({"bridge " + in.bridge,
                           say("bridge {}: {} to {}", in.bridge, in.from, in.to),
                           say("in: {}", in.why),
                           "out",
                           b,
                           nullptr,
                           false,
                           {}});
    }
    return out;
}

std::vector<RaisedLimit> raisedLimits(const Axis& axis, const std::vector<PlannedParameter>& planned,
                                      const DriveMemory& memory, const Evidence& evidence)
{
    std::vector<RaisedLimit> out;
    for (const PlannedParameter& row : planned) {
        const Protection* p = protectionAt(row.key);
        const auto held = memory.held.find(row.key);
        if (!p || held == memory.held.end() || !protectsLess(*p, row.value, held->second))
            continue;
        std::string what = "raise " + stateOf(row.key, row.value);
        const Fact* seen = evidence.newest<Acknowledged>([&](const Acknowledged& a) { return a.what == what; });
        if (!seen || usedUp(*seen, row.key, row.value, evidence))
            out.push_back(
                {std::move(what), say("{} from {} to {}", Message(p->name), rawAmount(axis, row.key, held->second),
                                      rawAmount(axis, row.key, row.value))});
    }
    return out;
}

} // namespace ridge
