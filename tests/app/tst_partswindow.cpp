#include "core/stations/gearcompare.h"
#include "core/stations/machineplan.h"
#include "core/stations/measured.h"
#include "support/sizingwindow.h"
#include "support/wait.h"

#include <QApplication>
#include <QComboBox>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QTabWidget>
#include <QTableWidget>
#include <QTest>
#include <QTimer>

using namespace ridge;
using namespace ridge::app;
using namespace sizingwindow;

/// Plates and parts of motor and drive, what was measured, gearboxes in and out, what the process permits, and what
/// axes share, in the real window.
class TestPartsWindow : public OnTheDemo {
    Q_OBJECT

    /// Chooses an entry of the menu of parts; `path` goes through its submenus.
    void choose(std::initializer_list<const char*> path, const std::function<void(QDialog&)>& act = {})
    {
        bool met = false;
        QTimer::singleShot(0, this, [&] {
            QMenu* menu = nullptr;
            for (QWidget* top : QApplication::topLevelWidgets())
                if (auto* shown = qobject_cast<QMenu*>(top); shown && shown->isVisible())
                    menu = shown;
            QAction* entry = nullptr;
            for (const char* step : path) {
                entry = nullptr;
                for (QAction* a : menu ? menu->actions() : QList<QAction*>{})
                    if (a->text().startsWith(QString::fromUtf8(step)))
                        entry = a;
                if (entry && entry->menu())
                    menu = entry->menu();
            }
            if (!entry)
                return;
            if (act)
                QTimer::singleShot(50, this, [&] {
                    if (auto* dialog = qobject_cast<QDialog*>(QApplication::activeModalWidget())) {
                        act(*dialog);
                        met = true;
                        if (dialog->isVisible())
                            dialog->reject();
                    }
                });
            else
                met = true;
            entry->trigger(); // a dialog of its own runs until it is closed
            for (QWidget* top : QApplication::topLevelWidgets())
                if (auto* shown = qobject_cast<QMenu*>(top))
                    shown->close();
        });
        m->find<QPushButton>("match.parts")->click();
        QVERIFY2(waitFor([&] { return met; }), *path.begin());
        m->settle();
    }
    static void pick(QWidget& in, const char* name, const char* word)
    {
        auto* box = inside<QComboBox>(&in, name);
        QVERIFY2(box && box->findText(QString::fromUtf8(word)) >= 0, word);
        box->setCurrentIndex(box->findText(QString::fromUtf8(word)));
    }

private Q_SLOTS:
    void init() { m = std::make_unique<WindowFixture>(); }
    void cleanup() { m.reset(); }

    /// A motor by its plate: the convention of every figure is asked, gaps stay open, induction is refused by name.
    void aMotorByItsPlate()
    {
        go(1, Station::Match);
        choose({"Motor from its plate"}, [&](QDialog& d) {
            auto* words = inside<QLabel>(&d, "sheet.words");
            auto* take = inside<QPushButton>(&d, "sheet.take");
            QVERIFY(!take->isEnabled()); // no name yet
            typeInto(inside<QLineEdit>(&d, "sheet.name"), "old motor");
            pick(d, "sheet.kind", "induction");
            QVERIFY2(words->text().contains(QStringLiteral("Induction motors are not sized")),
                     qPrintable(words->text()));
            QVERIFY(!take->isEnabled());
            pick(d, "sheet.kind", "servo");
            typeInto(inside<QLineEdit>(&d, "sheet.torqueConstant"), "1.2");
            QVERIFY2(words->text().contains(QStringLiteral("how the sheet prints")), qPrintable(words->text()));
            pick(d, "sheet.constantIs", "per A peak");
            typeInto(inside<QLineEdit>(&d, "sheet.poles"), "9");
            pick(d, "sheet.polesAre", "poles");
            QVERIFY2(words->text().contains(QStringLiteral("even number")), qPrintable(words->text()));
            typeInto(inside<QLineEdit>(&d, "sheet.poles"), "10");
            typeInto(inside<QLineEdit>(&d, "sheet.maxSpeed"), "4500 rpm");
            typeInto(inside<QLineEdit>(&d, "sheet.inertia"), "2.1 kg·cm²");
            QVERIFY2(words->text().contains(QStringLiteral("Stall torque")), qPrintable(words->text())); // a gap
            QVERIFY(take->isEnabled());
            take->click();
        });
        const ServoMotor& motor = *m->document().axis().actuator.motor();
        QCOMPARE(motor.name, std::string("old motor"));
        QCOMPARE(motor.polePairs, 5.0);
        QVERIFY(std::abs(motor.torqueConstant - 1.2 * std::sqrt(2.0)) < 1e-9);
        QVERIFY(std::abs(motor.inertia - 2.1e-4) < 1e-12);
        QVERIFY(m->document().axis().actuator.drive()); // its drive stayed
        const Evaluation& e = m->document().evaluation();
        QCOMPARE(e.check("match.plates")->verdict, Verdict::Unknown);
        QCOMPARE(e.check("match.short_time_torque")->verdict, Verdict::Unknown);
        QVERIFY(e.check("match.speed")->verdict != Verdict::Unknown);
        // the gap is closed where the data stand
        choose({"Data of the motor"}, [&](QDialog& d) {
            auto* line = inside<QLineEdit>(&d, "motor.stallTorque");
            QVERIFY(line && line->text().isEmpty()); // a gap is empty, not zero
            typeInto(line, "3.1");
        });
        QCOMPARE(m->document().axis().actuator.motor()->stallTorque, 3.1);
        m->document().undoStack().undo();
        QCOMPARE(m->document().axis().actuator.motor()->stallTorque, 0.0);
    }

