#include "core/stations/parametersets.h"

#include "core/stations/rawvalue.h"

#include <algorithm>
#include <set>

namespace ridge {

namespace {
std::optional<std::int64_t> at(const DriveValues& values, ObjectKey key)
{
    const auto it = values.find(key);
    return it == values.end() ? std::nullopt : std::optional(it->second);
}
} // namespace

bool ParameterRow::differs() const
{
    return planned && held && !sameWithinRounding(planned->key, planned->value, *held);
}
bool ParameterRow::unsaved() const { return held && saved && *held != *saved; }

Message actsWhen(const ObjectEntry& entry) { return entry.powerCycle ? "after save and power cycle" : "at once"; }

Message rangeOf(const Axis& axis, const ObjectEntry& entry)
{
    const auto unit = rawUnit(axis, entry);
    if (!unit)
        return say("{} to {}", entry.least(), entry.most());
    return say("{} to {}", amount(static_cast<double>(entry.least()) * unit->si, unit->quantity, 3),
               amount(static_cast<double>(entry.most()) * unit->si, unit->quantity, 3));
}

std::vector<ParameterRow> parameterList(const ObjectDictionary& map, const SetFindings& set, const Evidence& evidence)
{
    const Fact* factory = evidence.newest<SetKept>([](const SetKept& s) { return s.name == factoryState; });
    std::vector<ParameterRow> rows;
    std::set<ObjectKey> there;
    const auto add = [&](const ObjectEntry& e) {
        ParameterRow r;
        r.entry = &e;
        const auto it = std::ranges::find(set.parameters, e.key, &PlannedParameter::key);
        r.planned = it == set.parameters.end() ? nullptr : &*it;
        r.held = at(set.memory.held, e.key);
        r.saved = at(set.memory.saved, e.key);
        if (factory)
            r.factory = at(factory->as<SetKept>()->values, e.key);
        rows.push_back(r);
        there.insert(e.key);
    };
    for (const ObjectEntry& e : map.entries())
        if (e.stored())
            add(e);
    for (const PlannedParameter& p : set.parameters)
        if (!there.contains(p.key))
            if (const ObjectEntry* e = ObjectDictionary::shipped().find(p.key))
                add(*e);
    return rows;
}

std::vector<ParameterSet> parameterSets(const SetFindings& set, const Evidence& evidence)
{
    std::vector<ParameterSet> out;
    ParameterSet planned{"planned", nullptr, {}, {}};
    for (const PlannedParameter& p : set.parameters)
        planned.values[p.key] = p.value;
    out.push_back(std::move(planned));
    out.push_back({"in the drive", nullptr, set.memory.held, {}});
    out.push_back({"last saved", nullptr, set.memory.saved, {}});
    const auto& all = evidence.all();
    for (auto it = all.rbegin(); it != all.rend(); ++it) {
        if (evidence.standing(**it) == Standing::Struck)
            continue;
        if (const auto* kept = (*it)->as<SetKept>())
            out.push_back({kept->name, *it, kept->values, kept->foreign});
        else if (const auto* read = (*it)->as<DriveRead>(); read && !read->values.empty())
            out.push_back({(*it)->origin == Origin::Typed ? "typed off the drive" : "read", *it, read->values, {}});
    }
    return out;
}

std::vector<SetDifference> differences(const ParameterSet& a, const ParameterSet& b)
{
    std::vector<SetDifference> out;
    std::set<ObjectKey> keys;
    for (const ParameterSet* s : {&a, &b})
        for (const auto& [key, value] : s->values)
            keys.insert(key);
    for (const ObjectKey key : keys) {
        const auto x = at(a.values, key), y = at(b.values, key);
        if (x && y && (*x == *y || sameWithinRounding(key, *x, *y)))
            continue;
        const ObjectEntry* e = ObjectDictionary::shipped().find(key);
        out.push_back({key, e ? e->name : std::string(), x, y, {}, {}});
    }
    std::set<std::string> names;
    for (const ParameterSet* s : {&a, &b})
        for (const auto& [name, text] : s->foreign)
            names.insert(name);
    for (const std::string& name : names) {
        const auto x = a.foreign.find(name), y = b.foreign.find(name);
        const std::string wordsA = x == a.foreign.end() ? std::string() : x->second,
                          wordsB = y == b.foreign.end() ? std::string() : y->second;
        if (wordsA != wordsB)
            out.push_back({{}, name, {}, {}, wordsA, wordsB});
    }
    return out;
}

Message refusalOfSet(const ParameterSet& set, const DriveIdentity& drive)
{
    if (!set.fact)
        return {};
    const DriveIdentity& from = set.fact->identity;
    if (set.fact->origin == Origin::Simulated && !drive.simulated)
        return "These are practice values of a simulated drive: they are no backup and are not written into a real "
               "one.";
    if (from.known() && drive.known() && from.type != drive.type)
        return say("The set is of a {}; the drive that answers is a {}.", from.type, drive.type);
    return {};
}

DriveValues writable(const ParameterSet& set, const ObjectDictionary& map)
{
    DriveValues out;
    for (const auto& [key, value] : set.values)
        if (const ObjectEntry* e = map.find(key); e && e->stored())
            out[key] = value;
    return out;
}

} // namespace ridge
