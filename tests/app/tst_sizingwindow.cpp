#include "app/instruments/chainview.h"
#include "app/stations/bodydialog.h"
#include "app/stations/recordeddialog.h"
#include "app/widgets/forms.h"
#include "app/widgets/plotview.h"
#include "store/catalogue.h"
#include "support/wait.h"
#include "support/windowfixture.h"

#include <QAction>
#include <QApplication>
#include <QComboBox>
#include <QDropEvent>
#include <QFile>
#include <QListWidget>
#include <QMenu>
#include <QMimeData>
#include <QProgressBar>
#include <QTableWidget>
#include <QTest>
#include <QTextBrowser>
#include <QTimer>

#include <cmath>

using namespace ridge;
using namespace ridge::app;

namespace {

template <class T>
T* inside(QWidget* parent, const char* name)
{
    return parent->findChild<T*>(QString::fromLatin1(name));
}

void put(const QString& path, const QByteArray& data)
{
    QFile file(path);
    QVERIFY(file.open(QIODevice::WriteOnly));
    QCOMPARE(file.write(data), data.size());
}

/// Does something with the dialog that opens while `begin` runs.
template <class D>
bool withDialog(const std::function<void()>& begin, const std::function<void(D&)>& act)
{
    bool met = false;
    QTimer timer;
    timer.setInterval(10);
    QObject::connect(&timer, &QTimer::timeout, [&] {
        auto* dialog = qobject_cast<D*>(QApplication::activeModalWidget());
        if (!dialog)
            return;
        timer.stop();
        met = true;
        act(*dialog);
        if (dialog->isVisible())
            dialog->reject();
    });
    timer.start();
    begin();
    return met;
}

void typeInto(QLineEdit* line, const char* text)
{
    line->setFocus();
    line->selectAll();
    QTest::keyClicks(line, QString::fromUtf8(text));
    QTest::keyClick(line, Qt::Key_Return);
}

} // namespace

/// Load, Move and Match in the real window: what is built, proposed, compared, recorded and refused there.
class TestSizingWindow : public QObject {
    Q_OBJECT

    std::unique_ptr<WindowFixture> m;

