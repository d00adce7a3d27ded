#include "app/instruments/connectionview.h"
#include "app/instruments/wiringmap.h"
#include "app/stations/plandialog.h"
#include "store/machinejson.h"
#include "support/windowfixture.h"

#include <QDialogButtonBox>
#include <QLabel>
#include <QPushButton>
#include <QTabWidget>
#include <QTableWidget>
#include <QTest>
#include <QTimer>

using namespace ridge;
using namespace ridge::app;

/// The connection plan in the window: the map, one cable open, and a plan that a person changes.
class TestPlanWindow : public QObject {
    Q_OBJECT

    std::unique_ptr<WindowFixture> m;

    [[nodiscard]] const WirePlan& plan() { return m->document().evaluation().wire.plan(); }
    [[nodiscard]] static QTableWidget& table(QDialog& d, const char* name)
    {
        return *d.findChild<QTableWidget*>(QString::fromLatin1(name));
    }
    static QString words(QDialog& d) { return d.findChild<QLabel*>(QStringLiteral("plan.words"))->text(); }
    static QString judged(QDialog& d) { return d.findChild<QLabel*>(QStringLiteral("plan.judged"))->text(); }

private Q_SLOTS:
    void init()
    {
        m = std::make_unique<WindowFixture>();
        m->window().goTo(3);
        m->settle();
    }
    void cleanup() { m.reset(); }

    /// Every axis of the demo machine has a plan of its own kind, drawn from the supply to the load.
    void everyAxisHasItsMap()
    {
        auto* map = m->find<WiringMap>("wiringMap");
        for (int axis = 0; axis < 6; ++axis) {
            m->document().selectAxis(static_cast<std::size_t>(axis));
            m->settle();
            QVERIFY(plan().conductors.size() > 20);
            for (const WireDevice& d : plan().devices) {
                const QRectF box = map->boxOf(d.id);
                QVERIFY2(box.isValid() && QRectF(map->rect()).contains(box), d.id.c_str());
            }
            QVERIFY(map->boxOf("G1").right() < map->boxOf("D1").left());
            QVERIFY(map->boxOf("D1").right() < map->boxOf("M1").left());
        }
        QVERIFY(plan().device("M1")->name == "stator"); // A6, frameless
    }

    /// A click on a device opens one of its cables; the keys go through all of them, Home shows all.
    void aCableIsOpened()
    {
        auto* map = m->find<WiringMap>("wiringMap");
        auto* view = m->find<ConnectionView>("connections");
        QTest::mouseClick(map, Qt::LeftButton, {}, map->boxOf("RB1").center().toPoint());
        QCOMPARE(map->cable(), QStringLiteral("resistor cable"));
        QVERIFY(view->chosen().contains(QStringLiteral("RB1")));
        map->setFocus();
        QTest::keyClick(map, Qt::Key_Home);
        QVERIFY(map->cable().isEmpty());
        QSet<QString> met;
        for (int k = 0; k < 12; ++k) {
            QTest::keyClick(map, Qt::Key_Right);
            met += map->cable();
        }
        for (const Cable& c : plan().cables)
            QVERIFY2(met.contains(QString::fromStdString(c.id)), c.id.c_str());
    }

    /// A conductor that is moved is judged at once, taken with the plan, undone like any edit, and has lost its tick.
    void aPlanIsChanged()
    {
        const WirePlan before = plan();
        PlanDialog dialog(before, false, nullptr);
        QVERIFY(judged(dialog).contains(QStringLiteral("No rule")));
        QTableWidget& conductors = table(dialog, "plan.conductors");
        QCOMPARE(conductors.rowCount(), static_cast<int>(before.conductors.size()));
        int row = 0;
        while (conductors.item(row, 1)->text() != QStringLiteral("M1.U"))
            ++row;
        conductors.item(row, 1)->setText(QStringLiteral("M1.X9"));
        QVERIFY2(judged(dialog).contains(QStringLiteral("refuse")), qPrintable(judged(dialog)));
        conductors.item(row, 1)->setText(QStringLiteral("nowhere"));
        QVERIFY2(words(dialog).contains(QStringLiteral("DEVICE.TERMINAL")), qPrintable(words(dialog)));
        QCOMPARE(conductors.item(row, 1)->text(), QStringLiteral("M1.X9")); // what was not taken goes back
        conductors.item(row, 1)->setText(QStringLiteral("M1.U"));
        conductors.item(row, 3)->setText(QStringLiteral("2,5"));
        QVERIFY(judged(dialog).contains(QStringLiteral("No rule")));
        conductors.item(row, 3)->setText(QStringLiteral("thick"));
        QVERIFY2(words(dialog).contains(QStringLiteral("400 mm")), qPrintable(words(dialog)));
        dialog.accept();
    }

