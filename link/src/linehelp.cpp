#include "link/linehelp.h"

#include "link/transport.h"

#include <QCanBus>
#include <QCanBusDevice>
#include <QCanBusFrame>
#include <QSerialPort>
#include <QTcpSocket>

#include <algorithm>
#include <utility>

namespace ridge::link {

namespace {
constexpr int hostAnswers = 1500, listens = 1200, comesBack = 400; // ms, our choice
constexpr int unitsTried = 32, nodesTried = 127;
using S = HelpStep::State;

QString networkWords(const Networks& own)
{
    QStringList words;
    for (const auto& [address, prefix] : own)
        if (address.protocol() == QAbstractSocket::IPv4Protocol && !address.isLoopback())
            words += QStringLiteral("%1/%2").arg(address.toString()).arg(prefix);
    return words.isEmpty() ? LineHelp::tr("none") : words.join(QStringLiteral(", "));
}

/// Neither all ones nor all zeros: what comes back is what was sent, not a line that hangs.
QByteArray loopBackWord() { return QByteArrayLiteral("ridge loop-back\x55\xAA"); }
} // namespace

LineHelp::LineHelp(QObject* parent)
    : QObject(parent)
{
    m_wait.setSingleShot(true);
    connect(&m_finder, &Finder::found, this, [this](const Found& f) {
        ++m_found;
        if (!m_tries.empty())
            set(m_tries.front().step, S::Good,
                tr("%1 answers: %2").arg(addressText(f.address), f.who.isEmpty() ? f.words : f.who));
        Q_EMIT found(f);
    });
    connect(&m_finder, &Finder::progress, this, [this](int done, int total) {
        if (m_found == 0 && !m_tries.empty())
            set(m_tries.front().step, S::Waiting, tr("tried %1 of %2").arg(done).arg(total));
    });
    connect(&m_finder, &Finder::ended, this, [this] {
        if (m_tries.empty())
            return;
        if (m_found == 0)
            set(m_tries.front().step, S::Bad, m_tries.front().nothing);
        m_tries.pop_front();
        nextTry();
    });
}

LineHelp::~LineHelp() { cancel(); }

void LineHelp::set(const QString& name, HelpStep::State state, const QString& words)
{
    const auto it = std::ranges::find(m_steps, name, &HelpStep::name);
    if (it == m_steps.end())
        return;
    it->state = state;
    it->words = words;
    Q_EMIT changed();
}

void LineHelp::begin(const Address& address, const ObjectDictionary& map, const Networks& own)
{
    cancel();
    m_address = address;
    m_map = map;
    m_running = true;
    switch (address.line) {
    case Line::Tcp: helpTcp(own); break;
    case Line::Serial: helpSerial(); break;
    case Line::Can: helpCan(); break;
    }
    Q_EMIT changed();
}

void LineHelp::cancel()
{
    m_tries.clear();
    m_finder.cancel();
    m_wait.stop();
    m_wait.disconnect(this);
    if (m_socket)
        m_socket->disconnect(this);
    if (m_port)
        m_port->disconnect(this);
    if (m_bus) {
        m_bus->disconnect(this);
        m_bus->disconnectDevice();
    }
    m_socket.reset();
    m_port.reset();
    m_bus.reset();
    m_steps.clear();
    m_running = false;
}

void LineHelp::finish()
{
    m_running = false;
    QTimer::singleShot(0, this, &LineHelp::ended);
}

void LineHelp::nextTry()
{
    if (m_tries.empty()) {
        finish();
        return;
    }
    m_found = 0;
    m_finder.begin(m_tries.front().places, m_map);
}

void LineHelp::tell(const QString& name, bool good, const QString& words)
{
    const QString said = words.trimmed();
    set(name, good ? S::Good : S::Bad, !said.isEmpty() ? said : good ? tr("as it should be") : tr("not so"));
}

void LineHelp::helpTcp(const Networks& own)
{
    m_steps = {
        {QStringLiteral("lamps"), tr("Link lamps"), S::Asked,
         tr("Is the link lamp lit at the drive and at this computer? Dark: cable, plug, or the other end is off.")},
        {QStringLiteral("subnet"), tr("Network"), S::Waiting, {}},
        {QStringLiteral("host"), tr("Host and port"), S::Waiting, {}},
        {QStringLiteral("units"), tr("Unit number"), S::Waiting, tr("after the host answers")}};
    const QHostAddress host(m_address.name);
    const QString networks = networkWords(own);
    if (host.isNull())
        set(QStringLiteral("subnet"), S::Asked,
            tr("“%1” is a name: the network says what number it stands for.").arg(m_address.name));
    else if (isRemote(host, own))
        set(QStringLiteral("subnet"), S::Bad,
            tr("%1 lies in no network of this computer (%2): give the computer an address in the drive's network. "
               "Through a router no motion is started.")
                .arg(m_address.name, networks));
    else
        set(QStringLiteral("subnet"), S::Good,
            tr("%1 lies in a network of this computer (%2).").arg(m_address.name, networks));
    m_socket = std::make_unique<QTcpSocket>();
    connect(m_socket.get(), &QTcpSocket::connected, this, [this] {
        hostJudged(S::Good, tr("%1 takes connections at port %2.").arg(m_address.name).arg(m_address.port), true);
    });
    connect(m_socket.get(), &QTcpSocket::errorOccurred, this, [this](QAbstractSocket::SocketError e) {
        hostJudged(S::Bad,
                   e == QAbstractSocket::ConnectionRefusedError
                       ? tr("%1 is there and refuses port %2: another port, or the service is off in the drive.")
                             .arg(m_address.name)
                             .arg(m_address.port)
                       : tr("%1 is not reached (%2): its supply, its address, the cable.")
                             .arg(m_address.name, m_socket->errorString()),
                   false);
    });
    connect(&m_wait, &QTimer::timeout, this, [this] {
        hostJudged(S::Bad,
                   tr("%1 says nothing at all: its supply, its address, the cable, or a firewall.").arg(m_address.name),
                   false);
    });
    m_wait.start(hostAnswers);
    m_socket->connectToHost(m_address.name, static_cast<quint16>(m_address.port));
}

void LineHelp::hostJudged(HelpStep::State state, const QString& words, bool goesOn)
{
    m_wait.stop();
    m_socket->disconnect(this);
    m_socket.release()->deleteLater();
    set(QStringLiteral("host"), state, words);
    if (goesOn)
        m_tries.push_back({QStringLiteral("units"),
                           placesOf({.names = {m_address.name}, .ports = {m_address.port}, .lastUnit = unitsTried}),
                           tr("No unit from 1 to %1 answers there: what listens is no drive, or it wants another unit "
                              "number.")
                               .arg(unitsTried)});
    nextTry();
}

void LineHelp::helpSerial()
{
    m_steps = {{QStringLiteral("adapter"), tr("Adapter"), S::Waiting, {}},
               {QStringLiteral("driver"), tr("Driver and rights"), S::Waiting, {}},
               {QStringLiteral("settings"), tr("Baud and parity"), S::Waiting, tr("after the adapter")},
               {QStringLiteral("units"), tr("Unit number"), S::Waiting, tr("after the adapter")},
               {QStringLiteral("loop-back"), tr("Loop-back test"), S::Asked,
                tr("Take the plug off the drive and bridge send and receive of the adapter by its own sheet, then "
                   "test: what comes back proves the adapter; the silence is the drive's.")},
               {QStringLiteral("pinout"), tr("Pins"), S::Asked,
                tr("Compare the plug with the drive's sheet, pin by pin, and write down what goes where.")}};
    const QStringList lines = serialLines();
    const bool listed = std::ranges::any_of(
        lines, [this](const QString& l) { return l.section(QLatin1Char(' '), 0, 0) == m_address.name; });
    QSerialPort port(m_address.name);
    const bool opens = port.open(QIODevice::ReadWrite);
    const bool rights = port.error() == QSerialPort::PermissionError;
    port.close();
    set(QStringLiteral("adapter"), listed || opens ? S::Good : S::Bad,
        listed || opens
            ? tr("%1 is there.").arg(m_address.name)
            : tr("%1 is not among the adapters of this computer (%2).")
                  .arg(m_address.name, lines.isEmpty() ? tr("there is none") : lines.join(QStringLiteral(", "))));
    if (!opens) {
        set(QStringLiteral("driver"), S::Bad,
            rights ? tr("This user may not open %1: join the group that owns it (often dialout), or close the other "
                        "program that has it.")
                         .arg(m_address.name)
                   : tr("%1 does not open: unplugged, or no driver made a port of the adapter.").arg(m_address.name));
        nextTry();
        return;
    }
    set(QStringLiteral("driver"), S::Good, tr("%1 opens and may be used.").arg(m_address.name));
    m_tries.push_back({QStringLiteral("settings"),
                       placesOf({.line = Line::Serial,
                                 .names = {m_address.name},
                                 .firstUnit = m_address.unit,
                                 .lastUnit = m_address.unit}),
                       tr("No usual baud and parity is answered at unit %1.").arg(m_address.unit)});
    m_tries.push_back({QStringLiteral("units"),
                       placesOf({.line = Line::Serial,
                                 .names = {m_address.name},
                                 .bauds = {m_address.baud},
                                 .parities = {m_address.parity},
                                 .lastUnit = unitsTried}),
                       tr("No unit from 1 to %1 answers at %2 baud.").arg(unitsTried).arg(m_address.baud)});
    nextTry();
}

void LineHelp::tryLoopBack()
{
    if (m_running)
        return; // the line is in use
    m_port = std::make_unique<QSerialPort>(m_address.name);
    m_port->setBaudRate(m_address.baud);
    if (!m_port->open(QIODevice::ReadWrite)) {
        set(QStringLiteral("loop-back"), S::Bad,
            tr("%1 does not open (%2).").arg(m_address.name, m_port->errorString()));
        m_port.reset();
        return;
    }
    m_running = true;
    m_echo.clear();
    connect(m_port.get(), &QSerialPort::readyRead, this, [this] { m_echo += m_port->readAll(); });
    m_wait.disconnect(this);
    connect(&m_wait, &QTimer::timeout, this, [this] {
        m_echo += m_port->readAll();
        m_port.reset();
        const bool whole = m_echo.contains(loopBackWord());
        set(QStringLiteral("loop-back"), whole ? S::Good : S::Bad,
            whole ? tr("What is sent comes back: the adapter works. The drive is silent: its supply, its pins, its "
                       "settings.")
            : m_echo.isEmpty()
                ? tr("Nothing comes back: the adapter is silent, or the bridge is not on its send and receive.")
                : tr("%1 bytes come back and are not those that were sent: a bad contact, or noise.")
                      .arg(m_echo.size()));
        finish();
    });
    m_port->write(loopBackWord());
    m_wait.start(comesBack);
    set(QStringLiteral("loop-back"), S::Waiting, tr("sent; listening"));
}

void LineHelp::helpCan()
{
    m_steps = {{QStringLiteral("adapter"), tr("Interface"), S::Waiting, {}},
               {QStringLiteral("traffic"), tr("Traffic"), S::Waiting, {}},
               {QStringLiteral("units"), tr("Node number"), S::Waiting, tr("after the interface")},
               {QStringLiteral("lamps"), tr("Bus lamps"), S::Asked,
                tr("Does the drive's bus lamp show pre-operational or running? Off or red: bit rate, wiring, "
                   "termination of 120 Ω at both ends, common ground.")},
               {QStringLiteral("pinout"), tr("Pins"), S::Asked,
                tr("Compare CAN high, CAN low and ground with the drive's sheet, pin by pin, and write down what goes "
                   "where.")}};
    m_bus.reset(QCanBus::instance()->createDevice(m_address.plugin, m_address.name));
    if (!m_bus || !m_bus->connectDevice()) {
        const QStringList there = canInterfaces();
        set(QStringLiteral("adapter"), S::Bad,
            tr("%1 does not open: not plugged in, or not brought up with its bit rate (interfaces here: %2).")
                .arg(m_address.name, there.isEmpty() ? tr("none") : there.join(QStringLiteral(", "))));
        m_bus.reset();
        nextTry();
        return;
    }
    set(QStringLiteral("adapter"), S::Good, tr("%1 is up.").arg(m_address.name));
    set(QStringLiteral("traffic"), S::Waiting, tr("listening"));
    m_frames = 0;
    connect(m_bus.get(), &QCanBusDevice::framesReceived, this, [this] {
        while (m_bus && m_bus->framesAvailable() > 0)
            m_frames += m_bus->readFrame().frameType() == QCanBusFrame::DataFrame ? 1 : 0;
    });
    connect(&m_wait, &QTimer::timeout, this, &LineHelp::heardEnough);
    m_wait.start(listens);
}

void LineHelp::heardEnough()
{
    m_bus->disconnect(this);
    m_bus->disconnectDevice();
    m_bus.release()->deleteLater();
    if (m_frames > 0)
        set(QStringLiteral("traffic"), S::Good, tr("%1 frames heard: the bit rate is right.").arg(m_frames));
    else
        set(QStringLiteral("traffic"), S::Bad,
            tr("Nobody sends: the drive is off, the bit rate differs, or the bus is open. A drive that sends no "
               "heartbeat may still answer."));
    m_tries.push_back(
        {QStringLiteral("units"),
         placesOf({.line = Line::Can, .names = {m_address.name}, .lastUnit = nodesTried, .plugin = m_address.plugin}),
         tr("No node from 1 to %1 answers.").arg(nodesTried)});
    nextTry();
}

} // namespace ridge::link