    void go(std::size_t axis, Station station)
    {
        m->document().selectAxis(axis);
        m->window().goTo(static_cast<int>(station));
        m->settle();
    }
    void drop(const QString& path)
    {
        QMimeData data;
        data.setUrls({QUrl::fromLocalFile(path)});
        QDragEnterEvent enter(QPoint(300, 300), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        QCoreApplication::sendEvent(&m->window(), &enter);
        QDropEvent event(QPointF(300, 300), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        QCoreApplication::sendEvent(&m->window(), &event);
        m->settle();
    }
    void showPicture(const char* begin)
    {
        auto* list = m->find<QComboBox>("match.picture");
        const int at = list->findText(QString::fromLatin1(begin), Qt::MatchStartsWith);
        QVERIFY2(at >= 0, begin);
        list->setCurrentIndex(at);
        Q_EMIT list->activated(at);
        m->settle();
    }
    [[nodiscard]] QTableWidget* candidates() { return m->find<QTableWidget>("candidates"); }
    [[nodiscard]] int shownRows() { return candidates()->rowCount(); }

private Q_SLOTS:
    void init() { m = std::make_unique<WindowFixture>(); }
    void cleanup() { m.reset(); }

    // ------------------------------------------------------------ Load

    /// F4 in a field of inertia opens the solids; the sum goes into the field, how it was built stays, and one undo
    /// takes both back.
    void anInertiaIsBuiltFromSolids()
    {
        go(2, Station::Load);
        const Machine before = m->document().machine();
        auto* line = m->find<QLineEdit>("load.moving");
        line->setFocus();
        const bool met = withDialog<BodyDialog>(
            [&] { QTest::keyClick(line, Qt::Key_F4); },
            [&](BodyDialog& d) {
                QCOMPARE(d.solids().size(), std::size_t(2)); // as the demo was built
                QTest::mouseClick(inside<QPushButton>(&d, "bodies.add"), Qt::LeftButton);
                QCOMPARE(inside<QListWidget>(&d, "bodies.list")->currentRow(), 2);
                typeInto(inside<QLineEdit>(&d, "solid.a"), "100 mm");
                typeInto(inside<QLineEdit>(&d, "solid.c"), "0,2 m");
                QVERIFY(inside<QTextBrowser>(&d, "bodies.working")->toPlainText().contains(QStringLiteral("J_sum")));
                QTest::mouseClick(inside<QPushButton>(&d, "bodies.take"), Qt::LeftButton);
            });
        QVERIFY(met);
        // steel shaft of 100 mm: ρ·π·d⁴·l/32 (rigid-body table)
        const double shaft = 7850 * M_PI * std::pow(0.1, 4) * 0.2 / 32;
        QVERIFY(std::abs(*m->document().axis().load.moving - (4.3676 + shaft)) < 1e-9);
        QCOMPARE(m->document().axis().bodies.at("load.moving").size(), std::size_t(3));
        m->document().undoStack().undo();
        QVERIFY(m->document().machine() == before);
    }

    void aSolidThatCannotBeIsExplained()
    {
        go(2, Station::Load);
        const Machine before = m->document().machine();
        const bool met = withDialog<BodyDialog>(
            [&] { m->window().page()->findChild<QAction*>(QStringLiteral("load.moving.build"))->trigger(); },
            [&](BodyDialog& d) {
                auto* shape = inside<QComboBox>(&d, "solid.shape");
                shape->setCurrentIndex(shape->findData(QStringLiteral("tube")));
                typeInto(inside<QLineEdit>(&d, "solid.b"), "900 mm");
                QVERIFY(inside<QLabel>(&d, "sentence")->text().contains(QStringLiteral("smaller than the outside")));
                QVERIFY(!inside<QPushButton>(&d, "bodies.take")->isEnabled());
            });
        QVERIFY(met);
        QVERIFY(m->document().machine() == before);
    }

    /// While an entry is missing the last good figures stay, and the window says that they are old and why.
    void oldFiguresAreMarked()
    {
        go(0, Station::Match);
        const double peak = m->document().evaluation().result("match.torque_peak")->value;
        m->document().edit(QStringLiteral("take the mass away"), {}, [](Axis& a) { a.load.moving.reset(); });
        m->settle();
        QString why;
        QVERIFY(m->document().stale(&why));
        QVERIFY(why.contains(QStringLiteral("Moving mass")));
        QCOMPARE(m->document().lastGood().result("match.torque_peak")->value, peak);
        QVERIFY(!m->document().evaluation().result("match.torque_peak"));
        bool said = false;
        for (const QLabel* l : m->window().findChildren<QLabel*>(QStringLiteral("sentence")))
            said = said || (l->isVisible() && l->text().contains(QStringLiteral("Moving mass")));
        QVERIFY(said);
        QVERIFY(waitFor([&] { return !candidates()->isEnabled(); }));
        for (const Station s : {Station::Load, Station::Move, Station::Match}) // nothing falls over on the way
            go(0, s);
        m->document().undoStack().undo();
        m->settle();
        QVERIFY(!m->document().stale());
        go(0, Station::Match);
        QVERIFY(waitFor([&] { return candidates()->isEnabled(); }));
    }

    void everyMechanismHasItsForm_data()
    {
        QTest::addColumn<QByteArray>("type");
        for (const auto type : mechanismTypes())
            QTest::newRow(std::string(type).c_str()) << QByteArray(type.data(), static_cast<qsizetype>(type.size()));
    }
    void everyMechanismHasItsForm()
    {
        QFETCH(QByteArray, type);
        m->document().edit(QStringLiteral("other mechanism"), {},
                           [&](Axis& a) { changeMechanism(a, *mechanismOf(type.toStdString())); });
        m->settle();
        auto* chain = m->window().page()->findChild<QWidget*>(QStringLiteral("chain"));
        QMetaObject::invokeMethod(chain, "elementChosen", Q_ARG(QString, QStringLiteral("mechanism")));
        m->settle();
        for (const Field& f : mechanismFields(*mechanismOf(type.toStdString()))) {
            const QString name =
                QStringLiteral("mechanism.") + QString::fromUtf8(f.key.data(), static_cast<qsizetype>(f.key.size()));
            auto* editor = m->window().page()->findChild<QWidget*>(name);
            QVERIFY2(editor, qPrintable(name));
            QVERIFY2(editor->width() >= 60 && editor->height() >= 18, qPrintable(name));
        }
        for (const Station s : {Station::Move, Station::Match})
            go(0, s);
    }

    /// Another mechanism by the keyboard, and back: what was entered for the first is there again.
    void aMechanismThatIsTriedKeepsTheEntries()
    {
        go(0, Station::Load);
        auto* chain = m->window().page()->findChild<ChainView*>();
        QVERIFY(chain);
        Q_EMIT chain->elementChosen(QStringLiteral("mechanism"));
        m->settle();
        const auto change = [&](const char* to) {
            QTimer::singleShot(50, [to] {
                auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
                QVERIFY(menu);
                for (QAction* action : menu->actions())
                    if (action->text() == QString::fromLatin1(to))
                        menu->setActiveAction(action);
                QTest::keyClick(menu, Qt::Key_Return);
            });
            QTest::keyClick(chain, Qt::Key_Space);
            m->settle();
        };
        const Mechanism before = m->document().axis().mechanism;
        QVERIFY(before.is<BallScrew>());
        change("Rack and pinion");
        QVERIFY(m->document().axis().mechanism.is<Rack>());
        m->document().edit(QStringLiteral("teeth"), {}, [](Axis& a) { a.mechanism.become<Rack>().teeth = 24; });
        change("Linear motor");
        QVERIFY(m->document().axis().actuator.is<LinearActuator>());
        change("Ball screw");
        QVERIFY(m->document().axis().mechanism == before);
        change("Rack and pinion");
        QCOMPARE(m->document().axis().mechanism.as<Rack>()->teeth, std::optional(24.0));
        while (m->document().axis().mechanism != before || !m->document().axis().actuator.motor())
            QTest::keyClick(&m->window(), Qt::Key_Z, Qt::ControlModifier); // and undo brings the motor back
        // an axis of the same number in another machine has nothing of it
        QCOMPARE(m->window().newMachine(m->path("other.vridge"), QStringLiteral("Other"), "vertical-screw"), QString());
        go(0, Station::Load);
        chain = m->window().page()->findChild<ChainView*>();
        Q_EMIT chain->elementChosen(QStringLiteral("mechanism"));
        m->settle();
        change("Rack and pinion");
        QVERIFY(m->document().axis().mechanism == Mechanism{Rack{}});
    }

    void everyCounterbalanceHasItsFields_data()
    {
        QTest::addColumn<QByteArray>("kind");
        QTest::addColumn<QByteArray>("field");
        QTest::newRow("counterweight") << QByteArray("counterweight") << QByteArray("load.counterMass");
        QTest::newRow("cylinder") << QByteArray("cylinder") << QByteArray("load.cylinderPressure");
        QTest::newRow("constant force") << QByteArray("constant-force") << QByteArray("load.constantForce");
        QTest::newRow("gas spring") << QByteArray("gas-spring") << QByteArray("load.springForce");
    }
    void everyCounterbalanceHasItsFields()
    {
        QFETCH(QByteArray, kind);
        QFETCH(QByteArray, field);
        auto* box = m->find<QComboBox>("load.counterbalance");
        box->setCurrentIndex(box->findData(QString::fromLatin1(kind)));
        m->settle();
        QCOMPARE(wordOf(m->document().axis().load.counterbalance), std::string_view(kind));
        QVERIFY(m->find<QLineEdit>(field.constData()));
        int others = 0;
        for (const char* other :
             {"load.counterMass", "load.cylinderPressure", "load.constantForce", "load.springForce"})
            others += m->find<QLineEdit>(other) ? 1 : 0;
        QCOMPARE(others, 1);
    }

    // ------------------------------------------------------------ Move

    /// The fastest cycle is proposed first, drawn beside the present one, and put in by one step that can be undone.
    void theFastestIsProposedAndApplied()
    {
        go(1, Station::Move);
        const auto before = m->document().axis();
        QTest::mouseClick(m->find<QPushButton>("move.fastest"), Qt::LeftButton);
        m->settle();
        auto* words = m->find<QLabel>("move.proposal");
        QVERIFY(words->isVisible() && words->text().contains(QStringLiteral("binds")));
        QVERIFY(m->document().axis() == before); // nothing is changed by asking
        const double now = m->document().evaluation().move.motion->duration;
        QTest::mouseClick(m->find<QPushButton>("move.apply"), Qt::LeftButton);
        m->settle();
        QVERIFY(std::abs(m->document().evaluation().move.motion->duration - now) > 1e-3);
        QVERIFY(!words->isVisible());
        m->document().undoStack().undo();
        QVERIFY(m->document().axis() == before);
    }

    void theGentlestTakesACycleTime()
    {
        go(0, Station::Move);
        typeInto(m->find<QLineEdit>("move.cycle"), "4 s");
        QTest::mouseClick(m->find<QPushButton>("move.gentlest"), Qt::LeftButton);
        m->settle();
        QTest::mouseClick(m->find<QPushButton>("move.apply"), Qt::LeftButton);
        m->settle();
        QVERIFY(std::abs(m->document().evaluation().move.motion->duration - 4) < 1e-6);
        typeInto(m->find<QLineEdit>("move.cycle"), "1 s");
        QTest::mouseClick(m->find<QPushButton>("move.gentlest"), Qt::LeftButton);
        m->settle();
        QVERIFY(m->find<QLabel>("move.proposal")->text().contains(QStringLiteral("give more time")));
        QVERIFY(!m->find<QPushButton>("move.apply")->isVisible());
    }

    /// An answer is forgotten as soon as the question changes.
    void aProposalDoesNotOutliveItsQuestion()
    {
        go(0, Station::Move);
        QTest::mouseClick(m->find<QPushButton>("move.fastest"), Qt::LeftButton);
        m->settle();
        QVERIFY(m->find<QLabel>("move.proposal")->isVisible());
        m->document().edit(QStringLiteral("more mass"), {}, [](Axis& a) { a.load.moving = 60; });
        m->settle();
        QVERIFY(!m->find<QLabel>("move.proposal")->isVisible());
    }

    void aRecordedMotionIsDropped()
    {
        go(0, Station::Move);
        const std::size_t segments = m->document().axis().cycle.segments.size();
        QByteArray table("time [ms];position [mm]\n");
        for (int k = 0; k <= 200; ++k) {
            const double z = k / 200.0;
            table += QByteArray::number(5.0 * k) + ';'
                     + QByteArray::number(80 * (10 * std::pow(z, 3) - 15 * std::pow(z, 4) + 6 * std::pow(z, 5)), 'f', 5)
                     + '\n';
        }
        put(m->path("motion.csv"), table);
        m->find<QTableWidget>("segments")->setCurrentCell(0, 0);
        const bool met = withDialog<RecordedDialog>(
            [&] { drop(m->path("motion.csv")); },
            [&](RecordedDialog& d) {
                QVERIFY(inside<QLabel>(&d, "recorded.words")->text().contains(QStringLiteral("201 samples")));
                typeInto(inside<QLineEdit>(&d, "recorded.permitted"), "0.02 mm");
                QVERIFY(inside<QLabel>(&d, "recorded.words")->text().startsWith(QStringLiteral("●")));
                QTest::mouseClick(inside<QPushButton>(&d, "recorded.take"), Qt::LeftButton);
            });
        QVERIFY(met);
        QCOMPARE(m->document().axis().cycle.segments.size(), segments + 1);
        const Segment& added = m->document().axis().cycle.segments[1];
        QCOMPARE(added.kind, SegmentKind::Recorded);
        QCOMPARE(*added.time, 1.0);
        QVERIFY(std::abs(added.recorded.back() - 0.08) < 1e-9);
    }

    void aBadRecordingIsASentence_data()
    {
        QTest::addColumn<QByteArray>("table");
        QTest::addColumn<QString>("words");
        QTest::newRow("not a number") << QByteArray("0;0\n1;zwei\n2;3\n") << QStringLiteral("line 2, column 2");
        QTest::newRow("one column") << QByteArray("0\n1\n2\n") << QStringLiteral("2 columns");
        QTest::newRow("wrong unit") << QByteArray("time [kg];x [mm]\n0;1\n") << QStringLiteral("mass");
        QTest::newRow("too short") << QByteArray("0;0\n1;1\n") << QStringLiteral("at least 8");
        QTest::newRow("empty") << QByteArray() << QStringLiteral("at least 8");
        QTest::newRow("noise") << QByteArray("\x00\x01\xff\xfe;\x02\n\x03;\xff\n", 11) << QStringLiteral("line 2");
    }
    void aBadRecordingIsASentence()
    {
        QFETCH(QByteArray, table);
        QFETCH(QString, words);
        go(0, Station::Move);
        const Machine before = m->document().machine();
        put(m->path("bad.csv"), table);
        drop(m->path("bad.csv"));
        bool said = false;
        for (const QLabel* l : m->window().page()->findChildren<QLabel*>(QStringLiteral("sentence")))
            said = said || (l->isVisible() && l->text().contains(words));
        QVERIFY2(said, qPrintable(words));
        QVERIFY(m->document().machine() == before);
    }

    /// Columns that no segment uses take no room.
    void columnsComeWithTheirKinds()
    {
        go(0, Station::Move);
        auto* table = m->find<QTableWidget>("segments");
        const auto column = [&](const char* head) {
            for (int c = 0; c < table->columnCount(); ++c)
                if (table->horizontalHeaderItem(c)->text() == QString::fromLatin1(head))
                    return c;
            return -1;
        };
        QVERIFY(column("Jerk") >= 0 && table->isColumnHidden(column("Jerk")));
        m->document().edit(QStringLiteral("kinds"), {}, [](Axis& a) {
            a.cycle.segments[0].kind = SegmentKind::JerkLimited;
            a.cycle.segments[0].jerk = 80;
        });
        m->settle();
        QVERIFY(!table->isColumnHidden(column("Jerk")) && table->isColumnHidden(column("Law"))
                && table->isColumnHidden(column("End speed")));
    }

    // ------------------------------------------------------------ Match

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
    TestSizingWindow test;
    return QTest::qExec(&test, argc, argv);
}
#include "tst_sizingwindow.moc"
