#include "app/instruments/ladderview.h"
#include "app/shell/shots.h"
#include "app/widgets/runpanel.h"
#include "core/objects/protections.h"
#include "core/stations/gates.h"
#include "support/benchtest.h"
#include "support/proxy.h"
#include "support/wait.h"
#include "support/windowfixture.h"

#include <QCheckBox>
#include <QComboBox>
#include <QPointer>
#include <QTableWidget>
#include <QTest>

using namespace ridge;
using namespace ridge::app;

/// The doors between practice and a real drive, between one axis and another, between holding and moving.
class TestDoors : public BenchTest {
    Q_OBJECT

private Q_SLOTS:
    void init() { begin(); }
    void cleanup() { endAll(); }

    /// EV01: the whole walk simulated, then a real identity: jog locked, no backup, no proof. Back on practice, it is
    /// as it was.
    void practiceUnlocksNothingReal()
    {
        const QString failed = walkThrough(m->window(), [](const QString&) {});
        QVERIFY2(failed.isEmpty(), qPrintable(failed));
        QCOMPARE(m->document().evaluation().check("guard.proved")->verdict, Verdict::Practised);
        DriveProcess drive;
        const int port = drive.start(realPlant(4711));
        QVERIFY(port > 0);
        connectReal(port);
        QVERIFY(!m->window().bench().session().simulated());
        const Evaluation& e = m->document().evaluation();
        for (const char* id : {"set.backup", "set.saved", "turn.counts", "turn.direction", "turn.jogged",
                               "tune.captured", "guard.proved"})
            QVERIFY2(e.check(id)->verdict == Verdict::Unknown, id);
        QVERIFY(!at(4, "set.write")->isEnabled());
        QVERIFY(!m->find<QPushButton>("set.save")->isEnabled());
        QVERIFY(!at(5, "turn.plus")->isEnabled());
        QVERIFY(!at(6, "tune.run")->isEnabled());
        QVERIFY(!at(7, "guard.trip")->isEnabled());
        // pressing all the same, by mouse and by key, moves nothing
        const auto& session = m->window().bench().session();
        QVERIFY(waitFor([&] { return session.age() >= 0; })); // it has looked once
        const auto before = session.snapshot().position;
        auto* plus = static_cast<HoldButton*>(at(5, "turn.plus"));
        QTest::mousePress(plus, Qt::LeftButton);
        QTest::keyPress(plus, Qt::Key_Space);
        runFor(600);
        QTest::keyRelease(plus, Qt::Key_Space);
        QTest::mouseRelease(plus, Qt::LeftButton);
        QCOMPARE(session.snapshot().position, before);
        QVERIFY(!m->window().bench().running());
        // first it is read and bound; even then the jog waits for the steps that come before it
        m->window().goTo(4);
        m->settle();
        QVERIFY(press(m->window(), "set.read"));
        QVERIFY(!m->find<QPushButton>("set.write")->isEnabled()); // not bound yet
        QVERIFY(press(m->window(), "set.bind"));
        QCOMPARE(m->document().evaluation().check("set.backup")->verdict, Verdict::Ok);
        acceptLimits();
        QVERIFY(m->find<QPushButton>("set.write")->isEnabled());
        QVERIFY(press(m->window(), "set.write"));
        QVERIFY(waitFor([&] { return m->document().evaluation().set.verified; }));
        QVERIFY(m->window().bench().refusal(Act::Jog).contains(QStringLiteral("stand at the machine")));
        m->find<QCheckBox>("link.present")->click();
        QVERIFY2(m->window().bench().refusal(Act::Jog).contains(QStringLiteral("S19")),
                 qPrintable(m->window().bench().refusal(Act::Jog)));
        QVERIFY(!at(5, "turn.plus")->isEnabled());
        m->window().bench().disconnectHere();
        m->settle();
        // without a connection the axis is looked at as that of its real drive
        QCOMPARE(m->document().evaluation().check("set.backup")->verdict, Verdict::Ok);
        QCOMPARE(m->document().evaluation().check("guard.proved")->verdict, Verdict::Unknown);
    }

