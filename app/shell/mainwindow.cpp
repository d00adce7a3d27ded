#include "mainwindow.h"

#include "app/theme/theme.h"
#include "app/widgets/figures.h"
#include "app/widgets/forms.h"
#include "app/widgets/labels.h"
#include "store/machinejson.h"
#include "store/report.h"

#include <QAction>
#include <QApplication>
#include <QDragEnterEvent>
#include <QFile>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QKeyEvent>
#include <QMenuBar>
#include <QMimeData>
#include <QSettings>
#include <QStatusBar>
#include <QTimer>
#include <QUrl>
#include <QVBoxLayout>

namespace ridge::app {

namespace {
using MakePage = StationPage* (*)(Document&, Bench&);
constexpr std::array<MakePage, stationCount + 1> pages{makeLoad, makeMove, makeMatch, makeWire, makeSet,
                                                       makeTurn, makeTune, makeGuard, makeSign, makeMachine};

/// The station whose form holds the fields of a group.
int stationOfGroup(const std::string& key)
{
    constexpr std::array<std::pair<std::string_view, Station>, 5> known{{{"wiring", Station::Wire},
                                                                         {"turn", Station::Turn},
                                                                         {"tune", Station::Tune},
                                                                         {"guard", Station::Guard},
                                                                         {"sign", Station::Sign}}};
    for (const auto& [name, station] : known)
        if (key == name)
            return static_cast<int>(station);
    return static_cast<int>(Station::Load);
}
} // namespace

MainWindow::MainWindow(QWidget* parent)
    : QMainWindow(parent)
    , m_bench(m_document)
{
    setWindowTitle(tr("Vortex Ridge"));
    setAcceptDrops(true);
    resize(1280, 800);
    setMinimumSize(1100, 700);
    layOut();
    buildMenus();
    connect(m_ridge, &RidgeBar::stationChosen, this, &MainWindow::goTo);
    connect(m_axes, &AxisList::machineChosen, this, [this] { goTo(machineView); });
    connect(&m_document, &Document::axisSelected, this, [this] {
        if (m_stack->currentIndex() == machineView)
            goTo(0);
    });
    connect(&m_document, &Document::changed, this, [this] {
        if (m_pending)
            return;
        m_pending = true; // many changes make one repaint
        QTimer::singleShot(0, this, &MainWindow::refresh);
    });
    connect(&m_document, &Document::logged, this, &MainWindow::refreshLine);
    connect(&m_document, &Document::failed, this, &MainWindow::say);
    connect(&m_bench, &Bench::changed, this, &MainWindow::refreshLine);
    connect(m_note, &QLineEdit::returnPressed, this, [this] {
        if (!m_note->text().trimmed().isEmpty())
            m_document.log(QStringLiteral("note"), m_note->text().trimmed());
        m_note->clear();
    });
}

void MainWindow::layOut()
{
    auto* middle = new QWidget;
    auto* rows = new QVBoxLayout(middle);
    rows->setContentsMargins(0, 0, 0, 0);
    rows->setSpacing(0);
    m_ridge = new RidgeBar;
    rows->addWidget(m_ridge);
    auto* columns = new QHBoxLayout;
    columns->setSpacing(8);
    m_axes = new AxisList(m_document);
    columns->addWidget(m_axes);
    m_stack = new QStackedWidget;
    columns->addWidget(m_stack, 1);
    m_margins = new MarginsPanel(m_document);
    columns->addWidget(m_margins);
    rows->addLayout(columns, 1);
    setCentralWidget(middle);
    m_finder = new Finder(middle);
    m_logLine = new QLabel;
    m_logLine->setMinimumWidth(100);
    m_note = new QLineEdit;
    m_note->setObjectName(QStringLiteral("log.note"));
    m_note->setAccessibleName(tr("Note for the logbook"));
    m_note->setPlaceholderText(tr("Note for the logbook (Ctrl+L)"));
    m_note->setFixedWidth(220);
    m_connection = new QLabel;
    m_connection->setObjectName(QStringLiteral("connection"));
    statusBar()->setSizeGripEnabled(false);
    statusBar()->addWidget(m_logLine, 1);
    statusBar()->addPermanentWidget(m_note);
    statusBar()->addPermanentWidget(m_connection);
    for (const MakePage make : pages) {
        StationPage* page = make(m_document, m_bench);
        m_pages.push_back(page);
        m_stack->addWidget(page);
        connect(page, &StationPage::resultWanted, m_margins, &MarginsPanel::showResult);
        connect(page, &StationPage::stationWanted, this, &MainWindow::goTo);
    }
}

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
    addAction(menu, tr("&Open …"), QKeySequence::Open, [this] {
        const QString path =
            QFileDialog::getOpenFileName(this, tr("Open a machine"), {}, tr("Machines (*.vridge *.json)"));
        if (!path.isEmpty())
            openPath(path);
    });
    m_recent = menu->addMenu(tr("&Recent"));
    showRecent();
    addAction(menu, tr("&Keep a version …"), QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_S), [this] { keepVersion(); });
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
    addAction(edit, tr("Note for the &logbook"), QKeySequence(Qt::CTRL | Qt::Key_L), [this] { m_note->setFocus(); });
    QMenu* go = menuBar()->addMenu(tr("&Station"));
    for (int k = 0; k < stationCount; ++k)
        addAction(go, said(stationName(static_cast<Station>(k))),
                  QKeySequence(Qt::CTRL | static_cast<Qt::Key>(Qt::Key_1 + k)), [this, k] { goTo(k); });
    go->addSeparator();
    addAction(go, tr("The machine"), QKeySequence(Qt::CTRL | Qt::Key_0), [this] { goTo(machineView); });
    addAction(go, tr("Next axis"), QKeySequence(Qt::CTRL | Qt::Key_Down),
              [this] { m_document.selectAxis(m_document.axisIndex() + 1); });
    addAction(go, tr("Previous axis"), QKeySequence(Qt::CTRL | Qt::Key_Up), [this] {
        if (m_document.axisIndex() > 0)
            m_document.selectAxis(m_document.axisIndex() - 1);
    });
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
}

