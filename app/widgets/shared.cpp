#include "shared.h"

#include "app/theme/sentence.h"
#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "app/widgets/choicedelegate.h"
#include "app/widgets/figures.h"
#include "app/widgets/forms.h"
#include "core/stations/machineplan.h"
#include "core/units/parse.h"
#include "store/report.h"
#include "store/wirelist.h"

#include <QComboBox>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QScrollArea>
#include <QTableWidget>

namespace ridge::app {

namespace {
enum Column { What, Name, Type, Limit, FirstAxis };
} // namespace

SharedList::SharedList(Document& document, QWidget* parent)
    : QWidget(parent)
    , m_document(document)
{
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 4, 0, 0);
    row->addWidget(gridSide(), 8);
    row->addWidget(followsSide(), 5);
}

QWidget* SharedList::gridSide()
{
    auto* side = new QWidget;
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    m_grid = listTable("shared", tr("What axes share"), {tr("Shared"), tr("Name"), tr("Kind"), tr("Skew at most")});
    m_grid->horizontalHeader()->setStretchLastSection(false);
    m_grid->horizontalHeader()->setSectionResizeMode(Name, QHeaderView::Stretch);
    m_grid->horizontalHeader()->setMinimumSectionSize(44);
    m_grid->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed
                            | QAbstractItemView::AnyKeyPressed);
    m_grid->setSelectionBehavior(QAbstractItemView::SelectItems);
    m_grid->setItemDelegate(new ChoiceDelegate(
        [this](const QModelIndex& index) {
            const SharedKind kind = m_rows[static_cast<std::size_t>(index.row())].kind;
            return index.column() >= FirstAxis ? sharedChoices(kind)
                   : index.column() == Type    ? sharedTypes(kind)
                                               : std::span<const std::string_view>{};
        },
        m_grid));
    column->addWidget(m_grid, 1);
    auto* buttons = new QHBoxLayout;
    m_kind = new QComboBox;
    m_kind->setObjectName(QStringLiteral("shared.kind"));
    m_kind->setAccessibleName(tr("What is added"));
    for (const SharedKind kind :
         {SharedKind::Input, SharedKind::Supply, SharedKind::Unit, SharedKind::Beam, SharedKind::Network})
        m_kind->addItem(said(sharedKindTitle(kind)), static_cast<int>(kind));
    auto* add = button("shared.add", tr("Add"));
    auto* remove = button("shared.remove", tr("Remove"));
    for (QWidget* w : {static_cast<QWidget*>(m_kind), static_cast<QWidget*>(add), static_cast<QWidget*>(remove)})
        buttons->addWidget(w);
    m_words = quiet({});
    m_words->setObjectName(QStringLiteral("shared.words"));
    buttons->addWidget(m_words, 1);
    column->addLayout(buttons);
    m_entries = new QScrollArea;
    m_entries->setWidgetResizable(true);
    m_entries->hide();
    column->addWidget(m_entries);
    connect(m_grid, &QTableWidget::currentCellChanged, this, &SharedList::showEntries);
    connect(m_grid, &QTableWidget::cellChanged, this, &SharedList::typed);
    connect(add, &QPushButton::clicked, this, &SharedList::add);
    connect(remove, &QPushButton::clicked, this, &SharedList::remove);
    return side;
}

QWidget* SharedList::followsSide()
{
    auto* side = new QWidget;
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(8, 0, 0, 0);
    m_follows = listTable("shared.follows", tr("What follows for the machine"), {tr("Judgement"), tr("Why")});
    column->addWidget(m_follows, 1);
    auto* buttons = new QHBoxLayout;
    auto* save = button("shared.wires", tr("Save the wire list of the machine …"));
    buttons->addWidget(save);
    buttons->addStretch();
    column->addLayout(buttons);
    connect(save, &QPushButton::clicked, this, &SharedList::saveWires);
    return side;
}

void SharedList::showEvent(QShowEvent* event)
{
    QWidget::showEvent(event);
    refresh();
}

void SharedList::refresh()
{
    if (!isVisible())
        return;
    fillGrid();
    fillFollows();
}

