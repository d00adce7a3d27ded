#include "app/instruments/boardview.h"
#include "app/instruments/connectionview.h"
#include "app/stations/plandialog.h"
#include "app/stations/turnsdialog.h"
#include "app/widgets/stepspanel.h"
#include "core/wiring/turnreset.h"
#include "support/windowfixture.h"
#include "support/wiredaxes.h"

#include <QAction>
#include <QCheckBox>
#include <QComboBox>
#include <QFile>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QTabWidget>
#include <QTableWidget>
#include <QTest>

using namespace ridge;
using namespace ridge::app;

/// Wire with a meter in hand: readings, questions, doubts, the supply's clock, the list to take along.
class TestWireWindow : public QObject {
    Q_OBJECT

    std::unique_ptr<WindowFixture> m;

    [[nodiscard]] Document& document() { return m->document(); }
    [[nodiscard]] const WireFindings& wire() { return document().evaluation().wire; }
    [[nodiscard]] QString words(const char* name) { return m->find<QLabel>(name)->text(); }
    [[nodiscard]] Verdict verdict(const char* id)
    {
        const Check* c = document().evaluation().check(id);
        return c ? c->verdict : Verdict::Unknown;
    }
    void typed(const Payload& payload) { QVERIFY(document().append(document().typedSource(), payload)); }
    /// The bus is measured dead, as the steps before Wire's readings have it.
    void dead()
    {
        typed(StepDone{"S01", "passed", "", {{"plates", 1}, {"stops", 1}}, {{"assessment", "RA-1"}}});
        typed(StepDone{"S02", "passed", "", {{"area", 1}, {"charge", 1}, {"stop", 1}, {"propped", 1}}, {}});
        typed(StepDone{"S03",
                       "passed",
                       "",
                       {{"provedBefore", 1}, {"bus", 0.1}, {"lines", 0}, {"earth", 0}, {"provedAfter", 1}},
                       {}});
        m->settle();
    }
    void instrument()
    {
        auto* meter = m->find<QWidget>("meter")->parentWidget();
        const auto lines = meter->findChildren<QLineEdit*>();
        QVERIFY(lines.size() >= 2);
        lines[0]->setText(QStringLiteral("multimeter"));
        lines[1]->setText(QStringLiteral("M-11"));
    }
    void reading(int row, const QString& text) { m->find<QTableWidget>("meter")->item(row, 4)->setText(text); }
    void give(const QString& question, const QString& answer, const QString& words = {})
    {
        auto* box = m->find<QComboBox>(qPrintable(QStringLiteral("answer.") + question));
        QVERIFY2(box, qPrintable(question));
        m->find<QLineEdit>(qPrintable(QStringLiteral("words.") + question))->setText(words);
        const int at = box->findData(answer);
        QVERIFY2(at > 0, qPrintable(answer));
        box->setCurrentIndex(at);
        Q_EMIT box->activated(at);
        m->settle();
    }

private Q_SLOTS:
    void init()
    {
        m = std::make_unique<WindowFixture>();
        m->window().goTo(3);
        m->settle();
    }
    void cleanup() { m.reset(); }

