#include "app/widgets/plotview.h"
#include "store/catalogue.h"
#include "support/sizingwindow.h"
#include "support/wait.h"

#include <QAction>
#include <QApplication>
#include <QComboBox>
#include <QMenu>
#include <QProgressBar>
#include <QTableWidget>
#include <QTest>
#include <QTextBrowser>
#include <QTimer>

#include <cmath>

using namespace ridge;
using namespace ridge::app;
using namespace sizingwindow;

/// Match in the real window: candidates, pictures, parts, and how the motor is built in.
class TestMatchWindow : public OnTheDemo {
    Q_OBJECT

private Q_SLOTS:
    void init() { m = std::make_unique<WindowFixture>(); }
    void cleanup() { m.reset(); }

    void filtersNarrowTheList()
    {
        go(0, Station::Match);
        QVERIFY(waitFor([&] { return candidates()->rowCount() >= 50; }));
        const int all = shownRows();
        for (const char* name : {"match.frame", "match.voltage", "match.brake", "match.encoder", "match.series"}) {
            auto* box = m->find<QComboBox>(name);
            if (box->count() < 2)
                continue;
            box->setCurrentIndex(1);
            Q_EMIT box->activated(1);
            m->settle();
            const int some = shownRows();
            QVERIFY2(some > 0 && some <= all, name);
            if (qstrcmp(name, "match.frame") == 0)
                QVERIFY(some < all);
            box->setCurrentIndex(0);
            Q_EMIT box->activated(0);
            m->settle();
            QCOMPARE(shownRows(), all);
        }
    }

    /// A catalogue of thousands of motors: the window shows the best of them at once, and filters reach the rest.
    void aLargeCatalogueDoesNotFillTheTable()
    {
        store::Catalogue own;
        for (int k = 0; k < 3000; ++k) {
            ServoMotor motor = store::shippedCatalogue().motors[static_cast<std::size_t>(k % 20)];
            motor.name = "Bulk " + std::to_string(k);
            motor.stallTorque *= 1 + 1e-5 * k;
            own.motors.push_back(motor);
        }
        put(m->path("bulk.json"), QByteArray::fromStdString(store::writeCatalogue(own, "bulk")));
        go(0, Station::Match);
        QVERIFY(m->window().openPath(m->path("bulk.json")));
        QVERIFY(waitFor([&] { return !m->window().busy() && candidates()->rowCount() == 400; }, 30000));
        QVERIFY(m->find<QLabel>("match.count")->text().contains(QStringLiteral("The best 400 of 3")));
        QTest::keyClicks(m->find<QLineEdit>("match.filter"), QStringLiteral("bulk 2999"));
        QCOMPARE(candidates()->rowCount(), 1);
        candidates()->setCurrentCell(0, 1);
        QTest::mouseClick(m->find<QPushButton>("match.choose"), Qt::LeftButton); // the row is the candidate it shows
        QCOMPARE(m->document().axis().actuator.motor()->name, std::string("Bulk 2999"));
        m->document().parts().forgetOwn();
    }

    /// With the gearboxes of the catalogue the ranking runs beside the window; the candidate brings its gearbox along.
    void gearboxesJoinTheRanking()
    {
        go(1, Station::Match);
        QVERIFY(waitFor([&] { return candidates()->rowCount() >= 50; }));
        QVERIFY(candidates()->isColumnHidden(2));
        auto* gears = m->find<QComboBox>("match.gearboxes");
        gears->setCurrentIndex(1);
        Q_EMIT gears->activated(1);
        QVERIFY(waitFor([&] { return !m->window().busy() && !candidates()->isColumnHidden(2); }, 20000));
        int row = -1;
        for (int r = 0; r < candidates()->rowCount() && row < 0; ++r)
            if (candidates()->item(r, 2)->text().startsWith(QStringLiteral("Juniper"))
                && candidates()->item(r, 2)->text() != QString::fromStdString(m->document().axis().stages[0].name))
                row = r;
        QVERIFY(row >= 0);
        const QString gearbox = candidates()->item(row, 2)->text();
        candidates()->setCurrentCell(row, 1);
        candidates()->setFocus();
        QTest::keyClick(candidates(), Qt::Key_Return);
        m->settle();
        QCOMPARE(QString::fromStdString(m->document().axis().stages[0].name), gearbox);
        QCOMPARE(m->document().axis().stages.size(), std::size_t(1)); // in the place of the old one
    }

    void aRankingIsCancelled()
    {
        go(1, Station::Match);
        QVERIFY(waitFor([&] { return candidates()->rowCount() >= 50; }));
        const QString first = candidates()->item(0, 1)->text();
        auto* gears = m->find<QComboBox>("match.gearboxes");
        gears->setCurrentIndex(1);
        Q_EMIT gears->activated(1);
        if (m->window().busy()) { // quick machines are done before anybody can press
            Q_EMIT m->find<QPushButton>("match.cancel")->clicked();
            QVERIFY(!m->window().busy());
            QCOMPARE(candidates()->item(0, 1)->text(), first); // the list stays what it was
        }
        QVERIFY(!m->find<QProgressBar>("match.progress")->isVisible());
    }

