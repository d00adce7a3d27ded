#include "phasetable.h"

#include "app/widgets/figures.h"
#include "core/stations/phases.h"

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
    const char* head;
    const char* tip;
    Quantity quantity; ///< of its values; with a linear motor torques are forces
    double CyclePhase::*value;
};
constexpr std::array phaseColumns{
    PhaseColumn{QT_TR_NOOP("Start"), QT_TR_NOOP("In the cycle"), Quantity::Time, &CyclePhase::start},
    PhaseColumn{QT_TR_NOOP("Takes"), QT_TR_NOOP("Duration of the phase"), Quantity::Time, &CyclePhase::duration},
    PhaseColumn{QT_TR_NOOP("Speed, start"), QT_TR_NOOP("Of the motor"), Quantity::AngularSpeed,
                &CyclePhase::motorSpeed0},
    PhaseColumn{QT_TR_NOOP("end"), QT_TR_NOOP("Speed of the motor at the end"), Quantity::AngularSpeed,
                &CyclePhase::motorSpeed1},
    PhaseColumn{QT_TR_NOOP("Torque, start"), QT_TR_NOOP("Of the motor with its rotor"), Quantity::Torque,
                &CyclePhase::torque0},
    PhaseColumn{QT_TR_NOOP("end"), QT_TR_NOOP("Torque at the end"), Quantity::Torque, &CyclePhase::torque1},
    PhaseColumn{QT_TR_NOOP("least"), QT_TR_NOOP("Most negative torque inside the phase"), Quantity::Torque,
                &CyclePhase::torqueLeast},
    PhaseColumn{QT_TR_NOOP("most"), QT_TR_NOOP("Largest torque inside the phase"), Quantity::Torque,
                &CyclePhase::torqueMost},
    PhaseColumn{QT_TR_NOOP("rms"), QT_TR_NOOP("Quadratic mean of the torque in the phase"), Quantity::Torque,
                &CyclePhase::torqueRms},
    PhaseColumn{QT_TR_NOOP("Power, most"), QT_TR_NOOP("At the motor's shaft"), Quantity::Power, &CyclePhase::powerMost},
    PhaseColumn{QT_TR_NOOP("least"), QT_TR_NOOP("Most negative power: it comes back"), Quantity::Power,
                &CyclePhase::powerLeast},
    PhaseColumn{QT_TR_NOOP("Work"), QT_TR_NOOP("Shaft energy the motor gives"), Quantity::Energy,
                &CyclePhase::motoring},
    PhaseColumn{QT_TR_NOOP("Back"), QT_TR_NOOP("Shaft energy that comes back"), Quantity::Energy,
                &CyclePhase::regenerated}};
} // namespace

PhaseTable::PhaseTable(Document& document, QWidget* parent)
    : QTableWidget(parent)
    , m_document(document)
{
    setObjectName(QStringLiteral("phases"));
    setAccessibleName(tr("Torque, speed, power and energy of every phase of the cycle"));
    setEditTriggers(QAbstractItemView::NoEditTriggers);
    setColumnCount(static_cast<int>(phaseColumns.size()) + 1);
    QStringList heads{tr("Segm.")};
    for (const PhaseColumn& c : phaseColumns)
        heads << QCoreApplication::translate("ridge::app::PhaseTable", c.head);
    setHorizontalHeaderLabels(heads);
    for (std::size_t k = 0; k < phaseColumns.size(); ++k)
        horizontalHeaderItem(static_cast<int>(k) + 1)
            ->setToolTip(QCoreApplication::translate("ridge::app::PhaseTable", phaseColumns[k].tip));
    verticalHeader()->hide();
    verticalHeader()->setDefaultSectionSize(22);
    horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
}

void PhaseTable::fill()
{
    const Axis& axis = m_document.axis();
    const auto phases = cyclePhases(axis, m_document.evaluation());
    const bool linear = axis.mechanism.is<LinearDrive>();
    const auto at = [linear](Quantity q) {
        return !linear                       ? q
               : q == Quantity::Torque       ? Quantity::Force
               : q == Quantity::AngularSpeed ? Quantity::Speed
                                             : q;
    };
    setRowCount(static_cast<int>(phases.size()));
    for (int r = 0; r < rowCount(); ++r) {
        const CyclePhase& p = phases[static_cast<std::size_t>(r)];
        setCell(*this, r, 0, QString::number(p.segment + 1));
        for (std::size_t k = 0; k < phaseColumns.size(); ++k) {
            const double value = p.*phaseColumns[k].value;
            setCell(*this, r, static_cast<int>(k) + 1,
                    std::abs(value) < 1e-9 ? QStringLiteral("0") : shown(value, at(phaseColumns[k].quantity), 4));
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
