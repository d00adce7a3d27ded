#include "mapdialog.h"

#include "app/theme/sentence.h"
#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "app/widgets/choicedelegate.h"
#include "app/widgets/labels.h"
#include "core/objects/mapneeds.h"

#include <QComboBox>
#include <QDialogButtonBox>
#include <QFile>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLineEdit>
#include <QSaveFile>
#include <QTableWidget>

#include <algorithm>
#include <array>

namespace ridge::app {

namespace {
enum Column { Object, Name, Type, Register, Scale, Access, Unit, Columns };
constexpr std::array<std::string_view, 7> types{"U8", "I8", "U16", "I16", "U32", "I32", "TEXT"};
constexpr std::array<std::string_view, 3> accesses{"r", "rw", "w"};
constexpr qint64 largestMap = 4 << 20; ///< bytes of a file that is taken for a map
} // namespace

MapDialog::MapDialog(const std::string& map, QWidget* parent)
    : QDialog(parent)
    , m_taken(map)
{
    setObjectName(QStringLiteral("map"));
    setWindowTitle(tr("Register map of this type of drive"));
    auto* layout = new QVBoxLayout(this);
    layout->addWidget(
        quiet(tr("Which object stands in which register, of what type and scale, from the drive's own sheet. "
                 "Leave out what it does not have: exactly that is closed.")));
    layout->addLayout(headRow());
    layout->addLayout(tablePart(), 1);
    m_words = new QLabel;
    m_words->setObjectName(QStringLiteral("map.words"));
    m_words->setWordWrap(true);
    m_words->setTextFormat(Qt::PlainText);
    layout->addWidget(m_words);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Cancel);
    m_use = button("map.use", tr("Use for this axis"));
    auto* ours = button("map.ours", tr("Use the one that ships"));
    buttons->addButton(m_use, QDialogButtonBox::ActionRole);
    buttons->addButton(ours, QDialogButtonBox::ActionRole);
    connect(m_use, &QPushButton::clicked, this, [this] {
        m_taken = m_map ? m_map->write() : std::string();
        accept();
    });
    connect(ours, &QPushButton::clicked, this, [this] {
        m_taken.clear();
        accept();
    });
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    layout->addWidget(buttons);
    enterStays(*this);
    resize(940, 600);
    const auto own = ObjectDictionary::parse(map);
    showMap(own ? *own : ObjectDictionary::shipped());
    if (!own && !map.empty())
        say(tr("■ The map of this axis cannot be read (%1); the one that ships is shown.")
                .arg(QString::fromStdString(own.error().actual)));
}

QLayout* MapDialog::headRow()
{
    auto* row = new QHBoxLayout;
    const auto line = [&](const char* name, const QString& label, const QString& tip) {
        auto* edit = new QLineEdit;
        edit->setObjectName(QString::fromLatin1(name));
        edit->setAccessibleName(label);
        edit->setToolTip(tip);
        row->addWidget(quiet(label));
        row->addWidget(edit, 1);
        connect(edit, &QLineEdit::textEdited, this, &MapDialog::judge);
        return edit;
    };
    m_name = line("map.name", tr("Type of drive"), tr("A name for this map."));
    m_maker = line("map.maker", tr("maker says"), tr("Part of what the drive says as its maker; empty: any."));
    m_type = line("map.type", tr("type says"), tr("Part of what the drive says as its type; empty: any."));
    m_order = new QComboBox;
    m_order->setObjectName(QStringLiteral("map.order"));
    m_order->setAccessibleName(tr("Word order of 32-bit values"));
    m_order->addItems({tr("high word first"), tr("low word first")});
    row->addWidget(m_order);
    connect(m_order, &QComboBox::currentIndexChanged, this, &MapDialog::judge);
    return row;
}

