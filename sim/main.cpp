#include "store/loadmachine.h"

#include "canserver.h"
#include "rig.h"
#include "server.h"

#include <QCommandLineParser>
#include <QCoreApplication>
#include <QElapsedTimer>
#include <QFile>
#include <QHostAddress>
#include <QSerialPort>
#include <QTcpServer>
#include <QTimer>

#include <unistd.h>

#include <cstdio>

using namespace ridge;

namespace {

int refused(const QString& why)
{
    std::fprintf(stderr, "%s\n", qPrintable(why));
    return 2;
}

std::optional<QByteArray> contents(const QString& path)
{
    QFile file(path);
    if (!file.open(QIODevice::ReadOnly))
        return {};
    return file.readAll();
}

/// "12:500" switches fault 12 on with half its strength.
bool putFault(sim::Device& device, const QString& text)
{
    const QStringList parts = text.split(QLatin1Char(':'));
    bool number = false, strength = true;
    const int fault = parts.value(0).toInt(&number), strong = parts.size() > 1 ? parts.value(1).toInt(&strength) : 1000;
    if (!number || !strength || fault < 1 || fault > static_cast<int>(sim::faultKinds().size()) || strong < 0
        || strong > 1000)
        return false;
    device.setFault(fault, strong);
    return true;
}

/// Listens on the port, or on a free one for 0. @return the port; 0 when it cannot
int listen(sim::Server& server, int port)
{
    for (int attempt = 0; attempt < 20; ++attempt) { // the server cannot say which port it got: find a free one first
        int candidate = port;
        if (candidate == 0) {
            QTcpServer probe;
            probe.listen(QHostAddress::LocalHost, 0);
            candidate = probe.serverPort();
        }
        server.setConnectionParameter(QModbusDevice::NetworkAddressParameter, QStringLiteral("127.0.0.1"));
        server.setConnectionParameter(QModbusDevice::NetworkPortParameter, candidate);
        if (server.connectDevice())
            return candidate;
        if (port != 0)
            break;
    }
    return 0;
}

/// Real-time pacing: run the ticks that are due, at most 20 ms of backlog, then drop: what the machine keeps from the
/// drive and from whoever feeds its watchdog alike is no time of the drive's.
void pace(QTimer& timer, sim::Rig& rig)
{
    auto clock = std::make_shared<QElapsedTimer>();
    clock->start();
    auto done = std::make_shared<qint64>(0);
    timer.setTimerType(Qt::PreciseTimer);
    QObject::connect(&timer, &QTimer::timeout, &timer, [&rig, clock, done] {
        const qint64 due = clock->nsecsElapsed() * 16 / 1000000, run = due - *done;
        *done = due;
        if (!rig.members().front().device->virtualPacing())
            rig.advance(std::min<qint64>(run, 320));
    });
    timer.start(1);
}

void addOptions(QCommandLineParser& options)
{
    options.setApplicationDescription(
        QStringLiteral("Simulated drive of an axis, on Modbus TCP (loopback only) or a serial line. Prints the port it "
                       "listens on, one line an axis."));
    options.addHelpOption();
    options.addPositionalArgument(QStringLiteral("FILE"), QStringLiteral("Machine file, .vridge or .json."),
                                  QStringLiteral("[FILE]"));
    const auto add = [&](const char* name, const char* words, const char* value, const char* usual = "") {
        options.addOption({QString::fromLatin1(name), QString::fromLatin1(words), QString::fromLatin1(value),
                           QString::fromLatin1(usual)});
    };
    add("axis", "Axis by number or name; several run in step, those of one housing on one bus.", "name");
    add("plant", "JSON with the machine at the motor shaft instead of a machine file.", "file");
    add("port", "TCP port of the first axis; 0 takes a free one.", "n", "0");
    add("tty", "Serial line for Modbus RTU instead of TCP.", "device");
    add("can", "CAN interface for CANopen instead of TCP; tcp://127.0.0.1/can0 is a bus in this machine.", "interface");
    add("baud", "Of the serial line, 8 data bits, even parity.", "n", "19200");
    add("unit", "Address on the line, node on the bus.", "n", "1");
    add("fault", "Puts a fault in: number, or number:strength from 0 to 1000.", "n:s");
    add("seed", "Of all noise.", "n", "0");
    add("serial", "Serial number the drive tells.", "n", "1");
}
} // namespace

