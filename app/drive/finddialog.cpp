#include "finddialog.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "app/widgets/labels.h"

#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLineEdit>
#include <QProgressBar>
#include <QTableWidget>

#include <algorithm>

namespace ridge::app {

namespace {
using link::HelpStep;

/// "1" or "1-16". @return nothing when it is neither
std::optional<std::pair<int, int>> rangeOf(const QString& text, int most)
{
    const QStringList ends = text.split(QLatin1Char('-'));
    bool low = false, high = false;
    const int from = ends.first().trimmed().toInt(&low), to = ends.last().trimmed().toInt(&high);
    if (ends.size() > 2 || !low || !high || from < 1 || to < from || to > most)
        return {};
    return std::pair(from, to);
}

QList<int> numbersOf(const QString& text)
{
    QList<int> out;
    for (const QString& word : text.split(QLatin1Char(' '), Qt::SkipEmptyParts))
        out += word.toInt();
    return out;
}

QString glyph(HelpStep::State state)
{
    switch (state) {
    case HelpStep::State::Good: return QStringLiteral("●");
    case HelpStep::State::Bad: return QStringLiteral("■");
    case HelpStep::State::Asked: return QStringLiteral("?");
    case HelpStep::State::Waiting: break;
    }
    return QStringLiteral("…");
}
} // namespace

FindDialog::FindDialog(Document& document, Bench& bench, QWidget* parent)
    : QDialog(parent)
    , m_document(document)
    , m_bench(bench)
{
    setObjectName(QStringLiteral("find"));
    setWindowTitle(tr("Find a drive"));
    auto* layout = new QVBoxLayout(this);
    layout->addWidget(
        quiet(tr("Only reads. Nothing is written and nothing moves; a drive that is found is connected by "
                 "an act of its own.")));
    layout->addLayout(whereRow());
    layout->addLayout(foundPart(), 3);
    layout->addLayout(helpPart(), 4);
    m_words = new QLabel;
    m_words->setObjectName(QStringLiteral("find.words"));
    m_words->setWordWrap(true);
    m_words->setTextFormat(Qt::PlainText);
    layout->addWidget(m_words);
    connect(&m_finder, &link::Finder::found, this, &FindDialog::showFound);
    connect(&m_finder, &link::Finder::progress, this, [this](int done, int total) {
        m_progress->setMaximum(total);
        m_progress->setValue(done);
    });
    connect(&m_finder, &link::Finder::ended, this, [this] {
        say(m_found.empty() ? tr("Nobody answers there. “Find out why” tries the causes one by one.")
                            : tr("Places that answer: %1.").arg(m_found.size()));
        enable();
    });
    connect(&m_help, &link::LineHelp::found, this, &FindDialog::showFound);
    connect(&m_help, &link::LineHelp::changed, this, &FindDialog::showSteps);
    connect(&m_help, &link::LineHelp::ended, this, [this] {
        const auto& steps = m_help.steps();
        const auto bad = std::ranges::find(steps, HelpStep::State::Bad, &HelpStep::state);
        say(!m_found.empty()     ? tr("It answers: choose it above.")
            : bad != steps.end() ? tr("Begin with what is marked ■ first: %1.").arg(bad->title)
                                 : tr("What is marked ? only you can see."));
        enable();
    });
    enterStays(*this);
    resize(880, 600);
    offerNames();
    enable();
}

QLayout* FindDialog::whereRow()
{
    auto* row = new QHBoxLayout;
    m_line = new QComboBox;
    m_line->setObjectName(QStringLiteral("find.line"));
    m_line->setAccessibleName(tr("Kind of line"));
    m_line->addItems({tr("Network"), tr("Serial line"), tr("CAN bus")});
    m_name = new QComboBox;
    m_name->setObjectName(QStringLiteral("find.name"));
    m_name->setEditable(true);
    m_name->setMinimumWidth(230);
    m_numbers = new QLineEdit;
    m_numbers->setObjectName(QStringLiteral("find.numbers"));
    m_numbers->setMaximumWidth(150);
    m_units = new QLineEdit(QStringLiteral("1"));
    m_units->setObjectName(QStringLiteral("find.units"));
    m_units->setMaximumWidth(70);
    m_units->setAccessibleName(tr("Unit or node numbers, from-to"));
    m_units->setToolTip(tr("One number, or a range such as 1-16"));
    m_search = button("find.search", tr("Search"));
    m_stop = button("find.stop", tr("Stop searching"));
    m_progress = new QProgressBar;
    m_progress->setTextVisible(false);
    m_progress->setFixedHeight(6);
    row->addWidget(m_line);
    row->addWidget(m_name, 1);
    row->addWidget(m_numbers);
    row->addWidget(quiet(tr("units")));
    row->addWidget(m_units);
    row->addWidget(m_search);
    row->addWidget(m_stop);
    row->addWidget(m_progress, 1);
    connect(m_line, &QComboBox::currentIndexChanged, this, &FindDialog::offerNames);
    connect(m_search, &QPushButton::clicked, this, &FindDialog::begin);
    connect(m_stop, &QPushButton::clicked, this, &FindDialog::stop);
    return row;
}

QLayout* FindDialog::foundPart()
{
    auto* part = new QVBoxLayout;
    m_list = listTable("find.found", tr("What answers"), {tr("Address"), tr("Who"), tr("What it is"), tr("After")});
    m_list->horizontalHeader()->setStretchLastSection(false);
    m_list->horizontalHeader()->setSectionResizeMode(2, QHeaderView::Stretch);
    m_list->setColumnWidth(0, 200);
    m_list->setColumnWidth(1, 330);
    m_list->setColumnWidth(3, 60);
    part->addWidget(m_list, 1);
    auto* row = new QHBoxLayout;
    m_connect = button("find.connect", tr("Connect"));
    m_lookOn = button("find.lookOn", tr("Look on only"));
    m_keep = new QCheckBox(tr("Keep this address for the axis"));
    m_keep->setObjectName(QStringLiteral("find.keep"));
    m_keep->setChecked(true);
    row->addWidget(m_connect);
    row->addWidget(m_lookOn);
    row->addWidget(m_keep);
    row->addStretch();
    part->addLayout(row);
    connect(m_list, &QTableWidget::itemSelectionChanged, this, &FindDialog::enable);
    connect(m_list, &QTableWidget::cellDoubleClicked, this, [this] { link(false); });
    connect(m_connect, &QPushButton::clicked, this, [this] { link(false); });
    connect(m_lookOn, &QPushButton::clicked, this, [this] { link(true); });
    return part;
}

QLayout* FindDialog::helpPart()
{
    auto* part = new QVBoxLayout;
    auto* row = new QHBoxLayout;
    row->addWidget(heading(tr("Nothing answers?")));
    m_why = button("find.why", tr("Find out why"));
    row->addWidget(m_why);
    row->addStretch();
    part->addLayout(row);
    m_steps = listTable("find.steps", tr("Causes, tried one by one"), {QString(), tr("Cause"), tr("Found or asked")});
    m_steps->setColumnWidth(0, 24);
    m_steps->setColumnWidth(1, 150);
    m_steps->setWordWrap(true);
    part->addWidget(m_steps, 1);
    auto* answers = new QHBoxLayout;
    m_seen = new QLineEdit;
    m_seen->setObjectName(QStringLiteral("find.seen"));
    m_seen->setAccessibleName(tr("What you see, or what the sheet says"));
    m_seen->setPlaceholderText(tr("what you see, or the pins of the sheet"));
    m_yes = button("find.yes", tr("● It is so"));
    m_no = button("find.no", tr("■ It is not"));
    m_loop = button("find.loop", tr("Test loop-back"));
    m_note = button("find.note", tr("Into the logbook"));
    answers->addWidget(m_seen, 1);
    answers->addWidget(m_yes);
    answers->addWidget(m_no);
    answers->addWidget(m_loop);
    answers->addWidget(m_note);
    part->addLayout(answers);
    connect(m_why, &QPushButton::clicked, this, &FindDialog::findOut);
    connect(m_yes, &QPushButton::clicked, this, [this] { tell(true); });
    connect(m_no, &QPushButton::clicked, this, [this] { tell(false); });
    connect(m_loop, &QPushButton::clicked, this, [this] {
        m_help.tryLoopBack();
        enable();
    });
    connect(m_note, &QPushButton::clicked, this, &FindDialog::note);
    connect(m_steps, &QTableWidget::itemSelectionChanged, this, &FindDialog::enable);
    return part;
}

link::Line FindDialog::line() const { return static_cast<link::Line>(m_line->currentIndex()); }

ObjectDictionary FindDialog::map() const
{
    const auto own = ObjectDictionary::parse(m_document.axis().link.map);
    return own ? *own : ObjectDictionary::shipped();
}

/// What this computer has of the kind of line.
void FindDialog::offerNames()
{
    const QString kept = QString::fromStdString(m_document.axis().link.address);
    m_name->clear();
    switch (line()) {
    case link::Line::Tcp:
        m_name->setAccessibleName(tr("Host, or a range such as 192.168.1.10-40"));
        m_numbers->setPlaceholderText(tr("ports: 502"));
        m_numbers->setAccessibleName(tr("Ports"));
        if (const auto a = link::parseAddress(kept); a && a->line == link::Line::Tcp) {
            m_name->addItem(a->name);
            m_numbers->setText(QString::number(a->port));
        }
        break;
    case link::Line::Serial:
        m_name->setAccessibleName(tr("Serial adapter"));
        for (const QString& l : link::serialLines())
            m_name->addItem(l.section(QLatin1Char(' '), 0, 0));
        m_numbers->clear();
        m_numbers->setPlaceholderText(tr("baud: the usual ones"));
        m_numbers->setAccessibleName(tr("Baud rates"));
        break;
    case link::Line::Can:
        m_name->setAccessibleName(tr("CAN interface"));
        m_name->addItems(link::canInterfaces());
        m_numbers->clear();
        m_numbers->setPlaceholderText(QString());
        break;
    }
    m_name->lineEdit()->setObjectName(QStringLiteral("find.name.edit"));
    m_name->lineEdit()->setPlaceholderText(m_name->accessibleName());
    m_numbers->setEnabled(line() != link::Line::Can);
    m_name->setToolTip(m_name->count() == 0 && line() != link::Line::Tcp
                           ? tr("This computer has no such adapter now; its name can be typed.")
                           : QString());
}

link::Search FindDialog::search() const
{
    link::Search s;
    s.line = line();
    const QString name = m_name->currentText().trimmed();
    s.names = s.line == link::Line::Tcp ? link::hostsOf(name) : QStringList{name};
    if (name.contains(QLatin1String("://")))
        s.plugin = QStringLiteral("virtualcan");
    (s.line == link::Line::Tcp ? s.ports : s.bauds) = numbersOf(m_numbers->text());
    if (const auto units = rangeOf(m_units->text(), 247)) {
        s.firstUnit = units->first;
        s.lastUnit = units->second;
    }
    return s;
}

void FindDialog::begin()
{
    const link::Search s = search();
    const bool numbers = std::ranges::all_of(s.ports, [](int p) { return p > 0 && p < 65536; })
                         && std::ranges::all_of(s.bauds, [](int b) { return b >= 300 && b <= 4000000; });
    if (s.names.isEmpty() || s.names.first().isEmpty()) {
        say(tr("■ Say where to look: a host such as 192.168.1.20, a range such as 192.168.1.10-40, or an adapter."));
        m_name->setFocus();
    } else if (!rangeOf(m_units->text(), 247)) {
        say(tr("■ “%1” is no unit number; one from 1 to 247, or a range such as 1-16.").arg(m_units->text()));
        m_units->setFocus();
    } else if (!numbers) {
        say(line() == link::Line::Tcp ? tr("■ “%1”: ports are 1 to 65535.").arg(m_numbers->text())
                                      : tr("■ “%1”: baud rates are 300 to 4000000.").arg(m_numbers->text()));
        m_numbers->setFocus();
    } else {
        m_found.clear();
        m_list->setRowCount(0);
        m_help.cancel();
        const auto places = link::placesOf(s);
        say(tr("Places asked: %1.").arg(places.size()));
        m_finder.begin(places, map());
        enable();
    }
}

QString FindDialog::typedAddress() const
{
    const auto places = link::placesOf(search());
    return places.empty() ? QString() : link::addressText(places.front());
}

void FindDialog::findOut()
{
    const auto places = link::placesOf(search());
    if (places.empty() || places.front().name.isEmpty()) {
        say(tr("■ Say which place is silent."));
        m_name->setFocus();
        return;
    }
    m_finder.cancel();
    say(tr("Why nothing answers at %1.").arg(typedAddress()));
    m_help.begin(places.front(), map(), link::ownNetworks());
    enable();
}

void FindDialog::stop()
{
    m_finder.cancel();
    if (m_help.running())
        m_help.cancel();
    showSteps();
    say(tr("Stopped; what was found stays."));
    enable();
}

void FindDialog::showFound(const link::Found& found)
{
    const auto there = std::ranges::find_if(m_found, [&](const link::Found& f) { return f.address == found.address; });
    if (there != m_found.end())
        return;
    m_found.push_back(found);
    const int row = m_list->rowCount();
    m_list->setRowCount(row + 1);
    const QString address = link::addressText(found.address);
    setCell(*m_list, row, 0, address, {}, address);
    setCell(*m_list, row, 1, found.who.isEmpty() ? QStringLiteral("–") : found.who, {}, found.who);
    setCell(*m_list, row, 2, (found.drive ? QStringLiteral("● ") : QStringLiteral("▲ ")) + found.words, {},
            found.words);
    setCell(*m_list, row, 3, tr("%1 ms").arg(found.milliseconds));
    m_list->item(row, 3)->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    if (row == 0)
        m_list->selectRow(0);
}

void FindDialog::showSteps()
{
    const auto& steps = m_help.steps();
    m_steps->setRowCount(static_cast<int>(steps.size()));
    int row = 0;
    for (const HelpStep& s : steps) {
        setCell(*m_steps, row, 0, glyph(s.state), s.state == HelpStep::State::Bad ? theme().fail : theme().soft);
        setCell(*m_steps, row, 1, s.title);
        setCell(*m_steps, row, 2, s.words, {}, s.words);
        ++row;
    }
    m_steps->resizeRowsToContents();
    enable();
}

void FindDialog::enable()
{
    const bool busy = m_finder.running() || m_help.running();
    m_search->setEnabled(!busy);
    m_why->setEnabled(!busy);
    m_stop->setEnabled(busy);
    m_progress->setVisible(m_finder.running());
    const int row = m_list->currentRow();
    const bool chosen =
        row >= 0 && row < static_cast<int>(m_found.size()) && m_found[static_cast<std::size_t>(row)].drive;
    m_connect->setEnabled(chosen && !busy);
    m_lookOn->setEnabled(chosen && !busy);
    const int at = m_steps->currentRow();
    const bool step = at >= 0 && at < static_cast<int>(m_help.steps().size());
    const QString name = step ? m_help.steps()[static_cast<std::size_t>(at)].name : QString();
    const bool asked = name == QLatin1String("lamps") || name == QLatin1String("pinout");
    m_yes->setEnabled(asked);
    m_no->setEnabled(asked);
    m_seen->setEnabled(asked);
    m_loop->setVisible(line() == link::Line::Serial);
    m_loop->setEnabled(!busy && std::ranges::any_of(m_help.steps(), [](const HelpStep& s) {
        return s.name == QLatin1String("loop-back");
    }));
    m_note->setEnabled(!m_help.steps().empty() && m_document.person().named() && !m_document.readOnly());
}

void FindDialog::link(bool lookOn)
{
    const int row = m_list->currentRow();
    if (row < 0 || row >= static_cast<int>(m_found.size()))
        return;
    const QString address = link::addressText(m_found[static_cast<std::size_t>(row)].address);
    if (m_keep->isChecked() && !m_document.readOnly() && m_document.axis().link.address != address.toStdString())
        m_document.edit(tr("Address of the drive"), {}, [&](Axis& a) { a.link.address = address.toStdString(); });
    if (const QString wrong = m_bench.connectTo(address, lookOn); !wrong.isEmpty())
        say(QStringLiteral("■ ") + wrong);
    else
        accept();
}

void FindDialog::tell(bool good)
{
    const int at = m_steps->currentRow();
    if (at < 0 || at >= static_cast<int>(m_help.steps().size()))
        return;
    m_help.tell(m_help.steps()[static_cast<std::size_t>(at)].name, good, m_seen->text());
    m_seen->clear();
}

void FindDialog::note()
{
    QStringList lines{tr("Why nothing answered at %1:").arg(typedAddress())};
    for (const HelpStep& s : m_help.steps())
        lines += QStringLiteral("%1 %2: %3").arg(glyph(s.state), s.title, s.words);
    m_document.note(lines.join(QLatin1Char('\n')));
    say(tr("It stands in the logbook."));
}

void FindDialog::say(const QString& words) { setLabel(*m_words, words); }

} // namespace ridge::app
