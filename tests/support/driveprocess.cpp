#include "driveprocess.h"

#include <QFile>

QString DriveProcess::run(QStringList arguments, const QByteArray& plant)
{
    if (!plant.isEmpty()) {
        QFile file(m_folder.filePath(QStringLiteral("plant.json")));
        if (!file.open(QIODevice::WriteOnly) || file.write(plant) != plant.size())
            return {};
        arguments += {QStringLiteral("--plant"), file.fileName()};
    }
    m_process.start(QStringLiteral(BIN_DIR) + QStringLiteral("/vortex-ridge-drive"), arguments);
    if (!m_process.waitForStarted(5000) || !m_process.waitForReadyRead(5000))
        return {};
    return QString::fromUtf8(m_process.readLine()).trimmed();
}

int DriveProcess::start(const QByteArray& plant)
{
    const QString line = run({}, plant);
    return line.startsWith(QLatin1String("port ")) ? line.section(QLatin1Char(' '), 1, 1).toInt() : 0;
}

QString DriveProcess::startOn(const QStringList& line, const QByteArray& plant)
{
    return run(line, plant).section(QLatin1Char(' '), 0, 0);
}

void DriveProcess::kill()
{
    m_process.kill();
    m_process.waitForFinished(3000);
}

QByteArray liftPlant()
{
    return R"({"inertia_kgm2": 4.6e-4, "coulomb_Nm": 0.22, "viscous_Nms_rad": 3e-5, "gravity_Nm": 0.25, "counts": 131072,
               "brake_Nm": 1.7, "brakeRelease_s": 0.043, "brakeEngage_s": 0.019, "ratedTorque_Nm": 1.2, "ratedCurrent_A": 1.8,
               "torqueConstant_Nm_A": 0.7, "resistance_ohm": 6.5, "inductance_H": 0.033, "polePairs": 4, "peakCurrent_A": 6, "bus_V": 540,
               "lowSwitch_rad": -18.8, "highSwitch_rad": 282.7})";
}
