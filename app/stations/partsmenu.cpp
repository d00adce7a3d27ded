#include "partsmenu.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "app/widgets/figures.h"
#include "app/widgets/forms.h"
#include "core/drives/stepper.h"
#include "core/stations/candidates.h"

#include "sheetdialog.h"

#include <QDialog>
#include <QDialogButtonBox>
#include <QScrollArea>
#include <QVBoxLayout>

namespace ridge::app {

namespace {
QString tr(const char* text) { return QCoreApplication::translate("PartsMenu", text); }
} // namespace

/// A menu of parts; `take` puts the chosen one into the axis.
template <class T, class Take>
void PartsMenu::offer(QMenu& menu, const QString& title, const std::vector<T>& parts, Take take)
{
    QMenu* sub = menu.addMenu(title);
    for (const T& part : parts) {
        const QString name = QString::fromStdString(part.name);
        add(*sub, name, tr("Take %1").arg(name), [part, take](Axis& a) { take(a, part); });
    }
}

void PartsMenu::add(QMenu& menu, const QString& words, const QString& edit, const std::function<void(Axis&)>& change)
{
    menu.addAction(words, &m_window, [this, edit, change] { m_document.edit(edit, {}, change); });
}

void PartsMenu::form(const char* name, const QString& title, std::span<const Field> fields,
                     std::function<void*(Axis&)> find)
{
    QDialog dialog(&m_window);
    dialog.setObjectName(QString::fromLatin1(name));
    dialog.setWindowTitle(title);
    auto* layout = new QVBoxLayout(&dialog);
    layout->addWidget(quiet(tr("Entries act at once; what they say stands among the checks of this station.")));
    auto* fieldForm = new FieldForm(axisTarget(m_document, std::move(find)),
                                    QString::fromLatin1(name).section(QLatin1Char('.'), 1), fields, 3);
    fieldForm->refresh();
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setWidget(fieldForm);
    layout->addWidget(scroll, 1);
    auto* close = new QDialogButtonBox(QDialogButtonBox::Close);
    QObject::connect(close, &QDialogButtonBox::rejected, &dialog, &QDialog::reject);
    layout->addWidget(close);
    enterStays(dialog);
    dialog.resize(std::min(900, fieldForm->sizeHint().width() + 40),
                  std::min(600, fieldForm->sizeHint().height() + 110));
    dialog.exec();
}

void PartsMenu::resistors(QMenu& menu, const store::Catalogue& parts)
{
    QMenu* sub = menu.addMenu(tr("Brake resistor"));
    add(*sub, tr("Internal, of the drive"), tr("Use the internal resistor"), [](Axis& a) {
        a.actuator.servo()->resistor.reset();
        a.wiring.resistorWiring = ResistorWiring::Internal;
    });
    add(*sub, tr("None"), tr("Fit no brake resistor"), [](Axis& a) {
        a.actuator.servo()->resistor.reset();
        a.wiring.resistorWiring = ResistorWiring::None;
    });
    sub->addSeparator();
    for (const BrakeResistor& r : parts.resistors) {
        const QString name = QString::fromStdString(r.name);
        add(*sub, name, tr("Take %1").arg(name), [r](Axis& a) {
            a.actuator.servo()->resistor = r;
            a.wiring.resistorWiring = ResistorWiring::External;
        });
    }
}

void PartsMenu::ofServo(QMenu& menu, const store::Catalogue& parts)
{
    const Actuator& c = m_document.axis().actuator;
    resistors(menu, parts);
    offer(menu, tr("Feedback"), parts.encoders, [](Axis& a, const Encoder& e) { chooseEncoder(a, e); });
    offer(menu, tr("Feedback on the load"), parts.encoders, [](Axis& a, const Encoder& e) { chooseLoadEncoder(a, e); });
    offer(menu, tr("Holding brake"), parts.brakes, [](Axis& a, const HoldingBrake& b) { chooseBrake(a, b); });
    add(menu, c.withBrake() ? tr("Without the brake") : tr("With the brake of the motor"),
        tr("Fit or leave out the brake"), [](Axis& a) { a.actuator.servo()->withBrake = !a.actuator.withBrake(); });
    menu.addAction(tr("Mounting …"), &m_window, [this] {
        form("match.mounting", tr("Mounting of the motor"), mountingFields(),
             [](Axis& a) -> void* { return a.actuator.servo() ? &a.actuator.servo()->mounting : nullptr; });
    });
    menu.addSeparator();
    menu.addAction(tr("Measured torque table …"), &m_window, m_measured);
    if (!c.motor()->measured.empty())
        add(menu, tr("Compute the torque again"), tr("Compute the torque from the motor's data"),
            [](Axis& a) { a.actuator.servo()->motor->measured.clear(); });
}

void PartsMenu::ofStepper(QMenu& menu, const store::Catalogue& parts)
{
    offer(menu, tr("D.c. supply"), parts.supplies,
          [](Axis& a, const PowerSupply& s) { a.actuator.stepper()->stepping.bus = s.voltage; });
    offer(menu, tr("Feedback"), parts.encoders, [](Axis& a, const Encoder& e) { chooseEncoder(a, e); });
    offer(menu, tr("Holding brake"), parts.brakes, [](Axis& a, const HoldingBrake& b) { chooseBrake(a, b); });
    const StepperActuator& s = *m_document.axis().actuator.stepper();
    if (s.brake)
        add(menu, tr("Without the brake"), tr("Leave out the brake"),
            [](Axis& a) { a.actuator.stepper()->brake.reset(); });
    if (!s.motor || !s.drive)
        return;
    if (!s.drive->currentSettings.empty()) {
        QMenu* currents = menu.addMenu(tr("Current setting"));
        add(*currents, tr("The highest that fits"), tr("Take the highest current that fits"),
            [](Axis& a) { a.actuator.stepper()->stepping.currentSetting.reset(); });
        for (const double amps : s.drive->currentSettings)
            add(*currents, shown(amps, Quantity::Current), tr("Set %1").arg(shown(amps, Quantity::Current)),
                [amps](Axis& a) { a.actuator.stepper()->stepping.currentSetting = amps; });
    }
    const auto geometry = stepGeometry(static_cast<int>(s.motor->phases), s.motor->rotorTeeth);
    if (s.drive->stepSettings.empty() || !geometry)
        return;
    QMenu* steps = menu.addMenu(tr("Steps a turn"));
    for (const double n : s.drive->stepSettings)
        add(*steps, QString::number(n), tr("Set %1 steps a turn").arg(n),
            [micro = n / geometry->stepsPerTurn](Axis& a) { a.actuator.stepper()->stepping.microsteps = micro; });
}

void PartsMenu::plates(QMenu& menu)
{
    const bool linear = m_document.axis().mechanism.is<LinearDrive>();
    menu.addAction(tr("Motor from its plate or sheet …"), &m_window, [this] {
        SheetDialog dialog(m_document.axis().mechanism, &m_window);
        if (dialog.exec() != QDialog::Accepted || !dialog.motor())
            return;
        const ServoMotor motor = *dialog.motor();
        m_document.edit(tr("Take motor %1 from its plate").arg(QString::fromStdString(motor.name)), {},
                        [&](Axis& a) { takeMotor(a, motor); });
    });
    add(menu, tr("Motor without a plate"), tr("Take a motor without a plate"), [linear](Axis& a) {
        ServoMotor m;
        m.name = "motor without a plate";
        m.polePairs = 0;
        m.encoder.clear();
        if (linear)
            m.kind = MotorKind::Linear;
        takeMotor(a, m);
    });
    add(menu, tr("Drive without a plate"), tr("Take a drive without a plate"), [linear](Axis& a) {
        ServoDrive d;
        d.name = "drive without a plate";
        d.switchingFrequency = d.maxOutputFrequency = 0;
        ServoParts& parts =
            linear ? static_cast<ServoParts&>(a.actuator.become<LinearActuator>()) : a.actuator.become<ServoActuator>();
        parts.drive = d;
    });
}

void PartsMenu::data(QMenu& menu)
{
    const Actuator& c = m_document.axis().actuator;
    const auto entry = [&](bool there, const QString& words, const char* name, std::span<const Field> fields,
                           const std::function<void*(Axis&)>& find) {
        if (there)
            menu.addAction(words + QStringLiteral(" …"), &m_window,
                           [this, words, name, fields, find] { form(name, words, fields, find); });
    };
    const auto in = [](auto get) {
        return [get](Axis& a) -> void* {
            auto* part = get(a.actuator);
            return part && *part ? &**part : nullptr;
        };
    };
    entry(c.motor() != nullptr, tr("Data of the motor"), "match.motor", motorFields(),
          in([](Actuator& a) { return a.servo() ? &a.servo()->motor : nullptr; }));
    entry(c.drive() != nullptr, tr("Data of the drive"), "match.drive", driveFields(),
          in([](Actuator& a) { return a.servo() ? &a.servo()->drive : nullptr; }));
    entry(c.stepperMotor() != nullptr, tr("Data of the motor"), "match.stepper", stepperMotorFields(),
          in([](Actuator& a) { return a.stepper() ? &a.stepper()->motor : nullptr; }));
    entry(c.stepperDrive() != nullptr, tr("Data of the drive"), "match.stepperDrive", stepperDriveFields(),
          in([](Actuator& a) { return a.stepper() ? &a.stepper()->drive : nullptr; }));
    entry(c.drive() != nullptr, tr("Supply of the drive"), "match.supply", supplyPlanFields(),
          [](Axis& a) -> void* { return &a.supply; });
    entry(c.drive() || c.stepperDrive(), tr("Signals"), "match.signals", signalFields(),
          [](Axis& a) -> void* { return &a.io; });
}

void PartsMenu::fill(QMenu& menu, const store::Catalogue& parts)
{
    const Actuator& c = m_document.axis().actuator;
    if (c.motor())
        ofServo(menu, parts);
    if (c.stepper())
        ofStepper(menu, parts);
    menu.addSeparator();
    data(menu);
    menu.addSeparator();
    plates(menu);
}

} // namespace ridge::app
