#include "handsdialog.h"

#include "app/theme/sentence.h"
#include "app/widgets/basics.h"
#include "app/widgets/figures.h"
#include "app/widgets/labels.h"
#include "core/objects/hands.h"
#include "core/units/parse.h"

#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLineEdit>

#include <cmath>

namespace ridge::app {

namespace {
constexpr int lookEvery = 300; ///< at the meter [ms]
} // namespace

HandsDialog::HandsDialog(Bench& bench, QWidget* parent)
    : QDialog(parent)
    , m_bench(bench)
{
    setObjectName(QStringLiteral("hands"));
    setWindowTitle(tr("Hands at the simulated drive"));
    auto* layout = new QVBoxLayout(this);
    layout->addWidget(
        caution(tr("Practice. At a real machine a shaft is turned and a plug pulled only without voltage and "
                   "secured, a live terminal only by who may; local rules decide.")));
    m_all = new QWidget;
    auto* grid = new QGridLayout(m_all);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setHorizontalSpacing(24);
    grid->addLayout(shaftPart(), 0, 0);
    grid->addLayout(meterPart(), 1, 0);
    grid->addLayout(terminalsPart(), 0, 1);
    grid->addLayout(plugsPart(), 1, 1);
    grid->setColumnStretch(0, 1);
    grid->setColumnStretch(1, 1);
    layout->addWidget(m_all, 1);
    m_words = new QLabel;
    m_words->setObjectName(QStringLiteral("hands.words"));
    m_words->setWordWrap(true);
    layout->addWidget(m_words);
    enterStays(*this);
    connect(&m_bench, &Bench::changed, this, &HandsDialog::enable);
    m_meter.setInterval(lookEvery);
    connect(&m_meter, &QTimer::timeout, this, &HandsDialog::readMeter);
    m_meter.start();
    enable();
}

QLayout* HandsDialog::shaftPart()
{
    auto* part = new QGridLayout;
    part->setVerticalSpacing(5);
    part->setHorizontalSpacing(8);
    part->addWidget(heading(tr("At the shaft")), 0, 0, 1, 4);
    m_turn = shortEntry("hands.turn", tr("Turn the shaft by"), tr("30 °"));
    auto* turn = button("hands.turnIt", tr("Turn"));
    part->addWidget(quiet(tr("turn by")), 1, 0);
    part->addWidget(m_turn, 1, 1);
    part->addWidget(turn, 1, 2);
    m_push = shortEntry("hands.push", tr("Torque on the load, at the motor shaft"), tr("0.2 N·m"));
    auto* push = button("hands.pushIt", tr("Push"));
    auto* let = button("hands.letGo", tr("Let go"));
    part->addWidget(quiet(tr("push with")), 2, 0);
    part->addWidget(m_push, 2, 1);
    part->addWidget(push, 2, 2);
    part->addWidget(let, 2, 3);
    auto* cycle = button("hands.cycle", tr("Control supply off and on"));
    part->addWidget(cycle, 3, 0, 1, 3);
    part->setRowStretch(4, 1);
    part->setColumnStretch(3, 1);
    connect(turn, &QPushButton::clicked, this, [this] {
        const auto angle = parseQuantity(m_turn->text().toStdString(), Quantity::Angle);
        if (!angle || std::abs(*angle) > hand::mostTurn) {
            say(tr("■ “%1” is no way to turn: an angle such as 30 ° or 2 rev, at most 100 turns.").arg(m_turn->text()));
            return;
        }
        put(hand::turn, hand::thousandthsOfATurn(*angle));
        say(tr("Turned. Under torque the shaft does not give way to this; pushing tells how stiff it is."));
    });
    connect(push, &QPushButton::clicked, this, &HandsDialog::push);
    connect(m_push, &QLineEdit::returnPressed, this, &HandsDialog::push);
    connect(let, &QPushButton::clicked, this, [this] {
        put(hand::push, 0);
        say(tr("Let go."));
    });
    connect(cycle, &QPushButton::clicked, this, [this] {
        put(hand::powerCycle, hand::key);
        say(tr("The control supply was off and is on again: what was not saved is gone."));
    });
    return part;
}

void HandsDialog::push()
{
    const auto torque = parseQuantity(m_push->text().toStdString(), Quantity::Torque);
    if (!torque || std::abs(*torque) > 1e6) {
        say(tr("■ “%1” is no torque such as 0.2 N·m.").arg(m_push->text()));
        return;
    }
    put(hand::push, std::llround(*torque * 1000));
    say(tr("Pushing with %1 at the motor shaft until you let go.").arg(shown(*torque, Quantity::Torque, 3)));
}

QCheckBox* HandsDialog::bit(const char* name, const QString& text, ObjectKey object, int at)
{
    auto* box = new QCheckBox(text);
    box->setObjectName(QString::fromLatin1(name));
    m_bits.push_back({box, object, at});
    connect(box, &QCheckBox::toggled, this, [this, object, at](bool on) {
        std::int64_t& held = m_held[object];
        held = on ? held | std::int64_t(1) << at : held & ~(std::int64_t(1) << at);
        put(object, held);
    });
    return box;
}

QLayout* HandsDialog::terminalsPart()
{
    auto* part = new QGridLayout;
    part->setVerticalSpacing(5);
    part->setHorizontalSpacing(8);
    part->addWidget(heading(tr("Buttons, switches, bridges")), 0, 0, 1, 2);
    part->addWidget(bit("hands.enable", tr("24 V on the enable input"), hand::enableInput, 0), 1, 0);
    part->addWidget(bit("hands.home", tr("press the home switch"), hand::homeSwitch, 0), 1, 1);
    part->addWidget(bit("hands.a", tr("torque-off A closed"), hand::torqueOffInputs, 0), 2, 0);
    part->addWidget(bit("hands.b", tr("torque-off B closed"), hand::torqueOffInputs, 1), 2, 1);
    part->addWidget(bit("hands.bridgeA", tr("bridge on A"), hand::jumpers, 0), 3, 0);
    part->addWidget(bit("hands.bridgeB", tr("bridge on B"), hand::jumpers, 1), 3, 1);
    for (int k = 0; k < 4; ++k)
        part->addWidget(
            bit(("hands.in" + std::to_string(k + 5)).c_str(), tr("24 V on input %1").arg(k + 5), hand::terminals, k),
            4 + k / 2, k % 2);
    m_analog = shortEntry("hands.analog", tr("Voltage on the analog input"), tr("2.5 V"));
    auto* row = new QHBoxLayout;
    row->addWidget(quiet(tr("analog input")));
    row->addWidget(m_analog);
    row->addStretch();
    part->addLayout(row, 6, 0, 1, 2);
    part->setRowStretch(7, 1);
    connect(m_analog, &QLineEdit::returnPressed, this, &HandsDialog::analog);
    return part;
}

void HandsDialog::analog()
{
    const auto volts = parseQuantity(m_analog->text().toStdString(), Quantity::Voltage);
    if (!volts || std::abs(*volts) > 10) {
        say(tr("■ “%1”: the analog input takes −10 V to 10 V.").arg(m_analog->text()));
        return;
    }
    put(hand::analogInput, std::llround(*volts * 1000));
    say(tr("%1 on the analog input.").arg(shown(*volts, Quantity::Voltage, 3)));
}

QLayout* HandsDialog::plugsPart()
{
    auto* part = new QGridLayout;
    part->setVerticalSpacing(5);
    part->setHorizontalSpacing(8);
    part->addWidget(heading(tr("Unplugged")), 0, 0, 1, 2);
    for (std::size_t k = 0; k < plugNames.size(); ++k)
        part->addWidget(
            bit(("hands.plug" + std::to_string(k)).c_str(), said(plugNames[k]), hand::unplugged, static_cast<int>(k)),
            1 + static_cast<int>(k / 2), static_cast<int>(k % 2));
    part->setRowStretch(8, 1);
    return part;
}

QLayout* HandsDialog::meterPart()
{
    auto* part = new QGridLayout;
    part->setVerticalSpacing(5);
    part->setHorizontalSpacing(8);
    part->addWidget(heading(tr("Meter")), 0, 0, 1, 3);
    const auto terminals = [](const char* name, const QString& accessible) {
        auto* box = new QComboBox;
        box->setObjectName(QString::fromLatin1(name));
        box->setAccessibleName(accessible);
        for (const std::string_view t : meterPointNames)
            box->addItem(said(t));
        return box;
    };
    m_from = terminals("hands.from", tr("Red lead on"));
    m_to = terminals("hands.to", tr("Black lead on"));
    m_kind = new QComboBox;
    m_kind->setObjectName(QStringLiteral("hands.kind"));
    m_kind->setAccessibleName(tr("What the meter measures"));
    m_kind->addItems({tr("volts"), tr("ohms")});
    m_reading = new QLabel;
    m_reading->setObjectName(QStringLiteral("hands.reading"));
    m_reading->setAccessibleName(tr("Reading"));
    QFont large = m_reading->font();
    large.setPointSizeF(large.pointSizeF() * 1.5);
    m_reading->setFont(large);
    part->addWidget(quiet(tr("red")), 1, 0);
    part->addWidget(m_from, 1, 1);
    part->addWidget(m_kind, 1, 2);
    part->addWidget(quiet(tr("black")), 2, 0);
    part->addWidget(m_to, 2, 1);
    part->addWidget(m_reading, 3, 1, 1, 2);
    part->setRowStretch(4, 1);
    part->setColumnStretch(3, 1);
    const auto moved = [this](ObjectKey object) { return [this, object](int index) { put(object, index); }; };
    connect(m_from, &QComboBox::activated, this, moved(hand::meterFrom));
    connect(m_to, &QComboBox::activated, this, moved(hand::meterTo));
    connect(m_kind, &QComboBox::activated, this, moved(hand::meterKind));
    return part;
}

void HandsDialog::readMeter()
{
    link::Session& s = m_bench.session();
    if (!isVisible() || !s.identified() || !s.simulated() || s.busy())
        return;
    s.read({hand::meterReading, hand::meterKind}, [this, connection = s.connections()](const Result<link::Values>& v) {
        if (!v || connection != m_bench.session().connections())
            return;
        const auto raw = v->at(hand::meterReading);
        const double value = static_cast<double>(raw) * 1e-3;
        const bool ohms = v->at(hand::meterKind) == 1;
        setLabel(*m_reading, ohms && raw < 0 ? tr("open")
                             : ohms          ? shown(value, Quantity::Resistance, 4)
                                             : shown(value, Quantity::Voltage, 4));
    });
}

void HandsDialog::put(ObjectKey object, std::int64_t value)
{
    m_bench.session().write(object, value, [this](const Result<void>& r) {
        if (!r)
            say(QStringLiteral("■ ") + QString::fromStdString(messageFor(r.error())));
    });
}

/// The hands are where the drive says they are.
void HandsDialog::refresh()
{
    std::vector<ObjectKey> objects{hand::meterFrom, hand::meterTo, hand::meterKind};
    for (const Bit& b : m_bits)
        if (std::ranges::find(objects, b.object) == objects.end())
            objects.push_back(b.object);
    m_bench.session().read(objects, [this](const Result<link::Values>& v) {
        if (!v)
            return;
        m_held = *v;
        for (const Bit& b : m_bits) {
            const QSignalBlocker quietly(b.box);
            b.box->setChecked((v->at(b.object) >> b.bit & 1) != 0);
        }
        const auto at = [&](ObjectKey k) { return static_cast<int>(v->at(k)); };
        m_from->setCurrentIndex(at(hand::meterFrom));
        m_to->setCurrentIndex(at(hand::meterTo));
        m_kind->setCurrentIndex(at(hand::meterKind));
    });
}

void HandsDialog::enable()
{
    const link::Session& s = m_bench.session();
    const bool practice = s.identified() && s.simulated() && !s.lookingOn();
    m_all->setEnabled(practice);
    if (practice && m_connection != s.connections()) {
        m_connection = s.connections();
        refresh();
        say({});
    }
    if (practice)
        return;
    m_connection = 0;
    say(!s.identified()  ? tr("Start the simulated drive of this axis first.")
        : !s.simulated() ? tr("This is a real drive: its plugs are pulled by real hands.")
                         : tr("This connection only looks on."));
}

void HandsDialog::say(const QString& words) { setLabel(*m_words, words); }

} // namespace ridge::app
