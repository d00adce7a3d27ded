#include "link/session.h"

#include "identityobjects.h"
#include "momentvalue.h"

#include <array>
#include <optional>
#include <utility>

namespace ridge::link {

namespace {
constexpr std::array<std::pair<ObjectKey, std::string DriveIdentity::*>, 4> identityTexts{
    {{makerObject, &DriveIdentity::maker},
     {deviceNameObject, &DriveIdentity::type},
     {{0x100A, 0}, &DriveIdentity::firmware},
     {{0x2010, 2}, &DriveIdentity::safety}}};
constexpr ObjectKey benchSign{0x2F00, 10};
} // namespace

/// Who the drive is, whether it is a simulation, whether it watches the link: asked before anything else.
void Session::identify()
{
    m_name.clear();
    for (const auto& [key, into] : identityTexts)
        readText(key, [this, member = into](const std::string& t) { m_identity.*member = t; });
    readText({0x2010, 3}, [this](const std::string& t) { m_name = t; });
    read({serialNumberObject}, [this](const Result<Values>& v) {
        if (v)
            m_identity.serial = std::to_string(v->at(serialNumberObject));
    });
    read({{0x2012, 1}, {0x2012, 2}}, [this](const Result<Values>& v) {
        m_restarts = v ? std::optional(v->at({0x2012, 1})) : std::nullopt;
        m_runningTime = v ? v->at({0x2012, 2}) : 0;
    });
    read({momentValue(1)}, [this](const Result<Values>& v) { m_hasMoment = v.has_value(); });
    read({{0x2011, 3}}, [this](const Result<Values>& v) { m_hasWatchdog = v.has_value(); });
    const auto type = std::make_shared<std::optional<std::int64_t>>();
    read({deviceTypeObject}, [type](const Result<Values>& v) {
        if (v)
            *type = v->at(deviceTypeObject);
    });
    // a real drive answers "illegal data address", or its map has none: then the last question is the first once more
    const auto modes = std::make_shared<std::optional<std::int64_t>>();
    if (has(supportedModesObject))
        read({supportedModesObject}, [modes](const Result<Values>& v) {
            if (v)
                *modes = v->at(supportedModesObject);
        });
    const ObjectKey last = has(benchSign) ? benchSign : deviceTypeObject;
    read({last}, [this, type, modes](const Result<Values>& v) {
        const auto sign = v ? v->find(benchSign) : Values::const_iterator{};
        if (m_connected)
            whoItIs(*type, *modes, v && sign != v->end() && sign->second == benchSignature);
    });
}

/// What proves that its numbers are read as it means them, and that it is what it says.
/// @param type  device type, object 1000h of CiA 301: the profile number, 402 for a drive, stands in the lower 16 bits
void Session::whoItIs(std::optional<std::int64_t> type, std::optional<std::int64_t> modes, bool signature)
{
    const bool bench = m_identity.maker == benchMaker;
    std::string code;
    if (!type)
        code = "no-device-type";
    else if ((*type >> 16) == driveProfile && (*type & 0xFFFF) != driveProfile && !m_wordsTurned
             && modes.value_or(0) >= 0x10000 && (*modes & 0xFFFF) == 0) {
        // two values that are known come the other way round: all are turned here, and everything is asked again
        m_map.turnWords();
        m_wordsTurned = true;
        identify();
        return;
    } else if ((*type >> 16) == driveProfile && (*type & 0xFFFF) != driveProfile) {
        code = "word-order"; // one value is turned and another is not: nothing of it can be believed
    } else if ((*type & 0xFFFF) != driveProfile)
        code = "no-drive";
    else if (bench != signature)
        code = "half-simulated";
    if (!code.empty()) {
        loseConnection(QString::fromStdString(messageFor({code, {}, m_address.toStdString(), {}})));
        return;
    }
    m_identity.simulated = signature;
    m_identified = true;
    poll(); // its state is known before anything is asked of it
    Q_EMIT connectionChanged();
}

void Session::readText(ObjectKey key, std::function<void(const std::string&)> done)
{
    const ObjectEntry* e = m_map.find(key);
    if (!e)
        return;
    enqueue({{false, e->reg, e->registers(), {}, {e}},
             2,
             false,
             [done = std::move(done)](const Result<std::vector<std::uint16_t>>& words) {
                 if (words && words->size() == static_cast<std::size_t>(textRegisters))
                     done(textFromRegisters(*words));
             }});
}

void Session::confirmIdentity(Done done)
{
    const auto now = std::make_shared<DriveIdentity>();
    now->simulated = m_identity.simulated;
    for (const auto& [key, into] : identityTexts)
        readText(key, [now, member = into](const std::string& t) { now.get()->*member = t; });
    // one without a serial number is known by the rest of what it says
    const ObjectKey last = has(serialNumberObject) ? serialNumberObject : deviceTypeObject;
    read({last}, [this, now, done = std::move(done)](const Result<Values>& v) {
        if (!v) {
            done(tl::make_unexpected(v.error()));
            return;
        }
        if (const auto serial = v->find(serialNumberObject); serial != v->end())
            now->serial = std::to_string(serial->second);
        if (*now == m_identity)
            done({});
        else
            done(refuse("drive-swapped", m_identity.serial, now->type + " " + now->serial + ", " + now->firmware));
    });
}

void Session::writeName(const std::string& name, Done done)
{
    confirmIdentity([this, name, done = std::move(done)](const Result<void>& same) {
        if (!same) {
            done(same);
            return;
        }
        const ObjectEntry* e = m_map.find({0x2010, 3});
        if (!e) {
            done(refuse("object-missing", "2010:3", "2010:3"));
            return;
        }
        enqueue({{true, e->reg, e->registers(), textToRegisters(name), {e}}, 1, false, {}});
        const auto kept = std::make_shared<std::string>();
        readText({0x2010, 3}, [this, kept](const std::string& t) { *kept = m_name = t; });
        read({serialNumberObject},
             [kept, wanted = textFromRegisters(textToRegisters(name)), done](const Result<Values>& v) {
                 if (!v)
                     done(tl::make_unexpected(v.error()));
                 else if (*kept != wanted)
                     done(refuse("drive-refused", "2010:3", "2010:3, wanted " + wanted + ", the drive holds " + *kept));
                 else
                     done({});
             });
    });
}

} // namespace ridge::link