void SharedList::fillGrid()
{
    const Machine& m = m_document.machine();
    m_filling = true;
    m_rows = sharedRows(m);
    m_grid->setColumnCount(FirstAxis + static_cast<int>(m.axes.size()));
    for (std::size_t k = 0; k < m.axes.size(); ++k) {
        auto* head = new QTableWidgetItem(QString::fromStdString(m.axes[k].id));
        head->setToolTip(QString::fromStdString(m.axes[k].name));
        m_grid->setHorizontalHeaderItem(FirstAxis + static_cast<int>(k), head);
    }
    m_grid->setRowCount(static_cast<int>(m_rows.size()));
    for (int r = 0; r < m_grid->rowCount(); ++r) {
        const SharedRow& row = m_rows[static_cast<std::size_t>(r)];
        const bool beam = row.kind == SharedKind::Beam;
        setCell(*m_grid, r, What, said(sharedKindTitle(row.kind)), theme().soft);
        setCell(*m_grid, r, Name, QString::fromStdString(row.name), {},
                beam ? tr("A beam is named by its axes.") : QString());
        setCell(*m_grid, r, Type, said(row.type), theme().soft);
        setCell(*m_grid, r, Limit,
                !beam       ? QString()
                : row.limit ? shown(*row.limit, sharedLimitQuantity(m, row))
                            : tr("not said"),
                theme().soft);
        const auto fixed = [&](int column, bool is) {
            auto* item = m_grid->item(r, column);
            item->setFlags(is ? item->flags() & ~Qt::ItemIsEditable : item->flags() | Qt::ItemIsEditable);
        };
        fixed(What, true);
        fixed(Name, beam);
        fixed(Type, sharedTypes(row.kind).empty());
        fixed(Limit, !beam);
        for (std::size_t k = 0; k < row.axes.size(); ++k) {
            const std::string& cell = row.axes[k];
            const bool nothing = cell == sharedChoices(row.kind).front();
            setCell(*m_grid, r, FirstAxis + static_cast<int>(k), nothing ? QStringLiteral("–") : said(cell),
                    nothing ? theme().soft : theme().ink, QString::fromStdString(m.axes[k].id + " " + m.axes[k].name));
        }
        for (int c = 0; c < m_grid->columnCount(); ++c)
            m_grid->item(r, c)->setData(Qt::UserRole, m_grid->item(r, c)->text());
    }
    m_filling = false;
    showEntries();
    m_grid->setColumnHidden(Limit, m.shared.gantries.empty()); // what nobody uses takes no room
    for (const auto& [column, width] : {std::pair<int, int>{What, 92}, {Type, 126}, {Limit, 86}})
        m_grid->setColumnWidth(column, width);
    for (int c = FirstAxis; c < m_grid->columnCount(); ++c)
        m_grid->setColumnWidth(c, 48);
}

/// Further entries of a drive of several axes or of a network, below the grid.
void SharedList::showEntries()
{
    const int at = m_grid->currentRow();
    const bool there = at >= 0 && at < static_cast<int>(m_rows.size());
    const SharedRow row = there ? m_rows[static_cast<std::size_t>(at)] : SharedRow{};
    const auto fields = there ? sharedFields(row.kind) : std::span<const Field>{};
    const auto wanted = std::pair(row.kind, row.index);
    if (fields.empty()) {
        m_entries->hide();
        m_shown.reset();
        return;
    }
    if (m_shown != wanted) {
        FormTarget target;
        target.read = [this, row](const std::function<void(void*)>& look) {
            SharedParts copy = m_document.machine().shared;
            if (void* object = sharedObject(copy, row))
                look(object);
        };
        target.edit = [this, row](const QString& text, const std::function<void(void*)>& change) {
            m_document.editMachine(text, [&](Machine& m) {
                if (void* object = sharedObject(m.shared, row))
                    change(object);
            });
            refresh();
        };
        m_form = new FieldForm(std::move(target), QStringLiteral("shared"), fields, 3);
        m_entries->setWidget(m_form); // the one before goes with it
        m_entries->setFixedHeight(std::min(130, m_form->sizeHint().height() + 6));
        m_shown = wanted;
    }
    m_form->refresh();
    m_entries->show();
}

