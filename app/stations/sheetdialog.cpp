#include "sheetdialog.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "app/widgets/forms.h"
#include "core/drives/validate.h"
#include "core/model/gaps.h"

#include <QDialogButtonBox>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

namespace ridge::app {

SheetDialog::SheetDialog(const Mechanism& mechanism, QWidget* parent)
    : QDialog(parent)
{
    setObjectName(QStringLiteral("match.sheet"));
    setWindowTitle(tr("Motor from its plate or sheet"));
    if (mechanism.is<LinearDrive>())
        m_sheet.kind = SheetKind::Linear;
    auto* layout = new QVBoxLayout(this);
    layout->addWidget(quiet(tr("Enter what is printed and how it is printed; leave the rest empty. Of a linear motor N "
                               "stands for N·m, m for rad, kg for kg·m².")));
    FormTarget target;
    target.read = [this](const std::function<void(void*)>& look) { look(&m_sheet); };
    auto* form = new FieldForm(
        [&] {
            target.edit = [this](const QString&, const std::function<void(void*)>& change) {
                change(&m_sheet);
                judge();
            };
            return target;
        }(),
        QStringLiteral("sheet"), sheetFields(), 3);
    form->refresh();
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setWidget(form);
    layout->addWidget(scroll, 1);
    m_words = new QLabel;
    m_words->setObjectName(QStringLiteral("sheet.words"));
    m_words->setWordWrap(true);
    m_words->setTextFormat(Qt::PlainText);
    layout->addWidget(m_words);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Cancel);
    m_take = buttons->addButton(tr("Take this motor"), QDialogButtonBox::ActionRole); // never by Enter
    m_take->setObjectName(QStringLiteral("sheet.take"));
    connect(m_take, &QPushButton::clicked, this, &QDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    layout->addWidget(buttons);
    enterStays(*this);
    resize(std::min(940, form->sizeHint().width() + 50), std::min(620, form->sizeHint().height() + 170));
    judge();
}

void SheetDialog::judge()
{
    const auto motor = motorOfSheet(m_sheet);
    m_take->setEnabled(motor.has_value() && !m_sheet.name.empty());
    m_motor.reset();
    if (!motor) {
        const auto field = std::ranges::find(sheetFields(), motor.error().subject, &Field::key);
        m_words->setText(QStringLiteral("■ %1: %2")
                             .arg(field == sheetFields().end() ? QString() : said(field->label),
                                  QString::fromStdString(messageFor(motor.error()))));
        return;
    }
    m_motor = *motor;
    QStringList words;
    if (m_sheet.name.empty())
        words << tr("Give it a name.");
    QStringList gaps;
    for (const Field& f : motorFields())
        if (f.gap && !f.get(&*motor) && f.key != "frame" && f.key != "mass")
            gaps << said(f.label);
    if (!gaps.isEmpty())
        words << tr("Not on the plate, unknown from here on: %1.").arg(gaps.join(QStringLiteral(", ")));
    if (gapsIn(motorFields(), &*motor, {"torqueConstant", "resistance", "stallCurrent"}).empty())
        for (const ConsistencyRule& r : motorConsistency(*motor, {.ratedPower = m_sheet.ratedPower}))
            if (!r.good && std::isfinite(r.value)) {
                QString line = tr("▲ %1 is %2, usual is %3 to %4.")
                                   .arg(said(r.meaning))
                                   .arg(r.value, 0, 'g', 3)
                                   .arg(r.low)
                                   .arg(r.high);
                for (const std::string& reading : r.readings)
                    line += tr(" It would fit as %1.").arg(QString::fromStdString(reading));
                words << line;
            }
    m_words->setText(words.join(QLatin1Char('\n')));
}

void takeMotor(Axis& axis, const ServoMotor& motor)
{
    ServoParts& parts = motor.kind == MotorKind::Linear
                            ? static_cast<ServoParts&>(axis.actuator.become<LinearActuator>())
                            : axis.actuator.become<ServoActuator>();
    parts.motor = motor;
}

} // namespace ridge::app