    void wireIsWalked_data()
    {
        QTest::addColumn<int>("kind");
        QTest::newRow("servo") << 0;
        QTest::newRow("linear motor with scale") << 1;
        QTest::newRow("stepper with pulses") << 2;
        QTest::newRow("one phase") << 3;
        QTest::newRow("low d.c.") << 4;
    }
    /// Every kind of axis from the first conductor to the last question, in the window.
    void wireIsWalked()
    {
        QFETCH(int, kind);
        const WirePlanInput in = kind == 0   ? wired::servoAxis(MotorKind::Servo)
                                 : kind == 1 ? wired::servoAxis(MotorKind::Linear)
                                 : kind == 2 ? wired::stepperAxis(4, LeadConnection::Bipolar, false)
                                 : kind == 3 ? wired::servoAxis(MotorKind::Servo, DriveFeed::Mains, 1)
                                             : wired::servoAxis(MotorKind::Servo, DriveFeed::LowDc);
        document().editSite(QStringLiteral("site"), [&](Site& s) {
            s.mains = in.mains;
            s.mainsPhases = in.mainsPhases;
            s.mainsTolerance = in.mainsTolerance;
        });
        document().edit(QStringLiteral("parts"), {}, [&](Axis& a) {
            a.actuator = in.actuator;
            a.wiring = in.wiring;
            a.supply.dcVoltage = in.dcVoltage;
        });
        dead();
        QVERIFY(wire().plan().conductors.size() > 15);
        auto* view = m->find<ConnectionView>("connections");
        view->setFocus();
        QTest::keyClick(view, Qt::Key_Home);
        for (std::size_t k = 0; k < wire().plan().conductors.size(); ++k) { // one key to tick, one for the next
            QTest::keyClick(view, Qt::Key_Space);
            QTest::keyClick(view, Qt::Key_Down);
        }
        QCOMPARE(verdict("wire.ticked"), Verdict::Ok);
        auto* tabs = m->find<QTabWidget>("wire.tabs");
        tabs->setCurrentIndex(1);
        instrument();
        const auto places = wire().meter.size();
        QVERIFY(places >= 5);
        for (std::size_t k = 0; k < places; ++k) {
            const MeterPlace& p = *wire().meter[k].point;
            QVERIFY2(p.lacks.empty(), p.id.c_str());
            const double good = p.nominal ? *p.nominal : p.low ? (*p.low + *p.high) / 2 : *p.high / 2;
            reading(static_cast<int>(k),
                    QString::number(good, 'g', 6)
                        + (p.quantity == Quantity::Voltage ? QStringLiteral(" V") : QStringLiteral(" ohm")));
            QVERIFY2(wire().meter[k].verdict.good == true, qPrintable(words("meter.words")));
        }
        QCOMPARE(verdict("wire.meter"), Verdict::Ok);
        QCOMPARE(document().evaluation().steps[4].state, StepState::Passed); // S05
        tabs->setCurrentIndex(2);
        std::size_t asked = 0;
        for (std::size_t k = 0; k < wire().questions.size(); ++k) {
            const Question q = *wire().questions[k].question;
            if (q.byStep > 0)
                continue;
            ++asked;
            const std::string_view answer = q.good.empty() ? q.answers.front() : q.good;
            give(QString::fromStdString(q.id), QString::fromUtf8(answer.data(), static_cast<qsizetype>(answer.size())),
                 QStringLiteral("T. Wren"));
            QVERIFY2(wire().questions[k].good == true, q.id.c_str());
        }
        QVERIFY(asked >= 6);
        tabs->setCurrentIndex(3);
        const auto rows = m->find<QTableWidget>("stopInputs")->rowCount();
        QCOMPARE(rows, kind == 2 ? 0 : 2); // a stepper that takes pulses has no torque-off inputs
    }

    /// What cannot be is told at the table and nothing is lost; a conductor with a limit is read where it is judged.
    void aReadingIsTyped()
    {
        auto* tabs = m->find<QTabWidget>("wire.tabs");
        tabs->setCurrentIndex(1);
        reading(0, QStringLiteral("0.05"));
        QVERIFY2(words("meter.words").contains(QStringLiteral("instrument")), qPrintable(words("meter.words")));
        instrument();
        reading(0, QStringLiteral("plenty"));
        QVERIFY2(words("meter.words").contains(QStringLiteral("plenty")), qPrintable(words("meter.words")));
        reading(0, QStringLiteral("3 V"));
        QVERIFY2(words("meter.words").contains(QStringLiteral("voltage")), qPrintable(words("meter.words")));
        QVERIFY(!wire().meter.front().fact);
        reading(0, QStringLiteral("50 mohm"));
        QVERIFY(wire().meter.front().verdict.good == true);
        auto* table = m->find<QTableWidget>("meter");
        QCOMPARE(table->currentRow(), 1); // the next place is ready
        reading(0, {});
        QVERIFY(words("meter.words").contains(QStringLiteral("clearing")));
        QVERIFY(wire().meter.front().fact);
        int coil = 0; // the coil is judged at 20 °C
        while (wire().meter[static_cast<std::size_t>(coil)].point->id != "coil M1")
            ++coil;
        const double cold = *wire().meter[static_cast<std::size_t>(coil)].point->nominal;
        table->item(coil, 3)->setText(QStringLiteral("60 degC"));
        reading(coil, QString::number(1.157 * cold) + QStringLiteral(" ohm"));
        QVERIFY2(wire().meter[static_cast<std::size_t>(coil)].verdict.good == true, qPrintable(words("meter.words")));
        dead();
        tabs->setCurrentIndex(0);
        auto* view = m->find<ConnectionView>("connections");
        view->setFocus();
        QTest::keyClick(view, Qt::Key_Home);
        while (view->chosen() != QStringLiteral("G1.PE > D1.PE"))
            QTest::keyClick(view, Qt::Key_Down);
        QTest::keyClick(view, Qt::Key_Return);
        QCOMPARE(tabs->currentIndex(), 1);
        QCOMPARE(wire().meter[static_cast<std::size_t>(table->currentRow())].point->conductor,
                 std::string("G1.PE > D1.PE"));
    }