    /// A window that goes while a drive still owes answers tells those who wait, and only while they live.
    void theWindowGoesWhileAnswersAreOwed()
    {
        connectSimulated();
        auto& link = m->window().bench();
        const bool owed = press(m->window(), "set.read");
        QVERIFY(owed);
        bool told = false;
        link.runs().counts([&told, page = QPointer<QWidget>(m->window().page())](const Result<double>&) {
            told = true;
            QVERIFY2(page, "told after its page was gone");
        });
        QVERIFY(!told);
        m.reset();
        QVERIFY(told);
    }

    /// Another serial number on the axis is refused with both, until a person says that the drive was replaced.
    void anotherDriveIsRefused()
    {
        DriveProcess first, second;
        const int one = first.start(realPlant(4711)), two = second.start(realPlant(4712));
        QVERIFY(one > 0 && two > 0);
        connectReal(one);
        QVERIFY(press(m->window(), "set.read"));
        QVERIFY(press(m->window(), "set.bind"));
        acceptLimits();
        QVERIFY2(m->find<QPushButton>("set.write")->isEnabled(), qPrintable(m->window().bench().refusal(Act::Write)));
        connectReal(two);
        QVERIFY(!m->find<QPushButton>("set.write")->isEnabled());
        const QString why = m->window().bench().refusal(Act::Write);
        QVERIFY2(why.contains(QStringLiteral("4711")) && why.contains(QStringLiteral("4712")), qPrintable(why));
        QVERIFY(press(m->window(), "set.read"));
        QVERIFY(!m->find<QPushButton>("set.write")->isEnabled());
        QVERIFY(press(m->window(), "set.bind")); // without a reason nothing is replaced
        QCOMPARE(boundDrive(m->document().facts(), "A1").serial, std::string("4711"));
        m->find<QLineEdit>("set.replaceReason")->setText(QStringLiteral("its fan stood still"));
        QVERIFY(press(m->window(), "set.bind"));
        QCOMPARE(boundDrive(m->document().facts(), "A1").serial, std::string("4712"));
        QVERIFY2(m->find<QPushButton>("set.write")->isEnabled(), qPrintable(m->window().bench().refusal(Act::Write)));
    }

    /// RS10: what is off in the drive is listed in Sign, stands against the hand-over, and stays only with a reason and
    /// a name.
    void whatIsDefeatedStaysOpen()
    {
        DriveProcess drive;
        const int port = drive.start(realPlant(4711));
        QVERIFY(port > 0);
        connectReal(port);
        link::Session& session = m->window().bench().session();
        bool done = false; // somebody was here before
        session.write(monitorsOff, 1);
        session.write(inputsForced, 2, [&](const Result<void>&) { done = true; });
        QVERIFY(waitFor([&] { return done; }));
        QVERIFY(press(m->window(), "set.read"));
        QVERIFY(press(m->window(), "set.bind"));
        m->window().goTo(8);
        m->settle();
        auto* list = m->find<QTableWidget>("defeated");
        const auto row = [&](const QString& what) {
            for (int r = 0; r < list->rowCount(); ++r)
                if (list->item(r, 0)->text().contains(what))
                    return r;
            return -1;
        };
        QVERIFY(row(QStringLiteral("motor temperature")) >= 0 && row(QStringLiteral("positive limit switch")) >= 0);
        const auto refused = [&] {
            QString all;
            for (const Message& w : refusalsToSign(m->document().evaluation(), m->document().evidence()))
                all += QString::fromStdString(plain(w)) + QLatin1Char('\n');
            return all;
        };
        QVERIFY(refused().contains(QStringLiteral("motor temperature")));
        QTest::mouseClick(m->find<QPushButton>("sign.justify"), Qt::LeftButton); // without a choice
        QVERIFY(m->find<QLabel>("sign.words")->text().contains(QStringLiteral("Choose")));
        list->setCurrentCell(row(QStringLiteral("motor temperature")), 0);
        QTest::mouseClick(m->find<QPushButton>("sign.justify"), Qt::LeftButton); // without a reason
        QVERIFY(m->find<QLabel>("sign.words")->text().contains(QStringLiteral("reason")));
        QTest::keyClicks(m->find<QLineEdit>("sign.stays"), QStringLiteral("this motor has no sensor"));
        QTest::mouseClick(m->find<QPushButton>("sign.justify"), Qt::LeftButton);
        m->settle();
        QVERIFY(!refused().contains(QStringLiteral("motor temperature")));
        QVERIFY(refused().contains(QStringLiteral("positive limit switch")));
        const QString why = list->item(row(QStringLiteral("motor temperature")), 3)->text();
        QVERIFY2(why.contains(QStringLiteral("no sensor"))
                     && why.contains(QString::fromStdString(m->document().person().name)),
                 qPrintable(why));
        // typed, for what no drive tells
        QTest::keyClicks(m->find<QLineEdit>("sign.off"), QStringLiteral("input X5"));
        QTest::mouseClick(m->find<QPushButton>("sign.isOff"), Qt::LeftButton);
        QVERIFY(m->find<QLabel>("sign.words")->text().contains(QStringLiteral("what is found")));
        QTest::keyClicks(m->find<QLineEdit>("sign.found"), QStringLiteral("bypass plug"));
        QTest::mouseClick(m->find<QPushButton>("sign.isOff"), Qt::LeftButton);
        m->settle();
        QVERIFY(row(QStringLiteral("input X5")) >= 0);
        QVERIFY(refused().contains(QStringLiteral("bypass plug")));
        QTest::mouseClick(m->find<QPushButton>("sign.noneOff"), Qt::LeftButton);
        m->settle();
        QCOMPARE(row(QStringLiteral("input X5")), -1);
    }

