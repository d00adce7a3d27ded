#include "setspanel.h"

#include "app/theme/sentence.h"
#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "app/widgets/labels.h"
#include "core/stations/rawvalue.h"
#include "store/parameterfiles.h"
#include "store/report.h"

#include <QComboBox>
#include <QFile>
#include <QFileDialog>
#include <QFileInfo>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QSignalBlocker>
#include <QTableWidget>
#include <QVBoxLayout>

namespace ridge::app {

namespace {
constexpr qint64 mostSetBytes = 16LL << 20;

QString titleOf(const ParameterSet& s)
{
    if (!s.fact)
        return said(s.name);
    const QString origin = s.fact->origin == Origin::Simulated ? QObject::tr(" · practice") : QString();
    return QObject::tr("%1 · %2, %3%4")
        .arg(said(s.name), localTime(s.fact->time), QString::fromStdString(s.fact->person.name), origin);
}
} // namespace

SetsPanel::SetsPanel(Document& document, Bench& bench, Write write, QWidget* parent)
    : QWidget(parent)
    , m_document(document)
    , m_bench(bench)
    , m_write(std::move(write))
{
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(8, 6, 8, 4);
    layout->setSpacing(4);
    const auto box = [](const char* name, const QString& words) {
        auto* b = new QComboBox;
        b->setObjectName(QString::fromLatin1(name));
        b->setAccessibleName(words);
        b->setMinimumWidth(250);
        b->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        return b;
    };
    auto* pair = new QHBoxLayout;
    m_a = box("sets.a", tr("First set"));
    m_b = box("sets.b", tr("Second set"));
    m_count = quiet({});
    m_count->setObjectName(QStringLiteral("sets.count"));
    m_count->setWordWrap(false);
    pair->addWidget(m_a);
    pair->addWidget(new QLabel(tr("against")));
    pair->addWidget(m_b);
    pair->addWidget(m_count);
    pair->addStretch();
    layout->addLayout(pair);
    auto* acts = new QHBoxLayout;
    m_name = new QLineEdit;
    m_name->setObjectName(QStringLiteral("sets.name"));
    m_name->setAccessibleName(tr("Name of the set"));
    m_name->setPlaceholderText(tr("name"));
    m_name->setMaximumWidth(140);
    m_keep = button("sets.keep", tr("Keep the first as"));
    m_import = button("sets.import", tr("From file …"));
    m_csv = button("sets.csv", tr("As CSV …"));
    m_dcf = button("sets.dcf", tr("As DCF …"));
    m_back = button("sets.back", tr("Write the first into the drive"));
    m_backPicked = button("sets.backPicked", tr("Only the rows picked"));
    m_factory = button("sets.factory", tr("Factory state"));
    for (QWidget* w :
         std::initializer_list<QWidget*>{m_keep, m_name, m_import, m_csv, m_dcf, m_back, m_backPicked, m_factory})
        acts->addWidget(w);
    acts->addStretch();
    layout->addLayout(acts);
    m_table = listTable("differences", tr("Where the two sets differ"),
                        {tr("Object"), tr("Name"), tr("First"), tr("Second")});
    m_table->setSelectionMode(QAbstractItemView::ExtendedSelection);
    m_table->setWordWrap(false);
    m_table->setColumnWidth(0, 70);
    m_table->setColumnWidth(1, 280);
    m_table->setColumnWidth(2, 220);
    layout->addWidget(m_table, 1);
    m_words = quiet({});
    m_words->setObjectName(QStringLiteral("sets.words"));
    layout->addWidget(m_words);
    for (QComboBox* b : {m_a, m_b})
        connect(b, &QComboBox::currentIndexChanged, this, &SetsPanel::compare);
    connect(m_keep, &QPushButton::clicked, this, &SetsPanel::keep);
    connect(m_name, &QLineEdit::returnPressed, this, &SetsPanel::keep);
    connect(m_import, &QPushButton::clicked, this, [this] {
        const QString path =
            QFileDialog::getOpenFileName(this, tr("A set of values"), {}, tr("Sets (*.csv *.dcf *.txt);;All (*)"));
        if (!path.isEmpty())
            takeFile(path);
    });
    connect(m_csv, &QPushButton::clicked, this, [this] { exportSet(false); });
    connect(m_dcf, &QPushButton::clicked, this, [this] { exportSet(true); });
    connect(m_back, &QPushButton::clicked, this, [this] { writeBack(false); });
    connect(m_backPicked, &QPushButton::clicked, this, [this] { writeBack(true); });
    connect(m_factory, &QPushButton::clicked, this, &SetsPanel::factory);
}

void SetsPanel::say(const QString& words) { setLabel(*m_words, words); }

const ParameterSet* SetsPanel::chosen(const QComboBox& box) const
{
    const int at = box.currentIndex();
    return at >= 0 && at < static_cast<int>(m_sets.size()) ? &m_sets[static_cast<std::size_t>(at)] : nullptr;
}

void SetsPanel::refresh()
{
    if (!m_document.hasAxis())
        return;
    m_sets = parameterSets(m_document.evaluation().set, m_document.evidence());
    int usual = 0;
    for (QComboBox* box : {m_a, m_b}) {
        const QString before = box->currentText();
        const QSignalBlocker quietly(box);
        box->clear();
        for (const ParameterSet& s : m_sets)
            box->addItem(tr("%1 (%2)").arg(titleOf(s)).arg(s.values.size() + s.foreign.size()));
        const int same = box->findText(before);
        box->setCurrentIndex(same >= 0 ? same : usual);
        ++usual;
    }
    compare();
    const LinkState link = m_bench.linkState();
    const bool idle = link.identified && !m_bench.runs().running();
    m_factory->setEnabled(idle && m_bench.session().has({0x2300, 3}) && m_document.evaluation().set.memory.backup
                          && m_document.person().named());
    m_back->setEnabled(idle);
    m_backPicked->setEnabled(idle);
}

void SetsPanel::compare()
{
    const ParameterSet *a = chosen(*m_a), *b = chosen(*m_b);
    m_rows = a && b ? differences(*a, *b) : std::vector<SetDifference>{};
    m_table->setRowCount(static_cast<int>(m_rows.size()));
    const Axis& axis = m_document.axis();
    int row = 0;
    for (const SetDifference& d : m_rows) {
        const auto words = [&](const std::optional<std::int64_t>& v, const std::string& foreign) {
            return v                 ? sentence(rawAmount(axis, *d.key, *v))
                   : foreign.empty() ? QStringLiteral("–")
                                     : QString::fromStdString(foreign);
        };
        setCell(*m_table, row, 0, d.key ? QString::fromStdString(keyText(*d.key)) : tr("foreign"), theme().soft);
        setCell(*m_table, row, 1, d.key ? said(d.name) : QString::fromStdString(d.name));
        setCell(*m_table, row, 2, words(d.a, d.wordsA), {}, d.a ? QString::number(*d.a) : QString());
        setCell(*m_table, row, 3, words(d.b, d.wordsB), {}, d.b ? QString::number(*d.b) : QString());
        ++row;
    }
    setLabel(*m_count,
             m_rows.empty() ? tr("● no difference") : tr("%n difference(s)", nullptr, static_cast<int>(m_rows.size())));
}

void SetsPanel::keep()
{
    const ParameterSet* a = chosen(*m_a);
    if (!a || a->values.empty())
        return say(tr("The first set is empty: read the drive first."));
    if (!m_document.person().named())
        return say(QString::fromStdString(messageFor({"no-person", {}, {}, {}})));
    const QString name = m_name->text().trimmed();
    if (name.isEmpty())
        return say(tr("Give it a name, such as “before tuning”."));
    FactSource source = m_document.typedSource();
    if (a->fact) { // it stays what it was: practice values never become a backup
        source.origin = a->fact->origin;
        source.identity = a->fact->identity;
    } else if (const Fact* f = m_document.evaluation().set.memory.lastRead; f && a->name != "planned") {
        source.origin = f->origin;
        source.identity = f->identity;
    }
    if (m_document.append(source, SetKept{name.toStdString(), a->name, a->values, a->foreign})) {
        m_name->clear();
        say(tr("Kept under “%1”.").arg(name));
    }
    refresh();
}

void SetsPanel::takeFile(const QString& path)
{
    QFile file(path);
    if (!file.open(QIODevice::ReadOnly) || file.size() > mostSetBytes)
        return say(QString::fromStdString(messageFor({"file-missing", {}, path.toStdString(), {}})));
    const std::string text = file.readAll().toStdString();
    const QString name = QFileInfo(path).fileName();
    const bool dcf = name.endsWith(QLatin1String(".dcf"), Qt::CaseInsensitive);
    const auto read = dcf ? store::parseDcf(text) : store::parseSetCsv(text);
    if (!read)
        return say(tr("%1: %2").arg(name, QString::fromStdString(messageFor(read.error()))));
    QStringList refused;
    for (const Error& e : read->refused)
        refused += QString::fromStdString(e.actual);
    if (!m_document.person().named())
        return say(QString::fromStdString(messageFor({"no-person", {}, {}, {}})));
    m_document.append(m_document.typedSource(), SetKept{QFileInfo(path).completeBaseName().toStdString(),
                                                        name.toStdString(), read->values, read->foreign});
    refresh();
    for (std::size_t k = 0; k < m_sets.size(); ++k)
        if (m_sets[k].fact && m_sets[k].fact->as<SetKept>()
            && m_sets[k].fact->as<SetKept>()->from == name.toStdString()) {
            m_a->setCurrentIndex(static_cast<int>(k));
            m_b->setCurrentIndex(1);
            break;
        }
    say(tr("%1: %2 values taken, %3 foreign rows kept%4")
            .arg(name)
            .arg(read->values.size())
            .arg(read->foreign.size())
            .arg(refused.isEmpty() ? QStringLiteral(".") : tr("; refused: %1").arg(refused.join(QLatin1Char(' ')))));
}

void SetsPanel::exportSet(bool dcf)
{
    const ParameterSet* a = chosen(*m_a);
    if (!a || a->values.empty())
        return say(tr("The first set is empty."));
    const QString path = QFileDialog::getSaveFileName(
        this, tr("Where to"), dcf ? QStringLiteral("parameters.dcf") : QStringLiteral("parameters.csv"));
    if (path.isEmpty())
        return;
    const Axis& axis = m_document.axis();
    const DriveIdentity id = a->fact && a->fact->identity.known() ? a->fact->identity : m_bench.linkState().identity;
    const auto written =
        store::writeText(path.toStdString(),
                         dcf ? store::writeDcf({id.maker, id.type, id.serial, id.firmware, axis.id + " " + axis.name},
                                               a->values, a->foreign)
                             : store::writeSetCsv(axis, a->values, a->foreign));
    say(written ? tr("Written to %1.").arg(path) : QString::fromStdString(messageFor(written.error())));
}

void SetsPanel::writeBack(bool picked)
{
    const ParameterSet* a = chosen(*m_a);
    if (!a)
        return;
    if (const Message no = refusalOfSet(*a, m_bench.linkState().identity); !no.empty())
        return say(sentence(no));
    DriveValues values = writable(*a, m_bench.session().map());
    if (picked) {
        DriveValues some;
        for (const QModelIndex& index : m_table->selectionModel()->selectedRows())
            if (const auto& d = m_rows[static_cast<std::size_t>(index.row())]; d.key && values.contains(*d.key))
                some[*d.key] = values.at(*d.key);
        values = some;
    }
    if (values.empty())
        return say(picked ? tr("Pick rows first: with Ctrl several.")
                          : tr("Nothing of this set can be written into this drive."));
    say(tr("Writing %n value(s); when one is refused all get back what stood there.", nullptr,
           static_cast<int>(values.size())));
    m_write(values, [this](const QString& words) {
        say(words);
        refresh();
    });
}

/// Everything as it left the works, read and kept at once: what one's own values are compared with.
void SetsPanel::factory()
{
    if (const QString no = m_bench.refusal(Act::Write); !no.isEmpty())
        return say(no);
    AxisLink* link = &m_bench.here();
    const FactSource source = m_bench.source();
    link->runs.forgetStart();
    say(tr("Setting the drive to its factory state."));
    link->session.writeToSame({0x2300, 3}, 0x5AFE, [this, link, source](const Result<void>& r) {
        if (!r)
            return say(QString::fromStdString(messageFor(r.error())));
        link->session.readAll([this, source](const Result<link::Values>& v) {
            if (!v)
                return say(QString::fromStdString(messageFor(v.error())));
            m_document.append(source, DriveRead{*v});
            m_document.append(source, SetKept{std::string(factoryState), "read after it was set", *v, {}});
            say(tr(
                "The drive is in its factory state. Regional variants exist (50 or 60 Hz): look at what differs, then "
                "write the plan or a set again."));
            refresh();
        });
    });
}

} // namespace ridge::app
