#include "instruments.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "core/units/parse.h"

#include <QComboBox>
#include <QDate>
#include <QSettings>
#include <QTableWidget>
#include <QVBoxLayout>

#include <algorithm>

namespace ridge::app {

namespace {
QLineEdit* entry(const char* name, const QString& label, const QString& text = {})
{
    auto* e = new QLineEdit(text);
    e->setObjectName(QString::fromLatin1(name));
    e->setAccessibleName(label);
    e->setPlaceholderText(label);
    return e;
}
std::string typed(const QLineEdit* e) { return e->text().trimmed().toStdString(); }
QString remembered(const char* key)
{
    return QSettings().value(QStringLiteral("instrument/") + QLatin1String(key)).toString();
}
} // namespace

InstrumentRow::InstrumentRow(Document& document, QWidget* parent)
    : QWidget(parent)
    , m_document(document)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(3);
    m_kept = new QComboBox;
    m_kept->setObjectName(QStringLiteral("step.instrument.kept"));
    m_kept->setAccessibleName(tr("Instruments of the machine"));
    m_kept->addItem(tr("measured with …"));
    for (const Instrument& i : instrumentsKept(document.facts()))
        m_kept->addItem(QStringLiteral("%1 %2").arg(QString::fromStdString(i.kind), QString::fromStdString(i.serial)));
    m_kept->setVisible(m_kept->count() > 1);
    column->addWidget(m_kept);
    auto* line = new QHBoxLayout;
    m_kind = entry("step.instrument.kind", tr("instrument"), remembered("kind"));
    m_serial = entry("step.instrument.serial", tr("serial no."), remembered("serial"));
    m_calibrated = entry("step.instrument.calibrated", tr("calibrated to"), remembered("calibrated"));
    for (QLineEdit* e : {m_kind, m_serial, m_calibrated})
        line->addWidget(e);
    column->addLayout(line);
    connect(m_kept, &QComboBox::activated, this, [this](int row) {
        const auto kept = instrumentsKept(m_document.facts());
        if (row < 1 || row > static_cast<int>(kept.size()))
            return;
        const Instrument& i = kept[static_cast<std::size_t>(row - 1)];
        m_kind->setText(QString::fromStdString(i.kind));
        m_serial->setText(QString::fromStdString(i.serial));
        m_calibrated->setText(QString::fromStdString(i.calibrated));
    });
}

Instrument InstrumentRow::instrument() const
{
    Instrument i{typed(m_kind), typed(m_serial), typed(m_calibrated)};
    const auto kept = instrumentsKept(m_document.facts());
    const auto same =
        std::ranges::find_if(kept, [&](const Instrument& k) { return k.kind == i.kind && k.serial == i.serial; });
    if (same != kept.end()) {
        i.rate = same->rate;
        if (i.calibrated.empty())
            i.calibrated = same->calibrated;
    }
    QSettings settings;
    settings.setValue(QStringLiteral("instrument/kind"), m_kind->text());
    settings.setValue(QStringLiteral("instrument/serial"), m_serial->text());
    settings.setValue(QStringLiteral("instrument/calibrated"), m_calibrated->text());
    return i;
}

InstrumentList::InstrumentList(Document& document, QWidget* parent)
    : QWidget(parent)
    , m_document(document)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 4, 0, 0);
    m_table =
        listTable("instruments", tr("Instruments"),
                  {tr("Instrument"), tr("Serial number"), tr("Calibrated to"), tr("Samples a second"), tr("Today")});
    column->addWidget(m_table, 1);
    auto* row = new QHBoxLayout;
    m_kind = entry("instrument.kind", tr("instrument"));
    m_serial = entry("instrument.serial", tr("serial number"));
    m_calibrated = entry("instrument.calibrated", tr("calibrated to, 2027-03-31"));
    m_rate = entry("instrument.rate", tr("samples a second, if any"));
    auto* add = button("instrument.keep", tr("Keep"));
    m_words = quiet({});
    m_words->setObjectName(QStringLiteral("instrument.words"));
    for (QWidget* w : {static_cast<QWidget*>(m_kind), static_cast<QWidget*>(m_serial),
                       static_cast<QWidget*>(m_calibrated), static_cast<QWidget*>(m_rate), static_cast<QWidget*>(add)})
        row->addWidget(w);
    row->addWidget(m_words, 1);
    column->addLayout(row);
    connect(add, &QPushButton::clicked, this, &InstrumentList::keep);
    connect(m_rate, &QLineEdit::returnPressed, this, &InstrumentList::keep);
    connect(m_table, &QTableWidget::currentCellChanged, this, [this](int at) {
        const auto kept = instrumentsKept(m_document.facts());
        if (at < 0 || at >= static_cast<int>(kept.size()))
            return;
        const Instrument& i = kept[static_cast<std::size_t>(at)]; // to be kept anew with another date
        m_kind->setText(QString::fromStdString(i.kind));
        m_serial->setText(QString::fromStdString(i.serial));
        m_calibrated->setText(QString::fromStdString(i.calibrated));
        m_rate->setText(i.rate > 0 ? QString::number(i.rate) : QString());
    });
}

void InstrumentList::refresh()
{
    const auto kept = instrumentsKept(m_document.facts());
    const std::string today = QDate::currentDate().toString(Qt::ISODate).toStdString();
    m_table->setRowCount(static_cast<int>(kept.size()));
    for (int r = 0; r < m_table->rowCount(); ++r) {
        const Instrument& i = kept[static_cast<std::size_t>(r)];
        const bool old = outOfDate(i, today);
        setCell(*m_table, r, 0, QString::fromStdString(i.kind));
        setCell(*m_table, r, 1, QString::fromStdString(i.serial));
        setCell(*m_table, r, 2, i.calibrated.empty() ? tr("not known") : QString::fromStdString(i.calibrated),
                theme().soft);
        setCell(*m_table, r, 3, i.rate > 0 ? QString::number(i.rate) : QStringLiteral("–"), theme().soft);
        setCell(*m_table, r, 4,
                old                    ? tr("▲ out of date: readings are on watch")
                : i.calibrated.empty() ? tr("not judged")
                                       : tr("in date"),
                old ? theme().watch : theme().soft);
    }
    for (const auto& [column, width] : {std::pair{0, 200}, {1, 150}, {2, 110}, {3, 130}})
        m_table->setColumnWidth(column, width);
}

void InstrumentList::keep()
{
    Instrument i{typed(m_kind), typed(m_serial), typed(m_calibrated)};
    if (!i.named()) {
        m_words->setText(tr("An instrument has its kind and its serial number."));
        return;
    }
    if (!i.calibrated.empty() && !QDate::fromString(m_calibrated->text().trimmed(), Qt::ISODate).isValid()) {
        m_words->setText(
            tr("“%1” is no date; write year-month-day, for example 2027-03-31.").arg(m_calibrated->text().trimmed()));
        return;
    }
    if (const QString rate = m_rate->text().trimmed(); !rate.isEmpty()) {
        const auto value = parseQuantity(rate.toStdString(), Quantity::Number);
        if (!value || !(*value > 0)) {
            m_words->setText(tr("“%1” is no rate; write samples a second, for example 100000.").arg(rate));
            return;
        }
        i.rate = *value;
    }
    if (!m_document.person().named()) {
        m_words->setText(QString::fromStdString(messageFor({"no-person", {}, {}, {}})));
        return;
    }
    if (!m_document.append(FactSource{}, InstrumentKept{i}))
        return;
    for (QLineEdit* e : {m_kind, m_serial, m_calibrated, m_rate})
        e->clear();
    m_words->clear();
    refresh();
}

} // namespace ridge::app
