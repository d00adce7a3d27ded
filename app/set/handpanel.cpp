#include "handpanel.h"

#include "app/document/recording.h"
#include "app/instruments/boardview.h"
#include "app/theme/sentence.h"
#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "app/widgets/labels.h"
#include "core/stations/rawvalue.h"

#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QScrollArea>
#include <QTableWidget>
#include <QVBoxLayout>

namespace ridge::app {

namespace {
enum Column { Name, Wanted, Stands, Before, After, columnCount };
}

HandPanel::HandPanel(Document& document, Bench& bench, QWidget* parent)
    : QWidget(parent)
    , m_document(document)
    , m_bench(bench)
{
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(8, 6, 8, 4);
    layout->setSpacing(5);
    m_identity = new QWidget;
    auto* who = new QHBoxLayout(m_identity);
    who->setContentsMargins(0, 0, 0, 0);
    who->addWidget(new QLabel(tr("As read on it:")));
    m_maker = shortEntry("hand.maker", tr("Maker of the drive"), tr("maker"));
    m_type = shortEntry("hand.type", tr("Type of the drive"), tr("type"));
    m_serial = shortEntry("hand.serial", tr("Serial number of the drive"), tr("serial number"));
    m_firmware = shortEntry("hand.firmware", tr("Firmware of the drive"), tr("firmware"));
    auto* bind = button("hand.bind", tr("This is the drive of this axis"));
    for (QWidget* w : std::initializer_list<QWidget*>{m_maker, m_type, m_serial, m_firmware, bind})
        who->addWidget(w);
    who->addStretch();
    layout->addWidget(m_identity);
    layout->addWidget(heading(tr("Switches, jumpers, trimmers")));
    m_table = listTable("hand", tr("Settings by hand"),
                        {tr("Setting"), tr("Wanted"), tr("To stand at"), tr("Stood at"), tr("Stands at")});
    m_table->setEditTriggers(QAbstractItemView::AnyKeyPressed | QAbstractItemView::DoubleClicked
                             | QAbstractItemView::SelectedClicked | QAbstractItemView::EditKeyPressed);
    m_table->setSelectionBehavior(QAbstractItemView::SelectItems);
    m_table->setMaximumHeight(130);
    constexpr std::array<int, columnCount> widths{160, 150, 100, 100, 100};
    for (int c = 0; c + 1 < columnCount; ++c)
        m_table->setColumnWidth(c, widths[static_cast<std::size_t>(c)]);
    layout->addWidget(m_table);
    m_board = new BoardView;
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setWidget(m_board);
    layout->addWidget(scroll, 1);
    auto* keep = button("hand.keep", tr("So it stands now"));
    keep->setToolTip(tr("With the power off. The number set is the one on the sheet of the controller."));
    auto* row = new QHBoxLayout;
    row->addWidget(keep);
    row->addSpacing(20);
    row->addWidget(new QLabel(tr("Off its display:")));
    m_object = shortEntry("hand.object", tr("Object or name of a value"), tr("6065:0 or name"));
    m_value = shortEntry("hand.value", tr("Value as it stands there"), tr("3 mm"));
    auto* take = button("hand.take", tr("Take the value"));
    row->addWidget(m_object);
    row->addWidget(m_value);
    row->addWidget(take);
    row->addStretch();
    layout->addLayout(row);
    m_words = quiet({});
    m_words->setObjectName(QStringLiteral("hand.words"));
    layout->addWidget(m_words);
    connect(bind, &QPushButton::clicked, this, &HandPanel::identify);
    connect(keep, &QPushButton::clicked, this, &HandPanel::record);
    connect(take, &QPushButton::clicked, this, &HandPanel::takeValue);
    connect(m_value, &QLineEdit::returnPressed, this, &HandPanel::takeValue);
    connect(m_table, &QTableWidget::cellChanged, this, [this](int row, int) {
        if (m_filling)
            return;
        m_typed[m_settings[static_cast<std::size_t>(row)].name] = {m_table->item(row, Before)->text(),
                                                                   m_table->item(row, After)->text()};
        setLabel(*m_words, tr("Not in the record yet: “So it stands now” takes it over."));
    });
}

void HandPanel::say(const QString& words) { setLabel(*m_words, words); }

void HandPanel::refresh()
{
    if (!m_document.hasAxis())
        return;
    m_filling = true;
    if (m_axis != m_document.axis().id)
        m_typed.clear();
    m_axis = m_document.axis().id;
    const LinkState link = m_bench.linkState();
    m_identity->setVisible(!link.identified && !link.bound.known());
    m_settings = handSettings(m_document.axis(), m_document.evaluation().wire.plan());
    const auto now = standsNow(m_document.evidence());
    m_table->setRowCount(static_cast<int>(m_settings.size()));
    WirePlan drawn;
    WireDevice device;
    device.name = "drive";
    int row = 0;
    for (const HandSetting& s : m_settings) {
        const auto it = now.find(s.name);
        const QString stands = it == now.end() ? QString() : QString::fromStdString(it->second);
        const bool wrong = it != now.end() && it->second != s.stands;
        setCell(*m_table, row, Name, said(s.name));
        setCell(*m_table, row, Wanted, sentence(s.wanted));
        setCell(*m_table, row, Stands, QString::fromStdString(s.stands));
        setCell(*m_table, row, Before, stands);
        setCell(*m_table, row, After, wrong || it == now.end() ? QString() : stands);
        if (const auto typed = m_typed.find(s.name); typed != m_typed.end()) {
            setCell(*m_table, row, Before, typed->second.first);
            setCell(*m_table, row, After, typed->second.second);
        }
        for (int c = 0; c < columnCount; ++c) {
            QTableWidgetItem* item = m_table->item(row, c);
            item->setFlags(c >= Before ? item->flags() | Qt::ItemIsEditable : item->flags() & ~Qt::ItemIsEditable);
        }
        device.settings.push_back({s.name, it == now.end() ? std::string("?") : it->second, s.stands});
        ++row;
    }
    if (!device.settings.empty())
        drawn.devices.push_back(device);
    m_board->setPlan(drawn);
    m_filling = false;
    if (m_settings.empty())
        say(tr("Nothing of this drive is set by hand, as far as its lists and the connection plan say."));
}

void HandPanel::identify()
{
    const auto text = [](const QLineEdit* e) { return e->text().trimmed().toStdString(); };
    const DriveIdentity id{text(m_maker), text(m_type), text(m_serial), text(m_firmware), false, {}};
    if (id.type.empty() || id.serial.empty())
        return say(tr("Type and serial number stand on its plate; without them nothing is kept of it."));
    if (!m_document.person().named())
        return say(QString::fromStdString(messageFor({"no-person", {}, {}, {}})));
    FactSource source = m_document.typedSource();
    source.identity = id;
    m_document.append(source, DriveBound{{}, "as read on its plate"});
    refresh();
}

void HandPanel::record()
{
    SwitchesSet set;
    for (std::size_t k = 0; k < m_settings.size(); ++k) {
        const auto cell = [&](Column c) {
            return m_table->item(static_cast<int>(k), c)->text().trimmed().toStdString();
        };
        if (!cell(Before).empty())
            set.before[m_settings[k].name] = cell(Before);
        if (!cell(After).empty())
            set.after[m_settings[k].name] = cell(After);
    }
    if (set.after.empty())
        return say(tr("Write down how each stands now."));
    const Message no = recordTyped(m_document, set);
    if (!no.empty())
        return say(sentence(no));
    m_typed.clear();
    say(tr("In the record: %n setting(s).", nullptr, static_cast<int>(set.after.size())));
    refresh();
}

/// One value as a display shows it; it counts as read, marked as typed.
void HandPanel::takeValue()
{
    const QString text = m_object->text().trimmed();
    const ObjectDictionary& map = m_bench.session().map();
    const ObjectEntry* entry = nullptr;
    if (const auto key = parseKey(text.toStdString()))
        entry = map.find(*key);
    for (const ObjectEntry& e : map.entries())
        if (!entry && e.stored() && !text.isEmpty() && said(e.name).compare(text, Qt::CaseInsensitive) == 0)
            entry = &e;
    if (!entry || !entry->stored())
        return say(tr("“%1” is no value of this drive; an object such as 6065:0, or its name.").arg(text));
    const auto value = rawOf(m_document.axis(), *entry, m_value->text().trimmed().toStdString());
    if (!value)
        return say(
            QString::fromStdString(messageFor(value.error(), m_document.axis().mechanism.rotary(), unitSystem())));
    const Message no = recordTyped(m_document, DriveRead{{{entry->key, *value}}});
    if (!no.empty())
        return say(sentence(no));
    say(tr("%1: %2, typed off the drive.")
            .arg(said(entry->name), sentence(rawAmount(m_document.axis(), entry->key, *value))));
    m_value->clear();
}

} // namespace ridge::app
