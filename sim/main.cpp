#include "server.h"
#include "truth.h"

#include <QCommandLineParser>
#include <QCoreApplication>
#include <QElapsedTimer>
#include <QFile>
#include <QHostAddress>
#include <QTcpServer>
#include <QTimer>

#include <unistd.h>

#include <cstdio>

int main(int argc, char** argv)
{
    QCoreApplication app(argc, argv);
    QCommandLineParser options;
    options.setApplicationDescription(
        QStringLiteral("Simulated drive on Modbus TCP, loopback only. Prints the port it listens on."));
    options.addHelpOption();
    options.addOption(
        {QStringLiteral("plant"), QStringLiteral("JSON with the machine at the motor shaft."), QStringLiteral("file")});
    options.addOption({QStringLiteral("port"), QStringLiteral("Port; 0 takes a free one."), QStringLiteral("n"),
                       QStringLiteral("0")});
    options.process(app);
    QByteArray text;
    if (const QString path = options.value(QStringLiteral("plant")); !path.isEmpty()) {
        QFile file(path);
        if (!file.open(QIODevice::ReadOnly)) {
            std::fprintf(stderr, "The plant file %s cannot be opened.\n", qPrintable(path));
            return 2;
        }
        text = file.readAll();
    }
    ridge::sim::Device device(ridge::sim::truthFrom(text.toStdString()));
    ridge::sim::Server server(device);
    int port = options.value(QStringLiteral("port")).toInt();
    for (int attempt = 0; attempt < 20; ++attempt) { // the server cannot say which port it got: find a free one first
        int candidate = port;
        if (candidate == 0) {
            QTcpServer probe;
            probe.listen(QHostAddress::LocalHost, 0);
            candidate = probe.serverPort();
        }
        server.setConnectionParameter(QModbusDevice::NetworkAddressParameter, QStringLiteral("127.0.0.1"));
        server.setConnectionParameter(QModbusDevice::NetworkPortParameter, candidate);
        if (server.connectDevice()) {
            std::printf("port %d\n", candidate);
            std::fflush(stdout);
            break;
        }
        if (port != 0 || attempt == 19) {
            std::fprintf(stderr, "Cannot listen on port %d: %s\n", candidate, qPrintable(server.errorString()));
            return 1;
        }
    }
    // real-time pacing: run the ticks that are due, at most 20 ms of backlog, then drop:
    // what the machine keeps from the drive and from whoever feeds its watchdog alike is no time of the drive's
    QElapsedTimer clock;
    clock.start();
    qint64 done = 0;
    QTimer timer;
    timer.setTimerType(Qt::PreciseTimer);
    QObject::connect(&timer, &QTimer::timeout, &timer, [&] {
        const qint64 due = clock.nsecsElapsed() * 16 / 1000000;
        qint64 run = due - done;
        done = due;
        if (device.virtualPacing())
            return;
        run = std::min<qint64>(run, 320);
        device.advance(run);
    });
    timer.start(1);
    // whoever started the bench is gone: an orphan serves nobody
    const pid_t parent = getppid();
    QTimer orphan;
    QObject::connect(&orphan, &QTimer::timeout, &orphan, [&] {
        if (getppid() != parent)
            QCoreApplication::quit();
    });
    orphan.start(1000);
    return app.exec();
}