    void fourCandidatesStandBesideEachOther()
    {
        go(0, Station::Match);
        QVERIFY(waitFor([&] { return candidates()->rowCount() >= 50; }));
        candidates()->setFocus();
        for (int r = 0; r < 5; ++r) {
            candidates()->setCurrentCell(r, 1);
            QTest::keyClick(candidates(), Qt::Key_Space);
        }
        m->settle();
        auto* table = m->find<QTableWidget>("match.comparison");
        QVERIFY(table->isVisible());
        QCOMPARE(table->columnCount(), 5); // a name and four candidates; the first of the five gave way
        QVERIFY(!table->horizontalHeaderItem(1)->text().startsWith(candidates()->item(0, 1)->text()));
        QVERIFY(table->rowCount() >= 10);
        int tightest = 0;
        for (int r = 0; r < table->rowCount(); ++r)
            for (int c = 1; c < 5; ++c) {
                QVERIFY(table->item(r, c) && !table->item(r, c)->text().isEmpty());
                tightest += table->item(r, c)->text().contains(QStringLiteral("tightest"));
            }
        QCOMPARE(tightest, 4);
        candidates()->setCurrentCell(1, 1);
        QTest::keyClick(candidates(), Qt::Key_Space); // once more takes it out
        m->settle();
        QCOMPARE(table->columnCount(), 4);
    }

    void heatAndBusAreDrawn()
    {
        go(1, Station::Match);
        showPicture("Heat");
        QVERIFY(m->find<QLabel>("match.words")->text().contains(QStringLiteral("peak current may last")));
        showPicture("Bus");
        const auto words = [&] { return m->find<QLabel>("match.words")->text(); };
        QVERIFY2(words().contains(QStringLiteral("resistor")) && words().contains(QStringLiteral("bus B1")),
                 qPrintable(words())); // the traverse shares it with the dial
        go(0, Station::Match);
        showPicture("Bus");
        QVERIFY2(words().contains(QStringLiteral("all axes")), qPrintable(words())); // the lift has its own
        go(1, Station::Match);
        showPicture("Bus");
        // the start of this axis is pulled to 0.8 s, as one step of undo
        auto* plot = m->find<PlotView>("match.plot");
        const int steps = m->document().undoStack().count();
        const QPoint from = plot->pixelOf(0, {m->document().axis().cycle.offset, 0});
        QWidget* canvas = plot->childAt(from);
        QTest::mousePress(canvas, Qt::LeftButton, {}, canvas->mapFrom(plot, from));
        for (const double at : {0.5, 0.65, 0.8})
            QTest::mouseMove(canvas, canvas->mapFrom(plot, plot->pixelOf(0, {at, 0})));
        QTest::mouseRelease(canvas, Qt::LeftButton, {}, canvas->mapFrom(plot, plot->pixelOf(0, {0.8, 0})));
        m->settle();
        QVERIFY2(std::abs(m->document().axis().cycle.offset - 0.8) < 0.03,
                 qPrintable(QString::number(m->document().axis().cycle.offset)));
        QCOMPARE(m->document().undoStack().count(), steps + 1);
    }

    void theSupplyOfAStepperIsPulled()
    {
        go(3, Station::Match);
        showPicture("Supply");
        auto* plot = m->find<PlotView>("match.plot");
        const QPoint from = plot->pixelOf(0, {m->document().axis().actuator.stepper()->stepping.bus, 60}),
                     to = plot->pixelOf(0, {36, 60});
        QWidget* canvas = plot->childAt(from);
        QTest::mousePress(canvas, Qt::LeftButton, {}, canvas->mapFrom(plot, from));
        QTest::mouseMove(canvas, canvas->mapFrom(plot, (from + to) / 2));
        QTest::mouseMove(canvas, canvas->mapFrom(plot, to));
        QTest::mouseRelease(canvas, Qt::LeftButton, {}, canvas->mapFrom(plot, to));
        m->settle();
        QVERIFY(std::abs(m->document().axis().actuator.stepper()->stepping.bus - 36) <= 1);
    }

