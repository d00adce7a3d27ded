#include "iopanel.h"

#include "app/theme/sentence.h"
#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "app/widgets/choicedelegate.h"
#include "app/widgets/labels.h"
#include "core/objects/protections.h"
#include "core/objects/valuewords.h"

#include <QHeaderView>
#include <QLabel>
#include <QTableWidget>
#include <QVBoxLayout>

namespace ridge::app {

namespace {
constexpr std::array<std::string_view, 2> levels{"high", "low"};
constexpr int inputLevels = 24, outputLevels = 16; ///< bits of 60FD and 60FE where the terminals stand
constexpr ObjectKey polarity{0x2027, 9};

std::span<const std::string_view> wordsFor(bool output)
{
    static const auto lists = [] {
        std::array<std::vector<std::string_view>, 2> all;
        for (const ValueWord& w : inputFunctions())
            all[0].push_back(w.word);
        for (const ValueWord& w : outputFunctions())
            all[1].push_back(w.word);
        return all;
    }();
    return lists[output ? 1 : 0];
}
bool isOutput(int row) { return row >= inputTerminals; }
ObjectKey functionOf(int row)
{
    return isOutput(row) ? ObjectKey{0x2028, static_cast<std::uint8_t>(row - inputTerminals + 1)}
                         : ObjectKey{0x2027, static_cast<std::uint8_t>(row + 1)};
}
} // namespace

IoPanel::IoPanel(Document& document, Bench& bench, QWidget* parent)
    : QWidget(parent)
    , m_document(document)
    , m_bench(bench)
{
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(8, 6, 8, 4);
    layout->setSpacing(4);
    m_table = listTable("io", tr("Inputs and outputs of the drive"),
                        {tr("Terminal"), tr("Function, planned"), tr("Acts on"), tr("Level now"), tr("In the drive")});
    m_table->setEditTriggers(QAbstractItemView::AnyKeyPressed | QAbstractItemView::DoubleClicked
                             | QAbstractItemView::SelectedClicked | QAbstractItemView::EditKeyPressed);
    m_table->setSelectionBehavior(QAbstractItemView::SelectItems);
    m_table->setItemDelegate(new ChoiceDelegate(
        [](const QModelIndex& index) -> std::span<const std::string_view> {
            if (index.column() == Function)
                return wordsFor(isOutput(index.row()));
            return index.column() == Level ? std::span<const std::string_view>(levels)
                                           : std::span<const std::string_view>();
        },
        this));
    m_table->setColumnWidth(Place, 110);
    m_table->setColumnWidth(Function, 190);
    m_table->setColumnWidth(Level, 90);
    m_table->setColumnWidth(Now, 120);
    layout->addWidget(m_table, 1);
    m_words =
        quiet(tr("A limit acts on a low level: a broken wire then acts as the switch does. What is forced on stands "
                 "in the list of defeated protections until it is taken off."));
    m_words->setObjectName(QStringLiteral("io.words"));
    layout->addWidget(m_words);
    connect(m_table, &QTableWidget::cellChanged, this, &IoPanel::typed);
}

void IoPanel::refresh()
{
    if (!m_document.hasAxis())
        return;
    m_filling = true;
    const SetFindings& set = m_document.evaluation().set;
    const auto planned = [&](ObjectKey key) {
        const auto it = std::ranges::find(set.parameters, key, &PlannedParameter::key);
        return it == set.parameters.end() ? std::int64_t{0} : it->value;
    };
    const auto held = [&](ObjectKey key) {
        const auto it = set.memory.held.find(key);
        return it == set.memory.held.end() ? std::optional<std::int64_t>() : std::optional(it->second);
    };
    m_table->setRowCount(inputTerminals + outputTerminals);
    for (int row = 0; row < m_table->rowCount(); ++row) {
        const ObjectKey key = functionOf(row);
        const bool output = isOutput(row);
        const std::int64_t wants = planned(key);
        const auto is = held(key);
        setCell(*m_table, row, Place,
                output ? tr("output %1").arg(row - inputTerminals + 1) : tr("input %1").arg(row + 1), theme().soft);
        setCell(*m_table, row, Function, said(valueWord(key, wants)), wants ? theme().ink : theme().soft);
        setCell(*m_table, row, Level,
                output ? QStringLiteral("–") : said(levels[planned(polarity) >> row & 1 ? 1 : 0]));
        const bool lowHeld = held(polarity).value_or(0) >> row & 1;
        const bool differs = is && (*is != wants || (!output && lowHeld != (planned(polarity) >> row & 1)));
        setCell(*m_table, row, Held,
                !is ? QStringLiteral("–")
                    : (differs ? QStringLiteral("■ ") : QString()) + said(valueWord(key, *is))
                          + (output || !lowHeld ? QString() : tr(", on low")),
                differs ? theme().fail : theme().soft);
        for (int c = 0; c < columnCount; ++c) {
            QTableWidgetItem* item = m_table->item(row, c) ? m_table->item(row, c) : new QTableWidgetItem;
            if (!m_table->item(row, c))
                m_table->setItem(row, c, item);
            const bool edit = c == Function || (c == Level && !output);
            item->setFlags(edit ? item->flags() | Qt::ItemIsEditable : item->flags() & ~Qt::ItemIsEditable);
        }
    }
    m_filling = false;
    live();
}

void IoPanel::live()
{
    m_filling = true;
    const LinkState link = m_bench.linkState();
    const bool fresh = link.identified && link.stateAge <= stateGoesOld;
    const auto inputs = static_cast<std::uint64_t>(m_bench.session().snapshot().inputs);
    const auto& held = m_document.evaluation().set.memory.held;
    const auto forced = held.find(inputsForced);
    for (int row = 0; row < m_table->rowCount(); ++row) {
        if (isOutput(row)) {
            setCell(*m_table, row, Now, QStringLiteral("–"), theme().soft);
            continue;
        }
        const bool high = inputs >> (inputLevels + row) & 1;
        const bool force = forced != held.end() && (forced->second >> row & 1);
        setCell(*m_table, row, Now,
                !fresh ? QStringLiteral("○")
                       : (high ? tr("● high") : tr("○ low")) + (force ? tr("  ■ FORCED") : QString()),
                force  ? theme().fail
                : high ? theme().ok
                       : theme().soft);
    }
    m_filling = false;
}

void IoPanel::typed(int row, int column)
{
    if (m_filling || (column != Function && column != Level))
        return;
    const std::string word = m_table->item(row, column)->text().toStdString();
    const SetFindings& set = m_document.evaluation().set;
    if (column == Function) {
        const ObjectKey key = functionOf(row);
        for (const ValueWord& w : isOutput(row) ? outputFunctions() : inputFunctions())
            if (w.word == word)
                m_document.edit(tr("Assign a terminal"), {},
                                [&](Axis& a) { a.parameters.values[keyText(key)] = static_cast<double>(w.value); });
        return refresh();
    }
    const auto it = std::ranges::find(set.parameters, polarity, &PlannedParameter::key);
    std::int64_t bits = it == set.parameters.end() ? 0 : it->value;
    const std::int64_t mask = std::int64_t{1} << row;
    bits = word == "low" ? bits | mask : bits & ~mask;
    m_document.edit(tr("Level of an input"), {},
                    [&](Axis& a) { a.parameters.values[keyText(polarity)] = static_cast<double>(bits); });
    refresh();
}

} // namespace ridge::app
