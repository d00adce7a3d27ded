#include "platedialog.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "app/widgets/figures.h"

#include <QDialogButtonBox>
#include <QHeaderView>
#include <QTableWidget>
#include <QVBoxLayout>

#include <cmath>

namespace ridge::app {

namespace {
constexpr double differs = 0.02; ///< share from which a figure of the plate is another one, our choice
}

PlateDialog::PlateDialog(Document& document, const PlateRead& plate, QWidget* parent)
    : QDialog(parent)
    , m_document(document)
{
    setObjectName(QStringLiteral("plateDialog"));
    setWindowTitle(tr("Name plate in the encoder"));
    resize(620, 360);
    auto* layout = new QVBoxLayout(this);
    layout->addWidget(heading(QString::fromStdString(plate.motor)));
    const ServoMotor motor = document.axis().actuator.motor() ? *document.axis().actuator.motor() : ServoMotor{};
    const auto add = [&](std::uint8_t sub, const QString& name, double plan, double each, Quantity q,
                         std::function<void(ServoMotor&, double)> set) {
        if (const auto it = plate.values.find({0x2035, sub}); it != plate.values.end() && it->second > 0)
            m_rows.push_back({name, plan, static_cast<double>(it->second) * each, q, std::move(set)});
    };
    add(2, tr("Rated current, rms"), motor.ratedCurrent, 1e-3, Quantity::Current,
        [](ServoMotor& m, double v) { m.ratedCurrent = v; });
    add(3, tr("Rated torque"), motor.ratedTorque, 1e-3, Quantity::Torque,
        [](ServoMotor& m, double v) { m.ratedTorque = v; });
    add(4, tr("Pole pairs"), motor.polePairs, 1, Quantity::Count, [](ServoMotor& m, double v) { m.polePairs = v; });
    add(5, tr("Resistance, line to line"), motor.resistance, 1e-3, Quantity::Resistance,
        [](ServoMotor& m, double v) { m.resistance = v; });
    add(6, tr("Inductance, line to line"), motor.inductance, 1e-6, Quantity::Inductance,
        [](ServoMotor& m, double v) { m.inductance = v; });
    add(7, tr("Torque constant, per A rms"), motor.torqueConstant, 1e-6, Quantity::TorqueConstant,
        [](ServoMotor& m, double v) { m.torqueConstant = v; });
    add(8, tr("Counts per turn"), motor.countsPerTurn, 1, Quantity::Count,
        [](ServoMotor& m, double v) { m.countsPerTurn = v; });
    m_table =
        listTable("plate", tr("Plan and plate"), {tr("What"), tr("In the plan"), tr("On the plate"), tr("Take it")});
    m_table->setRowCount(static_cast<int>(m_rows.size()));
    m_table->setColumnWidth(0, 190);
    m_table->setColumnWidth(1, 130);
    m_table->setColumnWidth(2, 130);
    int row = 0;
    for (const Row& r : m_rows) {
        const bool other = std::abs(r.plate - r.plan) > differs * std::abs(r.plate);
        setCell(*m_table, row, 0, r.name);
        setCell(*m_table, row, 1, shown(r.plan, r.quantity));
        setCell(*m_table, row, 2, (other ? QStringLiteral("■ ") : QString()) + shown(r.plate, r.quantity),
                other ? theme().fail : theme().ink);
        setCell(*m_table, row, 3, {});
        QTableWidgetItem* take = m_table->item(row, 3);
        take->setFlags(take->flags() | Qt::ItemIsUserCheckable);
        take->setCheckState(Qt::Unchecked); // a difference is looked at before it is taken
        ++row;
    }
    layout->addWidget(m_table, 1);
    layout->addWidget(
        quiet(tr("The plate is the motor that is plugged in; the plan is the one that was sized. Where they "
                 "differ, find out which is wrong before one is taken over.")));
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
    buttons->button(QDialogButtonBox::Ok)->setText(tr("Take the rows ticked"));
    buttons->button(QDialogButtonBox::Ok)->setObjectName(QStringLiteral("plate.take"));
    layout->addWidget(buttons);
    connect(buttons, &QDialogButtonBox::accepted, this, &PlateDialog::take);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
}

void PlateDialog::take()
{
    m_document.edit(tr("Take figures of the name plate"), {}, [this](Axis& a) {
        ServoParts* parts = a.actuator.servo();
        for (std::size_t k = 0; parts && parts->motor && k < m_rows.size(); ++k)
            if (m_table->item(static_cast<int>(k), 3)->checkState() == Qt::Checked)
                m_rows[k].set(*parts->motor, m_rows[k].plate);
    });
    accept();
}

} // namespace ridge::app
