#pragma once
#include "core/objects/objects.h"
#include "link/address.h"

#include <QObject>

#include <deque>
#include <memory>
#include <optional>
#include <vector>

namespace ridge::link {

/// Where to look: every combination is a place. Empty lists stand for what is usual.
struct Search {
    Line line = Line::Tcp;
    QStringList names{}; ///< hosts, serial devices or CAN interfaces
    QList<int> ports{}, bauds{};
    QList<Parity> parities{};
    int firstUnit = 1, lastUnit = 1;
    QString plugin = QStringLiteral("socketcan");
};
/// Hosts of "192.168.1.20" or "192.168.1.10-40"; at most 256.
[[nodiscard]] QStringList hostsOf(const QString& text);
/// The places in the order of their likelihood; at most 4096.
[[nodiscard]] std::vector<Address> placesOf(const Search& search);

/// Something answered.
struct Found {
    Address address;
    bool drive = false;  ///< it says the profile of a drive, read by this map
    bool turned = false; ///< both halves of its 32-bit values come the other way round than the map says
    QString who;         ///< maker, type and serial number, as far as it says them
    QString words;       ///< what it is, or why it is not understood
    int milliseconds = 0;
};

class Knock;

/// Looks for drives and only reads: at every place the device type is asked for, and who it is where that is
/// understood. Places on one line are asked one after the other, hosts of a network a few at a time.
class Finder : public QObject {
    Q_OBJECT

public:
    explicit Finder(QObject* parent = nullptr);
    ~Finder() override;
    void begin(const std::vector<Address>& places, const ObjectDictionary& map);
    void cancel();
    [[nodiscard]] bool running() const { return !m_knocks.empty() || !m_waiting.empty(); }

Q_SIGNALS:
    void found(const ridge::link::Found& found);
    void progress(int done, int total);
    void ended();

private:
    void next();
    void knocked(Knock* knock, const std::optional<Found>& found);

    ObjectDictionary m_map;
    std::deque<Address> m_waiting;
    std::vector<std::unique_ptr<Knock>> m_knocks;
    int m_total = 0, m_done = 0;
};

} // namespace ridge::link