    void withoutPlatesItGoesOnToWire()
    {
        go(1, Station::Match);
        choose({"Motor without a plate"});
        choose({"Drive without a plate"});
        QVERIFY(!m->document().evaluation().wire.plan().conductors.empty());
        QCOMPARE(m->document().evaluation().check("match.supply")->verdict, Verdict::Unknown);
        choose({"Supply of the drive"}, [&](QDialog& d) {
            typeInto(inside<QLineEdit>(&d, "supply.capacitorRating"), "400");
            pick(d, "supply.doubler", "no");
        });
        QCOMPARE(m->document().evaluation().check("match.supply")->verdict, Verdict::Fail);
        choose({"Signals"}, [&](QDialog& d) { typeInto(inside<QLineEdit>(&d, "signals.inputs"), "3"); });
        QCOMPARE(m->document().axis().io.inputs, 3.0);
        go(1, Station::Wire);
        QVERIFY(m->document().evaluation().check("wire.plan")->verdict == Verdict::Fail);
    }

    void resistorsAndStepperSettingsByMenu()
    {
        go(0, Station::Match);
        choose({"Brake resistor", "None"});
        QCOMPARE(m->document().axis().wiring.resistorWiring, ResistorWiring::None);
        choose({"Brake resistor", "Internal"});
        QCOMPARE(m->document().axis().wiring.resistorWiring, ResistorWiring::Internal);
        go(3, Station::Match);
        const StepperActuator& s = *m->document().axis().actuator.stepper();
        choose({"Steps a turn", "800"});
        QCOMPARE(s.stepping.microsteps, 4.0);
        choose({"Current setting", "1.35"});
        QCOMPARE(*s.stepping.currentSetting, 1.35);
        choose({"Current setting", "The highest"});
        QVERIFY(!s.stepping.currentSetting);
        choose({"Holding brake", m->document().parts().catalogue()->brakes.front().name.c_str()});
        QVERIFY(m->document().axis().actuator.brake());
        choose({"Data of the drive"}, [&](QDialog& d) { // a list with a slip stays, with its sentence
            auto* line = inside<QLineEdit>(&d, "stepperDrive.currentSettings");
            typeInto(line, "0.5 one 2");
            bool told = false;
            for (const QLabel* l : d.findChildren<QLabel*>(QStringLiteral("sentence")))
                told = told || (l->isVisible() && l->text().contains(QStringLiteral("one")));
            QVERIFY(told);
            QCOMPARE(line->text(), QStringLiteral("0.5 one 2"));
            typeInto(line, "2; 0,5 1.4");
        });
        QCOMPARE(s.drive->currentSettings, (std::vector<double>{0.5, 1.4, 2}));
    }

    /// Measured beside planned: recorded as a fact, adopted by an act of its own; the old value stays in the logbook.
    void measuredIsAdoptedByAnAct()
    {
        go(0, Station::Load);
        const double before = *m->document().axis().load.moving;
        const std::size_t facts = m->document().facts().size();
        QVERIFY(withDialog<QDialog>(
            [&] { m->find<QPushButton>("load.measure")->click(); },
            [&](QDialog& d) {
                auto* rows = inside<QTableWidget>(&d, "load.measured.rows");
                auto* words = inside<QLabel>(&d, "load.measured.words");
                auto* record = inside<QPushButton>(&d, "load.measured.record");
                auto* adopt = inside<QPushButton>(&d, "load.measured.adopt.inertia");
                QVERIFY(rows->rowCount() == 5 && !adopt->isEnabled());
                rows->item(0, 5)->setText(QStringLiteral("6 furlongs"));
                inside<QLineEdit>(&d, "load.measured.how")->setText(QStringLiteral("run-out, trace 3"));
                record->click();
                QVERIFY2(words->text().startsWith(QStringLiteral("■ Inertia")), qPrintable(words->text()));
                rows->item(0, 5)->setText(QStringLiteral("7.2 kg·cm²"));
                record->click();
                QVERIFY2(words->text().startsWith(QStringLiteral("Recorded")), qPrintable(words->text()));
                QCOMPARE(m->document().facts().size(), facts + 1);
                QCOMPARE(*m->document().axis().load.moving, before);            // nothing by itself
                QVERIFY(!rows->item(0, 3)->text().isEmpty());                   // the deviation
                auto* now = qobject_cast<QPushButton*>(rows->cellWidget(0, 6)); // the one before goes later
                QVERIFY(now->isEnabled());
                now->click();
                QVERIFY2(words->text().startsWith(QStringLiteral("Adopted")), qPrintable(words->text()));
            }));
        QVERIFY(*m->document().axis().load.moving != before);
        const auto rows = measuredRows(m->document().axis(), m->document().evaluation(), m->document().evidence());
        QVERIFY(std::abs(*rows[0].planned - 7.2e-4) < 1e-9);
        const auto* logged = m->document().facts().back().as<PlanChanged>();
        QVERIFY2(logged && logged->text.find("was") != std::string::npos, "the value of before");
        m->document().undoStack().undo();
        QCOMPARE(*m->document().axis().load.moving, before);
    }

