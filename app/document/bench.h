#pragma once
#include "link/procedures.h"

#include "document.h"

#include <QProcess>
#include <QTemporaryDir>

namespace ridge::app {

/// The drive on the bench: the simulated drive as a process of its own, or a real one by its address, and the session
/// that talks to either. Nothing here moves anything by itself.
class Bench : public QObject {
    Q_OBJECT

public:
    explicit Bench(Document& document, QObject* parent = nullptr);
    ~Bench() override;

    [[nodiscard]] link::Session& session() { return m_session; }
    [[nodiscard]] link::Procedures& procedures() { return m_procedures; }
    /// Starts the simulated drive of the selected axis and connects to it.
    void startSimulated();
    /// Connects to a drive at "host:port"; gives a sentence when the address cannot be one.
    QString connectTo(const QString& address);
    void stopSimulated();
    /// The axis whose machine the running simulated drive plays; empty when none runs.
    [[nodiscard]] std::string simulatedAxis() const
    {
        return m_process.state() == QProcess::NotRunning ? std::string{} : m_axis;
    }
    [[nodiscard]] QString words() const; ///< connection state in words
    [[nodiscard]] link::Scale scale() const;

Q_SIGNALS:
    void changed();

private:
    void readPort();
    Document& m_document;
    link::Session m_session;
    link::Procedures m_procedures;
    QProcess m_process;
    QTemporaryDir m_folder;
    QString m_last;
    std::string m_axis;
};

} // namespace ridge::app
