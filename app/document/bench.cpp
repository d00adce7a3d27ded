#include "bench.h"

#include "core/drives/servo.h"

#include <QCoreApplication>
#include <QFile>
#include <QFileInfo>
#include <QJsonDocument>
#include <QJsonObject>

namespace ridge::app {

namespace {
/// The simulated machine is not exactly the model: what is found on it differs from the plan, as on a real one.
constexpr double inertiaOfTruth = 1.06, frictionOfTruth = 1.2;

/// The machine at the motor shaft, for the simulated drive.
QJsonObject plantOf(const Evaluation& e, const Axis& a)
{
    if (!e.tune || !a.choice.motor)
        return {};
    const ServoMotor& m = *a.choice.motor;
    return {{QStringLiteral("inertia_kgm2"), e.tune->plant.inertia * inertiaOfTruth},
            {QStringLiteral("coulomb_Nm"), e.tune->plant.coulomb * frictionOfTruth},
            {QStringLiteral("viscous_Nms_rad"), e.tune->plant.viscous},
            {QStringLiteral("gravity_Nm"), e.tune->plant.gravity},
            {QStringLiteral("counts"), m.countsPerTurn},
            {QStringLiteral("brake_Nm"), a.choice.withBrake ? m.brakeTorque : 0.0},
            {QStringLiteral("brakeRelease_s"), m.brakeRelease},
            {QStringLiteral("brakeEngage_s"), m.brakeEngage},
            {QStringLiteral("ratedTorque_Nm"), m.ratedTorque},
            {QStringLiteral("ratedCurrent_A"), m.ratedCurrent},
            {QStringLiteral("torqueConstant_Nm_A"), m.torqueConstant},
            {QStringLiteral("resistance_ohm"), m.resistance},
            {QStringLiteral("inductance_H"), m.inductance},
            {QStringLiteral("polePairs"), m.polePairs},
            {QStringLiteral("peakCurrent_A"),
             a.choice.drive ? std::min(m.peakCurrent, a.choice.drive->peakCurrent) : m.peakCurrent},
            {QStringLiteral("bus_V"), e.conditions.bus.nominal}};
}
} // namespace

Bench::Bench(Document& document, QObject* parent)
    : QObject(parent)
    , m_document(document)
    , m_procedures(m_session)
{
    connect(&m_process, &QProcess::readyReadStandardOutput, this, &Bench::readPort);
    connect(&m_process, &QProcess::errorOccurred, this, [this](QProcess::ProcessError error) {
        if (error != QProcess::FailedToStart)
            return;
        m_last = tr("The simulated drive cannot be started: %1").arg(m_process.program());
        Q_EMIT changed();
    });
    connect(&m_session, &link::Session::connectionChanged, this, &Bench::changed);
    connect(&m_session, &link::Session::snapshotChanged, this, &Bench::changed);
    connect(&m_session, &link::Session::lost, this, [this](const QString& why) {
        m_last = why;
        m_document.log(QStringLiteral("drive"), why);
        Q_EMIT changed();
    });
}

Bench::~Bench()
{
    m_session.disconnect(this); // nobody is left to tell
    m_session.disconnectFrom();
    m_process.disconnect(this);
    m_process.kill();
    m_process.waitForFinished(1000);
}

void Bench::readPort()
{
    while (m_process.canReadLine()) {
        const QString line = QString::fromUtf8(m_process.readLine()).trimmed();
        if (line.startsWith(QLatin1String("port ")))
            m_session.connectTo(QStringLiteral("127.0.0.1"), line.mid(5).toInt());
    }
}

void Bench::startSimulated()
{
    stopSimulated();
    m_axis = m_document.axis().id;
    QFile file(m_folder.filePath(QStringLiteral("plant.json")));
    if (!file.open(QIODevice::WriteOnly)
        || file.write(QJsonDocument(plantOf(m_document.evaluation(), m_document.axis())).toJson()) < 0) {
        m_last = tr("The simulated drive cannot be started: no room for its file.");
        Q_EMIT changed();
        return;
    }
    file.close();
    const QString program =
        QFileInfo(QCoreApplication::applicationDirPath() + QStringLiteral("/vortex-ridge-drive")).absoluteFilePath();
    m_process.start(program, {QStringLiteral("--plant"), file.fileName()});
    m_last = tr("starting the simulated drive");
    Q_EMIT changed();
}

QString Bench::connectTo(const QString& address)
{
    const qsizetype colon = address.lastIndexOf(QLatin1Char(':'));
    bool number = false;
    const int port = colon < 0 ? 502 : address.mid(colon + 1).toInt(&number);
    const QString host = colon < 0 ? address.trimmed() : address.left(colon).trimmed();
    if (host.isEmpty() || host.contains(QLatin1Char(' ')) || (colon >= 0 && !number) || port < 1 || port > 65535)
        return tr("“%1” is no address; write host:port, for example 192.168.1.20:502.").arg(address);
    stopSimulated();
    m_last = tr("connecting to %1").arg(address);
    m_session.connectTo(host, port);
    Q_EMIT changed();
    return {};
}

void Bench::stopSimulated()
{
    m_session.disconnectFrom();
    if (m_process.state() == QProcess::NotRunning)
        return;
    m_process.kill();
    m_process.waitForFinished(1000);
}

QString Bench::words() const
{
    if (!m_session.connected())
        return m_last.isEmpty() ? tr("no drive connected") : m_last;
    const QString state = QString::fromUtf8(driveStateWords(m_session.snapshot().state).data());
    if (!m_session.simulated())
        return tr("drive at %1 · %2").arg(m_session.address(), state);
    if (m_document.hasAxis() && m_axis != m_document.axis().id)
        return tr("SIMULATED drive of %1 · %2").arg(QString::fromStdString(m_axis), state);
    return tr("SIMULATED drive · %1").arg(state);
}

link::Scale Bench::scale() const
{
    const Axis& a = m_document.axis();
    return {a.choice.motor ? a.choice.motor->countsPerTurn : 1.0, unitsPerTravel(a)};
}

} // namespace ridge::app
