#include "app/instruments/connectionview.h"
#include "app/shell/shots.h"
#include "app/theme/sentence.h"
#include "app/widgets/stepspanel.h"
#include "store/machinefile.h"
#include "store/machinejson.h"
#include "support/machinefixture.h"
#include "support/wait.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDragEnterEvent>
#include <QListWidget>
#include <QMimeData>
#include <QTableWidget>
#include <QTest>
#include <QTextBrowser>

using namespace ridge;
using namespace ridge::app;

/// A machine of one's own in the window: made, filled, reordered, versioned, read; and the record that only grows.
class TestOwnMachine : public QObject {
    Q_OBJECT

    std::unique_ptr<MachineFixture> m;

    [[nodiscard]] std::string ids()
    {
        std::string out;
        for (const Axis& a : m->document().machine().axes)
            out += (out.empty() ? "" : " ") + a.id;
        return out;
    }

private Q_SLOTS:
    void init() { m = std::make_unique<MachineFixture>(); }
    void cleanup() { m.reset(); }

    void fromNothing()
    {
        QCOMPARE(m->window().newMachine(m->path("own.vridge"), QStringLiteral("Own machine"), {}), QString());
        QCOMPARE(m->window().station(), MainWindow::machineView);
        QVERIFY(!m->document().hasAxis());
        for (int station = 0; station < 9; ++station) { // a station without an axis leads to where one is added
            m->window().goTo(station);
            m->settle();
            QCOMPARE(m->window().station(), MainWindow::machineView);
        }
        m->type("machine.name", "Potting line");
        QCOMPARE(m->document().machine().name, std::string("Potting line"));
        m->type("machine.name", "");
        QCOMPARE(m->document().machine().name, std::string("Potting line")); // a machine needs a name
        m->type("site.mains", "480 V");
        QCOMPARE(m->document().machine().site.mains, 480.0);
        m->addAxis("empty", "Pusher");
        QCOMPARE(ids(), std::string("A1"));
        for (int station = 0; station < 9; ++station) { // an empty axis opens every station, with what is missing
            m->window().goTo(station);
            m->settle();
            QCOMPARE(m->window().station(), station);
        }
        QVERIFY(!m->document().evaluation().problems.empty());
        m->window().goTo(0);
        m->settle();
        runFor(150); // a page without a judgement says what is missing, by the name of its field
        const QString missing = m->window().findChild<QTextBrowser*>(QStringLiteral("working"))->toPlainText();
        QVERIFY2(missing.contains(QStringLiteral("Moving mass")), qPrintable(missing));
        m->type("load.moving", "12 kg");
        QCOMPARE(*m->document().axis().load.moving, 12.0);
        const auto file = store::MachineFile::open(m->path("own.vridge").toStdString());
        QVERIFY(file.has_value());
        QCOMPARE(file->machine()->name, std::string("Potting line"));
        QCOMPARE(*file->machine()->axes[0].load.moving, 12.0);
        // the same name again is refused with a sentence, and what is open stays
        QVERIFY(m->window()
                    .newMachine(m->path("own.vridge"), QStringLiteral("x"), {})
                    .contains(QStringLiteral("exists already")));
        QCOMPARE(m->document().machine().name, std::string("Potting line"));
    }

