#include "turnsdialog.h"

#include "app/document/recording.h"
#include "app/theme/sentence.h"
#include "app/widgets/basics.h"
#include "app/widgets/figures.h"
#include "app/widgets/labels.h"
#include "app/widgets/questionlist.h"
#include "core/stations/gates.h"
#include "core/units/parse.h"
#include "core/wiring/turnreset.h"

#include <QDialogButtonBox>
#include <QFormLayout>
#include <QLineEdit>
#include <QVBoxLayout>

namespace ridge::app {

namespace {

QString nextWords(std::string_view next)
{
    return next == "verify" ? TurnsDialog::tr(
               "Cleared. Turn it exactly one revolution by hand and see the count change by one turn; "
               "power cycle, the value stays; home the axis and enter the new offset.")
           : next == "charge-longer"
               ? TurnsDialog::tr("Not cleared: leave the control power on longer before the next try.")
           : next == "short-longer" ? TurnsDialog::tr("Not cleared: join the pins longer, up to 30 s.")
           : next == "try-again"    ? TurnsDialog::tr("Not cleared: try once more.")
           : next == "stop-ask-maker"
               ? TurnsDialog::tr("Five tries are enough: stop, and ask the maker of the encoder.")
           : next == "refused" ? TurnsDialog::tr("The pins were joined for longer than 30 s: no further try.")
                               : TurnsDialog::tr("Control power on, then join the two pins for the time of the sheet.");
}

QString seconds(double s) { return QObject::tr("%1 s").arg(s, 0, 'f', 0); }

} // namespace

TurnsDialog::TurnsDialog(Document& document, QWidget* parent)
    : QDialog(parent)
    , m_document(document)
{
    setObjectName(QStringLiteral("turnsDialog"));
    setWindowTitle(tr("Turns of the encoder"));
    resize(620, 560);
    auto* layout = new QVBoxLayout(this);
    layout->addWidget(caution(said(cautionText("C-22"))));
    layout->addWidget(quiet(tr("Change a weak battery while the encoder is powered: the turns stay. Only where they "
                               "are lost, they are cleared "
                               "here. The sheet of the encoder rules.")));
    m_lost = button("turns.lost", tr("The encoder lost its turns"));
    layout->addWidget(m_lost);
    m_before = new QuestionList(m_document, QuestionList::whenLost);
    layout->addWidget(m_before);
    auto* sheet = new QFormLayout;
    const auto entry = [&](const char* name, const QString& label, const QString& example) {
        QLineEdit* line = shortEntry(name, label, example);
        line->setMaximumWidth(220);
        sheet->addRow(label, line);
        return line;
    };
    m_pins = entry("turns.pins", tr("Pins that are joined"), tr("e.g. 3 and 7"));
    m_need = entry("turns.need", tr("Charge, by the sheet"), tr("e.g. 2 min"));
    m_sheet = entry("turns.sheet", tr("Joined, by the sheet"), tr("e.g. 3 s"));
    layout->addLayout(sheet);
    const auto row = [&](std::initializer_list<QWidget*> widgets) {
        auto* box = new QHBoxLayout;
        for (QWidget* w : widgets)
            box->addWidget(w);
        box->addStretch();
        layout->addLayout(box);
    };
    m_power = button("turns.power", tr("Control power is on"));
    m_charge = quiet({});
    row({m_power, m_charge});
    m_in = button("turns.in", tr("Pins joined"));
    m_out = button("turns.out", tr("Pins apart"));
    m_short = quiet({});
    row({m_in, m_out, m_short});
    m_yes = button("turns.cleared", tr("Alarm cleared"));
    m_no = button("turns.notCleared", tr("Not cleared"));
    row({m_yes, m_no});
    m_next = quiet({});
    m_next->setObjectName(QStringLiteral("turns.next"));
    m_words = quiet({});
    m_words->setObjectName(QStringLiteral("turns.words"));
    layout->addWidget(m_next);
    layout->addWidget(m_words);
    layout->addStretch();
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    layout->addWidget(buttons);
    connect(m_lost, &QPushButton::clicked, this, [this] {
        say(sentence(recordTyped(m_document, PositionLost{"the battery of the encoder was empty or off"})));
    });
    connect(m_power, &QPushButton::clicked, this, [this] {
        m_charging.start();
        clocks();
    });
    connect(m_in, &QPushButton::clicked, this, &TurnsDialog::shortIn);
    connect(m_out, &QPushButton::clicked, this, &TurnsDialog::shortOut);
    connect(m_yes, &QPushButton::clicked, this, [this] { result(true); });
    connect(m_no, &QPushButton::clicked, this, [this] { result(false); });
    connect(&m_tick, &QTimer::timeout, this, &TurnsDialog::clocks);
    m_tick.start(500);
    connect(&m_document, &Document::changed, this, &TurnsDialog::refresh);
    enterStays(*this);
    refresh();
}

double TurnsDialog::typed(const QLineEdit& line) const
{
    const auto value = parseQuantity(line.text().toStdString(), Quantity::Time);
    return value && *value > 0 ? *value : 0;
}

void TurnsDialog::say(const QString& words) { setLabel(*m_words, words); }

void TurnsDialog::refresh()
{
    const Fact* lost = m_document.evidence().newest<PositionLost>();
    m_before->refresh();
    m_before->setVisible(lost != nullptr);
    std::vector<ResetTry> tries;
    for (const Fact* f : m_document.evidence().every<TurnsReset>())
        if (lost && f->number > lost->number) {
            const auto& t = *f->as<TurnsReset>();
            tries.push_back({t.charged, t.shorted, t.cleared});
        }
    setLabel(*m_next, !lost ? QString()
                            : tr("Tries: %1 of %2. %3")
                                  .arg(tries.size())
                                  .arg(mostTries)
                                  .arg(nextWords(afterTries(tries, typed(*m_need)))));
    clocks();
}

void TurnsDialog::clocks()
{
    const auto open = openBridges(m_document.evidence());
    const bool in = std::ranges::any_of(open, [](const Fact* f) { return f->as<BridgeIn>()->bridge == turnsBridge; });
    m_in->setEnabled(!in);
    m_out->setEnabled(in);
    const double charging = m_charging.isValid() ? static_cast<double>(m_charging.elapsed()) / 1000 : 0,
                 joining = in && m_joining.isValid() ? static_cast<double>(m_joining.elapsed()) / 1000 : m_joined;
    const double need = typed(*m_need), sheet = typed(*m_sheet);
    setLabel(*m_charge, !m_charging.isValid() ? QString()
                        : need > 0            ? tr("on for %1 of %2").arg(seconds(charging), seconds(need))
                                              : tr("on for %1").arg(seconds(charging)));
    setLabel(*m_short, joining <= 0             ? QString()
                       : joining > longestShort ? tr("▲ %1: longer than 30 s, take it out").arg(seconds(joining))
                       : sheet > 0 && in        ? tr("joined for %1 of %2").arg(seconds(joining), seconds(sheet))
                                                : tr("joined for %1").arg(seconds(joining)));
}

void TurnsDialog::shortIn()
{
    const std::string pins = m_pins->text().trimmed().toStdString();
    if (pins.empty())
        return say(said(cautionText("C-22")));
    // what stands in the way of the result stands in the way of the short
    const Message no = refusalOfShort(m_document.evaluation(), m_document.evidence(), m_document.person());
    if (!no.empty())
        return say(sentence(no));
    m_charged = m_charging.isValid() ? static_cast<double>(m_charging.elapsed()) / 1000 : 0;
    const Message kept =
        recordTyped(m_document, BridgeIn{std::string(turnsBridge), pins, "", "clears the turns of the encoder"});
    say(sentence(kept));
    if (kept.empty())
        m_joining.start();
    clocks();
}

void TurnsDialog::shortOut()
{
    m_joined = m_joining.isValid() ? static_cast<double>(m_joining.elapsed()) / 1000 : 0;
    m_joining.invalidate();
    say(sentence(recordTyped(m_document, BridgeOut{std::string(turnsBridge)})));
    clocks();
}

void TurnsDialog::result(bool cleared)
{
    const Message no =
        recordTyped(m_document, TurnsReset{m_charged, m_joined, cleared, m_pins->text().trimmed().toStdString()});
    say(sentence(no));
    if (no.empty())
        m_joined = 0;
    refresh();
}

} // namespace ridge::app