    /// RS14 in the window: with an open refusal of the plan nothing moves, by mouse or by key, and the button says why.
    void anAutomaticResetMovesNothing()
    {
        connectSimulated();
        auto* plus = static_cast<HoldButton*>(at(5, "turn.plus"));
        QVERIFY(plus->isEnabled());
        m->window().goTo(7);
        m->settle();
        auto* reset = m->find<QComboBox>("guard.emergencyReset");
        QVERIFY(reset);
        reset->setFocus();
        QTest::keyClick(reset, Qt::Key_Down);
        m->settle();
        QCOMPARE(m->document().axis().guard.emergencyReset, EmergencyReset::Automatic);
        QVERIFY(!m->find<QPushButton>("guard.trip")->isEnabled());
        plus = static_cast<HoldButton*>(at(5, "turn.plus"));
        QVERIFY(!plus->isEnabled());
        QTest::keyPress(plus, Qt::Key_Space);
        runFor(300);
        QTest::keyRelease(plus, Qt::Key_Space);
        QVERIFY(!m->window().bench().running());
        QVERIFY2(m->window().bench().refusal(Act::Jog).contains(QStringLiteral("W-EST-03")),
                 qPrintable(m->window().bench().refusal(Act::Jog)));
        m->document().undoStack().undo();
        m->settle();
        QVERIFY(at(5, "turn.plus")->isEnabled());
    }

    /// RS14, C-24: over a remote connection no motion is started.
    void nothingMovesRemotely()
    {
        connectSimulated();
        QVERIFY(at(5, "turn.plus")->isEnabled());
        m->window().bench().session().setRemote(true);
        Q_EMIT m->window().bench().changed();
        for (const auto& [station, name] : {std::pair{5, "turn.plus"}, {6, "tune.run"}, {7, "guard.trip"}})
            QVERIFY2(!at(station, name)->isEnabled(), name);
        QVERIFY(m->window().bench().refusal(Act::Jog).contains(QStringLiteral("sees the axis")));
    }

    /// What one page starts belongs to the axis it was started on, whatever is looked at when it ends.
    void aReadStaysWithItsAxis()
    {
        m->window().goTo(4);
        QVERIFY(press(m->window(), "set.connect"));
        QVERIFY(waitFor([&] { return m->window().bench().session().identified(); }));
        auto* read = m->find<QPushButton>("set.read");
        QTest::mouseClick(read, Qt::LeftButton);
        m->document().selectAxis(1); // at once, before the values are there
        QVERIFY(waitFor(
            [&] {
                return std::ranges::any_of(m->document().facts(),
                                           [](const Fact& f) { return f.as<DriveRead>() != nullptr; });
            },
            5000));
        for (const Fact& f : m->document().facts())
            if (f.as<DriveRead>())
                QCOMPARE(f.axis, std::string("A1"));
        m->settle();
        QVERIFY(!m->document().evaluation().set.memory.backup); // A2 has none
        QVERIFY(!m->window().bench().session().connected());    // its connection is its own
        QVERIFY(!m->find<QPushButton>("set.read")->isEnabled());
        QVERIFY(m->window().bench().words().contains(QStringLiteral("no drive")));
        m->document().selectAxis(0);
        m->settle();
        QVERIFY(m->document().evaluation().set.memory.backup);
        QVERIFY(m->window().bench().session().connected());
    }