int main(int argc, char** argv)
{
    QCoreApplication app(argc, argv);
    QCommandLineParser options;
    addOptions(options);
    options.process(app);
    const auto number = [&](const char* name) { return options.value(QString::fromLatin1(name)).toUInt(); };
    std::optional<sim::Rig> rig;
    if (const QStringList files = options.positionalArguments(); !files.isEmpty()) {
        const auto machine = store::loadMachine(files.front().toStdString());
        if (!machine)
            return refused(QString::fromStdString(messageFor(machine.error())));
        std::vector<std::string> axes;
        for (const QString& a : options.values(QStringLiteral("axis")))
            axes.push_back(a.toStdString());
        if (axes.empty() && machine->axes.size() == 1)
            axes.push_back(machine->axes.front().id);
        if (axes.empty())
            return refused(QStringLiteral("Which axis? Say it with --axis."));
        auto made = sim::Rig::of(*machine, axes, {}, number("serial"));
        if (!made)
            return refused(QString::fromStdString(messageFor(made.error())));
        rig.emplace(std::move(*made));
    } else {
        std::string text;
        if (const QString path = options.value(QStringLiteral("plant")); !path.isEmpty()) {
            const auto read = contents(path);
            if (!read)
                return refused(QStringLiteral("The plant file %1 cannot be opened.").arg(path));
            text = read->toStdString();
        }
        rig.emplace(std::make_unique<sim::Device>(sim::truthFrom(text)));
    }
    std::vector<std::unique_ptr<QObject>> servers;
    const auto advance = [&rig](std::int64_t ticks) { rig->advance(ticks); };
    int port = options.value(QStringLiteral("port")).toInt();
    for (const sim::Rig::Member& m : rig->members()) {
        m.device->setSeed(number("seed"));
        for (const QString& f : options.values(QStringLiteral("fault")))
            if (!putFault(*m.device, f))
                return refused(QStringLiteral("“%1” is no fault; write 12:500, number and strength.").arg(f));
        if (const QString bus = options.value(QStringLiteral("can")); !bus.isEmpty()) {
            auto server =
                std::make_unique<sim::CanServer>(*m.device, static_cast<int>(number("unit") + servers.size()), advance);
            const bool here = bus.contains(QLatin1String("://"));
            if (!server->open(here ? QStringLiteral("virtualcan") : QStringLiteral("socketcan"), bus))
                return refused(QStringLiteral("Cannot open the CAN interface %1.").arg(bus));
            std::printf("can %s\n", qPrintable(bus));
            servers.push_back(std::move(server));
        } else if (const QString line = options.value(QStringLiteral("tty")); !line.isEmpty()) {
            auto server = std::make_unique<sim::SerialServer>(*m.device, advance);
            server->setServerAddress(static_cast<int>(number("unit") + servers.size()));
            server->setConnectionParameter(QModbusDevice::SerialPortNameParameter, line);
            server->setConnectionParameter(QModbusDevice::SerialBaudRateParameter, number("baud"));
            server->setConnectionParameter(QModbusDevice::SerialParityParameter, QSerialPort::EvenParity);
            if (!server->connectDevice())
                return refused(QStringLiteral("Cannot open %1: %2").arg(line, server->errorString()));
            std::printf("line %s\n", qPrintable(line));
            servers.push_back(std::move(server));
        } else {
            auto server = std::make_unique<sim::Server>(*m.device, advance);
            const int got = listen(*server, port);
            if (got == 0)
                return refused(QStringLiteral("Cannot listen on port %1: %2").arg(port).arg(server->errorString()));
            std::printf("port %d %s\n", got, m.axis.c_str());
            port = port == 0 ? 0 : port + 1;
            servers.push_back(std::move(server));
        }
    }
    std::fflush(stdout);
    QTimer timer;
    pace(timer, *rig);
    // whoever started the bench is gone: an orphan serves nobody
    const pid_t parent = getppid();
    QTimer orphan;
    QObject::connect(&orphan, &QTimer::timeout, &orphan, [&] {
        if (getppid() != parent)
            QCoreApplication::quit();
    });
    orphan.start(1000);
    return QCoreApplication::exec();
}
