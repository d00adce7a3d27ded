#include "app/drive/finddialog.h"
#include "app/drive/handsdialog.h"
#include "app/drive/mapdialog.h"
#include "app/theme/sentence.h"
#include "app/theme/theme.h"
#include "app/widgets/figures.h"
#include "app/widgets/handbook.h"
#include "core/stations/steps.h"

#include "mainwindow.h"

#include <QAction>
#include <QDialog>
#include <QFile>
#include <QFileDialog>
#include <QMenuBar>
#include <QTextBrowser>
#include <QVBoxLayout>

namespace ridge::app {

namespace {
/// The station whose form holds the fields of a group.
int stationOfGroup(const std::string& key)
{
    constexpr std::array<std::pair<std::string_view, Station>, 9> known{{{"travel", Station::Move},
                                                                         {"homing", Station::Move},
                                                                         {"command", Station::Set},
                                                                         {"parameters", Station::Set},
                                                                         {"mounting", Station::Match},
                                                                         {"wiring", Station::Wire},
                                                                         {"turn", Station::Turn},
                                                                         {"tune", Station::Tune},
                                                                         {"guard", Station::Guard}}};
    for (const auto& [name, station] : known)
        if (key == name)
            return static_cast<int>(station);
    return static_cast<int>(Station::Load);
}
} // namespace

QAction* MainWindow::addAction(QMenu* menu, const QString& text, const QKeySequence& keys, std::function<void()> slot)
{
    QAction* a = menu->addAction(text);
    a->setShortcut(keys);
    connect(a, &QAction::triggered, this, [slot = std::move(slot)] { slot(); });
    return a;
}

void MainWindow::machineMenu()
{
    QMenu* menu = menuBar()->addMenu(tr("&Machine"));
    addAction(menu, tr("&New …"), QKeySequence::New, [this] { askNewMachine(); });
    addAction(menu, tr("&Open …"), QKeySequence::Open, [this] {
        const QString path =
            QFileDialog::getOpenFileName(this, tr("Open a machine"), {}, tr("Machines (*.vridge *.json)"));
        if (!path.isEmpty())
            openPath(path);
    });
    m_recent = menu->addMenu(tr("&Recent"));
    showRecent();
    addAction(menu, tr("&Keep a version …"), QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_S), [this] { keepVersion(); });
    addAction(menu, tr("Save a &copy elsewhere …"), {}, [this] { askCopy(); });
    addAction(menu, tr("&Export as JSON …"), {}, [this] { exportJson(); });
    menu->addSeparator();
    addAction(menu, tr("&Add parts of your own …"), {}, [this] {
        const QString path =
            QFileDialog::getOpenFileName(this, tr("Parts as JSON or CSV"), {}, tr("Parts (*.json *.csv)"));
        if (!path.isEmpty())
            addParts(path);
    });
    addAction(menu, tr("&Forget the parts of your own"), {}, [this] {
        m_document.parts().forgetOwn();
        say(tr("Only the parts that ship with the program are left."));
    });
    menu->addSeparator();
    addAction(menu, tr("&Quit"), QKeySequence::Quit, [this] { close(); });
}

