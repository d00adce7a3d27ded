#include "link/session.h"

#include "capture.h"
#include "momentvalue.h"

#include <algorithm>
#include <array>
#include <utility>

namespace ridge::link {

namespace {
constexpr int replyTimeout = 350;    // ms
constexpr int grace = 60;            // ms; an answer that came while this program was busy is read before it is missed
constexpr int pollEvery = 100;       // ms; ten values a second
constexpr int connectTimeout = 3000; // ms; a host that says nothing at all is not waited for longer
constexpr ObjectKey statusword{0x6041, 0}, errorCode{0x603F, 0}, position{0x6064, 0}, velocity{0x606C, 0},
    torque{0x6077, 0}, inputs{0x60FD, 0}, bus{0x6079, 0}, conditions{0x2015, 1}, conditionsKnown{0x2015, 2},
    watchdogFeed{0x2011, 2}, watchdogLimit{0x2011, 1}, consumerHeartbeat{0x1016, 1}, commandOwner{0x201A, 1},
    ownerRequest{0x201A, 2}, logOnLevel{0x2032, 1}, logOnObject{0x2032, 2}, logOnWindow{0x2032, 3},
    newPassword{0x2032, 4}, defaultPassword{0x2032, 5};
constexpr std::uint8_t momentValues = 15;
constexpr int heartbeatPatience = 700; // ms, more than three heartbeats of this program, our choice
} // namespace

std::vector<Block> blocksFor(std::vector<const ObjectEntry*> entries)
{
    std::ranges::sort(entries, {}, &ObjectEntry::reg);
    std::vector<Block> blocks;
    for (const ObjectEntry* e : entries) {
        const int end = blocks.empty() ? -1 : blocks.back().first + blocks.back().count;
        if (blocks.empty() || e->reg != end || blocks.back().count + e->registers() > 120)
            blocks.push_back({e->reg, 0, {}});
        blocks.back().count += e->registers();
        blocks.back().entries.push_back(e);
    }
    return blocks;
}

Session::Session(QObject* parent)
    : QObject(parent)
    , m_map(ObjectDictionary::shipped())
{
    m_patience = std::clamp(qEnvironmentVariableIntValue("VORTEX_RIDGE_LINK_PATIENCE"), 1, 5);
    m_poll.setInterval(pollEvery);
    connect(&m_poll, &QTimer::timeout, this, &Session::poll);
    m_watchdog.setSingleShot(true);
    connect(&m_watchdog, &QTimer::timeout, this,
            [this] { QTimer::singleShot(grace, this, [this, serial = m_serial] { noReply(serial); }); });
    m_connecting.setSingleShot(true);
    m_connecting.setInterval(connectTimeout);
    connect(&m_connecting, &QTimer::timeout, this, &Session::noAnswer);
    m_feed.setInterval(feedEvery);
    m_feed.setTimerType(Qt::PreciseTimer);
    connect(&m_feed, &QTimer::timeout, this, [this] {
        // one feed at a time in the queue; a drive that does not answer is not fed more by asking more
        const ObjectEntry* e = m_map.find(watchdogFeed);
        if (e && std::ranges::none_of(m_queue, [e](const Request& r) {
                return r.exchange.isWrite && r.urgent && r.exchange.first == e->reg;
            }))
            urgentWrite(watchdogFeed, 1);
    });
}

Session::~Session()
{
    m_closing = true;
    m_queue.clear(); // replies that still come belong to nobody
    m_inFlight = false;
    m_capture.reset();
    if (m_transport)
        m_transport->disconnect(this);
}

void Session::setMap(const ObjectDictionary& map)
{
    m_map = map;
    m_wordsTurned = false;
}

void Session::connectTo(const QString& host, int port)
{
    Address a;
    a.name = host;
    a.port = port;
    connectTo(a);
}

void Session::connectTo(const Address& address)
{
    disconnectFrom();
    if (std::exchange(m_wordsTurned, false))
        m_map.turnWords(); // that was another drive
    m_address = addressText(address);
    const ObjectEntry* control = m_map.find({0x6040, 0});
    m_controlRegister = control ? control->reg : -1;
    m_transport = transportTo(address);
    connect(m_transport.get(), &Transport::opened, this, [this] {
        if (m_connected)
            return;
        m_connecting.stop();
        m_connected = true;
        ++m_connections;
        m_remote = m_transport->remote();
        m_identified = false;
        m_identity = {};
        m_snapshot = {}; // what another drive said is not this one's
        m_snapshotClock.invalidate();
        m_owner.reset();
        m_logOn.reset();
        m_tookCommand = false;
        identify();
        m_poll.start();
        Q_EMIT connectionChanged();
    });
    connect(m_transport.get(), &Transport::emergency, this, [this] {
        if (m_identified)
            poll(); // the drive says that something happened: its state is asked at once
    });
    connect(m_transport.get(), &Transport::closed, this, [this] {
        if (m_closing)
            return;
        if (m_connected)
            loseConnection(tr("The connection to the drive is lost. Motion commands are stopped; nothing that was "
                              "recorded is lost."));
        else
            noAnswer();
    });
    m_connecting.start();
    if (!m_transport->open())
        noAnswer();
}

void Session::noAnswer()
{
    loseConnection(QString::fromStdString(messageFor({"no-answer", {}, m_address.toStdString(), {}})));
}

/// The wire is closed; what still arrives on it belongs to nobody.
void Session::dropTransport()
{
    if (!m_transport)
        return;
    m_closing = true;
    m_transport->disconnect(this);
    m_transport->close();
    m_transport.release()->deleteLater();
    m_closing = false;
}

void Session::writeToSame(ObjectKey key, std::int64_t value, Done done)
{
    confirmIdentity([this, key, value, done = std::move(done)](const Result<void>& same) {
        if (same)
            write(key, value, done);
        else
            done(same);
    });
}

Values Session::watchValues(bool armed) const
{
    Values v{{watchdogLimit, armed ? watchdogTime() : 0}};
    const int node = m_transport ? m_transport->ownNode() : 0;
    if (node > 0 && has(consumerHeartbeat))
        v[consumerHeartbeat] = armed ? std::int64_t(node) << 16 | heartbeatPatience * m_patience : 0;
    return v;
}

void Session::feed(bool on)
{
    if (on && m_hasWatchdog && m_connected) {
        urgentWrite(watchdogFeed, 1);
        m_feed.start();
    } else {
        m_feed.stop();
    }
}

void Session::disconnectFrom()
{
    m_connecting.stop();
    m_poll.stop();
    m_feed.stop();
    if (m_connected && m_tookCommand) // closing gives back what was taken
        sendNow(ownerRequest, 2);
    dropTransport();
    const bool was = std::exchange(m_connected, false);
    m_identified = false;
    m_inFlight = false;
    ++m_serial;
    m_watchdog.stop();
    for (auto& r : std::exchange(m_queue, {}))
        if (r.done)
            r.done(refuse("not-connected"));
    captureEnds(m_capture, refuse("not-connected"));
    if (was)
        Q_EMIT connectionChanged();
}

void Session::loseConnection(const QString& why)
{
    m_connecting.stop();
    m_poll.stop();
    m_feed.stop();
    m_watchdog.stop();
    dropTransport();
    m_connected = m_identified = false;
    m_inFlight = false;
    ++m_serial;
    auto waiting = std::exchange(m_queue, {});
    for (auto& r : waiting)
        if (r.done)
            r.done(refuse("connection-lost"));
    captureEnds(m_capture, refuse("connection-lost"));
    Q_EMIT connectionChanged();
    Q_EMIT lost(why);
}

void Session::enqueue(Request request)
{
    if (!m_connected) {
        if (request.done)
            request.done(refuse("not-connected"));
        return;
    }
    if (m_lookingOn && request.exchange.isWrite) { // nothing of it reaches the wire
        if (request.done)
            request.done(refuse("looking-on"));
        return;
    }
    if (request.urgent) { // behind what is on its way and behind other urgent ones, ahead of the rest
        auto at = m_queue.begin() + (m_inFlight ? 1 : 0);
        while (at != m_queue.end() && at->urgent)
            ++at;
        m_queue.insert(at, std::move(request));
    } else {
        m_queue.push_back(std::move(request));
    }
    next();
}

void Session::next()
{
    if (m_inFlight || m_queue.empty() || !m_connected)
        return;
    const Request& r = m_queue.front();
    m_inFlight = true;
    const std::uint64_t serial = ++m_serial;
    // before a drive has said who it is nothing moves: then nobody is hurt by patience either
    m_watchdog.start(replyTimeout * (!m_identified || simulated() ? m_patience : 1)
                     + m_transport->lineTime(r.exchange));
    if (!m_transport->send(r.exchange, [this, serial](const Reply& reply) { finished(reply, serial); }))
        loseConnection(tr("The connection to the drive is lost."));
}

void Session::noReply(std::uint64_t serial)
{
    if (!m_inFlight || m_queue.empty() || serial != m_serial)
        return;
    m_inFlight = false;
    ++m_serial; // a late answer belongs to nobody
    m_watchdog.stop();
    if (--m_queue.front().triesLeft > 0)
        next();
    else
        loseConnection(tr("The drive at %1 no longer answers. The state of the axis is not known since then; nothing "
                          "that was recorded is lost.")
                           .arg(m_address));
}

void Session::finished(const Reply& reply, std::uint64_t serial)
{
    if (!m_inFlight || m_queue.empty() || serial != m_serial)
        return;
    if (reply.kind == Reply::Kind::Silent) {
        noReply(serial);
        return;
    }
    m_inFlight = false;
    m_watchdog.stop();
    if (reply.kind == Reply::Kind::Lost) {
        loseConnection(tr("The drive at %1 no longer answers. The state of the axis is not known since then; nothing "
                          "that was recorded is lost.")
                           .arg(m_address));
        return;
    }
    const Request r = std::move(m_queue.front());
    m_queue.pop_front();
    if (r.done) {
        if (reply.kind == Reply::Kind::Refused)
            r.done(refuse("drive-refused", std::to_string(r.exchange.first), reply.why.toStdString()));
        else
            r.done(reply.words);
    }
    next();
}

void Session::read(const std::vector<ObjectKey>& keys, const ValuesDone& done, const Progress& progress)
{
    readBlocks(keys, false, done, progress);
}

void Session::urgentRead(const std::vector<ObjectKey>& keys, const ValuesDone& done)
{
    readBlocks(keys, true, done, {});
}

/// A reading in blocks; told once, whole or not at all.
struct Session::Reading {
    Values values;
    ValuesDone done;
    Progress progress;
    std::size_t total = 0;
    bool failed = false;
};

void Session::readBlocks(const std::vector<ObjectKey>& keys, bool urgent, const ValuesDone& done,
                         const Progress& progress)
{
    std::vector<const ObjectEntry*> entries;
    for (const ObjectKey& key : keys) {
        const ObjectEntry* e = m_map.find(key);
        if (!e) { // its map does not have it: what needs it is closed, and told by its name
            const ObjectEntry* known = ObjectDictionary::shipped().find(key);
            done(refuse("object-missing", keyText(key), keyText(key) + (known ? " " + known->name : "")));
            return;
        }
        if (e->readable && e->type != ObjectType::Text)
            entries.push_back(e);
    }
    const std::vector<Block> blocks = blocksFor(entries);
    if (blocks.empty()) {
        done(Values{});
        return;
    }
    const auto reading = std::make_shared<Reading>(Reading{{}, done, progress, blocks.size(), false});
    for (std::size_t k = 0; k < blocks.size(); ++k) {
        const Block& block = blocks[k];
        enqueue({{false, block.first, block.count, {}, block.entries},
                 2,
                 urgent,
                 [this, reading, block, k](const Result<std::vector<std::uint16_t>>& words) {
                     if (!reading->failed)
                         tookBlock(*reading, block, k + 1, words);
                 }});
    }
}

void Session::tookBlock(Reading& reading, const Block& block, std::size_t number,
                        const Result<std::vector<std::uint16_t>>& words)
{
    // an answer that is too short is no answer: nothing of it is taken
    if (!words || words->size() != static_cast<std::size_t>(block.count)) {
        reading.failed = true;
        reading.done(words ? Result<Values>(refuse("short-reply", std::to_string(block.first)))
                           : tl::make_unexpected(words.error()));
        return;
    }
    std::size_t at = 0;
    for (const ObjectEntry* e : block.entries) {
        const auto n = static_cast<std::size_t>(e->registers());
        reading.values[e->key] = m_map.fromWire(*e, std::span(*words).subspan(at, n));
        at += n;
    }
    if (reading.progress)
        reading.progress(static_cast<int>(number), static_cast<int>(reading.total));
    if (number == reading.total)
        reading.done(reading.values);
}

void Session::readAll(const ValuesDone& done, const Progress& progress)
{
    std::vector<ObjectKey> keys;
    for (const ObjectEntry& e : m_map.entries())
        if (e.stored())
            keys.push_back(e.key);
    read(keys, done, progress);
}

void Session::write(ObjectKey key, std::int64_t value, const Done& done) { writeOne(key, value, false, done); }

void Session::urgentWrite(ObjectKey key, std::int64_t value, const Done& done) { writeOne(key, value, true, done); }

std::optional<Exchange> Session::writing(ObjectKey key, std::int64_t value) const
{
    const ObjectEntry* e = m_map.find(key);
    if (!e || !e->writable || e->type == ObjectType::Text || value < m_map.lowest(*e) || value > m_map.highest(*e))
        return {};
    return Exchange{true, e->reg, e->registers(), m_map.toWire(*e, value), {e}};
}

void Session::sendNow(ObjectKey key, std::int64_t value)
{
    const auto exchange = writing(key, value);
    if (m_connected && exchange && !m_lookingOn)
        m_transport->sendNow(*exchange);
}

void Session::lastWord() const
{
    if (m_connected && !m_lookingOn && m_controlRegister >= 0)
        m_transport->lastWord(m_controlRegister);
}

void Session::writeOne(ObjectKey key, std::int64_t value, bool urgent, const Done& done)
{
    const auto exchange = writing(key, value);
    if (!exchange) {
        if (done)
            done(!has(key) ? refuse("object-missing", keyText(key), keyText(key))
                           : refuse("drive-refused", keyText(key), "the value does not fit object " + keyText(key)));
        return;
    }
    enqueue({*exchange, 1, urgent, [done, key](const Result<std::vector<std::uint16_t>>& r) {
                 if (!done)
                     return;
                 if (r)
                     done({});
                 else
                     done(refuse(r.error().code, keyText(key), keyText(key) + " " + r.error().actual));
             }});
}

void Session::takeCommand(Done done)
{
    confirmIdentity([this, done = std::move(done)](const Result<void>& same) {
        if (!same) {
            done(same);
            return;
        }
        write(ownerRequest, 1, [this, done](const Result<void>& r) {
            m_tookCommand = r.has_value();
            pollOwner();
            done(r);
        });
    });
}

void Session::giveCommandBack(Done done)
{
    write(ownerRequest, 2, [this, done = std::move(done)](const Result<void>& r) {
        m_tookCommand = m_tookCommand && !r;
        pollOwner();
        done(r);
    });
}

void Session::pollOwner()
{
    if (!has(commandOwner))
        return;
    read({commandOwner}, [this](const Result<Values>& v) {
        const auto now = v ? std::optional(static_cast<int>(v->at(commandOwner))) : std::nullopt;
        if (std::exchange(m_owner, now) != now)
            Q_EMIT snapshotChanged();
    });
}

void Session::pollLogOn()
{
    if (!has(logOnLevel) || !has(logOnWindow) || !has(defaultPassword))
        return;
    read({logOnLevel, logOnWindow, defaultPassword}, [this](const Result<Values>& v) {
        std::optional<LogOn> now;
        if (v)
            now = LogOn{static_cast<int>(v->at(logOnLevel)), static_cast<int>(v->at(logOnWindow)),
                        v->at(defaultPassword) != 0};
        if (std::exchange(m_logOn, now) != now)
            Q_EMIT snapshotChanged();
    });
}

void Session::logOnWith(std::uint32_t password, Done done)
{
    write(logOnObject, password, [this, done = std::move(done)](const Result<void>& r) {
        pollLogOn();
        done(r);
    });
}

void Session::changePassword(std::uint32_t password, Done done)
{
    write(newPassword, password, [this, done = std::move(done)](const Result<void>& r) {
        pollLogOn();
        done(r);
    });
}

void Session::readHistory(std::function<void(const Result<std::vector<ErrorEntry>>&)> done)
{
    std::vector<ObjectKey> keys{{0x1003, 0}};
    for (std::uint8_t k = 1; k <= 16; ++k) {
        keys.push_back({0x1003, k});
        for (const std::uint16_t index : std::array<std::uint16_t, 3>{0x2013, 0x2014, 0x2017})
            keys.push_back({index, k});
    }
    read(keys, [done = std::move(done)](const Result<Values>& v) {
        if (!v) {
            done(tl::make_unexpected(v.error()));
            return;
        }
        std::vector<ErrorEntry> entries;
        for (std::uint8_t k = 1; k <= std::min<std::int64_t>(16, v->at({0x1003, 0})); ++k)
            entries.push_back({static_cast<std::uint16_t>(v->at({0x1003, k})), v->at({0x2013, k}), v->at({0x2014, k}),
                               v->at({0x2017, k})});
        done(entries);
    });
}

void Session::writeVerified(const Values& values, ValuesDone done, Progress progress)
{
    confirmIdentity([this, values, done = std::move(done), progress = std::move(progress)](const Result<void>& same) {
        if (same)
            writeReadBack(values, done, progress);
        else
            done(tl::make_unexpected(same.error()));
    });
}

void Session::control(std::uint16_t word, const Done& done) { write({0x6040, 0}, word, done); }

void Session::poll()
{
    if (m_queue.size() > 4)
        return;
    if (m_identified && ++m_polls % 5 == 0) {
        pollOwner();
        pollLogOn();
    }
    if (m_identified && !m_transport->hears()) {
        loseConnection(tr("The drive at %1 no longer sends its heartbeat. The state of the axis is not known since "
                          "then; nothing that was recorded is lost.")
                           .arg(m_address));
        return;
    }
    if (m_hasMoment) {
        pollMoment();
        return;
    }
    std::vector<ObjectKey> keys; // what its map has
    for (const ObjectKey key :
         {statusword, errorCode, position, velocity, torque, inputs, bus, conditions, conditionsKnown})
        if (has(key))
            keys.push_back(key);
    read(keys, [this](const Result<Values>& v) {
        if (!v)
            return; // what is shown grows old and says so
        const auto at = [&](ObjectKey key) {
            const auto it = v->find(key);
            return it == v->end() ? 0 : it->second;
        };
        Snapshot s;
        s.status = static_cast<std::uint16_t>(at(statusword));
        s.state = driveState(s.status);
        s.error = static_cast<std::uint16_t>(at(errorCode));
        s.position = at(position);
        s.velocity = at(velocity);
        s.torque = at(torque);
        s.inputs = at(inputs);
        s.busMillivolt = at(bus);
        s.conditions = at(conditions);
        s.conditionsKnown = at(conditionsKnown);
        took(s);
    });
}

void Session::pollMoment()
{
    std::vector<ObjectKey> keys;
    for (std::uint8_t k = 1; k <= momentValues; ++k)
        keys.push_back(momentValue(k));
    read(keys, [this](const Result<Values>& v) {
        if (!v)
            return; // what is shown grows old and says so
        const auto at = [&](std::uint8_t k) { return v->at(momentValue(k)); };
        Snapshot s;
        s.oneMoment = true;
        s.status = static_cast<std::uint16_t>(at(2));
        s.state = driveState(s.status);
        s.error = static_cast<std::uint16_t>(at(3));
        s.position = at(4);
        s.velocity = at(5);
        s.torque = at(6);
        s.current = at(7);
        s.inputs = at(8);
        s.busMillivolt = at(9);
        s.warnings = at(10);
        s.conditions = at(11);
        s.conditionsKnown = at(12);
        s.followingError = at(13);
        s.mode = static_cast<int>(at(14));
        s.innerProgram = at(15) != 0;
        took(s);
    });
}

void Session::took(const Snapshot& s)
{
    m_snapshotClock.start();
    ++m_snapshots;
    if (s != m_snapshot) {
        m_snapshot = s;
        Q_EMIT snapshotChanged();
    }
}

} // namespace ridge::link
