#include "mainwindow.h"

#include "app/theme/theme.h"
#include "store/machinejson.h"
#include "store/report.h"

#include <QAction>
#include <QApplication>
#include <QDragEnterEvent>
#include <QFile>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMenuBar>
#include <QMimeData>
#include <QSettings>
#include <QStatusBar>
#include <QTimer>
#include <QToolTip>
#include <QUrl>
#include <QVBoxLayout>

namespace ridge::app {

MainWindow::MainWindow(QWidget* parent) : QMainWindow(parent), m_bench(m_document)
{
    setWindowTitle(tr("Vortex Ridge"));
    setAcceptDrops(true);
    resize(1280, 800);
    setMinimumSize(1100, 700);
    auto* middle = new QWidget;
    auto* rows = new QVBoxLayout(middle);
    rows->setContentsMargins(0, 0, 0, 0);
    rows->setSpacing(0);
    m_ridge = new RidgeBar;
    rows->addWidget(m_ridge);
    auto* columns = new QHBoxLayout;
    columns->setSpacing(6);
    m_axes = new AxisList(m_document);
    columns->addWidget(m_axes);
    m_stack = new QStackedWidget;
    columns->addWidget(m_stack, 1);
    m_margins = new MarginsPanel(m_document);
    columns->addWidget(m_margins);
    rows->addLayout(columns, 1);
    setCentralWidget(middle);
    m_logLine = new QLabel;
    m_note = new QLineEdit;
    m_note->setObjectName(QStringLiteral("log.note"));
    m_note->setPlaceholderText(tr("Note for the logbook (Ctrl+L)"));
    m_note->setMaximumWidth(300);
    m_connection = new QLabel;
    m_connection->setObjectName(QStringLiteral("connection"));
    statusBar()->setSizeGripEnabled(false);
    statusBar()->addWidget(m_logLine, 1);
    statusBar()->addWidget(m_note);
    statusBar()->addPermanentWidget(m_connection);
    for (StationPage* (*make)(Document&, Bench&) : {makeLoad, makeMove, makeMatch, makeWire, makeSet, makeTurn, makeTune, makeGuard, makeSign}) {
        m_pages.push_back(nullptr);
        m_pages.back() = make(m_document, m_bench);
        m_stack->addWidget(m_pages.back());
        connect(m_pages.back(), &StationPage::resultWanted, m_margins, &MarginsPanel::showResult);
    }
    buildMenus();
    connect(m_ridge, &RidgeBar::stationChosen, this, &MainWindow::goTo);
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

void MainWindow::buildMenus()
{
    QMenu* file = menuBar()->addMenu(tr("&Machine"));
    const auto add = [this](QMenu* menu, const QString& text, const QKeySequence& keys, auto slot) {
        QAction* a = menu->addAction(text);
        a->setShortcut(keys);
        connect(a, &QAction::triggered, this, slot);
        return a;
    };
    add(file, tr("&Open …"), QKeySequence::Open, [this] {
        const QString path = QFileDialog::getOpenFileName(this, tr("Open a machine"), {}, tr("Machines (*.vridge *.json)"));
        if (!path.isEmpty())
            openPath(path);
    });
    m_recent = file->addMenu(tr("Recent"));
    add(file, tr("&Export as JSON …"), {}, [this] {
        const QString path = QFileDialog::getSaveFileName(this, tr("Export the machine"), QStringLiteral("machine.json"));
        if (path.isEmpty())
            return;
        if (const auto done = store::writeText(path.toStdString(), store::writeMachine(m_document.machine())); !done)
            say(QString::fromStdString(messageFor(done.error())));
    });
    add(file, tr("&Quit"), QKeySequence::Quit, [this] { close(); });
    QMenu* edit = menuBar()->addMenu(tr("&Edit"));
    QAction* undo = m_document.undoStack().createUndoAction(this, tr("&Undo"));
    undo->setShortcut(QKeySequence::Undo);
    QAction* redo = m_document.undoStack().createRedoAction(this, tr("&Redo"));
    redo->setShortcuts({QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_Z), QKeySequence(Qt::CTRL | Qt::Key_Y)});
    edit->addActions({undo, redo});
    add(edit, tr("Note for the &logbook"), QKeySequence(Qt::CTRL | Qt::Key_L), [this] { m_note->setFocus(); });
    QMenu* go = menuBar()->addMenu(tr("&Station"));
    for (int k = 0; k < stationCount; ++k)
        add(go, said(stationName(static_cast<Station>(k))), QKeySequence(Qt::CTRL | static_cast<Qt::Key>(Qt::Key_1 + k)), [this, k] { goTo(k); });
    QMenu* view = menuBar()->addMenu(tr("&View"));
    QAction* dark = add(view, tr("&Dark"), QKeySequence(Qt::CTRL | Qt::Key_D), [this] { setDark(!theme().dark); });
    dark->setObjectName(QStringLiteral("view.dark"));
    add(view, tr("&Imperial units"), QKeySequence(Qt::CTRL | Qt::Key_I), [this] {
        setUnitSystem(unitSystem() == UnitSystem::Metric ? UnitSystem::Imperial : UnitSystem::Metric);
        refresh();
    });
}

void MainWindow::setDark(bool dark)
{
    applyTheme(*qobject_cast<QApplication*>(QCoreApplication::instance()), dark);
    QSettings().setValue(QStringLiteral("dark"), dark);
    refresh();
}

void MainWindow::goTo(int station)
{
    if (station < 0 || station >= stationCount || !m_document.hasAxis())
        return;
    m_stack->setCurrentIndex(station);
    refresh();
}

void MainWindow::refresh()
{
    m_pending = false;
    if (!m_document.hasAxis())
        return;
    setWindowTitle(tr("%1 – %2 – Vortex Ridge").arg(QString::fromStdString(m_document.axis().id + " " + m_document.axis().name), QString::fromStdString(m_document.machine().name)));
    RidgeState state = ridgeState(m_document.evaluation());
    state.current = m_stack->currentIndex();
    m_ridge->setState(state);
    m_axes->refresh();
    m_pages[static_cast<std::size_t>(m_stack->currentIndex())]->refresh();
    m_margins->show(static_cast<Station>(m_stack->currentIndex()));
    refreshLine();
}

void MainWindow::refreshLine()
{
    const auto log = m_document.logbook(1);
    if (!log.empty())
        m_logLine->setText(QStringLiteral(" %1  %2").arg(QString::fromStdString(log.back().time), QString::fromStdString(log.back().text)));
    m_connection->setText((m_bench.session().connected() && m_bench.session().simulated() ? QStringLiteral("◇ ") : QStringLiteral("○ ")) + m_bench.words() + QStringLiteral("  "));
}

void MainWindow::say(const QString& sentence)
{
    m_logLine->setText(QStringLiteral(" ■ ") + sentence);
    m_logLine->setToolTip(sentence);
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
        const auto machine = store::parseMachine(file.readAll().toStdString());
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
    rememberRecent(path);
    refresh();
    return true;
}

void MainWindow::rememberRecent(const QString& path)
{
    QSettings settings;
    QStringList recent = settings.value(QStringLiteral("recent")).toStringList();
    recent.removeAll(path);
    recent.prepend(path);
    while (recent.size() > 8)
        recent.removeLast();
    settings.setValue(QStringLiteral("recent"), recent);
    m_recent->clear();
    for (const QString& p : recent)
        connect(m_recent->addAction(p), &QAction::triggered, this, [this, p] { openPath(p); });
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event)
{
    if (event->mimeData()->hasUrls())
        event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* event)
{
    for (const QUrl& url : event->mimeData()->urls())
        if (url.isLocalFile())
            openPath(url.toLocalFile());
}

void MainWindow::keyPressEvent(QKeyEvent* event)
{
    QWidget* focus = QApplication::focusWidget();
    if (event->key() == Qt::Key_F1 && focus) { // what the field wants
        QToolTip::showText(focus->mapToGlobal(QPoint(0, focus->height())), focus->toolTip().isEmpty() ? focus->accessibleName() : focus->toolTip(), focus);
        return;
    }
    if (event->key() == Qt::Key_F2) { // the working of the station's first figure
        constexpr const char* first[] = {"load.reflected_inertia", "move.peak_speed", "match.torque_peak", "", "tune.velocity_gain", "", "tune.velocity_gain", "guard.drop", ""};
        m_margins->showResult(first[m_stack->currentIndex()]);
        return;
    }
    QMainWindow::keyPressEvent(event);
}

} // namespace ridge::app
