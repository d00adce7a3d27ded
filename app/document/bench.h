#pragma once
#include "core/stations/gates.h"
#include "link/runs.h"

#include "document.h"

#include <QProcess>
#include <QTemporaryDir>

#include <map>
#include <memory>

namespace ridge::app {

/// The connection of one axis: its session, its runs, and, on the practice bench, the process of its simulated drive.
class AxisLink : public QObject {
    Q_OBJECT

public:
    AxisLink(std::string id, QObject* parent);
    ~AxisLink() override;
    const std::string axis;
    link::Session session;
    link::Runs runs;
    QProcess process;
    QTemporaryDir folder;
    QString last;             ///< what was said last of the connection
    QString lostAt;           ///< local time of the loss; empty: not lost
    bool valuesKnown = false; ///< all read, or written and read back, since the connection began
    bool known = false;       ///< the drive has said who it is since the connection was asked for
    bool fresh = false;       ///< its state is of now
    std::uint16_t noted = 0;  ///< fault that already stands in the record
};

/// The drives on the bench, one to an axis: the simulated drive as a process of its own, or a real one by its address.
/// Nothing here moves anything by itself; what a run gives belongs to the axis and the drive of the moment it began.
class Bench : public QObject {
    Q_OBJECT

public:
    explicit Bench(Document& document, QObject* parent = nullptr);
    ~Bench() override;

    /// Of the axis in view.
    [[nodiscard]] AxisLink& here();
    [[nodiscard]] link::Session& session() { return here().session; }
    [[nodiscard]] link::Runs& runs() { return here().runs; }
    [[nodiscard]] bool running() const; ///< on any axis
    [[nodiscard]] bool connected(const std::string& axis) const;
    /// Starts the simulated drive of the axis in view and connects to it.
    void startSimulated();
    /// Connects the axis in view to a drive at an address as parseAddress reads it; gives a sentence when the address
    /// cannot be one.
    QString connectTo(const QString& address, bool lookOn = false);
    void disconnectHere();
    void stopSimulated();
    /// Quick stop on every axis that is connected, whatever runs.
    void stopAll();
    /// A quick stop to every drive that may have torque, without waiting for anything: for the moment in which the
    /// program is ended from outside.
    void lastWords();
    /// Every run brought to rest and proved, every connection closed; waits at most so long. For leaving.
    void leave(int wait_ms);
    /// Every connection closed at once. Who waits for an answer is told now, while he still lives.
    void close();

    [[nodiscard]] QString words(); ///< of the connection of the axis in view
    [[nodiscard]] link::Scale scale() const;

    /// The axis in view, its drive and the connection: what was begun on another belongs to that one.
    [[nodiscard]] std::string whose();

    /// The source of what the drive of the axis in view gives from now on.
    [[nodiscard]] FactSource source();
    [[nodiscard]] LinkState linkState();
    /// Why an act may not be done now; empty: it may.
    [[nodiscard]] QString refusal(Act act);

    /// This drive is the drive of the axis; @param replaces  serial number of the one before, with the reason
    void bind(const std::string& replaces, const QString& reason);
    /// Who stands at the machine said so, for this series of runs; it stands in the record.
    void confirmPresence(bool present);
    void resetFault(std::function<void(const QString& sentence)> done);

Q_SIGNALS:
    void changed();
    void left(); ///< every connection is gone

private:
    [[nodiscard]] static bool fresh(const AxisLink& link);
    AxisLink& linkOf(const std::string& axis);
    void readPort(AxisLink& link);
    void connectionChanged(AxisLink& link);
    void noteFault(AxisLink& link);
    void closeOrphans(); ///< an axis that was removed or renumbered takes its connection with it
    Document& m_document;
    std::map<std::string, std::unique_ptr<AxisLink>> m_links;
};

} // namespace ridge::app
