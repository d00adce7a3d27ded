#include "link/session.h"

#include "link/reach.h"

#include "capture.h"
#include "momentvalue.h"

#include <QModbusDataUnit>
#include <QModbusReply>
#include <QModbusTcpClient>
#include <QVariant>

#include <sys/socket.h>

#include <algorithm>
#include <array>
#include <utility>

namespace ridge::link {

namespace {
constexpr int replyTimeout = 350;    // ms
constexpr int grace = 60;            // ms; an answer that came while this program was busy is read before it is missed
constexpr int clientTimeout = 10000; // ms; the library's own, which knows no grace and never has to act
constexpr int pollEvery = 200;       // ms
constexpr int connectTimeout = 3000; // ms; a host that says nothing at all is not waited for longer
constexpr ObjectKey statusword{0x6041, 0}, errorCode{0x603F, 0}, position{0x6064, 0}, velocity{0x606C, 0},
    torque{0x6077, 0}, inputs{0x60FD, 0}, bus{0x6079, 0}, conditions{0x2015, 1}, conditionsKnown{0x2015, 2},
    watchdogFeed{0x2011, 2};
constexpr std::uint8_t momentValues = 15;
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
        if (std::ranges::none_of(m_queue, [](const Request& r) {
                return r.isWrite && r.urgent && r.first == ObjectDictionary::shipped().find(watchdogFeed)->reg;
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
    if (m_client)
        m_client->disconnect(this);
}

void Session::connectTo(const QString& host, int port)
{
    disconnectFrom();
    m_address = QStringLiteral("%1:%2").arg(host).arg(port);
    m_controlRegister = ObjectDictionary::shipped().find({0x6040, 0})->reg;
    m_client = std::make_unique<QModbusTcpClient>();
    m_client->setConnectionParameter(QModbusDevice::NetworkAddressParameter, host);
    m_client->setConnectionParameter(QModbusDevice::NetworkPortParameter, port);
    m_client->setTimeout(clientTimeout);
    m_client->setNumberOfRetries(0);
    connect(m_client.get(), &QModbusClient::stateChanged, this, [this](QModbusDevice::State state) {
        if (state == QModbusDevice::ConnectedState && !m_connected) {
            m_connecting.stop();
            m_connected = true;
            ++m_connections;
            const auto* socket = qobject_cast<const QAbstractSocket*>(m_client->device());
            m_remote = !socket || isRemote(socket->peerAddress(), ownNetworks());
            m_identified = false;
            m_identity = {};
            m_snapshot = {}; // what another drive said is not this one's
            m_snapshotClock.invalidate();
            identify();
            m_poll.start();
            Q_EMIT connectionChanged();
        } else if (state == QModbusDevice::UnconnectedState && !m_closing) {
            if (m_connected)
                loseConnection(tr("The connection to the drive is lost. Motion commands are stopped; nothing that was "
                                  "recorded is lost."));
            else
                noAnswer();
        }
    });
    m_connecting.start();
    if (!m_client->connectDevice())
        noAnswer();
}

void Session::noAnswer()
{
    loseConnection(QString::fromStdString(messageFor({"no-answer", {}, m_address.toStdString(), {}})));
}

/// The wire is closed; what still arrives on it belongs to nobody.
void Session::dropClient()
{
    if (!m_client)
        return;
    m_closing = true;
    m_client->disconnect(this);
    m_client->disconnectDevice();
    m_client.release()->deleteLater();
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
    dropClient();
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
    dropClient();
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
    QModbusDataUnit unit(QModbusDataUnit::HoldingRegisters, r.first, static_cast<quint16>(r.count));
    if (r.isWrite)
        unit.setValues(QList<quint16>(r.values.begin(), r.values.end()));
    QModbusReply* reply = r.isWrite ? m_client->sendWriteRequest(unit, 1) : m_client->sendReadRequest(unit, 1);
    if (!reply) {
        loseConnection(tr("The connection to the drive is lost."));
        return;
    }
    m_inFlight = true;
    ++m_serial;
    // before a drive has said who it is nothing moves: then nobody is hurt by patience either
    m_watchdog.start(replyTimeout * (!m_identified || simulated() ? m_patience : 1));
    if (reply->isFinished())
        finished(reply, m_serial);
    else
        connect(reply, &QModbusReply::finished, this, [this, reply, serial = m_serial] { finished(reply, serial); });
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

void Session::finished(QModbusReply* reply, std::uint64_t serial)
{
    reply->deleteLater();
    if (!m_inFlight || m_queue.empty() || serial != m_serial)
        return;
    if (reply->error() == QModbusDevice::TimeoutError) {
        noReply(serial);
        return;
    }
    m_inFlight = false;
    m_watchdog.stop();
    if (reply->error() == QModbusDevice::ConnectionError) {
        loseConnection(tr("The drive at %1 no longer answers. The state of the axis is not known since then; nothing "
                          "that was recorded is lost.")
                           .arg(m_address));
        return;
    }
    const Request r = std::move(m_queue.front());
    m_queue.pop_front();
    if (r.done) {
        if (reply->error() != QModbusDevice::NoError) {
            r.done(refuse("drive-refused", std::to_string(r.first), reply->errorString().toStdString()));
        } else {
            const QList<quint16> words = reply->result().values();
            r.done(std::vector<std::uint16_t>(words.begin(), words.end()));
        }
    }
    next();
}

void Session::read(const std::vector<ObjectKey>& keys, ValuesDone done, Progress progress)
{
    readBlocks(keys, false, std::move(done), std::move(progress));
}

void Session::urgentRead(const std::vector<ObjectKey>& keys, ValuesDone done)
{
    readBlocks(keys, true, std::move(done), {});
}

void Session::readBlocks(const std::vector<ObjectKey>& keys, bool urgent, ValuesDone done, Progress progress)
{
    std::vector<const ObjectEntry*> entries;
    for (const ObjectKey& key : keys)
        if (const ObjectEntry* e = ObjectDictionary::shipped().find(key);
            e && e->readable && e->type != ObjectType::Text)
            entries.push_back(e);
    const auto blocks = std::make_shared<std::vector<Block>>(blocksFor(entries));
    const auto values = std::make_shared<Values>();
    if (blocks->empty()) {
        done(Values{});
        return;
    }
    const auto failed = std::make_shared<bool>(false);
    for (std::size_t k = 0; k < blocks->size(); ++k) {
        const Block block = (*blocks)[k];
        enqueue({false, block.first, block.count, {}, 2, urgent, [=](const Result<std::vector<std::uint16_t>>& words) {
                     if (*failed)
                         return;
                     // an answer that is too short is no answer: nothing of it is taken
                     if (!words || words->size() != static_cast<std::size_t>(block.count)) {
                         *failed = true;
                         done(words ? Result<Values>(refuse("short-reply", std::to_string(block.first)))
                                    : tl::make_unexpected(words.error()));
                         return;
                     }
                     std::size_t at = 0;
                     for (const ObjectEntry* e : block.entries) {
                         const auto n = static_cast<std::size_t>(e->registers());
                         (*values)[e->key] = fromRegisters(std::span(*words).subspan(at, n), e->type);
                         at += n;
                     }
                     if (progress)
                         progress(static_cast<int>(k + 1), static_cast<int>(blocks->size()));
                     if (k + 1 == blocks->size())
                         done(*values);
                 }});
    }
}

void Session::readAll(ValuesDone done, Progress progress)
{
    std::vector<ObjectKey> keys;
    for (const ObjectEntry& e : ObjectDictionary::shipped().entries())
        if (e.stored())
            keys.push_back(e.key);
    read(keys, std::move(done), std::move(progress));
}

void Session::write(ObjectKey key, std::int64_t value, Done done) { writeOne(key, value, false, std::move(done)); }

void Session::urgentWrite(ObjectKey key, std::int64_t value, Done done) { writeOne(key, value, true, std::move(done)); }

void Session::sendNow(ObjectKey key, std::int64_t value)
{
    const ObjectEntry* e = ObjectDictionary::shipped().find(key);
    if (!m_connected || !e)
        return;
    QModbusDataUnit unit(QModbusDataUnit::HoldingRegisters, e->reg, static_cast<quint16>(e->registers()));
    const auto words = toRegisters(value, e->type);
    unit.setValues(QList<quint16>(words.begin(), words.end()));
    if (QModbusReply* reply = m_client->sendWriteRequest(unit, 1))
        connect(reply, &QModbusReply::finished, reply, &QObject::deleteLater);
}

void Session::lastWord() const
{
    // nothing static is used here: on the way out of a program that may be gone already
    const auto* socket = m_client ? qobject_cast<const QAbstractSocket*>(m_client->device()) : nullptr;
    if (!m_connected || !socket)
        return;
    // Modbus TCP: transaction, protocol, length, unit; write single register, its number, the word of the quick stop
    const auto high = static_cast<std::uint8_t>(m_controlRegister >> 8),
               low = static_cast<std::uint8_t>(m_controlRegister & 0xFF);
    const std::array<std::uint8_t, 12> frame{0xFF, 0xFF, 0, 0, 0, 6, 1, 6, high, low, 0, 0x02};
    [[maybe_unused]] const auto sent =
        ::send(static_cast<int>(socket->socketDescriptor()), frame.data(), frame.size(), MSG_NOSIGNAL);
}

void Session::writeOne(ObjectKey key, std::int64_t value, bool urgent, Done done)
{
    const ObjectEntry* e = ObjectDictionary::shipped().find(key);
    if (!e || !e->writable || e->type == ObjectType::Text || value < e->lowest() || value > e->highest()) {
        if (done)
            done(refuse("drive-refused", keyText(key), "the value does not fit object " + keyText(key)));
        return;
    }
    enqueue({true, e->reg, e->registers(), toRegisters(value, e->type), 1, urgent,
             [done, key](const Result<std::vector<std::uint16_t>>& r) {
                 if (!done)
                     return;
                 if (r)
                     done({});
                 else
                     done(refuse(r.error().code, keyText(key), keyText(key) + " " + r.error().actual));
             }});
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

void Session::writeReadBack(const Values& values, ValuesDone done, Progress progress)
{
    const auto left = std::make_shared<std::size_t>(values.size());
    const auto failure = std::make_shared<std::optional<Error>>();
    const int total = static_cast<int>(values.size());
    if (values.empty()) {
        done(Values{});
        return;
    }
    std::vector<ObjectKey> keys;
    for (const auto& [key, value] : values)
        keys.push_back(key);
    for (const auto& [key, value] : values)
        write(key, value, [=, this](const Result<void>& r) {
            if (!r && !*failure)
                *failure = r.error();
            --*left;
            if (progress)
                progress(total - static_cast<int>(*left), total);
            if (*left > 0)
                return;
            if (*failure && (*failure)->code != "drive-refused") {
                done(tl::make_unexpected(**failure));
                return;
            }
            read(keys, done);
        });
}

void Session::control(std::uint16_t word, Done done) { write({0x6040, 0}, word, std::move(done)); }

void Session::poll()
{
    if (m_queue.size() > 4)
        return;
    if (m_hasMoment) {
        pollMoment();
        return;
    }
    read({statusword, errorCode, position, velocity, torque, inputs, bus, conditions, conditionsKnown},
         [this](const Result<Values>& v) {
             if (!v)
                 return; // what is shown grows old and says so
             Snapshot s;
             s.status = static_cast<std::uint16_t>(v->at(statusword));
             s.state = driveState(s.status);
             s.error = static_cast<std::uint16_t>(v->at(errorCode));
             s.position = v->at(position);
             s.velocity = v->at(velocity);
             s.torque = v->at(torque);
             s.inputs = v->at(inputs);
             s.busMillivolt = v->at(bus);
             s.conditions = v->at(conditions);
             s.conditionsKnown = v->at(conditionsKnown);
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