    /// All connections, and all supplies, in one picture with the cycle; their figures stand below.
    void connectionsAndSuppliesOfAStepperAreDrawn()
    {
        go(3, Station::Match);
        m->document().edit(QStringLiteral("eight leads"), {}, [](Axis& a) {
            a.actuator.stepper()->motor->leads = 8;
            a.actuator.stepper()->stepping.connection = LeadConnection::Parallel;
        });
        m->settle();
        showPicture("Connections");
        auto* words = m->find<QLabel>("match.words");
        QCOMPARE(words->text().count(QLatin1Char('\n')),
                 static_cast<int>(leadOptions(8)->size()) - 1); // a line each
        for (const char* name : {"series", "parallel", "half coil"})
            QVERIFY2(words->text().contains(QString::fromLatin1(name)), name);
        showPicture("Supplies");
        QVERIFY(words->text().contains(QStringLiteral("voltage buys speed")));
    }
    /// The mounting is entered in a box of its own and acts at once.
    void theMountingIsEntered()
    {
        go(0, Station::Match);
        bool seen = false;
        QTimer::singleShot(0, this, [&] {
            for (QWidget* top : QApplication::topLevelWidgets())
                if (auto* menu = qobject_cast<QMenu*>(top); menu && menu->isVisible())
                    for (QAction* a : menu->actions())
                        if (a->text().startsWith(QStringLiteral("Mounting"))) {
                            QTimer::singleShot(50, this, [&] {
                                auto* box = m->window().findChild<QDialog*>(QStringLiteral("match.mounting"));
                                if (!box)
                                    return;
                                auto* line = box->findChild<QLineEdit*>(QStringLiteral("mounting.diameter"));
                                line->setFocus();
                                line->setText(QStringLiteral("100 mm"));
                                QTest::keyClick(line, Qt::Key_Return);
                                seen = true;
                                box->reject();
                            });
                            menu->setActiveAction(a);
                            QTest::keyClick(menu, Qt::Key_Return);
                            return;
                        }
        });
        m->find<QPushButton>("match.parts")->click();
        QVERIFY(waitFor([&] { return seen; }));
        m->settle();
        QCOMPARE(*m->document().axis().actuator.servo()->mounting.diameter, 0.1);
        QVERIFY(m->document().evaluation().check("match.fit"));
        m->document().undoStack().undo();
        QVERIFY(!m->document().axis().actuator.servo()->mounting.diameter);
    }

    void aMeasuredTableIsDroppedAndMarked()
    {
        go(0, Station::Match);
        put(m->path("torque.csv"),
            "speed [rpm],short-time [N*m],continuous [N*m]\n0,3.4,1.2\n3000,3.1,1.0\n6000,1.2,0.5\n");
        drop(m->path("torque.csv"));
        QCOMPARE(m->document().axis().actuator.motor()->measured.size(), std::size_t(3));
        QVERIFY(std::abs(m->document().axis().actuator.motor()->measured[1].speed - 314.159265) < 1e-4);
        QVERIFY(m->find<QLabel>("match.words")->text().contains(QStringLiteral("measured table")));
        const Machine before = m->document().machine();
        put(m->path("wrong.csv"), "0,3.4,1.2\n3000,1.0,2.0\n");
        drop(m->path("wrong.csv"));
        QVERIFY(m->find<QLabel>("match.words")->text().contains(QStringLiteral("rise from row to row")));
        QVERIFY(m->document().machine() == before);
    }

    /// Parts of one's own join the ranking, stay for the next start, and go again.
    void ownPartsJoinTheRanking()
    {
        go(0, Station::Match);
        QVERIFY(waitFor([&] { return candidates()->rowCount() >= 50; }));
        store::Catalogue own;
        own.motors.push_back(store::shippedCatalogue().motors.front());
        own.motors.front().name = "Bench motor 7";
        put(m->path("parts.json"), QByteArray::fromStdString(store::writeCatalogue(own, "own")));
        QVERIFY(m->window().openPath(m->path("parts.json")));
        m->settle();
        const auto there = [&] {
            for (int r = 0; r < candidates()->rowCount(); ++r)
                if (candidates()->item(r, 1)->text().contains(QStringLiteral("Bench motor 7")))
                    return true;
            return false;
        };
        QVERIFY(waitFor(there));
        Parts again;
        QVERIFY(std::ranges::find(again.catalogue()->motors, "Bench motor 7", &ServoMotor::name)
                != again.catalogue()->motors.end());
        put(m->path("broken.json"), R"({"format": "vortex-ridge-catalogue", "servoMotors": [{"name": "half"}]})");
        m->window().openPath(m->path("broken.json"));
        m->settle();
        bool told = false;
        for (const QTextBrowser* b : m->window().findChildren<QTextBrowser*>())
            told = told || b->toPlainText().contains(QStringLiteral("/servoMotors/0"));
        QVERIFY(told);
        m->document().parts().forgetOwn();
        QVERIFY(waitFor([&] { return !there(); }));
    }
};

int main(int argc, char** argv)
{
    QApplication app(argc, argv);
    TestMatchWindow test;
    return QTest::qExec(&test, argc, argv);
}
#include "tst_matchwindow.moc"
