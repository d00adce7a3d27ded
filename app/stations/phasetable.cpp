#include "phasetable.h"

#include "app/theme/sentence.h"
#include "core/stations/phases.h"
#include "core/units/parse.h"
#include "core/units/print.h"

#include "station.h"

#include <QApplication>
#include <QClipboard>
#include <QHeaderView>
#include <QKeyEvent>

#include <array>
#include <cmath>

namespace ridge::app {

namespace {
struct PhaseColumn {
    const char* head; ///< two lines; the unit goes behind
    const char* tip;
    Quantity quantity; ///< of its values; with a linear motor torques are forces
    double CyclePhase::*value;
};
constexpr std::array phaseColumns{
    PhaseColumn{QT_TR_NOOP("Start\n"), QT_TR_NOOP("In the cycle"), Quantity::Time, &CyclePhase::start},
    PhaseColumn{QT_TR_NOOP("Takes\n"), QT_TR_NOOP("Duration of the phase"), Quantity::Time, &CyclePhase::duration},
    PhaseColumn{QT_TR_NOOP("Speed\n"), QT_TR_NOOP("Of the motor, at the start"), Quantity::AngularSpeed,
                &CyclePhase::motorSpeed0},
    PhaseColumn{QT_TR_NOOP("\nto"), QT_TR_NOOP("Speed of the motor at the end"), Quantity::AngularSpeed,
                &CyclePhase::motorSpeed1},
    PhaseColumn{QT_TR_NOOP("Torque\n"), QT_TR_NOOP("Of the motor with its rotor, at the start"), Quantity::Torque,
                &CyclePhase::torque0},
    PhaseColumn{QT_TR_NOOP("\nto"), QT_TR_NOOP("Torque at the end"), Quantity::Torque, &CyclePhase::torque1},
    PhaseColumn{QT_TR_NOOP("\nleast"), QT_TR_NOOP("Most negative torque inside the phase"), Quantity::Torque,
                &CyclePhase::torqueLeast},
    PhaseColumn{QT_TR_NOOP("\nmost"), QT_TR_NOOP("Largest torque inside the phase"), Quantity::Torque,
                &CyclePhase::torqueMost},
    PhaseColumn{QT_TR_NOOP("\nrms"), QT_TR_NOOP("Quadratic mean of the torque in the phase"), Quantity::Torque,
                &CyclePhase::torqueRms},
    PhaseColumn{QT_TR_NOOP("Power\nmost "), QT_TR_NOOP("At the motor's shaft"), Quantity::Power,
                &CyclePhase::powerMost},
    PhaseColumn{QT_TR_NOOP("\nleast"), QT_TR_NOOP("Most negative power: it comes back"), Quantity::Power,
                &CyclePhase::powerLeast},
    PhaseColumn{QT_TR_NOOP("Work\n"), QT_TR_NOOP("Shaft energy the motor gives"), Quantity::Energy,
                &CyclePhase::motoring},
    PhaseColumn{QT_TR_NOOP("Back\n"), QT_TR_NOOP("Shaft energy that comes back"), Quantity::Energy,
                &CyclePhase::regenerated}};

Quantity atMotor(Quantity q, bool linear)
{
    return !linear ? q : q == Quantity::Torque ? Quantity::Force : q == Quantity::AngularSpeed ? Quantity::Speed : q;
}
} // namespace

PhaseTable::PhaseTable(Document& document, QWidget* parent)
    : QTableWidget(parent)
    , m_document(document)
{
    setObjectName(QStringLiteral("phases"));
    setAccessibleName(tr("Torque, speed, power and energy of every phase of the cycle"));
    setEditTriggers(QAbstractItemView::NoEditTriggers);
    setColumnCount(static_cast<int>(phaseColumns.size()) + 1);
    verticalHeader()->hide();
    verticalHeader()->setDefaultSectionSize(22);
    horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
}

void PhaseTable::fill()
{
    const Axis& axis = m_document.axis();
    const auto phases = cyclePhases(axis, m_document.evaluation());
    const bool linear = axis.mechanism.is<LinearDrive>();
    QStringList heads{tr("No.")};
    std::array<double, phaseColumns.size()> scale{};
    for (std::size_t k = 0; k < phaseColumns.size(); ++k) {
        const std::string_view unit = displayUnit(atMotor(phaseColumns[k].quantity, linear), unitSystem());
        const auto read = parseUnit(unit);
        scale[k] = read ? read->scale : 1;
        QString head = QCoreApplication::translate("ridge::app::PhaseTable", phaseColumns[k].head);
        if (head.endsWith(QLatin1Char('\n')) || head.endsWith(QLatin1Char(' ')))
            head += QString::fromStdString(prettyUnit(unit));
        heads << head;
    }
    setHorizontalHeaderLabels(heads);
    for (std::size_t k = 0; k < phaseColumns.size(); ++k)
        horizontalHeaderItem(static_cast<int>(k) + 1)
            ->setToolTip(QCoreApplication::translate("ridge::app::PhaseTable", phaseColumns[k].tip));
    setRowCount(static_cast<int>(phases.size()));
    for (int r = 0; r < rowCount(); ++r) {
        const CyclePhase& p = phases[static_cast<std::size_t>(r)];
        setCell(*this, r, 0, QString::number(p.segment + 1));
        for (std::size_t k = 0; k < phaseColumns.size(); ++k) {
            const double value = p.*phaseColumns[k].value;
            setCell(*this, r, static_cast<int>(k) + 1,
                    QString::fromStdString(printNumber(std::abs(value) < 1e-9 ? 0 : value / scale[k],
                                                       std::abs(value / scale[k]) < 0.1 ? 3 : 4)));
            item(r, static_cast<int>(k) + 1)->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
        }
    }
}

void PhaseTable::keyPressEvent(QKeyEvent* event)
{
    if (!event->matches(QKeySequence::Copy)) {
        QTableWidget::keyPressEvent(event);
        return;
    }
    QString text;
    for (const QTableWidgetSelectionRange& range : selectedRanges())
        for (int r = range.topRow(); r <= range.bottomRow(); ++r)
            for (int c = range.leftColumn(); c <= range.rightColumn(); ++c)
                text += item(r, c)->text() + (c < range.rightColumn() ? QLatin1Char('\t') : QLatin1Char('\n'));
    QApplication::clipboard()->setText(text);
}

} // namespace ridge::app
