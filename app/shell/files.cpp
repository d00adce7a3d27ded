#include "app/theme/sentence.h"
#include "app/widgets/waiting.h"
#include "core/model/patterns.h"
#include "store/machinejson.h"
#include "store/report.h"

#include "mainwindow.h"

#include <QAction>
#include <QFile>
#include <QFileDialog>
#include <QFileInfo>
#include <QInputDialog>
#include <QMenu>
#include <QMessageBox>
#include <QSettings>
#include <QTimer>

namespace ridge::app {

QString MainWindow::newMachine(const QString& path, const QString& name, const std::string& pattern)
{
    Machine machine;
    machine.name = name.toStdString();
    if (auto axis = axisFromPattern(pattern); axis && !pattern.empty()) {
        axis->id = "A1";
        axis->name = tr("Axis 1").toStdString();
        machine.axes.push_back(std::move(*axis));
    }
    if (!mayLeaveFile())
        return tr("The machine that is open stays open.");
    m_bench.leave(4000);
    if (QString wrong = m_document.createAt(path, machine); !wrong.isEmpty())
        return wrong;
    rememberRecent(path);
    m_stack->setCurrentIndex(machineView);
    refresh();
    return {};
}

void MainWindow::askNewMachine()
{
    QString path = QFileDialog::getSaveFileName(this, tr("A new machine"), QStringLiteral("machine.vridge"),
                                                tr("Machines (*.vridge)"));
    if (path.isEmpty())
        return;
    if (!path.endsWith(QLatin1String(".vridge")))
        path += QStringLiteral(".vridge");
    if (const QString wrong = newMachine(path, QFileInfo(path).completeBaseName(), {}); !wrong.isEmpty())
        say(wrong);
}

bool MainWindow::askCopy()
{
    const QString path = QFileDialog::getSaveFileName(
        this, tr("Save a copy elsewhere"), QFileInfo(m_document.path()).fileName(), tr("Machines (*.vridge)"));
    if (path.isEmpty())
        return false;
    const QString wrong = m_document.copyTo(path);
    say(wrong.isEmpty() ? tr("A copy stands in %1; you go on in this file.").arg(path) : wrong);
    return wrong.isEmpty();
}

bool MainWindow::mayLeaveFile()
{
    while (!m_document.writeWaiting()) {
        QMessageBox box(QMessageBox::NoIcon, tr("Not in the file"),
                        QStringLiteral("▲ ") + tr("What was edited last is not in the file.") + QStringLiteral("\n\n")
                            + m_document.unwritten(),
                        QMessageBox::NoButton, this);
        box.setObjectName(QStringLiteral("unwritten"));
        box.addButton(tr("Try again"), QMessageBox::AcceptRole);
        const auto* copy = box.addButton(tr("Save a copy elsewhere …"), QMessageBox::ActionRole);
        const auto* lose = box.addButton(tr("Lose these edits"), QMessageBox::DestructiveRole);
        auto* stay = box.addButton(tr("Stay"), QMessageBox::RejectRole);
        box.setDefaultButton(stay);
        box.exec();
        if (box.clickedButton() == lose) {
            m_document.dropWaiting();
            return true;
        }
        if (box.clickedButton() == stay || !box.clickedButton())
            return false;
        if (box.clickedButton() == copy && askCopy())
            return true;
    }
    return true;
}

void MainWindow::openVersion(const QString& name)
{
    const auto machine = m_document.version(name.toStdString());
    if (!machine)
        return;
    auto* window = new MainWindow;
    window->setAttribute(Qt::WA_DeleteOnClose);
    window->document().showOnly(*machine,
                                tr("Version “%1” of %2, opened to be read. It is taken back on the machine page.")
                                    .arg(name, QFileInfo(m_document.path()).fileName()));
    window->show();
    window->goTo(0);
}

void MainWindow::exportJson()
{
    const QString path = QFileDialog::getSaveFileName(this, tr("Export the machine"), QStringLiteral("machine.json"));
    if (path.isEmpty())
        return;
    if (const auto done = store::writeText(path.toStdString(), store::writeMachine(m_document.machine())); !done)
        say(QString::fromStdString(messageFor(done.error())));
}

void MainWindow::keepVersion()
{
    bool named = false;
    const QString name =
        QInputDialog::getText(this, tr("Keep a version"), tr("Name of this state, for example “before the gearbox”"),
                              QLineEdit::Normal, {}, &named);
    if (!named || name.trimmed().isEmpty())
        return;
    if (const QString wrong = m_document.keepVersion(name.trimmed()); !wrong.isEmpty())
        say(wrong);
}

void MainWindow::addParts(const QString& path)
{
    QString kind = QStringLiteral("motors");
    if (path.endsWith(QLatin1String(".csv"), Qt::CaseInsensitive)) { // a table does not say what it holds
        bool chosen = false;
        kind = QInputDialog::getItem(this, tr("Parts"), tr("What does %1 hold?").arg(QFileInfo(path).fileName()),
                                     {QStringLiteral("motors"), QStringLiteral("drives"), QStringLiteral("steppers"),
                                      QStringLiteral("stepper-drives"), QStringLiteral("gearboxes"),
                                      QStringLiteral("resistors"), QStringLiteral("brakes"), QStringLiteral("encoders"),
                                      QStringLiteral("supplies")},
                                     0, false, &chosen);
        if (!chosen)
            return;
    }
    bool good = false;
    const auto read = whileWaiting(*this, tr("Reading %1 …").arg(QFileInfo(path).fileName()),
                                   [path, kind](const std::stop_token&) { return Parts::read(path, kind); });
    if (!read) {
        say(QString::fromStdString(messageFor(read.error())));
        return;
    }
    const QStringList words = m_document.parts().add(*read, QFileInfo(path).fileName(), good);
    say(words.size() > 1 ? tr("%1 %2 and %3 more").arg(words[0], words[1]).arg(words.size() - 2) : words[0]);
    if (words.size() > 1) // every refusal with its place, at the right where workings stand
        m_margins->showHelp(words[0], words.mid(1, 200).join(QLatin1Char('\n')));
}

bool MainWindow::openPath(const QString& path)
{
    if (!mayLeaveFile())
        return false;
    QString wrong;
    if (path.endsWith(QLatin1String(".json"))) {
        QFile file(path);
        if (!file.open(QIODevice::ReadOnly) || file.size() > 64 * 1024 * 1024) {
            say(tr("The file %1 cannot be read.").arg(path));
            return false;
        }
        const QByteArray content = file.readAll();
        if (content.left(400).contains("vortex-ridge-catalogue")) {
            addParts(path);
            return true;
        }
        const auto machine =
            whileWaiting(*this, tr("Reading %1 …").arg(QFileInfo(path).fileName()),
                         [&content](const std::stop_token&) { return store::parseMachine(content.toStdString()); });
        if (!machine) {
            say(QString::fromStdString(messageFor(machine.error())));
            return false;
        }
        m_bench.leave(4000);
        wrong = m_document.createAt(path.chopped(5) + QStringLiteral(".vridge"), *machine);
    } else {
        m_bench.leave(4000); // it served axes of another machine
        auto contents = whileWaiting(*this, tr("Opening %1 …").arg(QFileInfo(path).fileName()),
                                     [path](const std::stop_token& stop) { return Document::read(path, stop); });
        if (contents)
            m_document.show(std::move(*contents));
        else
            wrong = QString::fromStdString(messageFor(contents.error()));
    }
    if (!wrong.isEmpty()) {
        say(wrong);
        return false;
    }
    rememberRecent(path);
    if (!m_document.hasAxis())
        m_stack->setCurrentIndex(machineView);
    refresh();
    return true;
}

void MainWindow::rememberRecent(const QString& path)
{
    QSettings settings;
    QStringList recent = settings.value(QStringLiteral("recent")).toStringList();
    const QString whole = QFileInfo(path).absoluteFilePath();
    recent.removeAll(whole);
    recent.prepend(whole);
    while (recent.size() > 8)
        recent.removeLast();
    settings.setValue(QStringLiteral("recent"), recent);
    showRecent();
}

void MainWindow::showRecent()
{
    m_recent->clear();
    const QStringList recent = QSettings().value(QStringLiteral("recent")).toStringList();
    m_recent->setEnabled(!recent.isEmpty());
    for (const QString& p : recent)
        connect(m_recent->addAction(QString(p).replace(QLatin1Char('&'), QLatin1String("&&"))), &QAction::triggered,
                this, [this, p] { openPath(p); });
}

} // namespace ridge::app
