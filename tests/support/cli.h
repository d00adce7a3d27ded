#pragma once
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>

/// The command line as scripts use it: the real program.
namespace cli {

struct Ran {
    int code = -1;
    QByteArray out, error;
    [[nodiscard]] QJsonObject json() const { return QJsonDocument::fromJson(out).object(); }
};
[[nodiscard]] inline Ran run(const QStringList& arguments)
{
    QProcess p;
    p.start(QStringLiteral(BIN_DIR "/vortex-ridge-cli"), arguments);
    if (!p.waitForFinished(60000))
        return {};
    return {p.exitCode(), p.readAllStandardOutput(), p.readAllStandardError()};
}
inline const QString demo = QStringLiteral(DATA_DIR "/fernhollow.json");

} // namespace cli
