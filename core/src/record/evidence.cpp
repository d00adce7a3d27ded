#include "core/record/evidence.h"

#include <algorithm>
#include <charconv>
#include <chrono>

namespace ridge {

std::string_view originWord(Origin origin)
{
    constexpr std::array<std::string_view, 3> words{"typed", "measured", "simulated"};
    return words.at(static_cast<std::size_t>(origin));
}

std::vector<std::int64_t> struckNumbers(const Facts& facts)
{
    std::vector<std::int64_t> struck;
    for (const Fact& f : facts)
        if (const auto* s = f.as<StruckOut>())
            struck.push_back(s->number);
    std::ranges::sort(struck);
    return struck;
}

namespace {
template <class... P>
bool isAny(const Payload& p)
{
    return (std::holds_alternative<P>(p) || ...);
}
} // namespace

bool fromDrive(const Payload& p)
{
    return isAny<DriveRead, DriveWritten, DriveSaved, PowerCycled, HandTurned, DirectionSeen, ShaftFelt, ScaleSeen,
                 Jogged, MoveCaptured, StopTested, FaultSeen, FaultReset, DriveBound, LinkEvent, PlateRead, Swept,
                 PoleSearched, PoleProved, SelfTuned, LimitTried, Homed, StepsLost, StallTried, EncodersCompared,
                 AnalogSwept, SwitchesSet>(p);
}

bool typable(const Payload& p)
{
    return isAny<NoteMade, StepDone, ConductorSeen, DriveBound, DriveRead, PowerCycled, HandTurned, DirectionSeen,
                 Jogged, StopTested, BridgeIn, BridgeOut, Acknowledged, Waived, PositionLost, StruckOut, InstrumentKept,
                 ProtectionsSeen, Justified, AxisMeasured, ShaftFelt, ScaleSeen, Metered, Answered, SupplySwitched,
                 TurnsReset, SetKept, SwitchesSet, PoleProved, LimitTried, StepsLost, StallTried, EncodersCompared,
                 AnalogSwept, LampSeen, FirmwareChanged, PartReplaced>(p);
}

bool needsInstrument(const Payload& p)
{
    return std::holds_alternative<StopTested>(p) || std::holds_alternative<Metered>(p);
}

std::string_view missingIn(const Fact& f)
{
    if (std::holds_alternative<OldEntry>(f.payload) || std::holds_alternative<NoteMade>(f.payload)
        || std::holds_alternative<PlanChanged>(f.payload) || std::holds_alternative<AxisRenumbered>(f.payload))
        return {};
    if (!f.person.named())
        return "the person";
    if (fromDrive(f.payload) && !f.identity.known())
        return "the identity of the drive";
    if (f.origin == Origin::Typed && fromDrive(f.payload) && !typable(f.payload))
        return "the drive itself: this is not typed";
    if (f.origin == Origin::Typed && needsInstrument(f.payload) && !f.instrument.named())
        return "the instrument";
    return {};
}

Evidence::Evidence(const Facts& facts, std::string_view axis, View view, const Fingerprint& prints)
    : m_view(std::move(view))
    , m_prints(prints)
{
    m_struck = struckNumbers(facts);
    m_all = factsOf(facts, axis);
    for (const Fact* f : m_all)
        if (standing(*f) == Standing::Counts)
            m_counting.push_back(f);
}

bool Evidence::struck(std::int64_t number) const { return std::ranges::binary_search(m_struck, number); }

Standing Evidence::standing(const Fact& f) const
{
    if (struck(f.number))
        return Standing::Struck;
    if (!missingIn(f).empty())
        return Standing::Open;
    if (f.origin == Origin::Simulated && !m_view.practice())
        return Standing::Practice;
    if (fromDrive(f.payload) && m_view.identity.known() && !f.identity.sameDevice(m_view.identity))
        return Standing::OtherDrive;
    return Standing::Counts;
}

Message Evidence::whyNot(const Fact& f) const
{
    switch (standing(f)) {
    case Standing::Counts: return {};
    case Standing::Struck: return "struck out";
    case Standing::Practice: return "practised on a simulated drive; it proves nothing about this one";
    case Standing::OtherDrive: return say("of another drive ({})", f.identity.serial);
    case Standing::Open: return say("open: {} is missing", missingIn(f));
    }
    return {};
}

const Fact* Evidence::changeAfter(const Fact& fact, PlanPart part) const
{
    for (const Fact* f : m_all)
        if (f->number > fact.number && !f->prints.empty() && f->prints.of(part) != fact.prints.of(part))
            return f;
    return nullptr;
}

std::vector<const Fact*> factsOf(const Facts& facts, std::string_view axis)
{
    std::vector<const Fact*> own;
    std::string_view name = axis;
    for (auto it = facts.rbegin(); it != facts.rend(); ++it) {
        const auto* renumbered = it->as<AxisRenumbered>();
        if (renumbered && renumbered->from == name && renumbered->to != name)
            break; // before that the number was another axis's
        if (it->axis == name)
            own.push_back(&*it);
        if (renumbered && renumbered->to == name)
            name = renumbered->from;
    }
    std::ranges::reverse(own);
    return own;
}

std::vector<Instrument> instrumentsKept(const Facts& facts)
{
    const auto struck = struckNumbers(facts);
    std::vector<Instrument> kept;
    for (const Fact& f : facts) {
        const auto* k = f.as<InstrumentKept>();
        if (!k || std::ranges::binary_search(struck, f.number))
            continue;
        const auto same = std::ranges::find_if(kept, [&](const Instrument& i) {
            return i.kind == k->instrument.kind && i.serial == k->instrument.serial;
        });
        if (same == kept.end())
            kept.push_back(k->instrument);
        else
            *same = k->instrument;
    }
    return kept;
}

bool outOfDate(const Instrument& i, std::string_view day)
{
    return !i.calibrated.empty() && i.calibrated < day.substr(0, 10);
}

std::vector<std::string> numbersUsed(const Facts& facts)
{
    std::vector<std::string> used;
    for (const Fact& f : facts)
        if (!f.axis.empty() && std::ranges::find(used, f.axis) == used.end())
            used.push_back(f.axis);
    return used;
}

DriveIdentity boundDrive(const Facts& facts, std::string_view axis)
{
    const auto struck = struckNumbers(facts);
    const auto own = factsOf(facts, axis);
    for (auto it = own.rbegin(); it != own.rend(); ++it)
        if ((*it)->as<DriveBound>() && !std::ranges::binary_search(struck, (*it)->number))
            return (*it)->identity;
    return {};
}

std::vector<const Fact*> openBridges(const Evidence& evidence)
{
    std::vector<const Fact*> in;
    for (const Fact* f : evidence.counting()) {
        if (f->as<BridgeIn>())
            in.push_back(f);
        else if (const auto* out = f->as<BridgeOut>())
            std::erase_if(in, [&](const Fact* b) { return b->as<BridgeIn>()->bridge == out->bridge; });
    }
    return in;
}

std::map<std::string, const Fact*> conductorsSeen(const Evidence& evidence)
{
    std::map<std::string, const Fact*> seen;
    for (const Fact* f : evidence.every<ConductorSeen>())
        seen[f->as<ConductorSeen>()->conductor] = f;
    return seen;
}

bool DriveMemory::cycledSinceSave() const { return lastCycle && (!lastSave || lastCycle->number > lastSave->number); }

DriveMemory memoryOf(const Evidence& evidence)
{
    DriveMemory m;
    for (const Fact* f : evidence.counting()) {
        if (const auto* read = f->as<DriveRead>()) {
            const bool typed = f->origin == Origin::Typed; // off a display: what was typed, and no backup
            if (!m.backup && !m.lastWrite && !typed)
                m.backup = f;
            m.lastRead = f;
            if (!typed)
                m.held.clear();
            for (const auto& [key, value] : read->values)
                m.held[key] = value;
        } else if (const auto* written = f->as<DriveWritten>()) {
            m.lastWrite = f;
            for (const auto& [key, value] : written->readBack)
                m.held[key] = value;
        } else if (const auto* save = f->as<DriveSaved>()) {
            m.lastSave = f;
            m.saved = save->values;
        } else if (const auto* cycle = f->as<PowerCycled>()) {
            m.lastCycle = f;
            if (!cycle->values.empty())
                m.held = cycle->values;
        }
    }
    return m;
}

std::optional<double> secondsBetween(std::string_view earlier, std::string_view later)
{
    using namespace std::chrono;
    const auto parse = [](std::string_view t) -> std::optional<sys_seconds> {
        const auto number = [&](std::size_t at, std::size_t n) -> std::optional<int> {
            int value = 0;
            if (at + n > t.size() || std::from_chars(t.data() + at, t.data() + at + n, value).ptr != t.data() + at + n)
                return {};
            return value;
        };
        const auto y = number(0, 4), mo = number(5, 2), d = number(8, 2), h = number(11, 2), mi = number(14, 2),
                   s = number(17, 2);
        if (!y || !mo || !d || !h || !mi || !s)
            return {};
        const year_month_day date{year(*y), month(static_cast<unsigned>(*mo)), day(static_cast<unsigned>(*d))};
        if (!date.ok())
            return {};
        return sys_days(date) + hours(*h) + minutes(*mi) + seconds(*s);
    };
    const auto a = parse(earlier), b = parse(later);
    if (!a || !b)
        return {};
    return static_cast<double>((*b - *a).count());
}

} // namespace ridge
