#include "app/instruments/travelruler.h"
#include "core/units/parse.h"
#include "support/wait.h"
#include "support/windowfixture.h"

#include <QApplication>
#include <QClipboard>
#include <QTabWidget>
#include <QTableWidget>
#include <QTest>

#include <cmath>

using namespace ridge;
using namespace ridge::app;

/// Move in the real window: segments, and what they ask of the motor phase by phase.
class TestMoveWindow : public QObject {
    Q_OBJECT

    std::unique_ptr<WindowFixture> m;

private Q_SLOTS:
    void init()
    {
        m = std::make_unique<WindowFixture>();
        m->window().goTo(1);
        m->settle();
    }
    void cleanup() { m.reset(); }

    /// The cycle phase by phase: a row for each, in the reader's units, and a selection is copied as a table.
    void phasesAtTheMotor()
    {
        auto* tabs = m->window().findChild<QTabWidget*>(QStringLiteral("move.tabs"));
        QVERIFY(tabs);
        tabs->setCurrentIndex(1);
        m->settle();
        auto* table = m->window().findChild<QTableWidget*>(QStringLiteral("phases"));
        QVERIFY(table && table->isVisible());
        QCOMPARE(static_cast<std::size_t>(table->rowCount()), m->document().evaluation().move.motion->phases.size());
        double back = 0;
        for (int r = 0; r < table->rowCount(); ++r) {
            const auto energy =
                parseQuantity(table->item(r, table->columnCount() - 1)->text().toStdString(), Quantity::Energy, "J");
            QVERIFY2(energy.has_value(), qPrintable(table->item(r, table->columnCount() - 1)->text()));
            back += *energy;
        }
        QVERIFY(std::abs(back - m->document().evaluation().move.duty.energyRegenerated) < 1e-3 * back);
        table->setRangeSelected({0, 0, 1, 2}, true);
        QTest::keyClick(table, Qt::Key_C, Qt::ControlModifier);
        const QStringList lines = QApplication::clipboard()->text().trimmed().split(QLatin1Char('\n'));
        QCOMPARE(lines.size(), 2);
        QCOMPARE(lines[0].split(QLatin1Char('\t')).size(), 3);
        m->document().edit(QStringLiteral("heavier"), {}, [](Axis& a) { a.load.moving = 60; }); // and it follows
        m->settle();
        QVERIFY(table->item(0, 6)->text() != lines[0]);
    }

    /// Changing the kind of a segment takes along what the new kind has no use for.
    void aNewKindLeavesNothingBehind()
    {
        m->document().edit(QStringLiteral("jerk-limited"), {}, [](Axis& a) {
            a.cycle.segments[0].kind = SegmentKind::JerkLimited;
            a.cycle.segments[0].jerk = 100;
        });
        m->settle();
        auto* table = m->window().findChild<QTableWidget*>(QStringLiteral("segments"));
        table->item(0, 0)->setText(QStringLiteral("trapezoid"));
        m->settle();
        QCOMPARE(m->document().axis().cycle.segments[0].kind, SegmentKind::Trapezoid);
        QVERIFY(!m->document().axis().cycle.segments[0].jerk);
        m->document().undoStack().undo();
        QCOMPARE(*m->document().axis().cycle.segments[0].jerk, 100.0);
    }

    /// Stops, switches and limits are typed with any unit and stand on the ruler to scale; what is too short is told.
    void theTravelStandsOnARuler()
    {
        auto* tabs = m->window().findChild<QTabWidget*>(QStringLiteral("move.tabs"));
        tabs->setCurrentIndex(2);
        m->settle();
        auto* ruler = m->window().findChild<TravelRuler*>();
        QVERIFY(ruler && ruler->isVisible());
        const auto says = [&](const char* what) {
            return ruler->accessibleDescription()
                .replace(QChar(QChar::Nbsp), QLatin1Char(' '))
                .contains(QString::fromLatin1(what));
        };
        QVERIFY2(says("switch 450 mm"), qPrintable(ruler->accessibleDescription()));
        m->type("travel.hardHigh", "46 cm");
        QCOMPARE(*m->document().axis().travel.hardHigh, 0.46);
        QCOMPARE(m->document().evaluation().check("move.behind_high")->verdict, Verdict::Fail);
        QVERIFY(says("hard stop 460 mm"));
        m->type("travel.hardHigh", "fourty");
        QCOMPARE(*m->document().axis().travel.hardHigh, 0.46); // what is no number changes nothing
        m->document().undoStack().undo();
        QCOMPARE(*m->document().axis().travel.hardHigh, 0.52);
    }
    /// Places of one ruler lie in order, and no label covers another, however close the places are.
    void theRulerIsToScale()
    {
        using Kind = RulerPlace::Kind;
        RulerState s;
        for (const double at : {0.0, 0.001, 0.002, 0.003, 0.5, 0.998, 0.999, 1.0})
            s.places.push_back({Kind::Soft, at, QStringLiteral("a place"), QStringLiteral("%1 mm").arg(at), 0});
        for (const QSizeF size : {QSizeF(480, 160), QSizeF(1400, 160)}) {
            const RulerLayout l = layoutRuler(s, size, QFontMetricsF(QApplication::font()));
            QVERIFY(std::abs((l.x(0.5) - l.x(0)) / (l.x(1) - l.x(0)) - 0.5) < 1e-9);
            for (std::size_t k = 0; k < l.labels.size(); ++k) {
                QVERIFY(l.labels[k].left() >= 0 && l.labels[k].right() <= size.width());
                for (std::size_t n = 0; n < k; ++n)
                    QVERIFY(!l.labels[k].intersects(l.labels[n]));
            }
        }
    }

    /// An empty cycle is no mistake: nothing is red, and the margins say what comes first.
    void anEmptyCycleIsNoMistake()
    {
        m->document().edit(QStringLiteral("from nothing"), {}, [](Axis& a) { a.cycle.segments.clear(); });
        m->settle();
        for (const QLabel* l : m->window().page()->findChildren<QLabel*>(QStringLiteral("sentence")))
            QVERIFY2(!l->isVisible(), qPrintable(l->text()));
        QVERIFY(m->document().evaluation().check("move.possible")->reason.says("enter a move"));
    }
};

QTEST_MAIN(TestMoveWindow)
#include "tst_movewindow.moc"