    void aPlanOfOnesOwn()
    {
        const WirePlan laid = plan();
        WirePlan own = laid;
        own.conductors[2].colour = "bk";
        m->document().setPerson({"T. Wren", "technician"});
        for (const Conductor& c : laid.conductors)
            m->document().append(m->document().typedSource(), ConductorSeen{c.id, true, false, {}, asDrawn(c)});
        QCOMPARE(ticksOf(plan(), m->document().evidence()).size(), laid.conductors.size());
        m->document().edit(QStringLiteral("plan"), {}, [&](Axis& a) { a.wiring.own = writeWirePlan(own); });
        QCOMPARE(plan().conductors[2].colour, std::string("bk"));
        QCOMPARE(ticksOf(plan(), m->document().evidence()).size(), laid.conductors.size() - 1);
        const auto read = store::parseMachine(store::writeMachine(m->document().machine()));
        QVERIFY(read.has_value());
        QCOMPARE(read->axes[0].wiring.own, m->document().axis().wiring.own);
        m->document().undoStack().undo();
        QVERIFY(plan() == laid);
        QCOMPARE(ticksOf(plan(), m->document().evidence()).size(), laid.conductors.size());
    }

    /// A device gets another name and its wires follow; a cable another length; rows come and go; files go out and in.
    void devicesCablesAndFiles()
    {
        QTemporaryDir folder;
        PlanDialog dialog(plan(), false, nullptr);
        QTableWidget& devices = table(dialog, "plan.devices");
        int row = 0;
        while (devices.item(row, 0)->text() != QStringLiteral("M1"))
            ++row;
        devices.item(row, 0)->setText(QStringLiteral("M7"));
        QVERIFY(judged(dialog).contains(QStringLiteral("No rule")));
        devices.item(row, 0)->setText(QStringLiteral("D1"));
        QVERIFY(words(dialog).contains(QStringLiteral("another device")));
        QCOMPARE(devices.item(row, 0)->text(), QStringLiteral("M7"));
        devices.item(row, 3)->setText(devices.item(row, 3)->text() + QStringLiteral(" X1=fb.nothing"));
        QVERIFY2(judged(dialog).contains(QStringLiteral("not there")), qPrintable(judged(dialog))); // W-NET-03
        QTableWidget& cables = table(dialog, "plan.cables");
        int motor = 0;
        while (cables.item(motor, 0)->text() != QStringLiteral("motor cable"))
            ++motor;
        cables.item(motor, 2)->setText(QStringLiteral("90"));
        QVERIFY(judged(dialog).contains(QStringLiteral("longer than the drive allows")));
        const QString json = folder.filePath(QStringLiteral("p.json")), csv = folder.filePath(QStringLiteral("p.csv"));
        dialog.exportTo(json);
        dialog.exportTo(csv);
        PlanDialog other(plan(), false, nullptr);
        other.openFile(json);
        QVERIFY(judged(other).contains(QStringLiteral("longer than the drive allows")));
        QFile list(csv);
        QVERIFY(list.open(QIODevice::Append));
        list.write("D1.U,M7.U,motor cable,fat,,\n,,,,,\nD1.V,elsewhere,,,,\n");
        list.close();
        other.openFile(csv);
        QVERIFY2(words(other).contains(QStringLiteral("column 4")) && words(other).contains(QStringLiteral("column 2")),
                 qPrintable(words(other)));
        auto* pages = other.findChild<QTabWidget*>();
        pages->setCurrentIndex(0);
        QTableWidget& conductors = table(other, "plan.conductors");
        const int rows = conductors.rowCount();
        other.findChild<QPushButton*>(QStringLiteral("plan.add"))->click();
        QCOMPARE(conductors.rowCount(), rows + 1);
        other.findChild<QPushButton*>(QStringLiteral("plan.remove"))->click();
        QCOMPARE(conductors.rowCount(), rows);
        other.openFile(folder.filePath(QStringLiteral("nothing.json")));
        QVERIFY(words(other).contains(QStringLiteral("cannot be opened")));
    }

    /// Through the page: the plan is changed and taken, stands in the picture, and goes back to that of the parts.
    void throughThePage()
    {
        const WirePlan laid = plan();
        QTimer::singleShot(0, this, [this] {
            auto* dialog = m->window().findChild<PlanDialog*>();
            QVERIFY(dialog);
            table(*dialog, "plan.conductors").item(0, 4)->setText(QStringLiteral("bn"));
            dialog->findChild<QDialogButtonBox*>()->button(QDialogButtonBox::Ok)->click();
        });
        QTest::mouseClick(m->find<QPushButton>("wire.plan"), Qt::LeftButton);
        m->settle();
        QVERIFY(!m->document().axis().wiring.own.empty());
        QCOMPARE(plan().conductors[0].colour, std::string("bn"));
        QTimer::singleShot(0, this, [this] {
            auto* dialog = m->window().findChild<PlanDialog*>();
            QVERIFY(dialog);
            dialog->findChild<QPushButton*>(QStringLiteral("plan.back"))->click();
        });
        QTest::mouseClick(m->find<QPushButton>("wire.plan"), Qt::LeftButton);
        m->settle();
        QVERIFY(plan() == laid);
    }
};

QTEST_MAIN(TestPlanWindow)
#include "tst_planwindow.moc"