void MainWindow::setDark(bool dark)
{
    applyTheme(*qobject_cast<QApplication*>(QCoreApplication::instance()), dark);
    QSettings().setValue(QStringLiteral("dark"), dark);
    refresh();
}

void MainWindow::goTo(int station)
{
    if (station < 0 || station > machineView || !m_document.hasAxis())
        return;
    m_stack->setCurrentIndex(station);
    refresh();
}

bool MainWindow::busy() const
{
    return std::ranges::any_of(m_pages, [](const StationPage* page) { return page->busy(); });
}

void MainWindow::refresh()
{
    m_pending = false;
    if (!m_document.hasAxis())
        return;
    setWindowTitle(tr("%1 – %2 – Vortex Ridge")
                       .arg(QString::fromStdString(m_document.axis().id + " " + m_document.axis().name),
                            QString::fromStdString(m_document.machine().name)));
    RidgeState state = ridgeState(m_document.evaluation());
    state.current = m_stack->currentIndex();
    m_ridge->setState(state);
    m_axes->refresh(m_stack->currentIndex() == machineView);
    page()->refresh();
    m_margins->setVisible(m_stack->currentIndex() != machineView);
    if (m_stack->currentIndex() != machineView)
        m_margins->show(static_cast<Station>(m_stack->currentIndex()));
    refreshLine();
}

void MainWindow::refreshLine()
{
    const auto log = m_document.logbook(1);
    if (!log.empty()) {
        const QString text = QStringLiteral(" %1  %2").arg(QString::fromStdString(log.back().time),
                                                           QString::fromStdString(log.back().text));
        setLabel(*m_logLine, text);
        m_logLine->setToolTip(text);
    }
    const bool simulated = m_bench.session().connected() && m_bench.session().simulated();
    setLabel(*m_connection, (simulated                       ? QStringLiteral("◇ ")
                             : m_bench.session().connected() ? QStringLiteral("● ")
                                                             : QStringLiteral("○ "))
                                + m_bench.words() + QStringLiteral("  "));
}

void MainWindow::say(const QString& sentence)
{
    m_logLine->setText(QStringLiteral(" ■ ") + sentence);
    m_logLine->setToolTip(sentence);
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
    const QStringList words = m_document.parts().add(path, kind, good);
    say(words.size() > 1 ? tr("%1 %2 and %3 more").arg(words[0], words[1]).arg(words.size() - 2) : words[0]);
    if (words.size() > 1) // every refusal with its place, at the right where workings stand
        m_margins->showHelp(words[0], words.mid(1, 200).join(QLatin1Char('\n')));
}

bool MainWindow::openPath(const QString& path)
{
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
        const auto machine = store::parseMachine(content.toStdString());
        if (!machine) {
            say(QString::fromStdString(messageFor(machine.error())));
            return false;
        }
        wrong = m_document.createAt(path.chopped(5) + QStringLiteral(".vridge"), *machine);
    } else {
        wrong = m_document.open(path);
    }
    if (!wrong.isEmpty()) {
        say(wrong);
        return false;
    }
    m_bench.stopSimulated(); // it played an axis of another machine
    rememberRecent(path);
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
        connect(m_recent->addAction(p), &QAction::triggered, this, [this, p] { openPath(p); });
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

void MainWindow::dragEnterEvent(QDragEnterEvent* event)
{
    if (event->mimeData()->hasUrls())
        event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* event)
{
    for (const QUrl& url : event->mimeData()->urls())
        if (url.isLocalFile() && !page()->takeFile(url.toLocalFile()))
            openPath(url.toLocalFile());
}

void MainWindow::keyPressEvent(QKeyEvent* event)
{
    QWidget* focus = QApplication::focusWidget();
    if (event->key() == Qt::Key_F1 && focus) // what the field wants
        m_margins->showHelp(focus->accessibleName(),
                            focus->toolTip().isEmpty() ? focus->accessibleDescription() : focus->toolTip());
    else
        QMainWindow::keyPressEvent(event);
}

} // namespace ridge::app