    void twoAxesAtOnce()
    {
        connectSimulated();
        const std::string first = m->window().bench().session().identity().serial;
        m->document().selectAxis(1);
        m->settle();
        connectSimulated();
        const std::string second = m->window().bench().session().identity().serial;
        QVERIFY(first != second);
        for (const Fact& f : m->document().facts())
            if (f.as<DriveWritten>())
                QCOMPARE(f.identity.serial, f.axis == "A1" ? first : second);
    }

    /// Held by mouse and by key; letting go, sliding off, losing the focus, another axis, another station: each stops
    /// it.
    void lettingGo_data()
    {
        QTest::addColumn<QString>("how");
        for (const char* how : {"mouse", "key", "slide off", "focus", "axis", "station", "stop key", "close"})
            QTest::newRow(how) << QString::fromUtf8(how);
    }
    void lettingGo()
    {
        QFETCH(QString, how);
        connectSimulated();
        m->window().activateWindow();
        auto* plus = static_cast<HoldButton*>(at(5, "turn.plus"));
        QVERIFY(plus->isEnabled());
        link::Session& session = m->window().bench().session();
        if (how == QLatin1String("key")) {
            plus->setFocus();
            QTest::keyPress(plus, Qt::Key_Space);
        } else {
            QTest::mousePress(plus, Qt::LeftButton);
        }
        QVERIFY(plus->isHeld());
        QVERIFY2(waitFor([&] { return session.snapshot().velocity > 5000; }), "it never moved");
        if (how == QLatin1String("mouse"))
            QTest::mouseRelease(plus, Qt::LeftButton);
        else if (how == QLatin1String("key"))
            QTest::keyRelease(plus, Qt::Key_Space);
        else if (how == QLatin1String("slide off"))
            QTest::mouseMove(plus, QPoint(plus->width() + 40, plus->height() / 2));
        else if (how == QLatin1String("focus"))
            plus->clearFocus();
        else if (how == QLatin1String("axis"))
            QTest::keyClick(&m->window(), Qt::Key_Down, Qt::ControlModifier);
        else if (how == QLatin1String("station"))
            QTest::keyClick(&m->window(), Qt::Key_1, Qt::ControlModifier);
        else if (how == QLatin1String("stop key"))
            QTest::keyClick(&m->window(), Qt::Key_F12);
        else
            m->window().close();
        if (how == QLatin1String("slide off") && plus->isHeld()) { // the offscreen platform does not move the pointer
            QMouseEvent off(QEvent::MouseMove, QPointF(plus->width() + 40, 5),
                            plus->mapToGlobal(QPointF(plus->width() + 40, 5)), Qt::NoButton, Qt::LeftButton,
                            Qt::NoModifier);
            QApplication::sendEvent(plus, &off);
        }
        QVERIFY2(waitFor([&] { return !m->window().bench().running(); }), "the run went on");
        if (how != QLatin1String("close")) {
            const bool stands = waitFor([&] {
                return session.snapshot().velocity == 0
                       && driveState(session.snapshot().status) != DriveState::OperationEnabled;
            });
            QVERIFY2(stands, qPrintable(QStringLiteral("%1 velocity %2 status %3 age %4 connected %5")
                                            .arg(m->window().bench().words())
                                            .arg(session.snapshot().velocity)
                                            .arg(session.snapshot().status, 0, 16)
                                            .arg(session.age())
                                            .arg(session.connected())));
            // it belongs to A1, whatever is in view
            QVERIFY(waitFor([&] { return has([](const Fact& f) { return f.as<Jogged>() && f.axis == "A1"; }); }));
        }
    }

