#include "connectionstrip.h"

#include "app/theme/sentence.h"
#include "app/widgets/figures.h"
#include "app/widgets/labels.h"
#include "core/objects/faults.h"
#include "core/objects/protections.h"
#include "core/stations/planfacts.h"

#include <QHBoxLayout>
#include <QTimer>

#include <array>

namespace ridge::app {

namespace {
constexpr int showEvery = 100;   ///< [ms]
constexpr qint64 freshFor = 600; ///< older values are drawn as old [ms], our choice

/// Who commands (201A:1).
QString ownerWords(std::optional<int> owner)
{
    if (!owner)
        return ConnectionStrip::tr("not told");
    const std::array<QString, 7> words{ConnectionStrip::tr("nobody"),        ConnectionStrip::tr("network"),
                                       ConnectionStrip::tr("pulses"),        ConnectionStrip::tr("terminals"),
                                       ConnectionStrip::tr("hand terminal"), ConnectionStrip::tr("keypad"),
                                       ConnectionStrip::tr("inner program")};
    return *owner >= 0 && *owner < 7 ? words[static_cast<std::size_t>(*owner)] : QString::number(*owner);
}

/// The safety inputs first: they decide over all others.
QString inputWords(std::int64_t bits)
{
    constexpr std::int64_t a = 1 << 16, b = 1 << 17;
    const std::int64_t torqueOff = bits & (a | b);
    QStringList on{torqueOff == (a | b) ? ConnectionStrip::tr("torque-off high")
                   : torqueOff == a     ? ConnectionStrip::tr("torque-off A high, B low")
                   : torqueOff == b     ? ConnectionStrip::tr("torque-off A low, B high")
                                        : ConnectionStrip::tr("torque-off low")};
    for (const NamedBit& input : digitalInputs())
        if (bits & ~(a | b) & std::int64_t{1} << input.bit)
            on += said(input.name);
    return on.join(QStringLiteral(", "));
}

QString warningWords(std::int64_t bits)
{
    const std::array<QString, 7> words{ConnectionStrip::tr("i²t"),        ConnectionStrip::tr("motor warm"),
                                       ConnectionStrip::tr("drive warm"), ConnectionStrip::tr("limit switch"),
                                       ConnectionStrip::tr("halls"),      ConnectionStrip::tr("soft limit"),
                                       ConnectionStrip::tr("bus low")};
    QStringList on;
    for (std::size_t k = 0; k < words.size(); ++k)
        if (bits >> k & 1)
            on += words[k];
    return on.join(QStringLiteral(", "));
}
} // namespace

ConnectionStrip::ConnectionStrip(Document& document, Bench& bench)
    : m_document(document)
    , m_bench(bench)
{
    setObjectName(QStringLiteral("connectionStrip"));
    setFrameShape(QFrame::NoFrame);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(8, 0, 8, 0);
    row->setSpacing(10);
    m_identity = new QLabel;
    m_identity->setObjectName(QStringLiteral("connection"));
    row->addWidget(m_identity);
    const auto button = [](const char* name, const QString& text) {
        auto* b = new QPushButton(text);
        b->setObjectName(QString::fromLatin1(name));
        return b;
    };
    m_offer = new QWidget;
    auto* offer = new QHBoxLayout(m_offer);
    offer->setContentsMargins(0, 0, 0, 0);
    offer->setSpacing(6);
    m_simulate = button("set.connect", tr("Start simulated drive"));
    m_address = new QLineEdit;
    m_address->setObjectName(QStringLiteral("set.address"));
    m_address->setAccessibleName(tr("Address of a real drive"));
    m_address->setPlaceholderText(tr("or a real drive: host:port, serial …, can …"));
    m_address->setToolTip(
        tr("192.168.1.20:502 · 192.168.1.20:502 unit 3 · serial /dev/ttyUSB0 19200 even unit 2 · can can0 node 5"));
    m_address->setMinimumWidth(250);
    m_link = button("set.link", tr("Connect"));
    m_lookOn = button("link.lookOn", tr("Look on only"));
    m_lookOn->setToolTip(tr("Connects and writes nothing at all: while the machine's own controller runs."));
    offer->addWidget(m_simulate);
    offer->addWidget(m_address);
    offer->addWidget(m_link);
    auto* find = button("link.find", tr("Find …"));
    find->setToolTip(tr("Ports of this computer, what answers there, and why nothing does. Only reads."));
    offer->addWidget(m_lookOn);
    offer->addWidget(find);
    connect(find, &QPushButton::clicked, this, &ConnectionStrip::findAsked);
    row->addWidget(m_offer);
    m_values = new QWidget;
    auto* values = new QHBoxLayout(m_values);
    values->setContentsMargins(0, 0, 0, 0);
    values->setSpacing(10);
    for (const auto& [which, name, characters] : {std::tuple{Live::State, tr("state"), 18},
                                                  {Live::Mode, tr("mode"), 13},
                                                  {Live::Owner, tr("commands"), 9},
                                                  {Live::Position, tr("position"), 9},
                                                  {Live::Speed, tr("speed"), 9},
                                                  {Live::Current, tr("current"), 7},
                                                  {Live::Bus, tr("bus"), 7},
                                                  {Live::Inputs, tr("inputs"), 20},
                                                  {Live::Warnings, tr("warnings"), 9},
                                                  {Live::Age, tr("age"), 5}}) {
        auto* pair = new QVBoxLayout;
        pair->setSpacing(0);
        auto* label = new QLabel(name);
        label->setProperty("quiet", true);
        QFont small = label->font();
        small.setPointSizeF(small.pointSizeF() * 0.85);
        label->setFont(small);
        m_names[which] = label;
        pair->addWidget(label);
        pair->addWidget(value(which, name, characters));
        values->addLayout(pair);
    }
    row->addWidget(m_values, 1);
    row->addStretch();
    m_command = button("link.command", tr("Take command"));
    m_leave = button("set.leave", tr("Disconnect"));
    m_stop = button("stop", tr("■ Stop (F12)"));
    m_stop->setToolTip(tr("Brings every connected axis to rest by its ramp. This is no emergency stop."));
    m_stop->setAccessibleName(tr("Stop every axis; this is no emergency stop"));
    m_present = new QCheckBox(tr("At the machine"));
    m_present->setObjectName(QStringLiteral("link.present"));
    m_present->setToolTip(tr("I stand at the machine, see the axis and reach its emergency stop. Asked again after ten "
                             "minutes without a run, and at every connection."));
    connect(m_present, &QCheckBox::clicked, this, [this](bool on) {
        m_bench.confirmPresence(on);
        refresh();
    });
    row->addWidget(m_present);
    row->addWidget(m_command);
    row->addWidget(m_leave);
    row->addWidget(m_stop);
    connect(m_simulate, &QPushButton::clicked, this, [this] { m_bench.startSimulated(); });
    connect(m_leave, &QPushButton::clicked, this, [this] { m_bench.disconnectHere(); });
    const auto link = [this](bool lookOn) {
        if (const QString wrong = m_bench.connectTo(m_address->text(), lookOn); !wrong.isEmpty())
            Q_EMIT spoken(wrong);
    };
    connect(m_link, &QPushButton::clicked, this, [link] { link(false); });
    connect(m_lookOn, &QPushButton::clicked, this, [link] { link(true); });
    connect(m_address, &QLineEdit::returnPressed, this, [link] { link(false); });
    connect(m_command, &QPushButton::clicked, this, &ConnectionStrip::askOwner);
    connect(m_stop, &QPushButton::pressed, this, [this] { m_bench.stopAll(); });
    auto* live = new QTimer(this); // values have an age, which grows without any news
    connect(live, &QTimer::timeout, this, [this] {
        if (isVisible() && m_values->isVisible())
            showValues();
    });
    live->start(showEvery);
}

QLabel* ConnectionStrip::value(Live which, const QString& name, int characters)
{
    auto* label = new QLabel;
    label->setObjectName(QStringLiteral("live.%1").arg(static_cast<int>(which)));
    label->setAccessibleName(name);
    m_characters[which] = characters;
    m_live[which] = label;
    return label;
}

void ConnectionStrip::fit(int width, bool captions)
{
    constexpr int whole = 1250; // of all values beside the buttons
    m_room = width;
    for (const auto& [which, label] : m_names)
        label->setVisible(captions);
    m_address->setMinimumWidth(width < whole ? 150 : 250);
    refresh();
}

/// What the name, the buttons and the numbers leave is shared by the words.
void ConnectionStrip::spread()
{
    constexpr int gap = 10;
    double room = m_room - 16 - gap * static_cast<double>(m_live.size());
    for (const QWidget* w : std::initializer_list<const QWidget*>{m_identity, m_present, m_command, m_leave, m_stop})
        if (!w->isHidden())
            room -= w->sizeHint().width() + gap;
    const int digit = fontMetrics().horizontalAdvance(QLatin1Char('0'));
    const auto isNumber = [](Live which) {
        return which == Live::Position || which == Live::Speed || which == Live::Current || which == Live::Bus
               || which == Live::Age;
    };
    double words = 0;
    for (const auto& [which, characters] : m_characters)
        (isNumber(which) ? room : words) += digit * (isNumber(which) ? -characters : characters);
    const double share = std::clamp(room / words, 0.35, 1.0); // numbers are never cut, words are
    for (const auto& [which, label] : m_live)
        label->setFixedWidth(static_cast<int>(digit * m_characters.at(which) * (isNumber(which) ? 1.0 : share)));
}

void ConnectionStrip::put(Live which, const QString& text, bool doubtful)
{
    QLabel& label = *m_live.at(which);
    const QString whole = doubtful ? QStringLiteral("(%1)").arg(text) : text; // old looks old, not by colour alone
    const QString cut = label.fontMetrics().elidedText(whole, Qt::ElideRight, label.maximumWidth());
    setLabel(label, cut);
    const QString tip = QStringLiteral("%1: %2").arg(label.accessibleName(), whole);
    if (label.toolTip() != tip)
        label.setToolTip(tip);
    if (label.isEnabled() == doubtful)
        label.setEnabled(!doubtful);
}

void ConnectionStrip::showValues()
{
    const link::Session& s = m_bench.session();
    const link::Snapshot& now = s.snapshot();
    const qint64 age = s.age();
    const bool old = age < 0 || age > freshFor;
    const Axis& axis = m_document.axis();
    const bool rotary = axis.mechanism.rotary();
    const double units = unitsPerTravel(axis);
    const bool known = age >= 0;
    const auto live = [&](Live which, const QString& text) { put(which, known ? text : tr("unknown"), old); };
    live(Live::State,
         now.error != 0
             ? QStringLiteral("■ %1 %2").arg(now.error, 4, 16, QLatin1Char('0')).arg(said(faultWords(now.error).words))
             : said(driveStateWords(now.state)));
    live(Live::Mode, now.oneMoment ? said(driveModeWords(now.mode)) : tr("not told"));
    live(Live::Owner, ownerWords(s.owner()));
    live(Live::Position, shown(static_cast<double>(now.position) / units, resolve(Quantity::Travel, rotary), 5));
    live(Live::Speed, shown(static_cast<double>(now.velocity) / units, resolve(Quantity::TravelSpeed, rotary), 4));
    live(Live::Current,
         QStringLiteral("%1 %").arg(static_cast<double>(now.oneMoment ? now.current : now.torque) / 10, 0, 'f', 1));
    live(Live::Bus, shown(static_cast<double>(now.busMillivolt) * 1e-3, Quantity::Voltage, 3));
    live(Live::Inputs, inputWords(now.inputs));
    live(Live::Warnings, now.warnings == 0 ? tr("none") : QStringLiteral("▲ ") + warningWords(now.warnings));
    put(Live::Age, known ? tr("%1 s").arg(static_cast<double>(age) * 1e-3, 0, 'f', 1) : tr("never"), old);
}

void ConnectionStrip::askOwner()
{
    link::Session& s = m_bench.session();
    const auto told = [this](const Result<void>& r) {
        if (!r)
            Q_EMIT spoken(QString::fromStdString(messageFor(r.error())));
    };
    if (s.owner() == 1)
        s.giveCommandBack(told);
    else
        s.takeCommand(told);
}

void ConnectionStrip::refresh()
{
    const bool axis = m_document.hasAxis();
    const link::Session& s = m_bench.session();
    const bool connected = axis && s.connected(), identified = connected && s.identified(),
               simulated = connected && s.simulated();
    const QString words = axis ? m_bench.words() : tr("no axis");
    const QString mark = simulated ? QStringLiteral("◇ ") : connected ? QStringLiteral("● ") : QStringLiteral("○ ");
    const QString looks = connected && s.lookingOn() ? tr(" · looking on") : QString();
    // who it is; what it says stands beside it
    const DriveIdentity& id = s.identity();
    const bool plain = identified && !m_bench.runs().torqueUnasked();
    const QString who = !plain         ? words
                        : id.simulated ? tr("SIMULATED drive")
                                       : QString::fromStdString(id.type + " " + id.serial);
    const int room = plain ? std::max(130, width() / 9) : std::max(260, width() / 3);
    setLabel(*m_identity, m_identity->fontMetrics().elidedText(mark + who + looks, Qt::ElideRight, room));
    m_identity->setToolTip(words + looks);
    m_offer->setVisible(axis && !connected);
    m_values->setVisible(identified);
    m_leave->setVisible(connected);
    m_stop->setVisible(connected);
    m_present->setVisible(identified && !simulated && !s.lookingOn());
    m_present->setChecked(connected && m_bench.runs().present());
    m_present->setEnabled(m_document.person().named());
    const std::optional<int> owner = identified ? s.owner() : std::nullopt;
    m_command->setVisible(identified && owner && *owner != 0 && !s.lookingOn());
    m_command->setText(owner == 1 ? tr("Give command back") : tr("Take command"));
    spread();
    if (identified)
        showValues();
}

} // namespace ridge::app