void MainWindow::buildMenus()
{
    machineMenu();
    QMenu* edit = menuBar()->addMenu(tr("&Edit"));
    QAction* undo = m_document.undoStack().createUndoAction(this, tr("&Undo"));
    undo->setShortcut(QKeySequence::Undo);
    QAction* redo = m_document.undoStack().createRedoAction(this, tr("&Redo"));
    redo->setShortcuts({QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_Z), QKeySequence(Qt::CTRL | Qt::Key_Y)});
    edit->addActions({undo, redo});
    edit->addSeparator();
    addAction(edit, tr("&Find by name …"), QKeySequence(Qt::CTRL | Qt::Key_K), [this] { m_finder->open(findable()); });
    addAction(edit, tr("&Who works …"), QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_P), [this] {
        m_person->show();
        m_personName->setFocus();
        m_personName->selectAll();
    });
    addAction(edit, tr("Note for the &logbook"), QKeySequence(Qt::CTRL | Qt::Key_L), [this] { m_note->setFocus(); });
    QMenu* go = menuBar()->addMenu(tr("&Station"));
    for (int k = 0; k < stationCount; ++k)
        addAction(go, said(stationName(static_cast<Station>(k))),
                  QKeySequence(Qt::CTRL | static_cast<Qt::Key>(Qt::Key_1 + k)), [this, k] { goTo(k); });
    go->addSeparator();
    addAction(go, tr("Next step"), QKeySequence(Qt::CTRL | Qt::Key_Return), [this] { showNext(); });
    addAction(go, tr("Stop every axis"), QKeySequence(Qt::Key_F12), [this] { m_bench.stopAll(); });
    addAction(go, tr("The machine"), QKeySequence(Qt::CTRL | Qt::Key_0), [this] { goTo(machineView); });
    const auto step = [this](int by) {
        const int to = static_cast<int>(m_document.axisIndex()) + by;
        if (to >= 0)
            m_document.selectAxis(static_cast<std::size_t>(to));
        if (m_stack->currentIndex() == machineView)
            goTo(0);
    };
    addAction(go, tr("Next axis"), QKeySequence(Qt::CTRL | Qt::Key_Down), [step] { step(1); });
    addAction(go, tr("Previous axis"), QKeySequence(Qt::CTRL | Qt::Key_Up), [step] { step(-1); });
    driveMenu();
    QMenu* view = menuBar()->addMenu(tr("&View"));
    addAction(view, tr("&Dark"), QKeySequence(Qt::CTRL | Qt::Key_D), [this] {
        setDark(!theme().dark);
    })->setObjectName(QStringLiteral("view.dark"));
    addAction(view, tr("&Imperial units"), QKeySequence(Qt::CTRL | Qt::Key_I), [this] {
        setUnitSystem(unitSystem() == UnitSystem::Metric ? UnitSystem::Imperial : UnitSystem::Metric);
        refresh();
    });
    addAction(view, tr("&Working of the main figure"), QKeySequence(Qt::Key_F2),
              [this] { m_margins->showResult(page()->mainFigure()); });
    helpMenu();
}

void MainWindow::driveMenu()
{
    QMenu* menu = menuBar()->addMenu(tr("&Drive"));
    const auto withAxis = [this](const std::function<void()>& act) {
        return [this, act] {
            if (m_document.hasAxis())
                act();
            else
                say(tr("Choose an axis first."));
        };
    };
    addAction(menu, tr("&Find a drive …"), QKeySequence(Qt::CTRL | Qt::Key_F), withAxis([this] { findDrive(); }));
    addAction(menu, tr("&Register map …"), {}, withAxis([this] { askMap(); }));
    addAction(menu, tr("&Hands at the simulated drive …"), QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_H),
              withAxis([this] {
                  auto* hands = new HandsDialog(m_bench, this);
                  hands->setAttribute(Qt::WA_DeleteOnClose);
                  hands->show();
              }));
}

void MainWindow::findDrive()
{
    auto* find = new FindDialog(m_document, m_bench, this);
    find->setAttribute(Qt::WA_DeleteOnClose);
    find->open();
}

/// The map belongs to the axis; it is taken at the next connection.
void MainWindow::askMap()
{
    auto* map = new MapDialog(m_document.axis().link.map, this);
    map->setAttribute(Qt::WA_DeleteOnClose);
    connect(map, &QDialog::accepted, this, [this, map, index = m_document.axisIndex()] {
        if (m_document.axisIndex() != index || map->taken() == m_document.axis().link.map)
            return;
        m_document.edit(tr("Register map of the drive"), {}, [map](Axis& a) { a.link.map = map->taken(); });
        say(m_bench.session().connected() ? tr("The map is taken at the next connection.")
                                          : tr("The map is that of this axis now."));
    });
    map->open();
}

