#pragma once
#include <QProcess>
#include <QString>
#include <QTemporaryDir>

#include <memory>

/// The simulated drive as a process of its own, as the application runs it.
class DriveProcess {
public:
    /// @param plant  JSON of the machine at the motor shaft; empty: the drive's own default
    /// @return the port it listens on; 0 when it did not start
    int start(const QByteArray& plant = {});
    /// On another line. @return the first word of what it said: "line" or "can"; empty when it did not start
    QString startOn(const QStringList& line, const QByteArray& plant = {});
    void kill();
    [[nodiscard]] QProcess& process() { return m_process; }

private:
    [[nodiscard]] QString run(QStringList arguments, const QByteArray& plant);
    QProcess m_process;
    QTemporaryDir m_folder;
};

/// A vertical axis with a brake, at the motor shaft.
[[nodiscard]] QByteArray liftPlant();