QLayout* MapDialog::tablePart()
{
    auto* part = new QHBoxLayout;
    auto* left = new QVBoxLayout;
    m_table = listTable("map.table", tr("Objects of the drive"),
                        {tr("Object"), tr("Name"), tr("Type"), tr("Register"), tr("Scale"), tr("Access"), tr("Unit")});
    m_table->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed
                             | QAbstractItemView::AnyKeyPressed);
    m_table->setItemDelegate(new ChoiceDelegate(
        [](const QModelIndex& index) -> std::span<const std::string_view> {
            if (index.column() == Type)
                return types;
            if (index.column() == Access)
                return accesses;
            return {};
        },
        this));
    const int widths[] = {64, 150, 50, 62, 56, 50};
    for (int c = 0; c < Unit; ++c)
        m_table->setColumnWidth(c, widths[c]);
    m_table->horizontalHeaderItem(Scale)->setToolTip(
        tr("What stands on the wire is the value times this, such as 1000 or 1/10."));
    left->addWidget(m_table, 1);
    auto* row = new QHBoxLayout;
    auto* add = button("map.add", tr("Add an object"));
    m_remove = button("map.remove", tr("Remove"));
    auto* file = button("map.open", tr("Open …"));
    auto* example = button("map.example", tr("Example"));
    auto* all = button("map.all", tr("Start from ours"));
    m_export = button("map.export", tr("Export …"));
    for (QPushButton* b : {add, m_remove, file, example, all, m_export})
        row->addWidget(b);
    row->addStretch();
    left->addLayout(row);
    part->addLayout(left, 3);
    auto* right = new QVBoxLayout;
    right->addWidget(heading(tr("What this map closes")));
    m_closed =
        listTable("map.closed", tr("What this map closes, and what is done instead"), {tr("Closed"), tr("Instead")});
    m_closed->setColumnWidth(0, 150);
    m_closed->setWordWrap(true);
    right->addWidget(m_closed, 1);
    part->addLayout(right, 2);
    connect(m_table, &QTableWidget::itemChanged, this, [this](QTableWidgetItem* item) {
        if (m_filling)
            return;
        if (item->column() == Object) // what is known of an object is offered
            if (const auto key = parseKey(item->text().trimmed().toStdString()))
                if (const ObjectEntry* e = ObjectDictionary::shipped().find(*key);
                    e && cell(item->row(), Name).isEmpty()) {
                    ObjectEntry known = *e;
                    known.reg = static_cast<std::uint16_t>(cell(item->row(), Register).toInt());
                    showRow(item->row(), known);
                }
        judge();
    });
    connect(add, &QPushButton::clicked, this, &MapDialog::addRow);
    connect(m_remove, &QPushButton::clicked, this, &MapDialog::removeRow);
    connect(all, &QPushButton::clicked, this, [this] { showMap(ObjectDictionary::shipped()); });
    connect(example, &QPushButton::clicked, this, [this] { openFile(QStringLiteral(":/drives/example.json")); });
    connect(file, &QPushButton::clicked, this, [this] {
        const QString path = QFileDialog::getOpenFileName(this, tr("A register map"), {}, tr("Maps (*.json)"));
        if (!path.isEmpty())
            openFile(path);
    });
    connect(m_export, &QPushButton::clicked, this, [this] {
        const QString path =
            QFileDialog::getSaveFileName(this, tr("Export the map"), QStringLiteral("drive.json"), tr("Maps (*.json)"));
        if (!path.isEmpty())
            exportTo(path);
    });
    return part;
}

void MapDialog::openFile(const QString& path)
{
    QFile file(path);
    if (!file.open(QIODevice::ReadOnly)) {
        say(tr("■ %1 cannot be opened: %2").arg(path, file.errorString()));
        return;
    }
    if (file.size() > largestMap) {
        say(tr("■ %1 is no map: %2 bytes, and a map has at most %3.").arg(path).arg(file.size()).arg(largestMap));
        return;
    }
    const QByteArray text = file.readAll();
    const auto map = ObjectDictionary::parse(std::string_view(text.constData(), static_cast<std::size_t>(text.size())));
    if (!map) {
        say(tr("■ %1 is no map that can be used: %2").arg(path, QString::fromStdString(map.error().actual)));
        return;
    }
    showMap(*map);
}

