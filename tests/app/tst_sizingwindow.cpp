#include "app/instruments/chainview.h"
#include "app/stations/bodydialog.h"
#include "app/stations/recordeddialog.h"
#include "support/sizingwindow.h"
#include "support/wait.h"

#include <QAction>
#include <QApplication>
#include <QComboBox>
#include <QListWidget>
#include <QMenu>
#include <QTableWidget>
#include <QTest>
#include <QTextBrowser>
#include <QTimer>

#include <cmath>

using namespace ridge;
using namespace ridge::app;
using namespace sizingwindow;

/// Load and Move in the real window: what is built, proposed, recorded and refused there.
class TestSizingWindow : public OnTheDemo {
    Q_OBJECT

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
};

int main(int argc, char** argv)
{
    QApplication app(argc, argv);
    TestSizingWindow test;
    return QTest::qExec(&test, argc, argv);
}
#include "tst_sizingwindow.moc"
