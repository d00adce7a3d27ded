#pragma once
#include "link/finder.h"
#include "link/transport.h"

#include <QElapsedTimer>
#include <QTimer>

#include <functional>

namespace ridge::link {

/// One place is asked who is there, by reading alone.
class Knock : public QObject {
    Q_OBJECT

public:
    Knock(const Address& address, const ObjectDictionary& map);
    ~Knock() override;
    /// @param done  called once; nothing: nobody answers
    void begin(std::function<void(const std::optional<Found>&)> done);

private:
    void ask();
    void answered(const ObjectEntry& entry, const Reply& reply);
    void finish(const std::optional<Found>& found);

    const ObjectDictionary& m_map;
    std::unique_ptr<Transport> m_transport;
    std::function<void(const std::optional<Found>&)> m_done;
    std::vector<const ObjectEntry*> m_questions;
    std::size_t m_at = 0;
    QTimer m_wait;
    QElapsedTimer m_clock;
    Found m_found;
    QStringList m_who;
    bool m_answered = false;
};

} // namespace ridge::link
