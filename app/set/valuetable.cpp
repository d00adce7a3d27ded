#include "valuetable.h"

#include "app/theme/sentence.h"
#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "app/widgets/choicedelegate.h"
#include "app/widgets/labels.h"
#include "core/objects/valuewords.h"
#include "core/stations/rawvalue.h"

#include <QComboBox>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QTableWidget>
#include <QVBoxLayout>

#include <map>

namespace ridge::app {

namespace {
enum Filter { Differing, PlannedOnly, Own, Unsaved, All };

/// The words of an object as a list that outlives its asker.
std::span<const std::string_view> choicesOf(ObjectKey key)
{
    static std::map<ObjectKey, std::vector<std::string_view>> lists;
    auto [it, fresh] = lists.try_emplace(key);
    if (fresh)
        for (const ValueWord& w : valueWords(key))
            it->second.push_back(w.word);
    return it->second;
}
} // namespace

ValueTable::ValueTable(Document& document, Bench& bench, QWidget* parent)
    : QWidget(parent)
    , m_document(document)
    , m_bench(bench)
{
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(8, 6, 8, 4);
    layout->setSpacing(4);
    auto* row = new QHBoxLayout;
    m_search = new QLineEdit;
    m_search->setObjectName(QStringLiteral("set.search"));
    m_search->setAccessibleName(tr("Search in the values"));
    m_search->setPlaceholderText(tr("object, name or group"));
    m_search->setClearButtonEnabled(true);
    m_search->setMaximumWidth(220);
    m_filter = new QComboBox;
    m_filter->setObjectName(QStringLiteral("set.filter"));
    m_filter->setAccessibleName(tr("Which values"));
    m_filter->addItems({tr("Differing"), tr("Planned"), tr("Entered by hand"), tr("Not saved"), tr("All")});
    m_filter->setCurrentIndex(PlannedOnly);
    m_count = quiet({});
    m_count->setObjectName(QStringLiteral("set.count"));
    m_count->setWordWrap(false);
    row->addWidget(m_search);
    row->addWidget(m_filter);
    row->addWidget(m_count);
    row->addStretch();
    layout->addLayout(row);
    m_table = listTable("parameters", tr("Parameters: planned, in the drive, last saved"),
                        {tr("Object"), tr("Name"), tr("Planned"), tr("In the drive"), tr("Saved"), tr("Factory"),
                         tr("Range"), tr("Acts"), tr("Why")});
    m_table->setEditTriggers(QAbstractItemView::AnyKeyPressed | QAbstractItemView::DoubleClicked
                             | QAbstractItemView::EditKeyPressed);
    m_table->setSelectionBehavior(QAbstractItemView::SelectItems);
    m_table->setWordWrap(false);
    m_table->setItemDelegateForColumn(Planned, new ChoiceDelegate(
                                                   [this](const QModelIndex& index) {
                                                       const auto at = static_cast<std::size_t>(index.row());
                                                       return at < m_keys.size() ? choicesOf(m_keys[at])
                                                                                 : std::span<const std::string_view>();
                                                   },
                                                   this));
    constexpr std::array<int, columnCount> widths{58, 176, 118, 118, 92, 84, 150, 74, 200};
    for (int c = 0; c + 1 < columnCount; ++c)
        m_table->setColumnWidth(c, widths[static_cast<std::size_t>(c)]);
    layout->addWidget(m_table, 1);
    m_words = quiet({});
    m_words->setObjectName(QStringLiteral("set.valueWords"));
    layout->addWidget(m_words);
    connect(m_search, &QLineEdit::textChanged, this, &ValueTable::refresh);
    connect(m_filter, &QComboBox::currentIndexChanged, this, &ValueTable::refresh);
    connect(m_table, &QTableWidget::cellChanged, this, &ValueTable::typed);
}

bool ValueTable::wanted(const ParameterRow& r) const
{
    const QString text = m_search->text().trimmed();
    if (!text.isEmpty()) {
        const QString all =
            QStringLiteral("%1 %2 %3")
                .arg(QString::fromStdString(keyText(r.entry->key)), said(r.entry->name), said(r.entry->group));
        return all.contains(text, Qt::CaseInsensitive);
    }
    switch (m_filter->currentIndex()) {
    case Differing: return r.differs();
    case PlannedOnly: return r.planned != nullptr;
    case Own: return r.planned && r.planned->own;
    case Unsaved: return r.unsaved();
    default: return true;
    }
}

void ValueTable::refresh()
{
    if (!m_document.hasAxis())
        return;
    m_filling = true;
    const SetFindings& set = m_document.evaluation().set;
    const auto rows = parameterList(m_bench.session().map(), set, m_document.evidence());
    m_keys.clear();
    int shown = 0, differ = 0, unsaved = 0;
    for (const ParameterRow& r : rows) {
        differ += r.differs();
        unsaved += r.unsaved();
        shown += wanted(r);
    }
    m_table->setRowCount(shown);
    int row = 0;
    for (const ParameterRow& r : rows)
        if (wanted(r)) {
            m_keys.push_back(r.entry->key);
            fill(row++, r);
        }
    setLabel(*m_count,
             tr("%1 of %2 values · %3 differ · %4 not saved").arg(shown).arg(rows.size()).arg(differ).arg(unsaved));
    m_filling = false;
}

void ValueTable::fill(int row, const ParameterRow& r)
{
    const Axis& axis = m_document.axis();
    const bool byHand = m_bench.session().identified() && !m_bench.session().has(r.entry->key);
    const auto amountOf = [&](const std::optional<std::int64_t>& v) {
        return v ? sentence(rawAmount(axis, r.entry->key, *v)) : QStringLiteral("–");
    };
    const auto raw = [](const std::optional<std::int64_t>& v) { return v ? QString::number(*v) : QString(); };
    const QString name = said(r.entry->name);
    setCell(*m_table, row, Object, QString::fromStdString(keyText(r.entry->key)), theme().soft, said(r.entry->group));
    setCell(*m_table, row, Name, name, {}, name);
    const QString planned =
        r.planned ? sentence(r.planned->own ? rawAmount(axis, r.entry->key, r.planned->value) : r.planned->physical)
                  : QStringLiteral("–");
    setCell(*m_table, row, Planned, r.planned && r.planned->own ? QStringLiteral("✎ ") + planned : planned,
            r.planned ? theme().ink : theme().soft,
            r.planned ? tr("%1 in the drive's own steps").arg(r.planned->value) : QString());
    setCell(*m_table, row, Held,
            byHand ? tr("by hand") : (r.differs() ? QStringLiteral("■ ") : QString()) + amountOf(r.held),
            r.differs() ? theme().fail : theme().soft, raw(r.held));
    setCell(*m_table, row, Saved, (r.unsaved() ? QStringLiteral("▲ ") : QString()) + amountOf(r.saved),
            r.unsaved() ? theme().watch : theme().soft, raw(r.saved));
    setCell(*m_table, row, Factory, amountOf(r.factory), theme().soft, raw(r.factory));
    const QString range = sentence(rangeOf(axis, *r.entry)), acts = sentence(actsWhen(*r.entry)),
                  why = r.planned ? sentence(r.planned->why) : QString();
    setCell(*m_table, row, Range, range, theme().soft, range);
    setCell(*m_table, row, Acts, acts, theme().soft, acts);
    setCell(*m_table, row, Why, why, theme().soft, why);
    for (int c = 0; c < columnCount; ++c) {
        QTableWidgetItem* item = m_table->item(row, c);
        item->setFlags(c == Planned ? item->flags() | Qt::ItemIsEditable : item->flags() & ~Qt::ItemIsEditable);
    }
}

/// A value of one's own instead of what follows; an empty cell goes back to that.
void ValueTable::typed(int row, int column)
{
    if (m_filling || column != Planned || row >= static_cast<int>(m_keys.size()))
        return;
    const ObjectKey key = m_keys[static_cast<std::size_t>(row)];
    const ObjectEntry* entry = m_bench.session().map().find(key);
    if (!entry)
        entry = ObjectDictionary::shipped().find(key);
    QString text = m_table->item(row, column)->text().trimmed();
    text.remove(QStringLiteral("✎ "));
    const std::string object = keyText(key);
    if (text.isEmpty() || text == QStringLiteral("–")) {
        setLabel(*m_words, tr("%1 follows from the plan again.").arg(said(entry->name)));
        m_document.edit(tr("Let %1 follow").arg(said(entry->name)), {},
                        [&](Axis& a) { a.parameters.values.erase(object); });
        refresh();
        return;
    }
    const auto value = rawOf(m_document.axis(), *entry, text.toStdString());
    if (!value) {
        setLabel(*m_words, tr("■ %1: %2 Its range is %3.")
                               .arg(said(entry->name),
                                    QString::fromStdString(
                                        messageFor(value.error(), m_document.axis().mechanism.rotary(), unitSystem())),
                                    sentence(rangeOf(m_document.axis(), *entry))));
        refresh();
        return;
    }
    setLabel(*m_words, tr("%1 is %2 now, entered by hand. It is written with the next write.")
                           .arg(said(entry->name), sentence(rawAmount(m_document.axis(), key, *value))));
    m_document.edit(tr("Enter %1").arg(said(entry->name)), {},
                    [&](Axis& a) { a.parameters.values[object] = static_cast<double>(*value); });
    refresh();
}

} // namespace ridge::app
