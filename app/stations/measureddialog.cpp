#include "measureddialog.h"

#include "app/theme/sentence.h"
#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "app/widgets/figures.h"
#include "core/stations/measured.h"
#include "core/units/parse.h"

#include <QCheckBox>
#include <QDialogButtonBox>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>

namespace ridge::app {

namespace {
enum MeasuredColumn { Quantities, Planned, Measured, OffBy, When, NewValue, AdoptIt };
} // namespace

MeasuredDialog::MeasuredDialog(Document& document, QWidget* parent)
    : QDialog(parent)
    , m_document(document)
{
    setObjectName(QStringLiteral("load.measured"));
    setWindowTitle(tr("Measured beside planned"));
    auto* layout = new QVBoxLayout(this);
    layout->addWidget(
        quiet(tr("At the motor shaft, without payload. Type what a run-out, a pull or a traverse gave and "
                 "record it; adopting it into the plan is an act of its own.")));
    m_table =
        listTable("load.measured.rows", tr("Measured beside planned"),
                  {tr("Quantity"), tr("Planned"), tr("Measured"), tr("Off by"), tr("Of"), tr("New value"), QString()});
    m_table->setEditTriggers(QAbstractItemView::AllEditTriggers);
    layout->addWidget(m_table, 1);
    auto* row = new QHBoxLayout;
    row->addWidget(new QLabel(tr("How and with what")));
    m_how = new QLineEdit;
    m_how->setObjectName(QStringLiteral("load.measured.how"));
    m_how->setAccessibleName(tr("How and with what"));
    row->addWidget(m_how, 1);
    m_bare = new QCheckBox(tr("Bare motor"));
    m_bare->setObjectName(QStringLiteral("load.measured.bare"));
    row->addWidget(m_bare);
    auto* record = button("load.measured.record", tr("Record"));
    row->addWidget(record);
    layout->addLayout(row);
    m_words = quiet({});
    m_words->setObjectName(QStringLiteral("load.measured.words"));
    m_words->setWordWrap(true);
    layout->addWidget(m_words);
    auto* close = new QDialogButtonBox(QDialogButtonBox::Close);
    connect(close, &QDialogButtonBox::rejected, this, &QDialog::reject);
    layout->addWidget(close);
    enterStays(*this);
    connect(record, &QPushButton::clicked, this, &MeasuredDialog::record);
    resize(880, 330);
    fill();
}

void MeasuredDialog::fill()
{
    const auto rows = measuredRows(m_document.axis(), m_document.evaluation(), m_document.evidence());
    m_table->setRowCount(static_cast<int>(rows.size()));
    for (int r = 0; r < m_table->rowCount(); ++r) {
        const MeasuredRow& row = rows[static_cast<std::size_t>(r)];
        const auto value = [&](const std::optional<double>& x) { return x ? shown(*x, row.quantity, 4) : tr("–"); };
        const auto off = row.deviation();
        setCell(*m_table, r, Quantities, said(row.label), theme().soft);
        setCell(*m_table, r, Planned, value(row.planned));
        setCell(*m_table, r, Measured, value(row.measured) + (row.bare && row.measured ? tr(" (bare)") : QString()));
        setCell(*m_table, r, OffBy, off ? tr("%1 %").arg(*off * 100, 0, 'f', 1) : QString());
        setCell(*m_table, r, When,
                row.fact ? QString::fromStdString(row.fact->time.substr(0, 10) + " " + row.fact->person.name)
                         : QString(),
                theme().soft);
        setCell(*m_table, r, NewValue, {});
        for (int c = 0; c < AdoptIt; ++c) {
            auto* item = m_table->item(r, c);
            if (c == Planned || c == Measured || c == OffBy)
                item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            item->setFlags(c == NewValue ? item->flags() | Qt::ItemIsEditable : item->flags() & ~Qt::ItemIsEditable);
        }
        m_table->item(r, NewValue)->setToolTip(tr("With its unit, for instance 0.0012 kg·m²."));
        auto* adopt = button("load.measured.adopt", tr("Adopt"));
        adopt->setObjectName(QStringLiteral("load.measured.adopt.")
                             + QString::fromUtf8(row.key.data(), static_cast<qsizetype>(row.key.size())));
        adopt->setEnabled(row.measured && !row.bare);
        connect(adopt, &QPushButton::clicked, this, [this, r] { this->adopt(r); });
        m_table->setCellWidget(r, AdoptIt, adopt);
    }
    m_table->resizeColumnsToContents();
    m_table->horizontalHeader()->setStretchLastSection(false);
    m_table->setColumnWidth(AdoptIt, 90);
    m_table->horizontalHeader()->setSectionResizeMode(NewValue, QHeaderView::Stretch);
}

void MeasuredDialog::record()
{
    AxisMeasured m;
    m.how = m_how->text().trimmed().toStdString();
    m.bare = m_bare->isChecked();
    m.turning = m_document.axis().mechanism.rotary();
    const auto rows = measuredRows(m_document.axis(), m_document.evaluation(), m_document.evidence());
    constexpr std::array<std::optional<double> AxisMeasured::*, 5> into{&AxisMeasured::inertia, &AxisMeasured::friction,
                                                                        &AxisMeasured::gravity, &AxisMeasured::low,
                                                                        &AxisMeasured::high};
    for (std::size_t k = 0; k < rows.size(); ++k) {
        const std::string typed = m_table->item(static_cast<int>(k), NewValue)->text().trimmed().toStdString();
        if (typed.empty())
            continue;
        const auto value = parseQuantity(typed, rows[k].quantity, displayUnit(rows[k].quantity, unitSystem()));
        if (!value) {
            m_words->setText(
                QStringLiteral("■ %1: %2").arg(said(rows[k].label), QString::fromStdString(messageFor(value.error()))));
            return;
        }
        m.*into[k] = *value;
    }
    if (const auto problem = measuredProblem(m)) {
        m_words->setText(problem->subject == "how" ? tr("■ Say how and with what it was measured.")
                         : problem->code == "missing"
                             ? tr("■ Type at least one value.")
                             : QStringLiteral("■ ") + QString::fromStdString(messageFor(*problem)));
        return;
    }
    if (m_document.append(m_document.typedSource(), m)) {
        m_words->setText(tr("Recorded. The plan is as it was."));
        fill();
    } else {
        m_words->setText(tr("■ It could not be recorded; name the person at work in the menu first."));
    }
}

void MeasuredDialog::adopt(int r)
{
    const auto rows = measuredRows(m_document.axis(), m_document.evaluation(), m_document.evidence());
    const MeasuredRow& row = rows[static_cast<std::size_t>(r)];
    const auto axis = adopted(m_document.axis(), m_document.evaluation(), row);
    if (!axis) {
        m_words->setText(QStringLiteral("■ ") + QString::fromStdString(messageFor(axis.error())));
        return;
    }
    m_document.edit(tr("Adopt the measured value: %1 %2, was %3")
                        .arg(said(row.label), shown(*row.measured, row.quantity, 4),
                             row.planned ? shown(*row.planned, row.quantity, 4) : tr("not planned")),
                    {}, [&](Axis& a) { a = *axis; });
    m_words->setText(tr("Adopted; the value of before stands in the logbook."));
    fill();
}

} // namespace ridge::app
