#include "driveacts.h"

#include "app/document/recording.h"
#include "app/theme/sentence.h"
#include "app/widgets/basics.h"

#include "platedialog.h"
#include "replacedialog.h"

#include <QDialog>
#include <QDialogButtonBox>
#include <QFormLayout>
#include <QInputDialog>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QVBoxLayout>

namespace ridge::app {

DriveActs::DriveActs(Document& document, Bench& bench, Say say, QWidget* parent)
    : QToolButton(parent)
    , m_document(document)
    , m_bench(bench)
    , m_say(std::move(say))
{
    setObjectName(QStringLiteral("set.acts"));
    setText(tr("Drive and parts"));
    setAccessibleName(text());
    setPopupMode(QToolButton::InstantPopup);
    auto* menu = new QMenu(this);
    const auto add = [&](const char* name, const QString& text, void (DriveActs::*act)()) {
        QAction* a = menu->addAction(text, this, act);
        a->setObjectName(QString::fromLatin1(name));
        return a;
    };
    m_name = add("set.name", tr("Write the axis name into the drive"), &DriveActs::writeName);
    m_logOn = add("set.logOn", tr("Log on …"), &DriveActs::logOn);
    m_plate = add("set.plate", tr("Name plate in the encoder …"), &DriveActs::readPlate);
    menu->addSeparator();
    m_firmware = add("set.firmware", tr("Firmware was changed …"), &DriveActs::firmware);
    m_replace = add("set.replace", tr("Replace a part …"), &DriveActs::replace);
    setMenu(menu);
}

void DriveActs::refresh()
{
    const LinkState link = m_bench.linkState();
    const bool idle = link.identified && !m_bench.runs().running();
    m_name->setEnabled(idle && m_bench.session().has({0x2010, 3}) && m_bench.refusal(Act::Write).isEmpty());
    m_logOn->setEnabled(idle && m_bench.session().logOn().has_value());
    m_plate->setEnabled(idle && m_bench.session().has({0x2035, 1}));
    m_firmware->setEnabled(m_document.person().named());
    m_replace->setEnabled(m_document.person().named());
}

void DriveActs::writeName()
{
    const Axis& axis = m_document.axis();
    const std::string name = axis.id + " " + axis.name;
    m_bench.session().writeName(name, [this, name](const Result<void>& r) {
        m_say(r ? tr("The drive answers as “%1”, read back.").arg(QString::fromStdString(m_bench.session().name()))
                : QString::fromStdString(messageFor(r.error())));
    });
}

/// The password goes into the drive and is kept nowhere, not even for a second try.
void DriveActs::logOn()
{
    QDialog dialog(window());
    dialog.setObjectName(QStringLiteral("logOnDialog"));
    dialog.setWindowTitle(tr("Log on to the drive"));
    auto* layout = new QVBoxLayout(&dialog);
    auto* form = new QFormLayout;
    const auto secret = [&](const char* name, const QString& label) {
        auto* edit = new QLineEdit;
        edit->setObjectName(QString::fromLatin1(name));
        edit->setAccessibleName(label);
        edit->setEchoMode(QLineEdit::Password);
        form->addRow(label, edit);
        return edit;
    };
    auto* password = secret("logOn.password", tr("Password"));
    auto* fresh = secret("logOn.new", tr("New password, to change it"));
    layout->addLayout(form);
    const auto in = m_bench.session().logOn();
    layout->addWidget(
        quiet(in && in->defaultPassword
                  ? tr("▲ The drive has its default password, which everybody knows: give it another one now. "
                       "Keep it where the operator of the machine finds it; this program keeps none.")
                  : tr("The window of the log-on closes by itself. This program keeps no password.")));
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
    layout->addWidget(buttons);
    connect(buttons, &QDialogButtonBox::accepted, &dialog, &QDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, &dialog, &QDialog::reject);
    if (dialog.exec() != QDialog::Accepted)
        return;
    bool good = true;
    const std::uint32_t typed = password->text().toUInt(&good);
    const QString next = fresh->text();
    bool nextGood = true;
    const std::uint32_t changed = next.isEmpty() ? 0 : next.toUInt(&nextGood);
    if (!good || !nextGood)
        return m_say(tr("The password of this drive is a number."));
    m_bench.session().logOnWith(typed, [this, next, changed](const Result<void>& r) {
        if (!r)
            return m_say(QString::fromStdString(messageFor(r.error())));
        if (next.isEmpty())
            return m_say(tr("Asked to log on; the level stands beside the drive's name."));
        m_bench.session().changePassword(changed, [this](const Result<void>& c) {
            m_say(c ? tr("Logged on, the password is another one now.")
                    : QString::fromStdString(messageFor(c.error())));
        });
    });
}

void DriveActs::readPlate()
{
    std::vector<ObjectKey> keys;
    for (std::uint8_t sub = 1; sub <= 9; ++sub)
        keys.push_back({0x2035, sub});
    const FactSource source = m_bench.source();
    m_bench.session().read(keys, [this, source](const Result<link::Values>& v) {
        if (!v)
            return m_say(QString::fromStdString(messageFor(v.error())));
        if (v->at({0x2035, 1}) == 0)
            return m_say(tr("The encoder of this motor keeps no name plate: type the data as printed (Match, Parts)."));
        const PlateRead plate{*v, "Motor " + std::to_string(v->at({0x2035, 9}))};
        m_document.append(source, plate);
        PlateDialog(m_document, plate, window()).exec();
    });
}

/// Firmware is updated elsewhere; what that fells is acknowledged by name.
void DriveActs::firmware()
{
    const DriveIdentity now = m_bench.linkState().identity;
    bool good = false;
    const QString words = QInputDialog::getText(
        window(), tr("Firmware was changed"),
        tr("Reading of the drive, safety configuration, proofs and last backup fall with it (S11, S28, S29, "
           "S31).\nFrom "
           "which version, to which, and by whose tool?"),
        QLineEdit::Normal, tr("from … to %1, by …").arg(QString::fromStdString(now.firmware)), &good);
    if (!good || words.trimmed().isEmpty())
        return;
    const Fact* before = nullptr;
    for (const Fact* f : m_document.evidence().every<DriveRead>())
        before = f;
    const Message no = recordTyped(m_document, FirmwareChanged{before ? before->identity.firmware : std::string("?"),
                                                               now.firmware.empty() ? std::string("?") : now.firmware,
                                                               words.trimmed().toStdString()});
    m_say(no.empty() ? tr("In the record. What it fells is open again.") : sentence(no));
}

void DriveActs::replace() { ReplaceDialog(m_document, window()).exec(); }

} // namespace ridge::app
