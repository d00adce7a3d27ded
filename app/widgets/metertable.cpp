#include "metertable.h"

#include "app/document/recording.h"
#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "app/widgets/figures.h"
#include "app/widgets/forms.h"
#include "app/widgets/labels.h"

#include <QHeaderView>
#include <QTableWidget>
#include <QVBoxLayout>

namespace ridge::app {

namespace {
enum Column { Step, Place, Wanted, At, Reading, Verdict };

QString wantedOf(const MeterPlace& p)
{
    const auto bound = [&](double v) { return shown(v, p.quantity, 3); };
    if (p.low && p.high)
        return QObject::tr("%1 to %2").arg(bound(*p.low), bound(*p.high));
    return p.high ? QObject::tr("at most %1").arg(bound(*p.high)) : QStringLiteral("–");
}

Field fieldOf(const MeterPlace& p, bool temperature)
{
    Field f;
    f.key = "reading";
    f.label = "Reading";
    f.quantity = temperature ? Quantity::Temperature : p.quantity;
    f.optional = true;
    return f;
}
} // namespace

MeterTable::MeterTable(Document& document, QWidget* parent)
    : QWidget(parent)
    , m_document(document)
{
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(8, 4, 8, 4);
    layout->setSpacing(4);
    m_instrument = new InstrumentRow(document);
    layout->addWidget(m_instrument);
    m_table = listTable("meter", tr("Readings with the meter"),
                        {tr("Step"), tr("Where"), tr("Wanted"), tr("At"), tr("Reading"), tr("Judged")});
    m_table->setEditTriggers(QAbstractItemView::AnyKeyPressed | QAbstractItemView::DoubleClicked
                             | QAbstractItemView::SelectedClicked | QAbstractItemView::EditKeyPressed);
    m_table->setSelectionBehavior(QAbstractItemView::SelectItems);
    m_table->setWordWrap(false);
    auto* head = m_table->horizontalHeader();
    head->setStretchLastSection(false);
    head->setSectionResizeMode(QHeaderView::Fixed);
    head->setSectionResizeMode(Place, QHeaderView::Stretch);
    for (const auto& [column, width] : {std::pair{Step, 42}, std::pair{Wanted, 150}, std::pair{At, 56},
                                        std::pair{Reading, 84}, std::pair{Verdict, 92}})
        m_table->setColumnWidth(column, width);
    layout->addWidget(m_table, 1);
    m_words = quiet({});
    m_words->setObjectName(QStringLiteral("meter.words"));
    layout->addWidget(m_words);
    connect(m_table, &QTableWidget::cellChanged, this, &MeterTable::typed);
    connect(m_table, &QTableWidget::currentCellChanged, this, [this](int row) {
        const auto& states = m_document.evaluation().wire.meter;
        if (m_filling || row < 0 || row >= static_cast<int>(states.size()))
            return;
        const MeterState& s = states[static_cast<std::size_t>(row)];
        setLabel(*m_words,
                 sentence(s.point->how)
                     + (s.verdict.reason.empty() ? QString() : QLatin1Char('\n') + sentence(s.verdict.reason)));
    });
}

void MeterTable::refresh()
{
    m_filling = true;
    const auto& states = m_document.evaluation().wire.meter;
    m_table->setRowCount(static_cast<int>(states.size()));
    for (int row = 0; row < m_table->rowCount(); ++row) {
        const MeterState& s = states[static_cast<std::size_t>(row)];
        const QString tip = sentence(s.point->how);
        setCell(*m_table, row, Step, said(workSteps()[static_cast<std::size_t>(s.point->step - 1)].id), {}, tip);
        setCell(*m_table, row, Place, sentence(s.point->place), {}, tip);
        setCell(*m_table, row, Wanted, wantedOf(*s.point), theme().soft, tip);
        const auto* read = s.fact ? s.fact->as<Metered>() : nullptr;
        const auto typedBefore = m_warm.find(s.point->id);
        const std::optional<double> warm = read && read->temperature     ? read->temperature
                                           : typedBefore != m_warm.end() ? std::optional(typedBefore->second)
                                                                         : std::nullopt;
        setCell(*m_table, row, At,
                !s.point->warm ? QStringLiteral("–")
                : warm         ? shown(*warm, Quantity::Temperature, 3)
                               : QString());
        setCell(*m_table, row, Reading, read ? shown(read->value, s.point->quantity, 4) : QString(), {},
                s.fact ? tr("%1, %2").arg(QString::fromStdString(s.fact->person.name), localTime(s.fact->time)) : tip);
        const bool good = s.verdict.good == true;
        setCell(*m_table, row, Verdict,
                !s.verdict.good ? (s.point->lacks.empty() ? QStringLiteral("○") : tr("○ unknown"))
                : good          ? tr("● good")
                                : tr("■ not good"),
                !s.verdict.good ? theme().soft
                : good          ? theme().ok
                                : theme().fail,
                sentence(s.verdict.reason));
        for (int c = 0; c < m_table->columnCount(); ++c) {
            QTableWidgetItem* item = m_table->item(row, c);
            const bool edit = c == Reading || (c == At && s.point->warm);
            item->setFlags(edit ? item->flags() | Qt::ItemIsEditable : item->flags() & ~Qt::ItemIsEditable);
        }
    }
    m_filling = false;
}

void MeterTable::typed(int row, int column)
{
    const auto& states = m_document.evaluation().wire.meter;
    if (m_filling || (column != Reading && column != At) || row >= static_cast<int>(states.size()))
        return;
    const MeterPlace& p = *states[static_cast<std::size_t>(row)].point;
    const QString text = m_table->item(row, column)->text();
    const auto value = readEntry(text, fieldOf(p, column == At), false);
    const auto say = [&](const QString& words) {
        setLabel(*m_words, words);
        refresh();
    };
    if (!value)
        return say(QString::fromStdString(messageFor(value.error())));
    if (!*value)
        return say(
            tr("A reading is not taken back by clearing it: read again, or strike the entry out in the record."));
    if (column == At) {
        m_warm[p.id] = **value;
        return refresh();
    }
    Metered read{p.id, **value, {}, p.drawn};
    if (const auto it = m_warm.find(p.id); it != m_warm.end())
        read.temperature = it->second;
    const Message no = recordTyped(m_document, read, m_instrument->instrument());
    if (!no.empty())
        return say(sentence(no));
    m_warm.erase(read.point);
    const auto& after = m_document.evaluation().wire.meter;
    if (row < static_cast<int>(after.size()))
        say(sentence(after[static_cast<std::size_t>(row)].verdict.reason));
    if (row + 1 < m_table->rowCount()) // one reading, one key: the next place is ready
        m_table->setCurrentCell(row + 1, Reading);
}

void MeterTable::choose(const std::string& conductor)
{
    const auto& states = m_document.evaluation().wire.meter;
    for (std::size_t k = 0; k < states.size(); ++k)
        if (states[k].point->conductor == conductor) {
            m_table->setCurrentCell(static_cast<int>(k), Reading);
            m_table->setFocus(Qt::OtherFocusReason);
        }
}

} // namespace ridge::app