    void axesAreAddedCopiedRenamedMovedRemoved()
    {
        m->machinePage();
        QCOMPARE(ids(), std::string("A1 A2 A3 A4 A5 A6"));
        m->addAxis("vertical-screw", "Second lift");
        QCOMPARE(ids(), std::string("A1 A2 A3 A4 A5 A6 A7"));
        QCOMPARE(m->document().machine().axes.back().name, std::string("Second lift"));
        QVERIFY(m->document().evaluationOf(6).move.path.has_value()); // a pattern computes at once
        m->choose(1);
        m->find<QLineEdit>("axis.name")->setText(QStringLiteral("Traverse two"));
        m->click("axis.copy");
        QCOMPARE(ids(), std::string("A1 A2 A3 A4 A5 A6 A7 A8"));
        QVERIFY(m->document().machine().axes[7].load == m->document().machine().axes[1].load);
        m->choose(0);
        m->find<QLineEdit>("axis.name")->setText(QStringLiteral("Lift"));
        m->click("axis.rename");
        QCOMPARE(m->document().machine().axes[0].name, std::string("Lift"));
        m->choose(0);
        m->click("axis.down");
        QCOMPARE(ids(), std::string("A2 A1 A3 A4 A5 A6 A7 A8"));
        m->choose(2);
        m->click("axis.remove");
        QCOMPARE(ids(), std::string("A2 A1 A4 A5 A6 A7 A8"));
        const std::size_t facts = m->document().facts().size();
        const auto file = store::MachineFile::open(m->path("demo.vridge").toStdString());
        const auto kept = file->machine();
        std::string inFile;
        for (const Axis& a : kept->axes)
            inFile += a.id + " ";
        QCOMPARE(inFile, std::string("A2 A1 A4 A5 A6 A7 A8 "));
        for (int k = 0; k < 5; ++k)
            m->document().undoStack().undo();
        QCOMPARE(ids(), std::string("A1 A2 A3 A4 A5 A6"));
        QCOMPARE(m->document().machine().axes[0].name, std::string("Tray lift"));
        QCOMPARE(m->document().facts().size(), facts + 5); // undo is an edit too, and stands in the record
        QVERIFY(store::MachineFile::open(m->path("demo.vridge").toStdString())->chain().holds());
    }

    void versionsAreReadComparedAndTakenBack()
    {
        QCOMPARE(m->document().keepVersion(QStringLiteral("before")), QString());
        m->type("load.moving", "60");
        m->document().append(m->document().typedSource(), NoteMade{"heavier tray"});
        m->machinePage();
        m->tab("Named versions");
        auto* versions = m->find<QTableWidget>("versions");
        QCOMPARE(versions->rowCount(), 1);
        versions->setCurrentCell(0, 0);
        m->settle();
        auto* differences = m->find<QTableWidget>("differences");
        QCOMPARE(differences->rowCount(), 1);
        QVERIFY(differences->item(0, 3)->text().startsWith(QStringLiteral("46"))
                && differences->item(0, 4)->text().startsWith(QStringLiteral("60")));
        m->click("version.open");
        QList<MainWindow*> others;
        for (QWidget* w : QApplication::topLevelWidgets())
            if (auto* other = qobject_cast<MainWindow*>(w); other && other != &m->window())
                others += other;
        QCOMPARE(others.size(), 1);
        MainWindow& reading = *others.first();
        QVERIFY(reading.document().readOnly());
        QCOMPARE(*reading.document().axis().load.moving, 46.0);
        QString refused;
        connect(&reading.document(), &Document::failed, &reading, [&](const QString& why) { refused = why; });
        reading.document().edit(QStringLiteral("x"), {}, [](Axis& a) { a.load.moving = 1; });
        QVERIFY(refused.contains(QStringLiteral("opened to be read")));
        QCOMPARE(*reading.document().axis().load.moving, 46.0);
        reading.close();
        const std::size_t facts = m->document().facts().size();
        m->click("version.take");
        QCOMPARE(*m->document().machine().axes[0].load.moving, 46.0);
        // a new edit of the machine and of the axis whose plan it changed; what happened since stays
        QCOMPARE(m->document().facts().size(), facts + 2);
        const Fact& taken = m->document().facts().back();
        QVERIFY(taken.as<PlanChanged>() && taken.axis == "A1");
        QVERIFY(taken.prints == fingerprintOf(m->document().machine(), m->document().axis()));
        m->document().undoStack().undo();
        QCOMPARE(*m->document().machine().axes[0].load.moving, 60.0);
    }

    void theRecordIsReadFilteredAndStruckOut()
    {
        m->document().note(QStringLiteral("the coupling was warm"));
        m->document().append(m->document().typedSource(), DirectionSeen{true});
        m->machinePage();
        auto* log = m->find<QTableWidget>("machine.logbook");
        QCOMPARE(log->rowCount(), 2);
        auto* filter = m->find<QLineEdit>("record.filter");
        filter->setText(QStringLiteral("coupling sorrel"));
        QCOMPARE(log->rowCount(), 1);
        QVERIFY(log->item(0, 6)->text().contains(QStringLiteral("warm")));
        log->setCurrentCell(0, 0);
        m->click("record.strike"); // without a reason nothing is struck out
        QCOMPARE(m->document().facts().size(), std::size_t{2});
        m->find<QLineEdit>("record.reason")->setText(QStringLiteral("it was the gearbox"));
        m->click("record.strike");
        QCOMPARE(m->document().facts().size(), std::size_t{3});
        filter->setText(QStringLiteral("coupling"));
        QVERIFY(log->item(0, 6)->text().startsWith(QStringLiteral("struck out")));
        QVERIFY(m->document().facts()[0].as<NoteMade>()); // it stays
    }