void MainWindow::helpMenu()
{
    QMenu* help = menuBar()->addMenu(tr("&Help"));
    const auto file = [](const char* name) {
        QFile text(QStringLiteral(":/docs/") + QString::fromLatin1(name));
        return text.open(QIODevice::ReadOnly) ? QString::fromUtf8(text.readAll()) : QString();
    };
    addAction(help, tr("&Guide"), {}, [this, file] { showText(tr("Guide"), file("guide.md")); });
    addAction(help, tr("&Handbook of formulas"), QKeySequence(Qt::CTRL | Qt::Key_H), [this] {
        auto* book = new Handbook(this);
        book->setAttribute(Qt::WA_DeleteOnClose);
        book->show();
    });
    addAction(help, tr("&Keys"), {}, [this] {
        QString text = QStringLiteral("| | |\n|---|---|\n");
        for (QAction* menu : menuBar()->actions())
            for (QAction* a : menu->menu()->actions())
                if (!a->shortcut().isEmpty())
                    text +=
                        QStringLiteral("| %1 | %2 |\n")
                            .arg(a->shortcut().toString(QKeySequence::NativeText), a->text().remove(QLatin1Char('&')));
        text += tr("| F1 | what the field in focus wants |\n| F4 | build a mass or an inertia from solids |\n| Up, "
                   "Down | change a value by 5 % |\n| Space, held | runs while it is held |\n");
        showText(tr("Keys"), text);
    });
    addAction(help, tr("&Licences"), {}, [this, file] { showText(tr("Licences"), file("licences.md")); });
    addAction(help, tr("&About"), {}, [this] {
        showText(tr("About"),
                 tr("# Vortex Ridge\n\nOne axis model from the first load number to the signed "
                    "hand-over.\n\n%1\n\nGPL-3.0-or-later. Everything runs on this machine; nothing is sent anywhere.")
                     .arg(said(cautionText("C-00"))));
    });
}

void MainWindow::showText(const QString& title, const QString& text)
{
    auto* box = new QDialog(this);
    box->setAttribute(Qt::WA_DeleteOnClose);
    box->setObjectName(QStringLiteral("help"));
    box->setWindowTitle(title);
    box->resize(720, 560);
    auto* layout = new QVBoxLayout(box);
    auto* browser = new QTextBrowser;
    browser->setMarkdown(text);
    layout->addWidget(browser);
    box->show();
}

std::vector<Finder::Entry> MainWindow::findable()
{
    std::vector<Finder::Entry> entries;
    const Evaluation& e = m_document.evaluation();
    for (const Check& c : e.checks)
        entries.push_back({said(c.title),
                           tr("check in %1, %2").arg(said(stationName(c.station)), said(verdictWord(c.verdict))),
                           [this, station = static_cast<int>(c.station), id = c.id] {
                               goTo(station);
                               m_margins->showCheck(id);
                           }});
    for (const ResultValue& r : e.results)
        entries.push_back({said(r.label), tr("figure, %1").arg(shown(r.value, r.quantity)),
                           [this, station = static_cast<int>(r.station), id = r.id] {
                               goTo(station);
                               m_margins->showResult(id);
                           }});
    addFields(entries);
    for (QAction* menu : menuBar()->actions())
        for (QAction* a : menu->menu()->actions())
            if (!a->isSeparator() && !a->menu())
                entries.push_back({a->text().remove(QLatin1Char('&')),
                                   tr("action %1").arg(a->shortcut().toString(QKeySequence::NativeText)),
                                   [a] { a->trigger(); }});
    return entries;
}

void MainWindow::addFields(std::vector<Finder::Entry>& entries)
{
    Axis copy = m_document.axis();
    for (const FieldGroup& g : fieldGroups(copy)) {
        if (g.key.starts_with("segments") || g.key == "motor" || g.key == "drive" || g.key == "resistor")
            continue; // edited in their tables
        for (const Field& f : g.fields) {
            const QString name = QString::fromStdString(g.key + "." + std::string(f.key));
            entries.push_back({said(f.label), tr("field of %1").arg(said(g.title)), [this, key = g.key, name] {
                                   goTo(stationOfGroup(key));
                                   if (auto* chain = page()->findChild<QWidget*>(QStringLiteral("chain")))
                                       QMetaObject::invokeMethod(chain, "elementChosen",
                                                                 Q_ARG(QString, QString::fromStdString(key)));
                                   if (auto* editor = page()->findChild<QWidget*>(name))
                                       editor->setFocus();
                               }});
        }
    }
}

} // namespace ridge::app