    void aDoubtHasItsReason()
    {
        dead();
        auto* view = m->find<ConnectionView>("connections");
        view->setFocus();
        QTest::keyClick(view, Qt::Key_Home);
        const std::string id = view->chosen().toStdString();
        const auto seen = [&] {
            const auto all = ticksOf(wire().plan(), document().evidence());
            const auto it = all.find(id);
            return it == all.end() ? ConductorSeen{} : *it->second->as<ConductorSeen>();
        };
        QTest::keyClick(view, Qt::Key_D);
        QVERIFY2(words("wire.seenWords").contains(QStringLiteral("reason")), qPrintable(words("wire.seenWords")));
        QVERIFY(!seen().doubted);
        m->type("wire.why", "the sleeve is worn off");
        QVERIFY(seen().doubted && seen().reason == "the sleeve is worn off");
        QCOMPARE(verdict("wire.doubts"), Verdict::Fail);
        view->setFocus();
        QTest::keyClick(view, Qt::Key_D);
        QVERIFY2(words("wire.seenWords").contains(QStringLiteral("measured")), qPrintable(words("wire.seenWords")));
        QVERIFY(seen().doubted);
        m->type("wire.reading", "0.2 ohm");
        view->setFocus();
        QTest::keyClick(view, Qt::Key_D);
        QVERIFY(!seen().doubted && seen().reading == "0.2 ohm");
    }

    /// A question that wants words is not answered without them; a wrong answer is a finding; the step's card asks too.
    void questionsAreAnswered()
    {
        m->find<QTabWidget>("wire.tabs")->setCurrentIndex(2);
        const auto state = [&](std::string_view id) {
            return *std::ranges::find(wire().questions, id,
                                      [](const QuestionState& q) { return std::string_view(q.question->id); });
        };
        give(QStringLiteral("locked off"), QStringLiteral("yes"));
        QVERIFY(!state("locked off").good);
        give(QStringLiteral("locked off"), QStringLiteral("yes"), QStringLiteral("T. Wren, hook 4"));
        QVERIFY(state("locked off").good == true && state("locked off").said.says("hook 4"));
        give(QStringLiteral("W-STO-11 D1"), QStringLiteral("yes"));
        QVERIFY(words("wire.findings").contains(QStringLiteral("W-STO-11")));
        give(QStringLiteral("W-STO-11 D1"), QStringLiteral("no"));
        QVERIFY(!words("wire.findings").contains(QStringLiteral("W-STO-11")));
        auto* card = m->find<StepCard>("step");
        card->show(8);
        m->settle();
        auto* box = card->findChild<QComboBox*>(QStringLiteral("answer.W-TMP-04 M1"));
        QVERIFY(box);
        box->setCurrentIndex(1);
        Q_EMIT box->activated(1);
        m->settle();
        QVERIFY(state("W-TMP-04 M1").good == true);
    }

    void theSupplysClock()
    {
        document().edit(QStringLiteral("bleeder"), {}, [](Axis& a) {
            a.wiring.bleeder = 47e3;
            a.wiring.waitingTime = 600;
        });
        QTest::mouseClick(m->find<QPushButton>("wire.off"), Qt::LeftButton);
        m->settle();
        const QString now = words("wire.clock");
        QVERIFY2(now.contains(QStringLiteral("60 V"))
                     && (now.contains(QStringLiteral("9:5")) || now.contains(QStringLiteral("10:00"))),
                 qPrintable(now));
        dead();
        QVERIFY2(words("wire.clock").contains(QStringLiteral("measured dead")), qPrintable(words("wire.clock")));
        QTest::mouseClick(m->find<QPushButton>("wire.on"), Qt::LeftButton);
        m->settle();
        QVERIFY(!m->find<QCheckBox>("wire.tick")->isEnabled());
    }