void MapDialog::exportTo(const QString& path)
{
    if (!m_map)
        return;
    QSaveFile file(path);
    const std::string text = m_map->write();
    const auto size = static_cast<qint64>(text.size());
    if (!file.open(QIODevice::WriteOnly) || file.write(text.data(), size) != size || !file.commit())
        say(tr("■ %1 cannot be written: %2").arg(path, file.errorString()));
    else
        say(tr("The map is in %1.").arg(path));
}

void MapDialog::showMap(const ObjectDictionary& map)
{
    m_filling = true;
    m_entries.assign(map.entries().begin(), map.entries().end());
    m_name->setText(QString::fromStdString(map.head().name));
    m_name->setCursorPosition(0);
    m_maker->setText(QString::fromStdString(map.head().maker));
    m_type->setText(QString::fromStdString(map.head().type));
    m_order->setCurrentIndex(map.highFirst() ? 0 : 1);
    m_table->setRowCount(static_cast<int>(m_entries.size()));
    int row = 0;
    for (const ObjectEntry& e : m_entries)
        showRow(row++, e);
    m_filling = false;
    judge();
}

void MapDialog::showRow(int row, const ObjectEntry& e)
{
    const bool was = std::exchange(m_filling, true);
    const auto put = [&](int column, const QString& text) {
        setCell(*m_table, row, column, text);
        if (column == Register || column == Scale)
            m_table->item(row, column)->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    };
    put(Object, QString::fromStdString(keyText(e.key)));
    put(Name, QString::fromStdString(e.name));
    put(Type, QString::fromUtf8(types[static_cast<std::size_t>(e.type)].data()));
    put(Register, QString::number(e.reg));
    put(Scale, e.scaleDown == 1 ? QString::number(e.scaleUp) : QStringLiteral("%1/%2").arg(e.scaleUp).arg(e.scaleDown));
    put(Access, QStringLiteral("%1%2").arg(e.readable ? QLatin1String("r") : QLatin1String(),
                                           e.writable ? QLatin1String("w") : QLatin1String()));
    put(Unit, QString::fromStdString(e.unit));
    m_filling = was;
}

void MapDialog::addRow()
{
    const int row = m_table->rowCount();
    m_filling = true;
    m_table->setRowCount(row + 1);
    for (int c = 0; c < Columns; ++c)
        setCell(*m_table, row, c, c == Scale ? QStringLiteral("1") : c == Access ? QStringLiteral("r") : QString());
    m_filling = false;
    judge();
    m_table->setCurrentCell(row, Object);
    m_table->setFocus();
}

void MapDialog::removeRow()
{
    const int row = m_table->currentRow();
    if (row < 0)
        return;
    m_table->removeRow(row);
    judge();
}

QString MapDialog::cell(int row, int column) const
{
    const QTableWidgetItem* item = m_table->item(row, column);
    return item ? item->text().trimmed() : QString();
}

