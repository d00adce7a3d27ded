#pragma once
#include "link/finder.h"
#include "link/reach.h"

#include <QTimer>

class QCanBusDevice;
class QSerialPort;
class QTcpSocket;

namespace ridge::link {

/// One cause of silence, tried or asked.
struct HelpStep {
    enum class State { Waiting, Good, Bad, Asked };
    QString name; ///< stable: adapter, driver, loop-back, lamps, pinout, settings, units, subnet, host, traffic
    QString title;
    State state = State::Waiting;
    QString words; ///< what was found, or what is asked
};

/// Finds out why nothing answers at an address, cause by cause: what can be tried is tried, and only by reading; what
/// only a person sees is asked. With a bridge on the adapter's own pins it tells a silent adapter from a silent drive.
class LineHelp : public QObject {
    Q_OBJECT

public:
    explicit LineHelp(QObject* parent = nullptr);
    ~LineHelp() override;
    /// @param own  networks of this computer
    void begin(const Address& address, const ObjectDictionary& map, const Networks& own);
    void cancel();
    [[nodiscard]] bool running() const { return m_running; }
    [[nodiscard]] const std::vector<HelpStep>& steps() const { return m_steps; }
    /// What a person found where it is asked. @param good  the lamp is lit, the wires are as the sheet says
    void tell(const QString& name, bool good, const QString& words = {});
    /// Sends over the serial adapter and hears whether it comes back: send and receive are bridged at its plug.
    void tryLoopBack();

Q_SIGNALS:
    void changed();
    void found(const ridge::link::Found& found); ///< under other settings than asked for, or under these
    void ended();

private:
    /// Places that are asked for one cause.
    struct Try {
        QString step;
        std::vector<Address> places;
        QString nothing; ///< said when nobody answers
    };
    void set(const QString& name, HelpStep::State state, const QString& words);
    void helpTcp(const Networks& own);
    void helpSerial();
    void helpCan();
    void hostJudged(HelpStep::State state, const QString& words, bool goesOn);
    void heardEnough();
    void nextTry();
    void finish();

    Address m_address;
    ObjectDictionary m_map;
    std::vector<HelpStep> m_steps;
    std::deque<Try> m_tries;
    Finder m_finder;
    QTimer m_wait;
    std::unique_ptr<QTcpSocket> m_socket;
    std::unique_ptr<QSerialPort> m_port;
    std::unique_ptr<QCanBusDevice> m_bus;
    QByteArray m_echo;
    int m_frames = 0, m_found = 0;
    bool m_running = false;
};

} // namespace ridge::link