    void anUnnamedPersonPlansOnly()
    {
        m->document().setPerson({});
        m->settle();
        QVERIFY(m->window().bench().refusal(Act::Write).contains(QStringLiteral("Say who works")));
        QVERIFY(!typeStep(m->window(), 1, {{"assessment", "RA-7"}, {"plates", "yes"}, {"stops", "yes"}}).isEmpty());
        QVERIFY(m->document().facts().empty());
        m->window().goTo(0);
        m->settle();
        m->type("load.moving", "50"); // planning goes on
        QCOMPARE(*m->document().axis().load.moving, 50.0);
        auto* name = m->window().findChild<QLineEdit*>(QStringLiteral("person.name"));
        QTest::keyClick(&m->window(), Qt::Key_P, Qt::ControlModifier | Qt::ShiftModifier);
        name->setText(QStringLiteral("T. Yarrow"));
        m->window().findChild<QLineEdit*>(QStringLiteral("person.role"))->setText(QStringLiteral("technician"));
        QTest::mouseClick(m->window().findChild<QPushButton*>(QStringLiteral("person.take")), Qt::LeftButton);
        QCOMPARE(m->document().person().name, std::string("T. Yarrow"));
        QCOMPARE(typeStep(m->window(), 1, {{"assessment", "RA-7"}, {"plates", "yes"}, {"stops", "yes"}}), QString());
        QCOMPARE(m->document().facts().back().person.name, std::string("T. Yarrow"));
    }

    /// EV06: on a servo, a linear and a stepper axis of one's own every station opens, every step has its card with a
    /// way by hand, and the line at the foot always names the next one.
    void noAxisMeetsADeadEnd_data()
    {
        QTest::addColumn<QString>("pattern");
        QTest::newRow("servo on a screw") << QStringLiteral("vertical-screw");
        QTest::newRow("linear stage") << QStringLiteral("linear-stage");
        QTest::newRow("nip roll for a stepper") << QStringLiteral("nip-feed");
        QTest::newRow("empty") << QStringLiteral("empty");
    }
    void noAxisMeetsADeadEnd()
    {
        QFETCH(QString, pattern);
        QCOMPARE(m->window().newMachine(m->path("own.vridge"), QStringLiteral("Own"), {}), QString());
        m->addAxis(qPrintable(pattern), "Axis");
        auto* next = m->window().findChild<QPushButton*>(QStringLiteral("next"));
        for (int station = 0; station < 9; ++station) {
            m->window().goTo(station);
            m->settle();
            QVERIFY(next->isVisible() && next->text().contains(QStringLiteral("S0")));
            auto* steps = m->window().findChild<QListWidget*>(QStringLiteral("steps"));
            for (int row = 0; row < steps->count(); ++row) {
                const int number = steps->item(row)->data(Qt::UserRole).toInt();
                m->window().showStep(number);
                m->settle();
                auto* card = m->window().findChild<StepCard*>(QStringLiteral("step"));
                QCOMPARE(card->number(), number);
                QVERIFY2(number == 4 || card->findChild<QPushButton*>(QStringLiteral("step.enter")),
                         qPrintable(QString::number(number)));
            }
        }
        // a closed button says what is missing
        m->window().goTo(5);
        m->settle();
        QVERIFY(!m->find<QPushButton>("turn.plus")->isEnabled());
        const auto leads = m->window().page()->findChildren<QPushButton*>(QStringLiteral("lead"));
        const auto shown = std::ranges::find_if(leads, [](const QPushButton* b) { return b->isVisible(); });
        QVERIFY(shown != leads.end());
        QPushButton* lead = *shown;
        QVERIFY(!lead->text().isEmpty());
        QTest::mouseClick(lead, Qt::LeftButton); // and leads to the next step
        m->settle();
        QVERIFY(m->window().findChild<StepCard*>(QStringLiteral("step"))->isVisible());
    }