    /// Held again while a slow drive still answers for the jog before: letting go ends this one as it ended that one.
    void aSecondHoldEndsToo()
    {
        DriveProcess drive;
        Proxy cable(drive.start(liftPlant()));
        m->window().goTo(4);
        m->type("set.address", qPrintable(QStringLiteral("127.0.0.1:%1").arg(cable.port())));
        QVERIFY(waitFor([&] { return m->window().bench().session().identified(); }));
        QVERIFY(press(m->window(), "set.read"));
        if (auto* accept = m->find<QPushButton>("set.acceptLimits"); accept->isVisible())
            QTest::mouseClick(accept, Qt::LeftButton);
        QVERIFY(press(m->window(), "set.write"));
        QVERIFY(waitFor([&] { return m->document().evaluation().set.verified; }));
        auto* plus = static_cast<HoldButton*>(at(5, "turn.plus"));
        link::Session& session = m->window().bench().session();
        const auto jogs = [&] {
            return std::ranges::count_if(m->document().facts(), [](const Fact& f) { return f.as<Jogged>(); });
        };
        const auto holdAndLetGo = [&](int before) {
            const auto from = session.snapshot().position;
            QTest::mousePress(plus, Qt::LeftButton);
            QVERIFY2(waitFor([&] { return jogs() == before && session.snapshot().position > from + 5000; }),
                     qPrintable(QStringLiteral("it never moved: %1, fault %2")
                                    .arg(m->window().bench().words())
                                    .arg(session.snapshot().error, 0, 16)));
            QTest::mouseRelease(plus, Qt::LeftButton);
            QVERIFY2(waitFor([&] { return !m->window().bench().running(); }), "letting go did not end the jog");
        };
        cable.delayAnswers(40);
        holdAndLetGo(0);
        holdAndLetGo(1); // at once
        QVERIFY(waitFor([&] { return session.snapshot().velocity == 0 && jogs() == 2; }));
    }

    /// A fault is named and in the record, with the drive's history, before anything resets it; no run does.
    void aFaultIsNamedFirst()
    {
        connectSimulated();
        auto* plus = static_cast<HoldButton*>(at(5, "turn.plus"));
        QVERIFY(m->window().bench().refusal(Act::Jog).isEmpty());
        QVERIFY(press(m->window(), "turn.watchdog")); // the proof ends in fault 8130
        QVERIFY(waitFor([&] { return m->window().bench().session().snapshot().error == 0x8130; }));
        QVERIFY(waitFor([&] { return has([](const Fact& f) { return f.as<FaultSeen>() != nullptr; }); }));
        const auto seen =
            std::ranges::find_if(m->document().facts(), [](const Fact& f) { return f.as<FaultSeen>() != nullptr; });
        QCOMPARE(seen->as<FaultSeen>()->code, 0x8130);
        QVERIFY(seen->as<FaultSeen>()->history.find("8130") != std::string::npos);
        QVERIFY(has([](const Fact& f) { return f.as<LinkEvent>() && f.as<LinkEvent>()->proof; }));
        QVERIFY(waitFor([&] { return !m->window().bench().running() && !plus->isEnabled(); }));
        QVERIFY(m->window().bench().refusal(Act::Jog).contains(QStringLiteral("fault")));
        // in words: code, what it is, its usual cause, what helps (R02)
        const QString words = m->find<QLabel>("turn.fault")->text();
        for (const char* part : {"8130", "link lost", "Usual cause: cable", "What helps: look at the axis", "history"})
            QVERIFY2(words.contains(QString::fromUtf8(part)), qPrintable(words));
        // its reset stands in every station that works on the drive, and no run of theirs is offered
        for (const auto& [station, name] : {std::pair{4, "set.reset"}, {6, "tune.reset"}, {7, "guard.reset"}}) {
            auto* reset = at(station, name);
            QVERIFY2(waitFor([&] { return reset->isVisible() && reset->isEnabled(); }), name);
        }
        QVERIFY(at(5, "turn.reset"));
        QVERIFY(press(m->window(), "turn.reset"));
        QVERIFY(waitFor([&] { return m->window().bench().session().snapshot().error == 0; }));
        QVERIFY(waitFor([&] {
            return has([](const Fact& f) { return f.as<FaultReset>() && f.as<FaultReset>()->code == 0x8130; });
        }));
        QVERIFY(waitFor([&] { return plus->isEnabled(); }));
    }

