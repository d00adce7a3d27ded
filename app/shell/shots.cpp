#include "shots.h"

#include "app/theme/sentence.h"
#include "app/widgets/handbook.h"
#include "app/widgets/runpanel.h"
#include "app/widgets/stepspanel.h"

#include "mainwindow.h"

#include <QAction>
#include <QApplication>
#include <QCheckBox>
#include <QComboBox>
#include <QDir>
#include <QElapsedTimer>
#include <QEventLoop>
#include <QFile>
#include <QLineEdit>
#include <QMouseEvent>
#include <QPixmap>
#include <QTabWidget>
#include <QTableWidget>
#include <QTemporaryDir>
#include <QTimer>

#include <algorithm>
#include <cstdint>
#include <cstdio>

namespace ridge::app {

namespace {

void pause(int ms)
{
    QEventLoop loop;
    QTimer::singleShot(ms, &loop, &QEventLoop::quit);
    loop.exec();
}

/// A run of presses that ends at the first button that does not answer.
class Walk {
public:
    explicit Walk(MainWindow& window)
        : m_window(window)
    {}
    Walk& press(const char* name, bool hold = false, int holdTime = 0)
    {
        if (m_failed.isEmpty() && !app::press(m_window, name, hold, holdTime)) {
            m_failed = QString::fromLatin1(name) + QStringLiteral(": ") + words();
        }
        return *this;
    }
    /// Holds a button until its run has left a fact of this kind. A run that was interrupted (the drive stops by itself
    /// when the program is held up) is reset and held again, as a person does, some times at most.
    template <class P>
    Walk& hold(const char* name, const char* reset, int holdTime = 0)
    {
        const auto count = [this] {
            return std::ranges::count_if(m_window.document().facts(), [](const Fact& f) { return f.as<P>(); });
        };
        const auto before = count();
        const auto open = [this](const char* button) {
            auto* b = m_window.page()->findChild<QPushButton*>(QString::fromLatin1(button));
            if (b)
                bringUp(*b);
            return b && b->isVisible() && b->isEnabled();
        };
        for (int tries = 0; tries < 12 && m_failed.isEmpty() && count() == before; ++tries) {
            for (int waited = 0; tries > 0 && waited < 5000 && !open(reset) && !open(name); waited += 25)
                pause(25); // what the drive says of it is a moment away
            if (tries > 0 && open(reset))
                app::press(m_window, reset);
            press(name, true, holdTime);
        }
        if (m_failed.isEmpty() && count() == before)
            m_failed = QString::fromLatin1(name) + QStringLiteral(": ") + words();
        return *this;
    }
    [[nodiscard]] QString failed() const { return m_failed; }

private:
    /// What the page says of its run.
    [[nodiscard]] QString words() const
    {
        for (const RunPanel* panel : m_window.page()->findChildren<RunPanel*>())
            if (panel->isVisible())
                return panel->said().isEmpty() ? panel->refusal() : panel->said();
        return {};
    }
    MainWindow& m_window;
    QString m_failed;
};

/// The dead-voltage check on its card, then every conductor ticked.
QString wire(MainWindow& window)
{
    window.goTo(static_cast<int>(Station::Wire));
    if (QString failed = typeStep(
            window, 3,
            {{"provedBefore", "yes"}, {"bus", "0.2 V"}, {"lines", "0 V"}, {"earth", "0 V"}, {"provedAfter", "yes"}});
        !failed.isEmpty())
        return failed;
    const WirePlan plan = window.document().evaluation().wire.plan();
    for (const Conductor& c : plan.conductors)
        window.document().append(window.document().typedSource(), ConductorSeen{c.id, true, false, {}});
    pause(30);
    return {};
}

} // namespace

void pressMouse(QWidget& widget, bool down)
{
    const QPointF at = QRectF(widget.rect()).center();
    QMouseEvent event(down ? QEvent::MouseButtonPress : QEvent::MouseButtonRelease, at, widget.mapToGlobal(at),
                      Qt::LeftButton, down ? Qt::LeftButton : Qt::NoButton, Qt::NoModifier);
    QApplication::sendEvent(&widget, &event);
}

void bringUp(QWidget& widget)
{
    for (QWidget* w = &widget; w; w = w->parentWidget())
        if (auto* tabs = qobject_cast<QTabWidget*>(w))
            for (int k = 0; k < tabs->count(); ++k)
                if (tabs->widget(k)->isAncestorOf(&widget) && tabs->isTabVisible(k))
                    tabs->setCurrentIndex(k);
}

bool press(MainWindow& window, const char* name, bool hold, int holdTime, int wait)
{
    auto* b = window.findChild<QPushButton*>(QString::fromLatin1(name));
    if (!b)
        return false;
    bringUp(*b);
    QElapsedTimer clock;
    clock.start();
    const auto until = [&](const auto& done) {
        while (!done() && clock.elapsed() < wait)
            pause(15);
        return done();
    };
    if (!until([&] { return b->isEnabled() && b->isVisible(); }))
        return false;
    pressMouse(*b, true);
    if (hold) {
        if (holdTime > 0)
            pause(holdTime);
        else
            until([&] { return !window.busy(); });
    }
    pressMouse(*b, false);
    pause(30);
    return until([&] { return !window.busy(); });
}

QString typeStep(MainWindow& window, int number, const std::vector<std::pair<const char*, const char*>>& entries)
{
    const WorkStep& step = workSteps()[static_cast<std::size_t>(number - 1)];
    window.goTo(static_cast<int>(step.station));
    window.showStep(number);
    pause(20);
    auto* card = window.findChild<StepCard*>(QStringLiteral("step"));
    if (!card)
        return QStringLiteral("step");
    for (const auto& [key, text] : entries) {
        const QString name = QStringLiteral("step.") + QString::fromUtf8(key);
        if (auto* box = card->findChild<QCheckBox*>(name)) {
            box->setChecked(true);
        } else if (auto* line = card->findChild<QLineEdit*>(name)) {
            line->setText(QString::fromUtf8(text));
            Q_EMIT line->editingFinished();
        } else {
            return name;
        }
    }
    for (auto* box : card->findChildren<QCheckBox*>())
        if (box->objectName().startsWith(QLatin1String("step.C-")))
            box->setChecked(true);
    if (!press(window, "step.enter"))
        return QStringLiteral("step.enter");
    const StepStatus& s = window.document().evaluation().steps[static_cast<std::size_t>(number - 1)];
    return s.state == StepState::Passed ? QString() : QStringLiteral("step ") + said(step.id);
}

QString walkThrough(MainWindow& window, const std::function<void(const QString&)>& look)
{
    if (!window.document().person().named())
        window.document().setPerson({"R. Sorrel", "technician"});
    Walk walk(window);
    const auto at = [&](Station station, const char* name) {
        window.goTo(static_cast<int>(station));
        look(QString::fromLatin1(name));
    };
    const auto toDrive = [&] {
        window.goTo(static_cast<int>(Station::Set));
        walk.press("set.write").press("set.save").press("set.cycle");
    };
    at(Station::Load, "1-load");
    at(Station::Move, "2-move");
    at(Station::Match, "3-match");
    if (const QString failed = wire(window); !failed.isEmpty())
        return failed;
    at(Station::Wire, "4-wire");
    window.goTo(static_cast<int>(Station::Set));
    walk.press("set.connect").press("set.read");
    look(QStringLiteral("5-set"));
    toDrive();
    window.goTo(static_cast<int>(Station::Turn));
    walk.press("turn.begin").press("turn.hand");
    pause(600);
    walk.press("turn.end")
        .hold<Jogged>("turn.plus", "turn.reset", 900)
        .hold<Jogged>("turn.minus", "turn.reset", 900)
        .press("turn.agree");
    look(QStringLiteral("6-turn"));
    window.goTo(static_cast<int>(Station::Tune));
    walk.hold<MoveCaptured>("tune.run", "tune.reset");
    window.document().edit(QObject::tr("Raise the feedforward"), {},
                           [](Axis& a) { a.tune.speedFeedforward = a.tune.accelerationFeedforward = 1.0; });
    pause(30);
    walk.press("tune.apply").hold<MoveCaptured>("tune.run", "tune.reset");
    look(QStringLiteral("7-tune"));
    window.goTo(static_cast<int>(Station::Guard));
    const auto stop = [&] { walk.hold<StopTested>("guard.trip", "guard.reset"); };
    stop();
    walk.press("guard.take");
    stop();
    const auto covered = [&] {
        const Check* covers = window.document().evaluation().check("guard.delay");
        return !covers || covers->verdict != Verdict::Fail;
    };
    for (int again = 0; again < 3 && !covered(); ++again) { // a later stop took longer: the delay follows the longest,
        walk.press("guard.take");                           // and a new delay fells the stops before it
        stop();
    }
    walk.press("guard.channelA").press("guard.channelB").press("guard.restart");
    look(QStringLiteral("8-guard"));
    toDrive();
    at(Station::Sign, "9-sign");
    return walk.failed();
}

namespace {

/// Marks the best candidates for the comparison.
void compareBest(MainWindow& window)
{
    window.document().selectAxis(0);
    window.goTo(static_cast<int>(Station::Match));
    pause(100);
    auto* list = window.findChild<QTableWidget*>(QStringLiteral("candidates"));
    for (int row = 0; list && row < std::min(4, list->rowCount()); ++row) {
        list->setCurrentCell(row, 1);
        press(window, "match.compare");
    }
}

/// A picture of the dialog that opens while something is begun; it is closed again.
int shootDialog(MainWindow& window, const QString& file, const std::function<void()>& begin)
{
    int count = 0;
    QTimer::singleShot(400, &window, [&] {
        if (QWidget* dialog = QApplication::activeModalWidget()) {
            count += dialog->grab().save(file);
            dialog->close();
        }
    });
    begin();
    return count;
}

/// A slide that was recorded with some noise of its scale, as a table in a folder that goes again.
int shootRecording(MainWindow& window, const QString& file)
{
    const QTemporaryDir folder;
    QFile table(folder.filePath(QStringLiteral("slide.csv")));
    if (!table.open(QIODevice::WriteOnly))
        return 0;
    table.write("time [ms];position [mm]\n");
    std::uint32_t dice = 7;
    for (int k = 0; k <= 600; ++k) {
        dice = dice * 1664525U + 1013904223U;
        const double z = std::clamp((k - 30) / 540.0, 0.0, 1.0), noise = 0.04 * (dice / 4294967296.0 - 0.5);
        table.write(QByteArray::number(2 * k) + ';'
                    + QByteArray::number(220 * z * z * z * (10 - 15 * z + 6 * z * z) + noise, 'f', 4) + '\n');
    }
    table.close();
    window.document().selectAxis(0);
    window.goTo(static_cast<int>(Station::Move));
    pause(50);
    return shootDialog(window, file, [&] { window.page()->takeFile(table.fileName()); });
}

/// The builder of inertias with the dial of the demo.
int shootBuilder(MainWindow& window, const QString& file)
{
    window.document().selectAxis(2);
    window.goTo(static_cast<int>(Station::Load));
    pause(100);
    auto* build = window.findChild<QAction*>(QStringLiteral("load.moving.build"));
    return build ? shootDialog(window, file, [build] { build->trigger(); }) : 0;
}

/// The linear axis set up on its own simulated drive and swept along its magnets.
void phaseLinear(MainWindow& window)
{
    window.document().selectAxis(4);
    if (!wire(window).isEmpty())
        return;
    window.goTo(static_cast<int>(Station::Set));
    Walk walk(window);
    walk.press("set.connect").press("set.read").press("set.write").press("set.save").press("set.cycle");
    window.goTo(static_cast<int>(Station::Turn));
    if (auto* current = window.page()->findChild<QLineEdit*>(QStringLiteral("phase.current")))
        current->setText(QStringLiteral("70 %"));
    walk.hold<Swept>("phase.sweep", "turn.reset");
    if (!walk.failed().isEmpty())
        std::fprintf(stderr, "The sweep stopped at %s.\n", qPrintable(walk.failed()));
}

int shootHandbook(MainWindow& window, const QString& file)
{
    Handbook book(&window);
    book.show();
    book.show("belt-drive");
    pause(100);
    return book.grab().save(file);
}

} // namespace

int walkAndShoot(MainWindow& window, const QString& folder, const QSize& size)
{
    if (!QDir().mkpath(folder)) {
        std::fprintf(stderr, "The folder %s cannot be made.\n", qPrintable(folder));
        return 0;
    }
    int count = 0;
    const auto shoot = [&](const QString& name) {
        pause(200);
        count += window.grab().save(QStringLiteral("%1/%2.png").arg(folder, name));
    };
    window.resize(size);
    const QString failed = walkThrough(window, shoot);
    window.goTo(MainWindow::machineView);
    shoot(QStringLiteral("machine"));
    if (auto* tabs = window.page()->findChild<QTabWidget*>(QStringLiteral("machine.tabs"))) {
        tabs->setCurrentIndex(1);
        shoot(QStringLiteral("machine-shared"));
        tabs->setCurrentIndex(0);
    }
    struct View {
        std::size_t axis;
        Station station;
        const char *picture, *name; ///< begin of its name in the list of pictures; empty: the first
    };
    for (const View& v :
         {View{2, Station::Load, "", "load-rotary"}, View{3, Station::Match, "", "match-stepper"},
          View{1, Station::Match, "Ratio", "match-ratio"}, View{1, Station::Match, "Bus", "match-bus"}}) {
        window.document().selectAxis(v.axis);
        window.goTo(static_cast<int>(v.station));
        pause(30);
        if (auto* list = window.findChild<QComboBox*>(QStringLiteral("match.picture"));
            list && v.station == Station::Match) {
            list->setCurrentIndex(std::max(0, list->findText(QString::fromLatin1(v.picture), Qt::MatchStartsWith)));
            Q_EMIT list->activated(list->currentIndex());
        }
        shoot(QString::fromLatin1(v.name));
    }
    compareBest(window);
    shoot(QStringLiteral("match-compare"));
    window.document().selectAxis(1);
    window.goTo(static_cast<int>(Station::Move));
    press(window, "move.gentlest");
    shoot(QStringLiteral("move-gentlest"));
    press(window, "move.forget");
    count += shootBuilder(window, folder + QStringLiteral("/load-bodies.png"));
    count += shootRecording(window, folder + QStringLiteral("/move-recorded.png"));
    count += shootHandbook(window, folder + QStringLiteral("/handbook.png"));
    phaseLinear(window);
    shoot(QStringLiteral("turn-phasing"));
    window.document().selectAxis(0);
    window.setDark(true);
    window.goTo(static_cast<int>(Station::Match));
    pause(30);
    if (auto* list = window.findChild<QComboBox*>(QStringLiteral("match.picture"))) {
        list->setCurrentIndex(0);
        Q_EMIT list->activated(0);
    }
    shoot(QStringLiteral("dark-match"));
    window.setDark(false);
    if (failed.isEmpty())
        return count;
    std::fprintf(stderr, "The walk stopped at the button %s.\n", qPrintable(failed));
    return 0;
}

} // namespace ridge::app