std::optional<ObjectEntry> MapDialog::entryOf(int row, QString* wrong) const
{
    const auto key = parseKey(cell(row, Object).toStdString());
    const auto type = std::ranges::find(types, cell(row, Type).toStdString());
    bool number = false;
    const int reg = cell(row, Register).toInt(&number);
    const QStringList scale = cell(row, Scale).split(QLatin1Char('/'));
    bool up = false, down = true;
    const qint64 over = scale.first().toLongLong(&up), under = scale.size() > 1 ? scale.last().toLongLong(&down) : 1;
    if (!key || !cell(row, Object).contains(QLatin1Char(':')))
        *wrong = tr("“%1” is no object; index and subindex such as 6064:0").arg(cell(row, Object));
    else if (type == types.end())
        *wrong = tr("“%1” is no type; U8, I8, U16, I16, U32, I32 or TEXT").arg(cell(row, Type));
    else if (!number || reg < 0 || reg > 65535)
        *wrong = tr("“%1” is no register; 0 to 65535").arg(cell(row, Register));
    else if (!up || !down || scale.size() > 2 || over < 1 || under < 1)
        *wrong = tr("“%1” is no scale; a whole number or a fraction such as 1/10").arg(cell(row, Scale));
    else if (std::ranges::find(accesses, cell(row, Access).toStdString()) == accesses.end())
        *wrong = tr("“%1” is no access; r, rw or w").arg(cell(row, Access));
    if (!wrong->isEmpty())
        return {};
    ObjectEntry e;
    const ObjectEntry* known = ObjectDictionary::shipped().find(*key);
    if (const auto before = std::ranges::find(m_entries, *key, &ObjectEntry::key); before != m_entries.end())
        known = &*before;
    if (known) { // group, and whether it acts after the supply was off, are not in the table
        e.group = known->group;
        e.powerCycle = known->powerCycle;
    }
    e.key = *key;
    e.name = cell(row, Name).toStdString();
    e.type = static_cast<ObjectType>(type - types.begin());
    e.reg = static_cast<std::uint16_t>(reg);
    e.scaleUp = over;
    e.scaleDown = under;
    e.readable = cell(row, Access).contains(QLatin1Char('r'));
    e.writable = cell(row, Access).contains(QLatin1Char('w'));
    e.unit = cell(row, Unit).toStdString();
    return e;
}

void MapDialog::judge()
{
    if (m_filling)
        return;
    m_filling = true;
    std::vector<ObjectEntry> entries;
    QStringList wrongs;
    const auto mark = [&](int row, const QString& wrong) {
        QTableWidgetItem* item = m_table->item(row, Object);
        item->setForeground(wrong.isEmpty() ? theme().ink : theme().fail);
        item->setToolTip(wrong);
        if (!wrong.isEmpty())
            wrongs += tr("line %1: %2").arg(row + 1).arg(wrong);
    };
    for (int row = 0; row < m_table->rowCount(); ++row) {
        QString wrong;
        if (auto e = entryOf(row, &wrong))
            entries.push_back(std::move(*e));
        mark(row, wrong);
    }
    if (wrongs.isEmpty())
        for (const MapProblem& p : mapProblems(entries)) {
            const auto at = std::ranges::find(entries, p.key, &ObjectEntry::key) - entries.begin();
            mark(static_cast<int>(at), QString::fromStdString(p.words));
        }
    m_map.reset();
    if (wrongs.isEmpty())
        if (auto map = ObjectDictionary::of(
                entries, {m_name->text().trimmed().toStdString(), m_maker->text().trimmed().toStdString(),
                          m_type->text().trimmed().toStdString(), m_order->currentIndex() == 0}))
            m_map = std::move(*map);
    m_use->setEnabled(m_map.has_value());
    m_export->setEnabled(m_map.has_value());
    const auto closed = m_map ? closedBy(*m_map) : std::vector<ClosedFeature>{};
    m_closed->setRowCount(static_cast<int>(closed.size()));
    int row = 0;
    for (const ClosedFeature& c : closed) {
        QStringList objects;
        for (const ObjectKey key : c.missing)
            objects += QString::fromStdString(keyText(key));
        const QString tip = tr("Without %1").arg(objects.join(QStringLiteral(", ")));
        setCell(*m_closed, row, 0, sentence(c.words), {}, tip);
        setCell(*m_closed, row, 1, sentence(c.instead), theme().soft, tip);
        ++row;
    }
    m_closed->resizeRowsToContents();
    say(!wrongs.isEmpty() ? QStringLiteral("■ ") + wrongs.mid(0, 3).join(QStringLiteral("; "))
        : closed.empty()
            ? tr("● %1 objects; nothing is closed.").arg(entries.size())
            : tr("▲ %1 objects; uses of the drive that are closed: %2.").arg(entries.size()).arg(closed.size()));
    m_filling = false;
}

void MapDialog::say(const QString& words) { setLabel(*m_words, words); }

} // namespace ridge::app
