#pragma once
#include "document.h"
#include "link/session.h"

#include <QProcess>
#include <QTemporaryDir>

#include <memory>

namespace ridge::app {

/// The drive on the bench: the simulated drive as a process of its own, and the session that talks to it.
class Bench : public QObject {
    Q_OBJECT

public:
    explicit Bench(Document& document, QObject* parent = nullptr);
    ~Bench() override;

    [[nodiscard]] link::Session& session() { return m_session; }
    /// Starts the simulated drive of the selected axis and connects to it.
    void startSimulated();
    void stopSimulated();
    [[nodiscard]] QString words() const; ///< connection state in words
    /// Runs CiA 402 commands until torque is on; only called from a button that a person holds or presses.
    void enable(int mode, std::function<void(bool)> done);
    void disable();

Q_SIGNALS:
    void changed();

private:
    void stepEnable(int triesLeft, std::function<void(bool)> done);
    Document& m_document;
    link::Session m_session;
    QProcess m_process;
    QTemporaryDir m_folder;
    QString m_last;
};

} // namespace ridge::app
