#include "bench.h"

#include "core/drives/servo.h"

#include <QCoreApplication>
#include <QFile>
#include <QFileInfo>
#include <QJsonDocument>
#include <QJsonObject>
#include <QTimer>

namespace ridge::app {

namespace {
/// The simulated machine is not exactly the model: what is found on it differs from the plan, as on a real one.
constexpr double inertiaOfTruth = 1.06, frictionOfTruth = 1.2;
} // namespace

Bench::Bench(Document& document, QObject* parent) : QObject(parent), m_document(document)
{
    connect(&m_process, &QProcess::readyReadStandardOutput, this, [this] {
        while (m_process.canReadLine()) {
            const QString line = QString::fromUtf8(m_process.readLine()).trimmed();
            if (line.startsWith(QLatin1String("port ")))
                m_session.connectTo(QStringLiteral("127.0.0.1"), line.mid(5).toInt());
        }
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
    m_session.disconnectFrom();
    m_process.disconnect(this);
    m_process.kill();
    m_process.waitForFinished(1000);
}

void Bench::startSimulated()
{
    stopSimulated();
    const Evaluation& e = m_document.evaluation();
    const Axis& a = m_document.axis();
    QJsonObject plant;
    if (e.tune && a.choice.motor) {
        const ServoMotor& m = *a.choice.motor;
        plant = {{QStringLiteral("inertia_kgm2"), e.tune->plant.inertia * inertiaOfTruth},
                 {QStringLiteral("coulomb_Nm"), e.tune->plant.coulomb * frictionOfTruth},
                 {QStringLiteral("viscous_Nms_rad"), e.tune->plant.viscous},
                 {QStringLiteral("gravity_Nm"), e.tune->plant.gravity},
                 {QStringLiteral("counts"), m.countsPerTurn},
                 {QStringLiteral("brake_Nm"), a.choice.withBrake ? m.brakeTorque : 0.0},
                 {QStringLiteral("brakeRelease_s"), m.brakeRelease},
                 {QStringLiteral("brakeEngage_s"), m.brakeEngage},
                 {QStringLiteral("ratedTorque_Nm"), m.ratedTorque},
                 {QStringLiteral("ratedCurrent_A"), m.ratedCurrent},
                 {QStringLiteral("bus_V"), e.conditions.bus.nominal}};
    }
    const QString path = m_folder.filePath(QStringLiteral("plant.json"));
    QFile file(path);
    if (!file.open(QIODevice::WriteOnly) || file.write(QJsonDocument(plant).toJson()) < 0)
        return;
    file.close();
    const QString program = QFileInfo(QCoreApplication::applicationDirPath() + QStringLiteral("/vortex-ridge-drive")).absoluteFilePath();
    m_process.start(program, {QStringLiteral("--plant"), path});
    m_last = tr("starting the simulated drive");
    Q_EMIT changed();
}

void Bench::stopSimulated()
{
    m_session.disconnectFrom();
    if (m_process.state() != QProcess::NotRunning) {
        m_process.kill();
        m_process.waitForFinished(1000);
    }
}

QString Bench::words() const
{
    if (!m_session.connected())
        return m_last.isEmpty() ? tr("no drive connected") : m_last;
    const auto& s = m_session.snapshot();
    const QString state = QString::fromUtf8(driveStateWords(s.state).data());
    return (m_session.simulated() ? tr("SIMULATED drive · %1") : tr("drive · %1")).arg(state);
}

void Bench::enable(int mode, std::function<void(bool)> done)
{
    m_session.write({0x6060, 0}, mode);
    m_session.control(0x0000);
    QTimer::singleShot(30, this, [this, done = std::move(done)] { stepEnable(40, done); });
}

void Bench::stepEnable(int triesLeft, std::function<void(bool)> done)
{
    m_session.read({{0x6041, 0}}, [this, triesLeft, done](const Result<link::Values>& v) {
        if (!v || triesLeft == 0) {
            done(false);
            return;
        }
        const DriveState s = driveState(static_cast<std::uint16_t>(v->at({0x6041, 0})));
        if (s == DriveState::OperationEnabled) {
            done(true);
            return;
        }
        const std::uint16_t word = s == DriveState::Fault ? 0x80 : s == DriveState::SwitchOnDisabled ? 0x06 : s == DriveState::ReadyToSwitchOn ? 0x07 : s == DriveState::SwitchedOn ? 0x0F : 0x00;
        m_session.control(word);
        QTimer::singleShot(25, this, [this, triesLeft, done] { stepEnable(triesLeft - 1, done); });
    });
}

void Bench::disable() { m_session.control(0x0000); }

} // namespace ridge::app