    void theListToTakeAlong()
    {
        dead();
        typed(ConductorSeen{wire().plan().conductors.front().id, true, false, "0.1 ohm",
                            asDrawn(wire().plan().conductors.front())});
        auto* list = m->find<QPushButton>("wire.list");
        const auto write = [&](int which, const char* name) {
            m->window().page()->setProperty("listPath", m->path(name));
            list->menu()->actions()[which]->trigger();
            QFile f(m->path(name));
            return f.open(QIODevice::ReadOnly) ? f.readAll() : QByteArray();
        };
        const QByteArray filled = write(0, "filled.html"), blank = write(1, "blank.html"), pdf = write(0, "list.pdf");
        QVERIFY(filled.contains("&#9745;") && filled.contains("0.1 ohm") && filled.contains("mains L1"));
        QVERIFY(!blank.contains("&#9745;") && !blank.contains("0.1 ohm") && blank.contains("at most"));
        QVERIFY(filled.contains("What no plan tells") && filled.contains("Safety circuit"));
        QVERIFY(pdf.startsWith("%PDF"));
    }

    /// Devices of templates, buses, runs, and the jumpers of a board, before and after.
    void furtherTables()
    {
        PlanDialog dialog(wire().plan(), false, nullptr);
        const auto table = [&](const char* name) { return dialog.findChild<QTableWidget*>(QString::fromLatin1(name)); };
        const auto said = [&] { return dialog.findChild<QLabel*>(QStringLiteral("plan.words"))->text(); };
        const int before = table("plan.devices")->rowCount();
        auto* menu = dialog.findChild<QMenu*>(QStringLiteral("plan.templates"));
        QVERIFY(menu->actions().size() > 30);
        for (QAction* a : menu->actions())
            if (a->text().contains(QStringLiteral("Unknown drive")))
                a->trigger();
        QCOMPARE(table("plan.devices")->rowCount(), before + 1);
        QTableWidgetItem* board = table("plan.devices")->item(before, 5);
        board->setText(QStringLiteral("J4 1-2"));
        QVERIFY(said().contains(QStringLiteral("before > after")));
        table("plan.devices")
            ->item(before, 5)
            ->setText(QStringLiteral("J4: 1-2 > 2-3; P1: 3/10 > 4/10; S1.2: off > on"));
        QVERIFY(said().isEmpty());
        table("plan.devices")->item(before, 4)->setText(QStringLiteral("plate=none bus_v"));
        QVERIFY(said().contains(QStringLiteral("name=value")));
        auto* pages = dialog.findChild<QTabWidget*>();
        auto* add = dialog.findChild<QPushButton*>(QStringLiteral("plan.add"));
        pages->setCurrentIndex(3);
        add->click();
        QCOMPARE(table("plan.buses")->rowCount(), 1);
        table("plan.buses")->item(0, 5)->setText(QStringLiteral("K1=-/end D1=200"));
        QVERIFY2(dialog.findChild<QLabel*>(QStringLiteral("plan.judged"))->text().contains(QStringLiteral("Address")),
                 qPrintable(dialog.findChild<QLabel*>(QStringLiteral("plan.judged"))->text()));
        table("plan.buses")->item(0, 1)->setText(QStringLiteral("token ring"));
        QVERIFY(said().contains(QStringLiteral("rs485")));
        pages->setCurrentIndex(4);
        add->click();
        table("plan.runs")->item(0, 0)->setText(QStringLiteral("motor cable"));
        table("plan.runs")->item(0, 1)->setText(QStringLiteral("feedback cable"));
        table("plan.runs")->item(0, 2)->setText(QStringLiteral("10"));
        QVERIFY(dialog.findChild<QLabel*>(QStringLiteral("plan.judged"))->text().contains(QStringLiteral("25 mm")));
        table("plan.runs")->item(0, 1)->setText(QStringLiteral("no cable"));
        QVERIFY(said().contains(QStringLiteral("no cable")));
        table("plan.runs")->item(0, 4)->setText(QStringLiteral("270"));
        QVERIFY(said().contains(QStringLiteral("180")));
        dialog.accept();
        WirePlan own = wire().plan();
        own.devices.front().settings = {{"J4", "1-2", "2-3"}, {"P1", "3/10", "4/10"}, {"S1.2", "off", "on"}};
        auto* tabs = m->find<QTabWidget>("wire.tabs");
        QVERIFY(!tabs->isTabVisible(5));
        document().edit(QStringLiteral("plan"), {}, [&](Axis& a) { a.wiring.own = writeWirePlan(own); });
        m->settle();
        QVERIFY(tabs->isTabVisible(5));
        tabs->setCurrentIndex(5);
        auto* boards = m->find<BoardView>("boards");
        QVERIFY(boards->accessibleDescription().contains(QStringLiteral("P1: before 3/10, after 4/10")));
        QVERIFY(!boards->grab().toImage().isNull());
    }

