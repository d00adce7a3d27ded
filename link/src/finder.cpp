#include "link/finder.h"

#include "identityobjects.h"
#include "knock.h"

#include <QRegularExpression>

#include <algorithm>
#include <array>
#include <utility>

namespace ridge::link {

namespace {
constexpr int opens = 700, answers = 250; // ms, our choice
constexpr std::size_t atOnce = 12, mostPlaces = 4096;
} // namespace

QStringList hostsOf(const QString& text)
{
    static const QRegularExpression range(QStringLiteral("^(\\d+\\.\\d+\\.\\d+\\.)(\\d+)-(\\d+)$"));
    const QRegularExpressionMatch m = range.match(text.trimmed());
    if (!m.hasMatch())
        return text.trimmed().isEmpty() ? QStringList{} : QStringList{text.trimmed()};
    QStringList out;
    const int last = std::min(255, m.captured(3).toInt());
    for (int k = m.captured(2).toInt(); k <= last; ++k)
        out += m.captured(1) + QString::number(k);
    return out;
}

std::vector<Address> placesOf(const Search& s)
{
    const auto usual = []<class T>(const QList<T>& given, QList<T> otherwise) {
        return given.isEmpty() ? otherwise : given;
    };
    std::vector<Address> out;
    Address a;
    a.line = s.line;
    a.plugin = s.plugin;
    const auto units = [&] {
        for (a.unit = s.firstUnit; a.unit <= s.lastUnit && out.size() < mostPlaces; ++a.unit)
            out.push_back(a);
    };
    for (const QString& name : s.names) {
        a.name = name;
        if (s.line == Line::Tcp) {
            for (const int port : usual(s.ports, QList<int>{502})) {
                a.port = port;
                units();
            }
        } else if (s.line == Line::Serial) {
            for (const int baud : usual(s.bauds, QList<int>{19200, 9600, 115200, 38400, 57600}))
                for (const Parity parity : usual(s.parities, QList<Parity>{Parity::Even, Parity::None, Parity::Odd})) {
                    a.baud = baud;
                    a.parity = parity;
                    units();
                }
        } else {
            units();
        }
    }
    return out;
}

Knock::Knock(const Address& address, const ObjectDictionary& map)
    : m_map(map)
    , m_transport(transportTo(address))
{
    m_found.address = address;
    constexpr std::array questions{deviceTypeObject, makerObject, deviceNameObject, serialNumberObject};
    for (const ObjectKey key : questions)
        if (const ObjectEntry* e = map.find(key))
            m_questions.push_back(e);
    m_wait.setSingleShot(true);
    connect(&m_wait, &QTimer::timeout, this, [this] { finish(m_answered ? std::optional(m_found) : std::nullopt); });
    connect(m_transport.get(), &Transport::opened, this, [this] {
        m_clock.start();
        ask();
    });
    connect(m_transport.get(), &Transport::closed, this, [this] { finish({}); });
}

Knock::~Knock()
{
    m_transport->disconnect(this);
    m_transport->close();
}

void Knock::begin(std::function<void(const std::optional<Found>&)> done)
{
    m_done = std::move(done);
    m_wait.start(opens);
    if (m_questions.empty() || !m_transport->open())
        finish({});
}

void Knock::ask()
{
    if (m_at >= m_questions.size()) {
        finish(m_found);
        return;
    }
    const ObjectEntry& e = *m_questions[m_at++];
    const Exchange read{false, e.reg, e.registers(), {}, {&e}};
    m_wait.start(answers + m_transport->lineTime(read));
    if (!m_transport->send(read, [this, &e](const Reply& reply) { answered(e, reply); }))
        finish({});
}

void Knock::answered(const ObjectEntry& e, const Reply& reply)
{
    if (reply.kind == Reply::Kind::Lost || reply.kind == Reply::Kind::Silent) {
        finish(m_answered ? std::optional(m_found) : std::nullopt);
        return;
    }
    if (!std::exchange(m_answered, true))
        m_found.milliseconds = static_cast<int>(m_clock.elapsed());
    const bool whole =
        reply.kind == Reply::Kind::Answer && reply.words.size() == static_cast<std::size_t>(e.registers());
    if (e.key == deviceTypeObject && !whole) {
        m_found.words = tr("answers, but says no device type (1000h) where this map has it: another map, or no drive");
        finish(m_found);
        return;
    }
    if (!whole) {
        ask();
        return;
    }
    if (e.type == ObjectType::Text) {
        if (const std::string text = textFromRegisters(reply.words); !text.empty())
            m_who += QString::fromStdString(text);
    } else if (const std::int64_t value = m_map.fromWire(e, reply.words); e.key == deviceTypeObject) {
        m_found.turned = (value >> 16) == driveProfile && (value & 0xFFFF) != driveProfile;
        m_found.drive = m_found.turned || (value & 0xFFFF) == driveProfile;
        m_found.words = !m_found.drive
                            ? tr("answers, but is no drive (1000h says %1)").arg(value, 8, 16, QLatin1Char('0'))
                        : m_found.turned ? tr("a drive; its 32-bit values come low word first")
                                         : tr("a drive");
        if (!m_found.drive) {
            finish(m_found);
            return;
        }
    } else if (e.key == serialNumberObject) {
        const auto plain = static_cast<std::uint32_t>(value);
        m_who += tr("no. %1").arg(m_found.turned ? plain >> 16 | plain << 16 : plain);
    }
    m_found.who = m_who.join(QLatin1Char(' '));
    ask();
}

void Knock::finish(const std::optional<Found>& found)
{
    m_wait.stop();
    // the owner takes this away: not while it still speaks; and the next one needs the line
    if (const auto done = std::exchange(m_done, {}))
        QTimer::singleShot(0, this, [this, done, found] {
            m_transport->disconnect(this);
            m_transport->close();
            done(found);
        });
}

Finder::Finder(QObject* parent)
    : QObject(parent)
{}

Finder::~Finder() = default;

void Finder::begin(const std::vector<Address>& places, const ObjectDictionary& map)
{
    cancel();
    m_map = map;
    m_waiting.assign(places.begin(), places.end());
    m_total = static_cast<int>(places.size());
    m_done = 0;
    next();
    if (m_total == 0)
        QTimer::singleShot(0, this, &Finder::ended);
}

void Finder::cancel()
{
    m_waiting.clear();
    m_knocks.clear();
}

void Finder::next()
{
    while (!m_waiting.empty()) {
        const Address place = m_waiting.front();
        const std::size_t most = place.line == Line::Tcp ? atOnce : 1; // one line carries one question at a time
        if (m_knocks.size() >= most)
            return;
        m_waiting.pop_front();
        Knock* knock = m_knocks.emplace_back(std::make_unique<Knock>(place, m_map)).get();
        knock->begin([this, knock](const std::optional<Found>& f) { knocked(knock, f); });
    }
}

void Finder::knocked(Knock* knock, const std::optional<Found>& f)
{
    const auto it = std::ranges::find(m_knocks, knock, &std::unique_ptr<Knock>::get);
    if (it == m_knocks.end())
        return;
    it->release()->deleteLater();
    m_knocks.erase(it);
    ++m_done;
    if (f)
        Q_EMIT found(*f);
    Q_EMIT progress(m_done, m_total);
    next();
    if (!running())
        Q_EMIT ended();
}

} // namespace ridge::link