void SharedList::fillFollows()
{
    const Machine& m = m_document.machine();
    const auto problems = sharedProblems(m);
    const auto checks = machineChecks(m);
    m_follows->setRowCount(static_cast<int>(problems.size() + checks.size()));
    int r = 0;
    for (const Error& e : problems) {
        setCell(*m_follows, r, 0, tr("■ cannot be: %1").arg(QString::fromStdString(e.subject)), theme().fail);
        const QString why = QString::fromStdString(messageFor(e));
        setCell(*m_follows, r++, 1, why, {}, why);
    }
    for (const Check& c : checks) {
        const QString title = said(c.title), why = sentence(c.reason), help = sentence(c.help);
        setCell(*m_follows, r, 0, QStringLiteral("%1 %2").arg(verdictMark(c.verdict), title),
                theme().verdict(c.verdict), title);
        setCell(*m_follows, r++, 1, why, {}, help.isEmpty() ? why : why + QLatin1Char('\n') + help);
    }
    m_follows->setColumnWidth(0, 210);
}

Result<SharedParts> SharedList::entered(const SharedRow& row, int column, const QString& text) const
{
    const Machine& m = m_document.machine();
    const std::string typed = text.trimmed().toStdString();
    if (column == Name)
        return withName(m.shared, row, typed);
    if (column == Type)
        return withType(m.shared, row, typed);
    if (column >= FirstAxis)
        return withAxis(m, row, m.axes[static_cast<std::size_t>(column - FirstAxis)].id, typed);
    if (typed.empty())
        return withLimit(m.shared, row, std::nullopt);
    const Quantity q = sharedLimitQuantity(m, row);
    const auto value = parseQuantity(typed, q, displayUnit(q, unitSystem()));
    if (!value)
        return tl::make_unexpected(value.error());
    return withLimit(m.shared, row, *value);
}

void SharedList::typed(int row, int column)
{
    if (m_filling || row >= static_cast<int>(m_rows.size()))
        return;
    const QTableWidgetItem& item = *m_grid->item(row, column);
    const QString text = item.text();
    if (text == item.data(Qt::UserRole).toString())
        return;
    const SharedRow& at = m_rows[static_cast<std::size_t>(row)];
    change(tr("Change %1 %2").arg(said(sharedKindTitle(at.kind)), QString::fromStdString(at.name)),
           entered(at, column, text));
    m_grid->setCurrentCell(row, column);
}

void SharedList::change(const QString& text, const Result<SharedParts>& parts)
{
    m_words->setText(parts ? QString() : QString::fromStdString(messageFor(parts.error(), false, unitSystem())));
    if (parts)
        m_document.editMachine(text, [&](Machine& m) { m.shared = *parts; });
    refresh();
}

void SharedList::add()
{
    const auto kind = static_cast<SharedKind>(m_kind->currentData().toInt());
    change(tr("Add: %1").arg(said(sharedKindTitle(kind))), withNew(m_document.machine().shared, kind));
    for (int r = m_grid->rowCount() - 1; r >= 0; --r)
        if (m_rows[static_cast<std::size_t>(r)].kind == kind) {
            m_grid->setCurrentCell(r, kind == SharedKind::Beam ? static_cast<int>(FirstAxis) : static_cast<int>(Name));
            break;
        }
    m_grid->setFocus();
}

void SharedList::remove()
{
    const int row = m_grid->currentRow();
    if (row < 0 || row >= static_cast<int>(m_rows.size())) {
        m_words->setText(tr("Choose a line first."));
        return;
    }
    const SharedRow at = m_rows[static_cast<std::size_t>(row)];
    change(tr("Remove %1 %2").arg(said(sharedKindTitle(at.kind)), QString::fromStdString(at.name)),
           without(m_document.machine().shared, at));
}

void SharedList::saveWires()
{
    const WirePlan plan = machineWirePlan(m_document.machine());
    if (plan.conductors.empty()) {
        m_words->setText(tr("No axis has a motor and a drive yet: there is nothing to wire."));
        return;
    }
    const QString path =
        QFileDialog::getSaveFileName(this, tr("The wire list of the machine"), QStringLiteral("wires.csv"));
    if (path.isEmpty())
        return;
    const auto done = store::writeText(path.toStdString(), store::wireListCsv(plan));
    m_words->setText(done ? tr("%1 conductors of %2 devices stand in %3.")
                                .arg(plan.conductors.size())
                                .arg(plan.devices.size())
                                .arg(path)
                          : QString::fromStdString(messageFor(done.error())));
}

} // namespace ridge::app