    /// What is half typed when the axis or the station changes is taken or refused with its sentence; nothing crashes.
    void halfTypedEntriesAreKept()
    {
        m->window().activateWindow();
        auto* line = m->find<QLineEdit>("load.moving");
        line->setFocus();
        line->selectAll();
        QTest::keyClicks(line, QStringLiteral("63"));
        QTest::keyClick(&m->window(), Qt::Key_Down, Qt::ControlModifier);
        m->settle();
        QCOMPARE(m->document().axisIndex(), std::size_t{1});
        QCOMPARE(*m->document().machine().axes[0].load.moving, 63.0); // it went to the axis it was typed on
        line = m->find<QLineEdit>("load.moving");
        line->setFocus();
        line->selectAll();
        QTest::keyClicks(line, QStringLiteral("12"));
        m->window().goTo(3);
        m->settle();
        QCOMPARE(*m->document().axis().load.moving, 12.0);
        for (int k = 0; k < 20; ++k) { // leave with rubbish in a field, again and again
            m->window().goTo(k % 9);
            m->settle();
            if (auto* any = m->window().page()->findChild<QLineEdit*>()) {
                any->setFocus();
                QTest::keyClicks(any, QStringLiteral("xyz"));
            }
            QTest::keyClick(&m->window(), k % 2 ? Qt::Key_Up : Qt::Key_Down, Qt::ControlModifier);
            m->settle();
        }
    }

    void anEditSaysBeforehandWhatItFells()
    {
        m->papersAndPlace();
        m->deadBus();
        const double r = m->document().axis().actuator.motor()->resistance;
        const QByteArray ohms = QByteArray::number(r) + " ohm";
        QCOMPARE(
            typeStep(m->window(), 6, {{"uv", ohms.constData()}, {"vw", ohms.constData()}, {"wu", ohms.constData()}}),
            QString());
        m->window().goTo(3);
        m->settle();
        m->window().activateWindow();
        m->find<QLineEdit>("wiring.motorWire")->setFocus();
        m->settle();
        QString said;
        for (auto* label : m->window().findChildren<QLabel*>())
            if (label->text().contains(QStringLiteral("makes stale")))
                said = label->text();
        QVERIFY2(said.contains(QStringLiteral("S06")), qPrintable(said));
    }

    /// MF02: added, copied, renamed, renumbered, moved and removed; a copy takes the plan, the record follows its axis.
    void numbersAreChanged()
    {
        m->machinePage();
        m->document().selectAxis(0);
        m->document().note(QStringLiteral("belongs to the lift"));
        const auto notesOf = [&](const char* axis) {
            return std::ranges::count_if(factsOf(m->document().facts(), axis),
                                         [](const Fact* f) { return f->as<NoteMade>() != nullptr; });
        };
        QCOMPARE(notesOf("A1"), 1);
        const std::string before = ids();
        m->choose(0);
        m->find<QLineEdit>("axis.name")->setText(QStringLiteral("A2"));
        m->click("axis.renumber");
        QCOMPARE(ids(), before); // taken
        m->find<QLineEdit>("axis.name")->setText(QStringLiteral("Z 1"));
        m->click("axis.renumber");
        QCOMPARE(ids(), before); // no number
        m->find<QLineEdit>("axis.name")->setText(QStringLiteral("Z1"));
        m->click("axis.renumber");
        QCOMPARE(ids(), "Z1" + before.substr(2));
        QCOMPARE(notesOf("Z1"), 1);
        QCOMPARE(notesOf("A1"), 0);
        m->addAxis("empty", "New one"); // never the number of another record
        QCOMPARE(m->document().machine().axes.back().id, std::string("A7"));
        m->document().undoStack().undo();
        m->document().undoStack().undo();
        QCOMPARE(ids(), before);
        QCOMPARE(notesOf("A1"), 1);
        // in the file, and after reading it again
        m->machinePage();
        m->choose(0);
        m->find<QLineEdit>("axis.name")->setText(QStringLiteral("L9"));
        m->click("axis.renumber");
        const auto file = store::MachineFile::open(m->document().path().toStdString());
        QVERIFY(file && file->machine()->axes[0].id == "L9");
        QCOMPARE(std::ranges::count_if(factsOf(*file->facts(), "L9"),
                                       [](const Fact* f) { return f->as<NoteMade>() != nullptr; }),
                 1);
        QVERIFY(!file->machine()->axis("A1"));
    }
};

QTEST_MAIN(TestOwnMachine)
#include "tst_ownmachine.moc"
