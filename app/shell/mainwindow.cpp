#include "mainwindow.h"

#include "app/theme/sentence.h"
#include "app/theme/theme.h"
#include "app/widgets/figures.h"
#include "app/widgets/forms.h"
#include "app/widgets/labels.h"
#include "core/model/patterns.h"
#include "store/machinejson.h"
#include "store/report.h"

#include <QAction>
#include <QApplication>
#include <QCloseEvent>
#include <QDialog>
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
#include <QTextBrowser>
#include <QTimer>
#include <QUrl>
#include <QVBoxLayout>

namespace ridge::app {

namespace {
using MakePage = StationPage* (*)(Document&, Bench&);
constexpr std::array<MakePage, stationCount + 1> pages{makeLoad, makeMove, makeMatch, makeWire, makeSet,
                                                       makeTurn, makeTune, makeGuard, makeSign, makeMachine};
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
    m_saying.setSingleShot(true);
    connect(&m_saying, &QTimer::timeout, this, &MainWindow::refreshLine);
    connect(&m_document, &Document::aboutToLeave, this, [this] {
        if (QWidget* focus = QApplication::focusWidget(); focus && isAncestorOf(focus))
            focus->clearFocus(); // what is half typed is taken or refused now
    });
    connect(qApp, &QApplication::focusChanged, this, [this](QWidget*, QWidget* now) { tellFelled(now); });
    connect(m_ridge, &RidgeBar::stationChosen, this, &MainWindow::goTo);
    connect(m_axes, &AxisList::machineChosen, this, [this] { goTo(machineView); });
    connect(m_axes, &AxisList::axisChosen, this, [this] {
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
            m_document.note(m_note->text().trimmed());
        m_note->clear();
    });
}

MainWindow::~MainWindow()
{
    disconnect(qApp, nullptr, this, nullptr);
    m_document.disconnect(this);
    m_bench.disconnect(this);
    m_bench.close();
    delete takeCentralWidget(); // the pages go before what they show
}

void MainWindow::layOut()
{
    auto* middle = new QWidget;
    auto* rows = new QVBoxLayout(middle);
    rows->setContentsMargins(0, 0, 0, 0);
    rows->setSpacing(0);
    m_ridge = new RidgeBar;
    rows->addWidget(m_ridge);
    m_readOnly = new QLabel;
    m_readOnly->setObjectName(QStringLiteral("banner"));
    m_readOnly->setContentsMargins(8, 0, 8, 0);
    m_readOnly->hide();
    rows->addWidget(m_readOnly);
    m_person = personBar();
    rows->addWidget(m_person);
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
    m_logLine->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    m_note = new QLineEdit;
    m_note->setObjectName(QStringLiteral("log.note"));
    m_note->setAccessibleName(tr("Note for the logbook"));
    m_note->setPlaceholderText(tr("Note for the logbook (Ctrl+L)"));
    m_note->setFixedWidth(220);
    m_next = new QPushButton;
    m_next->setObjectName(QStringLiteral("next"));
    m_next->setFlat(true);
    m_next->setCursor(Qt::PointingHandCursor);
    connect(m_next, &QPushButton::clicked, this, &MainWindow::showNext);
    m_strip = new ConnectionStrip(m_document, m_bench);
    connect(m_strip, &ConnectionStrip::spoken, this, &MainWindow::say);
    connect(m_strip, &ConnectionStrip::findAsked, this, &MainWindow::findDrive);
    rows->addWidget(m_strip);
    statusBar()->setSizeGripEnabled(false);
    statusBar()->setContentsMargins(0, 0, 8, 0);
    statusBar()->addWidget(m_next);
    statusBar()->addWidget(m_logLine, 1);
    statusBar()->addPermanentWidget(m_note);
    for (const MakePage make : pages) {
        StationPage* page = make(m_document, m_bench);
        m_pages.push_back(page);
        m_stack->addWidget(page);
        connect(page, &StationPage::resultWanted, m_margins, &MarginsPanel::showResult);
        connect(page, &StationPage::stationWanted, this, &MainWindow::goTo);
        connect(page, &StationPage::nextWanted, this, &MainWindow::showNext);
        connect(page, &StationPage::versionWanted, this, &MainWindow::openVersion);
    }
}

void MainWindow::setDark(bool dark)
{
    applyTheme(*qobject_cast<QApplication*>(QCoreApplication::instance()), dark);
    QSettings().setValue(QStringLiteral("dark"), dark);
    refresh();
}

void MainWindow::goTo(int station)
{
    if (station < 0 || station > machineView || !m_document.isOpen())
        return;
    if (station != machineView && !m_document.hasAxis()) {
        say(tr("This machine has no axis yet: add one here."));
        station = machineView;
    }
    if (QWidget* focus = QApplication::focusWidget();
        focus && station != m_stack->currentIndex() && m_stack->isAncestorOf(focus))
        focus->clearFocus(); // what is half typed is taken or refused now
    m_stack->setCurrentIndex(station);
    refresh();
}

bool MainWindow::busy() const
{
    return m_bench.running() || std::ranges::any_of(m_pages, [](const StationPage* page) { return page->busy(); });
}

void MainWindow::refresh()
{
    m_pending = false;
    if (!m_document.isOpen())
        return;
    if (!m_document.hasAxis() && m_stack->currentIndex() != machineView)
        m_stack->setCurrentIndex(machineView);
    const bool machine = m_stack->currentIndex() == machineView;
    const QString name = QString::fromStdString(m_document.machine().name);
    setWindowTitle(m_document.hasAxis()
                       ? tr("%1 – %2 – Vortex Ridge")
                             .arg(QString::fromStdString(m_document.axis().id + " " + m_document.axis().name), name)
                       : tr("%1 – Vortex Ridge").arg(name));
    RidgeState state = ridgeState(m_document.evaluation());
    state.current = m_stack->currentIndex();
    m_ridge->setState(state);
    m_axes->refresh(machine);
    page()->refresh();
    m_margins->setVisible(!machine);
    if (!machine)
        m_margins->show(static_cast<Station>(m_stack->currentIndex()));
    QString warning = m_document.readOnly() ? m_document.readOnlyReason() : sentence(m_document.recordAltered());
    if (!m_document.unwritten().isEmpty()) // before anything else: it can still be saved
        warning = tr("Not in the file yet: %1 The edit is kept here and tried again.").arg(m_document.unwritten())
                  + (warning.isEmpty() ? QString() : QStringLiteral("   ") + warning);
    for (const Fact* bridge : openBridges(m_document.evidence())) // on every page until it is out
        warning += (warning.isEmpty() ? QString() : QStringLiteral("   "))
                   + tr("A safety contact is bridged: %1 (%2)")
                         .arg(sentence(lineOf(*bridge)), QString::fromStdString(bridge->person.name));
    setLabel(*m_readOnly, QStringLiteral("▲ ") + warning);
    m_readOnly->setVisible(!warning.isEmpty());
    if (m_document.person().named() && m_person->isVisible() && !m_person->isAncestorOf(QApplication::focusWidget()))
        m_person->hide();
    refreshLine();
}

void MainWindow::refreshLine()
{
    if (!m_saying.isActive()) {
        QString text;
        if (!m_document.facts().empty()) {
            const Fact& f = m_document.facts().back();
            text = QStringLiteral("%1  %2").arg(localTime(f.time).mid(11), sentence(lineOf(f)));
        }
        setLabel(*m_logLine,
                 m_logLine->fontMetrics().elidedText(text, Qt::ElideRight, std::max(60, m_logLine->width() - 4)));
        m_logLine->setToolTip(text);
    }
    if (m_document.hasAxis()) {
        const StepStatus* next = nextStep(m_document.evaluation().steps, m_document.evidence().view());
        const QString words =
            !next ? tr("Every step is done.")
            : next->reason.empty()
                ? tr("▸ Next: %1 %2 in %3")
                      .arg(said(next->step->id), said(next->step->title), said(stationName(next->step->station)))
                : tr("▸ Next: %1 %2 in %3. %4")
                      .arg(said(next->step->id), said(next->step->title), said(stationName(next->step->station)),
                           sentence(next->reason));
        const QString whole = next ? words + QStringLiteral("\n") + said(next->step->work) : words;
        m_next->setText(m_next->fontMetrics().elidedText(words, Qt::ElideRight, std::max(240, width() / 3)));
        m_next->setToolTip(whole);
        m_next->setAccessibleName(whole);
    }
    m_next->setVisible(m_document.hasAxis());
    m_strip->refresh();
}

void MainWindow::say(const QString& sentence)
{
    m_saying.start(7000);
    setLabel(*m_logLine, QStringLiteral("■ ") + sentence);
    m_logLine->setToolTip(sentence);
}

void MainWindow::showNext()
{
    if (!m_document.hasAxis())
        return;
    const StepStatus* next = nextStep(m_document.evaluation().steps, m_document.evidence().view());
    if (!next)
        return;
    const int number = next->step->number;
    goTo(static_cast<int>(next->step->station));
    m_margins->showStep(number);
}

/// While a field of the plan has the focus: what an edit of it would make stale.
void MainWindow::tellFelled(QWidget* focus)
{
    const auto* line = qobject_cast<QLineEdit*>(focus);
    if (!line || !m_document.hasAxis() || !isAncestorOf(focus) || !line->objectName().contains(QLatin1Char('.')))
        return;
    Axis probe = m_document.axis();
    const QString name = line->objectName();
    for (const FieldGroup& g : fieldGroups(probe))
        for (const Field& f : g.fields) {
            if (!f.get || name != QString::fromStdString(g.key + "." + std::string(f.key)))
                continue;
            const auto key = g.key;
            const Felled felled = m_document.felledBy([&](Axis& a) {
                for (const FieldGroup& other : fieldGroups(a))
                    if (other.key == key)
                        f.set(other.object, f.get(other.object).value_or(0) + 1);
            });
            if (felled.empty())
                return;
            QStringList steps;
            for (const int n : felled.steps)
                steps += QStringLiteral("S%1").arg(n, 2, 10, QLatin1Char('0'));
            say(felled.signatures > 0
                    ? tr("An edit here makes stale: %1; the signature falls.").arg(steps.join(QStringLiteral(", ")))
                    : tr("An edit here makes stale: %1.").arg(steps.join(QStringLiteral(", "))));
            return;
        }
}

QWidget* MainWindow::personBar()
{
    auto* bar = new QWidget;
    bar->setObjectName(QStringLiteral("person"));
    auto* row = new QHBoxLayout(bar);
    row->setContentsMargins(12, 4, 12, 4);
    row->addWidget(new QLabel(
        tr("Who works here? The name stands on every entry of the record; without one it is planning only.")));
    m_personName = new QLineEdit(QString::fromStdString(m_document.person().name));
    m_personName->setObjectName(QStringLiteral("person.name"));
    m_personName->setAccessibleName(tr("Your name"));
    m_personName->setPlaceholderText(tr("name"));
    m_personName->setMaximumWidth(180);
    m_personRole = new QLineEdit(QString::fromStdString(m_document.person().role));
    m_personRole->setObjectName(QStringLiteral("person.role"));
    m_personRole->setAccessibleName(tr("Your role"));
    m_personRole->setPlaceholderText(tr("role, e.g. technician, competent person"));
    m_personRole->setMaximumWidth(260);
    auto* take = new QPushButton(tr("That is me"));
    take->setObjectName(QStringLiteral("person.take"));
    row->addWidget(m_personName);
    row->addWidget(m_personRole);
    row->addWidget(take);
    row->addStretch();
    const auto accept = [this] {
        const QString name = m_personName->text().trimmed();
        if (name.isEmpty()) {
            say(tr("Write your name; without one it is planning only: nothing is written and nothing moves."));
            return;
        }
        m_document.setPerson({name.toStdString(), m_personRole->text().trimmed().toStdString()});
        m_person->hide();
    };
    connect(take, &QPushButton::clicked, this, accept);
    connect(m_personRole, &QLineEdit::returnPressed, this, accept);
    connect(m_personName, &QLineEdit::returnPressed, this, accept);
    bar->setVisible(!m_document.person().named());
    return bar;
}

void MainWindow::closeEvent(QCloseEvent* event)
{
    if (QWidget* focus = QApplication::focusWidget(); focus && isAncestorOf(focus))
        focus->clearFocus();
    m_bench.leave(4000); // every run by its ramp, proved, before the window goes
    if (!mayLeaveFile()) {
        event->ignore();
        return;
    }
    QMainWindow::closeEvent(event);
}

void MainWindow::resizeEvent(QResizeEvent* event)
{
    QMainWindow::resizeEvent(event);
    constexpr int roomy = 760; // a low window gives the ridge less, so that the stations keep what they need
    m_ridge->setFixedHeight(height() < roomy ? 56 : 92);
    m_strip->fit(width(), height() >= roomy);
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
