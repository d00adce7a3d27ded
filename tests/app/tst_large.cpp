#include "app/widgets/waiting.h"
#include "store/machinejson.h"
#include "support/wait.h"
#include "support/windowfixture.h"

#include <QAbstractScrollArea>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QProgressDialog>
#include <QPushButton>
#include <QScrollBar>
#include <QTableWidget>
#include <QTest>

#include <thread>

using namespace ridge;
using namespace ridge::app;

namespace {
Machine machineOf(std::size_t axes)
{
    Machine m = store::demoMachine();
    const Axis one = m.axes[1];
    m.axes.clear();
    for (std::size_t k = 0; k < axes; ++k) {
        Axis& a = m.axes.emplace_back(one);
        a.id = "A" + std::to_string(k + 1);
        a.name = "Belt " + std::to_string(k + 1);
    }
    return m;
}
} // namespace

/// Much of everything: machines of very many axes, files that take their time.
class TestLarge : public QObject {
    Q_OBJECT

    std::unique_ptr<WindowFixture> m;

private Q_SLOTS:
    void init() { m = std::make_unique<WindowFixture>(); }
    void cleanup() { m.reset(); }

    /// More axes than fit into the window are all reached, by key, by wheel and by mouse.
    void axesBeyondTheWindow()
    {
        const QString path = m->path("many.vridge");
        QVERIFY(m->document().createAt(path, machineOf(40)).isEmpty());
        m->settle();
        auto* list = m->window().findChild<QAbstractScrollArea*>(QStringLiteral("axes"));
        QVERIFY(list->verticalScrollBar()->maximum() > 0);
        list->setFocus();
        for (int k = 0; k < 39; ++k)
            QTest::keyClick(list, Qt::Key_Down);
        m->settle();
        QCOMPARE(m->document().axis().name, std::string("Belt 40"));

        QCOMPARE(list->verticalScrollBar()->value(), list->verticalScrollBar()->maximum()); // it came into view
        const int bottom = list->viewport()->height() - 10;
        m->document().selectAxis(3);
        m->settle();
        QVERIFY(list->verticalScrollBar()->value() <= 3 * 62);
        QWheelEvent wheel(QPointF(50, 300), list->viewport()->mapToGlobal(QPointF(50, 300)), {}, QPoint(0, -100000),
                          Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase, false);
        for (int turn = 0; turn < 4; ++turn) // at most a page each
            QApplication::sendEvent(list->viewport(), &wheel);
        QCOMPARE(list->verticalScrollBar()->value(), list->verticalScrollBar()->maximum());
        QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, QPoint(50, bottom));
        QCOMPARE(m->document().axis().name, std::string("Belt 40"));
    }

    /// The largest machine there may be: opened, shown, judged to its last axis; one more is refused with a sentence,
    /// by the window and by the file.
    void theLargestMachine()
    {
        const QString path = m->path("largest.vridge");
        QVERIFY(store::MachineFile::create(path.toStdString(), machineOf(mostAxes)).has_value());
        QVERIFY(m->window().openPath(path));
        QCOMPARE(m->document().machine().axes.size(), mostAxes);
        m->window().goTo(MainWindow::machineView);
        auto* table = m->find<QTableWidget>("machine.axes");
        QCOMPARE(table->rowCount(), static_cast<int>(mostAxes));
        QVERIFY(waitFor([&] { return table->item(table->rowCount() - 1, 4)->text().size() > 3; }, 60000));
        QCOMPARE(table->item(table->rowCount() - 1, 4)->text(), table->item(0, 4)->text());
        QTest::mouseClick(m->find<QPushButton>("axis.add"), Qt::LeftButton);
        QVERIFY(m->find<QLabel>("machine.words")->text().contains(QStringLiteral("at most 2000 axes")));
        QCOMPARE(m->document().machine().axes.size(), mostAxes);
        // a named state of it comes back
        QVERIFY(m->document().keepVersion(QStringLiteral("full")).isEmpty());
        const auto kept = m->document().version("full");
        QVERIFY(kept && kept->axes.size() == mostAxes);
        const QString beyond = m->path("beyond.vridge");
        QVERIFY(store::MachineFile::create(beyond.toStdString(), machineOf(mostAxes + 1)).has_value());
        const auto opened = store::MachineFile::open(beyond.toStdString());
        QVERIFY(!opened.has_value());
        QVERIFY(messageFor(opened.error()).find("more than 2000 axes") != std::string::npos);
    }

    /// What takes its time is told, can be cancelled, and the window lives on meanwhile; nothing else is shown for it.
    void longWorkCanBeCancelled()
    {
        int ticks = 0;
        QTimer tick;
        connect(&tick, &QTimer::timeout, &tick, [&] {
            ++ticks;
            auto* box = qobject_cast<QProgressDialog*>(QApplication::activeModalWidget());
            if (box && ticks > 12) {
                QVERIFY(box->labelText().contains(QStringLiteral("large.vridge")));
                QTest::keyClick(box, Qt::Key_Escape);
            }
        });
        tick.start(25);
        const auto given = whileWaiting(m->window(), QStringLiteral("Opening large.vridge …"),
                                        [](const std::stop_token& stop) -> Result<int> {
                                            while (!stop.stop_requested())
                                                std::this_thread::sleep_for(std::chrono::milliseconds(5));
                                            return refuse("cancelled");
                                        });
        QCOMPARE(given.error().code, std::string("cancelled"));
        QVERIFY(ticks > 12); // timers ran: the window was not frozen
        QVERIFY(!QApplication::activeModalWidget());
        QCOMPARE(whileWaiting(m->window(), {}, [](const std::stop_token&) { return 7; }),
                 7); // and what is quick is quick
    }

    /// A reading that is no longer wanted leaves everything as it was.
    void anOpeningThatIsGivenUp()
    {
        const QString path = m->path("other.vridge");
        QVERIFY(store::MachineFile::create(path.toStdString(), machineOf(2)).has_value());
        std::stop_source stop;
        stop.request_stop();
        const auto contents = Document::read(path, stop.get_token());
        QVERIFY(!contents.has_value());
        QCOMPARE(contents.error().code, std::string("cancelled"));
        QVERIFY(Document::read(path).has_value());
    }
};

QTEST_MAIN(TestLarge)
#include "tst_large.moc"