    void aGearboxInOrOutIsCompared()
    {
        go(1, Station::Load);
        const auto expected =
            compareGears(m->document().machine(), m->document().axis(), withoutGearbox(m->document().axis()));
        QVERIFY(withDialog<QDialog>([&] { m->find<QPushButton>("load.gear")->click(); },
                                    [&](QDialog& d) {
                                        auto* rows = inside<QTableWidget>(&d, "load.gears.rows");
                                        QCOMPARE(rows->rowCount(), static_cast<int>(expected.size()));
                                        auto* choice = inside<QComboBox>(&d, "load.gears.choice");
                                        QCOMPARE(choice->currentIndex(), 0);
                                        const QString without = rows->item(2, 2)->text();
                                        QVERIFY(rows->item(2, 1)->text() != without);
                                        choice->setCurrentIndex(3);
                                        QVERIFY(rows->item(2, 2)->text() != without);
                                        choice->setCurrentIndex(0);
                                        d.accept();
                                    }));
        QVERIFY(m->document().axis().stages == withoutGearbox(m->document().axis()).stages);
        m->document().undoStack().undo();
        QVERIFY(m->document().axis().stages != withoutGearbox(m->document().axis()).stages);
    }

    void whatTheProcessPermitsIsEnteredInMove()
    {
        go(1, Station::Move);
        auto* tabs = m->find<QTabWidget>("move.tabs");
        while (tabs->tabText(tabs->currentIndex()) != QStringLiteral("Process")
               && tabs->currentIndex() + 1 < tabs->count())
            tabs->setCurrentIndex(tabs->currentIndex() + 1);
        QCOMPARE(tabs->tabText(tabs->currentIndex()), QStringLiteral("Process"));
        m->settle();
        QCOMPARE(m->document().evaluation().check("move.permits_repeatability")->verdict, Verdict::Unknown);
        typeInto(m->find<QLineEdit>("process.repeatability"), "0.5 mm");
        QCOMPARE(*m->document().axis().tune.repeatability, 0.0005);
        QVERIFY(m->document().evaluation().check("move.permits_repeatability")->verdict != Verdict::Unknown);
        go(2, Station::Move); // the same form for an axis that turns
        m->settle();
        typeInto(m->find<QLineEdit>("process.repeatability"), "0.01 deg");
        QVERIFY(std::abs(*m->document().axis().tune.repeatability - 0.01 * 3.14159265358979 / 180) < 1e-12);
        go(1, Station::Load);
        const QString modes =
            m->find<QWidget>("chain") ? m->find<QWidget>("chain")->accessibleDescription() : QString();
        QVERIFY2(!m->document().evaluation().match.along.empty(), qPrintable(modes));
    }

    /// A network and a drive of two axes: their entries stand below the grid, what follows beside it.
    void aNetworkAndAHousing()
    {
        m->window().goTo(MainWindow::machineView);
        m->settle();
        for (QTabWidget* tabs : m->window().findChildren<QTabWidget*>())
            for (int k = 0; k < tabs->count(); ++k)
                if (tabs->tabText(k) == QLatin1String("What axes share"))
                    tabs->setCurrentIndex(k);
        m->settle();
        auto* kind = m->window().findChild<QComboBox*>(QStringLiteral("shared.kind"));
        QVERIFY(kind && kind->isVisible());
        kind->setCurrentIndex(kind->findText(QStringLiteral("Network")));
        m->window().findChild<QPushButton*>(QStringLiteral("shared.add"))->click();
        m->settle();
        QCOMPARE(m->document().machine().shared.networks.size(), std::size_t{1});
        auto* length = m->window().findChild<QLineEdit*>(QStringLiteral("shared.length"));
        QVERIFY(length && length->isVisible());
        typeInto(length, "120 m");
        QCOMPARE(*m->document().machine().shared.networks[0].length, 120.0);
        const auto checks = machineChecks(m->document().machine());
        const auto it = std::ranges::find(checks, std::string("machine.network.length.F1"), &Check::id);
        QVERIFY(it != checks.end() && it->verdict == Verdict::Fail); // 100 m of an Ethernet segment
        m->document().undoStack().undo();
        QVERIFY(!m->document().machine().shared.networks[0].length);
    }
};

QTEST_MAIN(TestPartsWindow)
#include "tst_partswindow.moc"
