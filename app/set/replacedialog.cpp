#include "replacedialog.h"

#include "app/document/recording.h"
#include "app/theme/sentence.h"
#include "app/widgets/basics.h"
#include "app/widgets/labels.h"
#include "core/stations/staleness.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

namespace ridge::app {

namespace {
constexpr std::array<const char*, 3> parts{"drive", "motor", "encoder"};

/// Steps that a replaced part fells, of those that are passed.
QStringList fallen(const Evaluation& e, int part)
{
    QStringList out;
    for (const StepStatus& s : e.steps) {
        const int n = s.step->number;
        const bool ofDrive = n >= 10 && n <= 31;
        const auto depends = dependsOn(n);
        const bool falls =
            part == 0 ? ofDrive : depends[static_cast<std::size_t>(part == 1 ? PlanPart::Motor : PlanPart::Feedback)];
        if (falls && s.state == StepState::Passed)
            out += QStringLiteral("%1 %2").arg(said(s.step->id), said(s.step->title));
    }
    return out;
}
} // namespace

ReplaceDialog::ReplaceDialog(Document& document, QWidget* parent)
    : QDialog(parent)
    , m_document(document)
{
    setObjectName(QStringLiteral("replaceDialog"));
    setWindowTitle(tr("Replace a part"));
    resize(580, 460);
    auto* layout = new QVBoxLayout(this);
    auto* form = new QFormLayout;
    m_part = new QComboBox;
    m_part->setObjectName(QStringLiteral("replace.part"));
    m_part->setAccessibleName(tr("Part"));
    m_part->addItems({tr("Drive"), tr("Motor"), tr("Encoder")});
    m_same = new QCheckBox(tr("the same type"));
    m_same->setObjectName(QStringLiteral("replace.same"));
    m_same->setChecked(true);
    const auto line = [&](const char* name, const QString& label, const QString& example) {
        auto* edit = new QLineEdit;
        edit->setObjectName(QString::fromLatin1(name));
        edit->setAccessibleName(label);
        edit->setPlaceholderText(example);
        form->addRow(label, edit);
        return edit;
    };
    form->addRow(tr("Part"), m_part);
    form->addRow(QString(), m_same);
    m_before = line("replace.before", tr("The old one"), tr("type and serial number"));
    m_after = line("replace.after", tr("The new one"), tr("type and serial number"));
    m_words = line("replace.words", tr("Why"), tr("what happened to it"));
    layout->addLayout(form);
    layout->addWidget(heading(tr("What falls")));
    m_falls = quiet({});
    m_falls->setObjectName(QStringLiteral("replace.falls"));
    layout->addWidget(m_falls);
    layout->addWidget(heading(tr("What carries over")));
    m_stays = quiet({});
    layout->addWidget(m_stays);
    layout->addStretch();
    m_said = quiet({});
    m_said->setObjectName(QStringLiteral("replace.said"));
    layout->addWidget(m_said);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
    buttons->button(QDialogButtonBox::Ok)->setText(tr("It is replaced"));
    buttons->button(QDialogButtonBox::Ok)->setObjectName(QStringLiteral("replace.done"));
    layout->addWidget(buttons);
    connect(buttons, &QDialogButtonBox::accepted, this, &ReplaceDialog::replace);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(m_part, &QComboBox::currentIndexChanged, this, &ReplaceDialog::refresh);
    connect(m_same, &QCheckBox::toggled, this, &ReplaceDialog::refresh);
    enterStays(*this);
    refresh();
}

void ReplaceDialog::refresh()
{
    const int part = m_part->currentIndex();
    const QStringList falls = fallen(m_document.evaluation(), part);
    setLabel(*m_falls, falls.isEmpty() ? tr("Nothing that is passed now.") : falls.join(QStringLiteral(" · ")));
    const bool same = m_same->isChecked();
    setLabel(*m_stays,
             part == 0
                 ? (same ? tr("The plan and every set. Connect the new drive, say that it replaces the old one, read "
                              "everything and keep it; then the old set is written to the new serial number. Expect "
                              "the direction to be reversed until it was looked at (common practice).")
                         : tr("The plan stays; sets of the other type are not written into this one. Choose the new "
                              "type in Match: its values follow anew."))
             : part == 1 ? (same ? tr("The plan and the gains. The saved angle of the poles is void.")
                                 : tr("Choose the new type in Match: motor data, gains and limits follow anew."))
                         : tr("The plan. The saved angle of the poles and the zero of the axis are void."));
}

void ReplaceDialog::replace()
{
    const auto text = [](const QLineEdit* e) { return e->text().trimmed().toStdString(); };
    if (text(m_after).empty() || text(m_words).empty()) {
        setLabel(*m_said, tr("Say which one is there now, and why the old one was taken out."));
        return;
    }
    const int part = m_part->currentIndex();
    const PartReplaced replaced{parts.at(static_cast<std::size_t>(part)), text(m_before), text(m_after), text(m_words),
                                m_same->isChecked()};
    if (const Message no = recordTyped(m_document, replaced); !no.empty()) {
        setLabel(*m_said, sentence(no));
        return;
    }
    if (part != 0 && m_document.axis().parameters.poleAngle)
        m_document.edit(tr("Forget the angle of the poles"), {}, [](Axis& a) {
            a.parameters.poleAngle.reset();
            a.parameters.hallForm.reset();
        });
    if (part == 2)
        (void)recordTyped(m_document, PositionLost{"the encoder was replaced"});
    accept();
}

} // namespace ridge::app