    /// R01: eleven causes in their order, of one moment, with their age; what the drive does not say is asked, and an
    /// answer holds for this connection only.
    void theLadderAsksWhatIsNotKnown()
    {
        DriveProcess drive;
        QByteArray plant = realPlant(4711);
        plant.chop(1);
        const int known = 0x07FF & ~(1 << 7) & ~(1 << 10); // neither the temperature sensor nor the limits are told
        const int port = drive.start(plant + R"(, "told": )" + QByteArray::number(known) + "}");
        QVERIFY(port > 0);
        connectReal(port);
        m->window().goTo(5);
        m->settle();
        auto* ladder = m->window().page()->findChild<LadderView*>();
        auto* ask = m->find<QLabel>("turn.ask");
        auto* yes = m->find<QPushButton>("turn.askYes");
        QVERIFY(
            waitFor([&] { return ladder->openRung().contains(QStringLiteral("motor data")); })); // false before unknown
        QVERIFY(!yes->isVisible());
        QVERIFY(m->find<QLabel>("turn.age")->text().contains(QStringLiteral("of one moment")));
        link::Session& session = m->window().bench().session();
        session.write({0x2120, 1}, 4);
        session.write({0x2120, 4}, 700000);
        QVERIFY(waitFor([&] { return ladder->openRung().contains(QStringLiteral("temperature sensor")); }));
        QVERIFY(waitFor([&] { return yes->isVisible(); }));
        QVERIFY(ask->text().contains(QStringLiteral("does not say")));
        QVERIFY(ask->text().contains(QStringLiteral("open or short"))); // where to look
        QTest::mouseClick(yes, Qt::LeftButton);
        QVERIFY(ladder->openRung().contains(QStringLiteral("limit")));
        QTest::keyClick(yes, Qt::Key_Space);
        QVERIFY(ladder->isClosed());
        QVERIFY(!yes->isVisible());
        // a new connection is another moment: asked anew
        m->window().bench().disconnectHere();
        QVERIFY(!ladder->isClosed());
        connectReal(port);
        m->window().goTo(5);
        QVERIFY(waitFor([&] { return ladder->openRung().contains(QStringLiteral("temperature sensor")); }));
        drive.kill();
        QVERIFY(waitFor([&] { return !ladder->openRung().contains(QStringLiteral("temperature sensor")); }));
        QVERIFY(ladder->openRung().contains(QStringLiteral("control supply"))); // nothing old is taken for present
    }

    /// An axis that gets another number, or is removed, takes its connection with it: no drive goes on without an axis.
    void aConnectionEndsWithItsAxis()
    {
        connectSimulated();
        QVERIFY(m->window().bench().connected("A1"));
        m->window().bench().runs().jog({.speed = 20000, .torqueLimit = 600}, [](const Result<double>&) {});
        QVERIFY(waitFor([&] { return m->window().bench().session().snapshot().velocity > 5000; }));
        m->document().editMachine(QStringLiteral("another number"),
                                  [](Machine& machine) { machine.axes[0].id = "Z1"; });
        QVERIFY(waitFor([&] { return !m->window().bench().connected("A1"); }));
        QVERIFY(!m->window().bench().running());
        connectSimulated();
        QVERIFY(m->window().bench().connected("Z1"));
        m->document().undoStack().undo();
        QVERIFY(waitFor([&] { return !m->window().bench().connected("Z1"); }));
        connectSimulated();
        m->document().editMachine(QStringLiteral("remove"),
                                  [](Machine& machine) { machine.axes.erase(machine.axes.begin()); });
        QVERIFY(waitFor([&] { return !m->window().bench().connected("A1"); }));
    }

    /// Undo touches the plan only.
    void undoTakesNoFact()
    {
        connectSimulated();
        m->window().goTo(7);
        m->settle();
        QVERIFY(press(m->window(), "guard.channelA"));
        QVERIFY(waitFor([&] { return m->document().evidence().newest<StopTested>() != nullptr; }));
        const std::size_t facts = m->document().facts().size();
        while (m->document().undoStack().canUndo())
            m->document().undoStack().undo();
        QVERIFY(m->document().facts().size() >= facts);
        QVERIFY(m->document().evidence().newest<StopTested>());
    }
};

QTEST_MAIN(TestDoors)
#include "tst_doors.moc"
