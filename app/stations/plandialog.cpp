#include "plandialog.h"

#include "app/theme/sentence.h"
#include "app/widgets/basics.h"
#include "app/widgets/labels.h"
#include "core/wiring/plantext.h"
#include "store/report.h"
#include "store/wirelist.h"

#include <QDialogButtonBox>
#include <QFile>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QTabWidget>
#include <QTableWidget>
#include <QVBoxLayout>

#include <algorithm>
#include <set>

namespace ridge::app {

namespace {

std::optional<double> numberIn(const QString& text, double most = 10000)
{
    if (text.trimmed().isEmpty())
        return 0.0;
    bool good = false;
    const double v = text.trimmed().replace(QLatin1Char(','), QLatin1Char('.')).toDouble(&good);
    return good && v >= 0 && v <= most ? std::optional(v) : std::nullopt;
}

} // namespace

PlanDialog::PlanDialog(const WirePlan& plan, bool own, QWidget* parent)
    : QDialog(parent)
{
    setObjectName(QStringLiteral("planDialog"));
    setWindowTitle(tr("Connection plan"));
    resize(920, 600);
    auto* layout = new QVBoxLayout(this);
    layout->addWidget(
        quiet(tr("Names as they are printed on the devices. What you change belongs to this axis from then "
                 "on; a conductor that is drawn otherwise loses its tick.")));
    m_pages = new QTabWidget;
    layout->addWidget(m_pages, 1);
    m_tables[Conductors] = table("plan.conductors", tr("Conductors"),
                                 {tr("From"), tr("To"), tr("Cable"), tr("mm²"), tr("Colour"), tr("Pair")});
    m_tables[Devices] = table("plan.devices", tr("Devices"),
                              {tr("Id"), tr("Name"), tr("Kind"), tr("Terminals: name=role"), tr("Properties"),
                               tr("Jumpers and trimmers: before > after")});
    m_tables[Cables] = table("plan.cables", tr("Cables"),
                             {tr("Id"), tr("Use"), tr("Length, m"), tr("Shields: layer=bonds"), tr("Tail, mm")});
    m_tables[Buses] = table("plan.buses", tr("Buses"),
                            {tr("Name"), tr("Kind"), tr("Bits a second"), tr("Length, m"), tr("Longest stub, m"),
                             tr("Nodes: device=address")});
    m_tables[Runs] = table("plan.runs", tr("Runs"),
                           {tr("Cable"), tr("Beside or across"), tr("Apart, mm"), tr("Divider"), tr("Crossing, deg")});
    auto* row = new QHBoxLayout;
    const auto add = [&](const char* name, const QString& text, auto act) {
        auto* b = new QPushButton(text);
        b->setObjectName(QString::fromLatin1(name));
        b->setAutoDefault(false);
        connect(b, &QPushButton::clicked, this, act);
        row->addWidget(b);
        return b;
    };
    add("plan.add", tr("Add a row"), &PlanDialog::addRow);
    auto* devices = new QMenu(this);
    devices->setObjectName(QStringLiteral("plan.templates"));
    for (const DeviceTemplate& t : deviceTemplates())
        connect(devices->addAction(said(t.title)), &QAction::triggered, this, [this, &t] { addDevice(t); });
    add("plan.device", tr("Add a device …"), [this, devices] {
        devices->popup(findChild<QPushButton*>(QStringLiteral("plan.device"))->mapToGlobal(QPoint(0, 0)));
    });
    add("plan.remove", tr("Remove the row"), &PlanDialog::removeRow);
    row->addStretch();
    add("plan.open", tr("From a file …"), [this] {
        const QString path = QFileDialog::getOpenFileName(this, tr("A plan or a wire list"), {},
                                                          tr("Plans (*.json);;Wire lists (*.csv *.txt)"));
        if (!path.isEmpty())
            openFile(path);
    });
    add("plan.export", tr("To a file …"), [this] {
        const QString path = QFileDialog::getSaveFileName(this, tr("Where to"), QStringLiteral("plan.json"),
                                                          tr("Plans (*.json);;Wire lists (*.csv)"));
        if (!path.isEmpty())
            exportTo(path);
    });
    layout->addLayout(row);
    m_judged = quiet({});
    m_judged->setObjectName(QStringLiteral("plan.judged"));
    m_words = quiet({});
    m_words->setObjectName(QStringLiteral("plan.words"));
    layout->addWidget(m_judged);
    layout->addWidget(m_words);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
    buttons->button(QDialogButtonBox::Ok)->setText(tr("Take this plan"));
    auto* back = buttons->addButton(tr("Back to the plan of the parts"), QDialogButtonBox::ResetRole);
    back->setObjectName(QStringLiteral("plan.back"));
    back->setEnabled(own);
    connect(back, &QPushButton::clicked, this, [this] {
        m_taken.clear();
        accept();
    });
    connect(buttons, &QDialogButtonBox::accepted, this, [this] {
        m_taken = writeWirePlan(m_plan);
        accept();
    });
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    layout->addWidget(buttons);
    fill(plan);
}

QTableWidget* PlanDialog::table(const char* name, const QString& title, const QStringList& headings)
{
    auto* t = new QTableWidget(0, static_cast<int>(headings.size()));
    t->setObjectName(QString::fromLatin1(name));
    t->setAccessibleName(title);
    t->setHorizontalHeaderLabels(headings);
    t->verticalHeader()->hide();
    t->verticalHeader()->setDefaultSectionSize(24);
    t->horizontalHeader()->setStretchLastSection(true);
    t->setSelectionBehavior(QAbstractItemView::SelectRows);
    const int page = m_pages->addTab(t, title);
    connect(t, &QTableWidget::cellChanged, this, [this, page](int r, int c) { cellChanged(page, r, c); });
    return t;
}

void PlanDialog::fill(const WirePlan& plan)
{
    m_plan = plan;
    m_filling = true;
    const auto put = [](QTableWidget* t, int row, const QStringList& cells) {
        for (int c = 0; c < cells.size(); ++c)
            t->setItem(row, c, new QTableWidgetItem(cells[c]));
    };
    const auto count = [](std::size_t n) { return static_cast<int>(n); };
    const auto number = [](double v) { return v > 0 ? QString::number(v) : QString(); };
    m_tables[Conductors]->setRowCount(count(plan.conductors.size()));
    for (int k = 0; k < count(plan.conductors.size()); ++k) {
        const Conductor& c = plan.conductors[static_cast<std::size_t>(k)];
        put(m_tables[Conductors], k,
            {said(c.a), said(c.b), said(c.cable), number(c.mm2), said(c.colour), said(c.pair)});
        m_tables[Conductors]->item(k, 0)->setToolTip(said(endWords(plan, c.a)));
        m_tables[Conductors]->item(k, 1)->setToolTip(said(endWords(plan, c.b)));
    }
    m_tables[Devices]->setRowCount(count(plan.devices.size()));
    for (int k = 0; k < count(plan.devices.size()); ++k) {
        const WireDevice& d = plan.devices[static_cast<std::size_t>(k)];
        put(m_tables[Devices], k,
            {said(d.id), said(d.name), said(d.kind), said(terminalsText(d)), said(propertiesText(d)),
             said(settingsText(d.settings))});
    }
    m_tables[Cables]->setRowCount(count(plan.cables.size()));
    for (int k = 0; k < count(plan.cables.size()); ++k) {
        const Cable& c = plan.cables[static_cast<std::size_t>(k)];
        put(m_tables[Cables], k, {said(c.id), said(c.use), number(c.length), said(shieldsText(c)), number(c.tail)});
    }
    m_tables[Buses]->setRowCount(count(plan.buses.size()));
    for (int k = 0; k < count(plan.buses.size()); ++k) {
        const PlanBus& b = plan.buses[static_cast<std::size_t>(k)];
        put(m_tables[Buses], k,
            {said(b.id), said(b.type), number(b.bitRate), number(b.length), number(b.longestStub.value_or(0)),
             said(nodesText(b))});
    }
    m_tables[Runs]->setRowCount(count(plan.runs.size()));
    for (int k = 0; k < count(plan.runs.size()); ++k) {
        const CableRun& r = plan.runs[static_cast<std::size_t>(k)];
        put(m_tables[Runs], k,
            {said(r.a), said(r.b), QString::number(r.gap),
             r.earthedDivider ? QStringLiteral("yes") : QStringLiteral("no"),
             r.crossing ? QString::number(*r.crossing) : QString()});
    }
    for (QTableWidget* t : m_tables) {
        t->resizeColumnsToContents();
        for (int c = 0; c + 1 < t->columnCount(); ++c)
            t->setColumnWidth(c, std::clamp(t->columnWidth(c) + 12, 70, 240));
    }
    m_filling = false;
    judge();
}

void PlanDialog::judge()
{
    const WireJudgement j = judgeWires(m_plan);
    QStringList words;
    for (const Finding& f : j.findings)
        if (const WireRule* rule = wireRule(f.rule); rule && words.size() < 4)
            words += QStringLiteral("■ %1 %2: %3").arg(said(rule->severityWord), said(f.subject), said(rule->message));
    if (words.isEmpty())
        words += tr("● No rule of the plan has anything to say.");
    else if (static_cast<qsizetype>(j.findings.size()) > words.size())
        words += tr("%n more.", nullptr, static_cast<int>(j.findings.size() - static_cast<std::size_t>(words.size())));
    setLabel(*m_judged, words.join(QLatin1Char('\n')));
}

void PlanDialog::say(const QString& words) { setLabel(*m_words, words); }

QString PlanDialog::takeConductor(int row, int column, const QString& text)
{
    Conductor& c = m_plan.conductors[static_cast<std::size_t>(row)];
    const std::string word = text.trimmed().toStdString();
    switch (column) {
    case 0:
    case 1:
        if (!word.empty() && word.find('.') == std::string::npos)
            return tr("“%1” is no end of a conductor; write DEVICE.TERMINAL, as D1.U.").arg(text);
        (column == 0 ? c.a : c.b) = word;
        break;
    case 2: c.cable = word; break;
    case 3: {
        const auto v = numberIn(text);
        if (!v || *v > 400)
            return tr("“%1” is no cross-section; above 0 up to 400 mm² is one.").arg(text);
        c.mm2 = *v;
        break;
    }
    case 4: c.colour = word; break;
    default: c.pair = word;
    }
    return {};
}

QString PlanDialog::takeDevice(int row, int column, const QString& text)
{
    WireDevice& d = m_plan.devices[static_cast<std::size_t>(row)];
    const std::string word = text.trimmed().toStdString();
    if (column == 0) {
        if (word.empty() || word.find('.') != std::string::npos || (word != d.id && m_plan.device(word)))
            return tr("“%1” cannot be the id of a device: it is empty, has a point in it, or another device has it.")
                .arg(text);
        const std::string old = d.id + ".";
        const auto follow = [&](std::string& end) { // what hangs on the device goes with it
            if (end.starts_with(old))
                end = word + end.substr(old.size() - 1);
        };
        for (Conductor& c : m_plan.conductors) {
            follow(c.a);
            follow(c.b);
        }
        for (Cable& c : m_plan.cables)
            for (Shield& s : c.shields)
                std::ranges::for_each(s.bonds, follow);
        d.id = word;
        return {};
    }
    if (column == 1) {
        d.name = word;
        return {};
    }
    if (column == 2) {
        d.kind = word;
        return {};
    }
    const auto into = [](auto& member, auto read) {
        if (!read)
            return sentence(read.error());
        member = std::move(*read);
        return QString();
    };
    if (column == 3)
        return into(d.terminals, readTerminals(word, d));
    return column == 4 ? into(static_cast<Properties&>(d), readProperties(word)) : into(d.settings, readSettings(word));
}

QString PlanDialog::takeCable(int row, int column, const QString& text)
{
    Cable& c = m_plan.cables[static_cast<std::size_t>(row)];
    const std::string word = text.trimmed().toStdString();
    const auto length = numberIn(text);
    switch (column) {
    case 0:
        if (word.empty() || (word != c.id && m_plan.cable(word)))
            return tr("“%1” cannot be the id of a cable: it is empty, or another cable has it.").arg(text);
        for (Conductor& x : m_plan.conductors)
            if (x.cable == c.id)
                x.cable = word;
        c.id = word;
        break;
    case 1: c.use = word; break;
    case 2:
    case 4:
        if (!length || (column == 2 && *length > 1000))
            return tr("“%1” is no length; 0 to 1000 is one.").arg(text);
        (column == 2 ? c.length : c.tail) = *length;
        break;
    default: {
        auto shields = readShields(word);
        if (!shields)
            return sentence(shields.error());
        c.shields = std::move(*shields);
    }
    }
    return {};
}

QString PlanDialog::takeBus(int row, int column, const QString& text)
{
    PlanBus& b = m_plan.buses[static_cast<std::size_t>(row)];
    const std::string word = text.trimmed().toStdString();
    const auto value = numberIn(text, 1e10);
    switch (column) {
    case 0:
        if (word.empty())
            return tr("A bus has a name.");
        b.id = word;
        break;
    case 1:
        if (word != "can" && word != "rs485" && word != "eth100")
            return tr("“%1” is no kind of bus; can, rs485 and eth100 are.").arg(text);
        b.type = word;
        break;
    case 5: {
        auto nodes = readNodes(word);
        if (!nodes)
            return sentence(nodes.error());
        b.nodes = std::move(*nodes);
        break;
    }
    default:
        if (!value)
            return tr("“%1” is no number from 0 on.").arg(text);
        if (column == 2)
            b.bitRate = *value;
        else if (column == 3)
            b.length = *value;
        else if (text.trimmed().isEmpty())
            b.longestStub.reset();
        else
            b.longestStub = *value;
    }
    return {};
}

QString PlanDialog::takeRun(int row, int column, const QString& text)
{
    CableRun& r = m_plan.runs[static_cast<std::size_t>(row)];
    const std::string word = text.trimmed().toStdString();
    const auto value = numberIn(text);
    if (column <= 1) {
        if (!m_plan.cable(word))
            return tr("There is no cable “%1” in this plan.").arg(text);
        (column == 0 ? r.a : r.b) = word;
    } else if (column == 3) {
        if (word != "yes" && word != "no")
            return tr("An earthed divider between them: yes or no.");
        r.earthedDivider = word == "yes";
    } else if (!value || (column == 4 && *value > 180)) {
        return column == 2 ? tr("“%1” is no distance; millimetres from 0 to 10000 are.").arg(text)
                           : tr("“%1” is no angle; 0 to 180 degrees are.").arg(text);
    } else if (column == 2) {
        r.gap = *value;
    } else if (text.trimmed().isEmpty()) {
        r.crossing.reset();
    } else {
        r.crossing = *value;
    }
    return {};
}

void PlanDialog::cellChanged(int page, int row, int column)
{
    if (m_filling)
        return;
    const QString text = m_tables.at(static_cast<std::size_t>(page))->item(row, column)->text();
    const QString wrong = page == Conductors ? takeConductor(row, column, text)
                          : page == Devices  ? takeDevice(row, column, text)
                          : page == Cables   ? takeCable(row, column, text)
                          : page == Buses    ? takeBus(row, column, text)
                                             : takeRun(row, column, text);
    say(wrong);
    if (!wrong.isEmpty() || page != Conductors) {
        fill(WirePlan(m_plan)); // what was not taken goes back, what follows is shown
        m_tables.at(static_cast<std::size_t>(page))->setCurrentCell(row, column);
        return;
    }
    judge();
}

void PlanDialog::addRow()
{
    const auto free = [](const char* letter, const auto& taken) {
        int n = 1;
        while (taken(letter + std::to_string(n)))
            ++n;
        return letter + std::to_string(n);
    };
    const int page = m_pages->currentIndex();
    if (page == Conductors) {
        Conductor c;
        c.id = free("own ", [&](const std::string& id) {
            return std::ranges::find(m_plan.conductors, id, &Conductor::id) != m_plan.conductors.end();
        });
        m_plan.conductors.push_back(c);
    } else if (page == Devices) {
        WireDevice d;
        d.id = free("X", [&](const std::string& id) { return m_plan.device(id) != nullptr; });
        d.kind = "term_block";
        m_plan.devices.push_back(d);
    } else if (page == Buses) {
        PlanBus b;
        b.id = free("bus ", [&](const std::string& id) {
            return std::ranges::find(m_plan.buses, id, &PlanBus::id) != m_plan.buses.end();
        });
        b.type = "can";
        b.bitRate = 500e3;
        m_plan.buses.push_back(b);
    } else if (page == Runs) {
        if (m_plan.cables.size() < 2)
            return say(tr("Two cables are wanted for a run."));
        m_plan.runs.push_back({m_plan.cables[0].id, m_plan.cables[1].id, 50, false, {}});
    } else {
        Cable c;
        c.id = free("cable ", [&](const std::string& id) { return m_plan.cable(id) != nullptr; });
        c.use = "control";
        m_plan.cables.push_back(c);
    }
    fill(WirePlan(m_plan));
    QTableWidget* t = m_tables.at(static_cast<std::size_t>(page));
    t->setCurrentCell(t->rowCount() - 1, 0);
    t->setFocus();
}

void PlanDialog::addDevice(const DeviceTemplate& of)
{
    std::set<std::string> parts;
    for (const DeviceTemplate::Spot& s : of.spots)
        parts.insert(s.part);
    int n = 1;
    while (m_plan.device("X" + std::to_string(n)))
        ++n;
    m_plan.devices.push_back(layDevice(of, "X" + std::to_string(n), parts));
    m_pages->setCurrentIndex(Devices);
    fill(WirePlan(m_plan));
    m_tables[Devices]->setCurrentCell(m_tables[Devices]->rowCount() - 1, 0);
    m_tables[Devices]->setFocus();
}

void PlanDialog::removeRow()
{
    const int page = m_pages->currentIndex(), row = m_tables.at(static_cast<std::size_t>(page))->currentRow();
    if (row < 0)
        return;
    const auto from = [row](auto& list) { list.erase(list.begin() + row); };
    if (page == Conductors)
        from(m_plan.conductors);
    else if (page == Devices)
        from(m_plan.devices);
    else if (page == Buses)
        from(m_plan.buses);
    else if (page == Runs)
        from(m_plan.runs);
    else
        from(m_plan.cables);
    fill(WirePlan(m_plan));
}

void PlanDialog::openFile(const QString& path)
{
    QFile file(path);
    constexpr qint64 most = 16 << 20;
    if (!file.open(QIODevice::ReadOnly)) {
        say(tr("%1 cannot be opened.").arg(path));
        return;
    }
    const QByteArray text = file.read(most);
    if (path.endsWith(QStringLiteral(".json"), Qt::CaseInsensitive)) {
        const auto plan = parseWirePlan(text.toStdString());
        if (!plan) {
            say(QString::fromStdString(messageFor(plan.error())));
            return;
        }
        fill(*plan);
        say(tr("%1 conductors of %2 devices were read.").arg(plan->conductors.size()).arg(plan->devices.size()));
        return;
    }
    const auto list = store::parseWireList(text.toStdString());
    if (!list) {
        say(QString::fromStdString(messageFor(list.error())));
        return;
    }
    WirePlan plan = m_plan;
    plan.conductors = list->conductors;
    fill(plan);
    QString words = tr("%1 conductors were read.").arg(list->conductors.size());
    for (const Error& e : list->refused)
        words += QLatin1Char('\n') + QString::fromStdString(messageFor(e));
    say(words);
}

void PlanDialog::exportTo(const QString& path)
{
    const std::string text = path.endsWith(QStringLiteral(".csv"), Qt::CaseInsensitive) ? store::wireListCsv(m_plan)
                                                                                        : writeWirePlan(m_plan) + "\n";
    const auto done = store::writeText(path.toStdString(), text);
    say(done ? tr("The plan stands in %1.").arg(path) : QString::fromStdString(messageFor(done.error())));
}

} // namespace ridge::app