    /// Turns of an encoder are cleared only when nothing can move; the short is a bridge while it is in.
    void turnsAreCleared()
    {
        document().edit(QStringLiteral("battery"), {},
                        [](Axis& a) { a.wiring.feedback = FeedbackKind::SerialBattery; });
        m->window().goTo(5);
        m->settle();
        QVERIFY(m->find<QPushButton>("turn.turns")->isVisibleTo(&m->window()));
        TurnsDialog dialog(document());
        const auto press = [&](const char* name) {
            dialog.findChild<QPushButton*>(QString::fromLatin1(name))->click();
        };
        const auto said = [&](const char* name) {
            return dialog.findChild<QLabel*>(QString::fromLatin1(name))->text();
        };
        press("turns.in");
        QVERIFY2(said("turns.words").contains(QStringLiteral("pin")), qPrintable(said("turns.words")));
        dialog.findChild<QLineEdit*>(QStringLiteral("turns.pins"))->setText(QStringLiteral("3 and 7"));
        press("turns.in");
        QVERIFY2(said("turns.words").contains(QStringLiteral("lost its position")), qPrintable(said("turns.words")));
        press("turns.lost");
        press("turns.in");
        QVERIFY2(said("turns.words").contains(QStringLiteral("Refused")), qPrintable(said("turns.words")));
        for (int k = 0; k < 4; ++k) {
            const auto& all = wire().questions;
            const auto open =
                std::ranges::find_if(all, [](const QuestionState& q) { return q.question->whenLost && !q.good; });
            QVERIFY(open != all.end());
            const QString id = QString::fromStdString(open->question->id);
            dialog.findChild<QLineEdit*>(QStringLiteral("words.") + id)->setText(QStringLiteral("page 14"));
            auto* box = dialog.findChild<QComboBox*>(QStringLiteral("answer.") + id);
            box->setCurrentIndex(1);
            Q_EMIT box->activated(1);
        }
        press("turns.in");
        QVERIFY2(said("turns.words").contains(QStringLiteral("Read and save")), qPrintable(said("turns.words")));
        FactSource drive = document().typedSource();
        drive.origin = Origin::Simulated;
        drive.identity = {"bench", "drive", "77", "1", true};
        document().append(drive, DriveRead{{{{0x608F, 1}, 1}}});
        press("turns.power");
        press("turns.in");
        QCOMPARE(openBridges(document().evidence()).size(), std::size_t{1});
        press("turns.cleared");
        QVERIFY2(said("turns.words").contains(QStringLiteral("still in")), qPrintable(said("turns.words")));
        QTest::qWait(20);
        press("turns.out");
        QVERIFY(openBridges(document().evidence()).empty());
        press("turns.notCleared");
        QVERIFY2(said("turns.next").contains(QStringLiteral("1 of 5"))
                     && said("turns.next").contains(QStringLiteral("longer")),
                 qPrintable(said("turns.next")));
        QCOMPARE(document().evidence().every<TurnsReset>().size(), std::size_t{1});
    }
};

QTEST_MAIN(TestWireWindow)
#include "tst_wirewindow.moc"
