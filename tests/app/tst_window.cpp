#include "app/instruments/chainview.h"
#include "app/instruments/ladderview.h"
#include "app/instruments/stopline.h"
#include "app/shell/shots.h"
#include "app/theme/theme.h"
#include "app/widgets/forms.h"
#include "app/widgets/plotview.h"
#include "core/stations/gates.h"
#include "core/units/print.h"
#include "store/machinejson.h"
#include "store/report.h"
#include "support/wait.h"
#include "support/windowfixture.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDropEvent>
#include <QListWidget>
#include <QMimeData>
#include <QPainter>
#include <QTableWidget>
#include <QTest>

#include <cmath>

using namespace ridge;
using namespace ridge::app;

/// The real interface, driven by keys and mouse.
class TestWindow : public QObject {
    Q_OBJECT

    std::unique_ptr<WindowFixture> m;

private Q_SLOTS:
    void init() { m = std::make_unique<WindowFixture>(); }
    void cleanup() { m.reset(); }

    void entriesTakeUnitsAndArithmetic_data()
    {
        QTest::addColumn<QByteArray>("typed");
        QTest::addColumn<double>("kilograms");
        QTest::newRow("plain") << QByteArray("50") << 50.0;
        QTest::newRow("comma") << QByteArray("50,5") << 50.5;
        QTest::newRow("pounds") << QByteArray("100 lb") << 45.359237;
        QTest::newRow("sum") << QByteArray("=(40+2*3) kg") << 46.0;
    }
    void entriesTakeUnitsAndArithmetic()
    {
        QFETCH(QByteArray, typed);
        QFETCH(double, kilograms);
        m->document().edit(QStringLiteral("other"), {}, [](Axis& a) { a.load.moving = 1; });
        m->settle();
        m->type("load.moving", typed.constData());
        QVERIFY(std::abs(*m->document().axis().load.moving - kilograms) < 1e-9);
    }

    void aWrongEntryStaysAndIsExplained()
    {
        const double before = *m->document().axis().load.moving;
        m->type("load.moving", "three cats");
        auto* edit = qobject_cast<QuantityEdit*>(m->find<QLineEdit>("load.moving")->parentWidget());
        QVERIFY(edit);
        QCOMPARE(edit->line().text(), QStringLiteral("three cats"));
        QVERIFY(edit->sentence().contains(QStringLiteral("three cats")));
        QCOMPARE(*m->document().axis().load.moving, before);
        m->type("load.moving", "-4 kg");
        QVERIFY(edit->sentence().contains(QStringLiteral("zero or more")));
        m->type("load.moving", "3 N");
        QVERIFY(edit->sentence().contains(QStringLiteral("force")));
        m->type("load.moving", "47 kg");
        QCOMPARE(*m->document().axis().load.moving, 47.0);
        QVERIFY(!edit->line().property("wrong").toBool());
    }

    /// EV04: while an entry is missing the last whole figures stay on screen, marked as old with the reason; they judge
    /// nothing, are not written to a drive and not printed.
    void oldFiguresJudgeNothing()
    {
        const double torque = m->document().evaluation().match.servo->torquePeak;
        m->window().goTo(0);
        m->type("load.moving", "");
        QVERIFY(!m->document().axis().load.moving);
        QString why;
        QVERIFY(m->document().stale(&why));
        QVERIFY2(!why.isEmpty(), "old without a reason");
        bool marked = false;
        for (const QLabel* l : m->window().findChildren<QLabel*>())
            marked = marked || (l->isVisible() && l->text() == why);
        QVERIFY(marked);
        const Evaluation& e = m->document().evaluation();
        for (const Check& c : e.checks)
            QVERIFY2((c.station != Station::Match && c.station != Station::Tune)
                         || (c.verdict != Verdict::Ok && c.verdict != Verdict::Watch),
                     c.id.c_str());
        QVERIFY(e.set.parameters.empty() && !e.match.servo && !e.tune);
        QVERIFY(!refusalsToSign(e, m->document().evidence()).empty());
        const std::string html = store::reportHtml(m->document().machine(), m->document().axis(), e,
                                                   m->document().evidence(), m->document().facts());
        const std::string printed = print(torque, Quantity::Torque);
        QVERIFY2(html.find(printed) == std::string::npos, printed.c_str());
        m->document().undoStack().undo();
        QVERIFY(!m->document().stale());
        QCOMPARE(m->document().evaluation().match.servo->torquePeak, torque);
    }

    void everyEditCanBeUndone()
    {
        const Machine before = m->document().machine();
        m->type("load.moving", "60");
        m->window().goTo(1);
        m->find<QTableWidget>("segments")->setCurrentCell(0, 0);
        QTest::mouseClick(m->find<QPushButton>("move.down"), Qt::LeftButton);
        m->window().goTo(7);
        m->type("guard.allowedDrop", "3 mm");
        QCOMPARE(m->document().undoStack().count(), 3);
        QVERIFY(!(m->document().machine() == before));
        while (m->document().undoStack().canUndo())
            m->document().undoStack().undo();
        QVERIFY(m->document().machine() == before);
        while (m->document().undoStack().canRedo())
            m->document().undoStack().redo();
        QCOMPARE(*m->document().axis().guard.allowedDrop, 0.003);
    }

    void whatWasConfirmedIsInTheFile()
    {
        m->type("load.moving", "61");
        const auto file = store::MachineFile::open(m->path("demo.vridge").toStdString());
        QVERIFY(file.has_value());
        QCOMPARE(*file->machine()->axes[0].load.moving, 61.0);
        const auto facts = file->facts();
        QCOMPARE(facts->back().as<PlanChanged>()->text, std::string("Change Moving mass"));
        QCOMPARE(facts->back().person.name, std::string("R. Sorrel"));
    }

    void stationsByKeyboard()
    {
        for (int k = 0; k < 9; ++k) {
            QTest::keyClick(&m->window(), static_cast<Qt::Key>(Qt::Key_1 + k), Qt::ControlModifier);
            QCOMPARE(m->window().station(), k);
        }
        auto* ridge = m->window().findChild<QWidget*>(QStringLiteral("ridge"));
        QVERIFY(ridge->accessibleDescription().contains(QStringLiteral("Load ok")));
        ridge->setFocus();
        QTest::keyClick(ridge, Qt::Key_Left);
        QCOMPARE(m->window().station(), 7);
        auto* axes = m->window().findChild<QWidget*>(QStringLiteral("axes"));
        QTest::keyClick(axes, Qt::Key_Down);
        QCOMPARE(m->document().axisIndex(), std::size_t{1});
    }

    void everyAxisShowsAtEveryStation()
    {
        for (std::size_t axis = 0; axis < m->document().machine().axes.size(); ++axis) {
            m->document().selectAxis(axis);
            for (int k = 0; k <= MainWindow::machineView; ++k) {
                m->window().goTo(k);
                m->settle();
                const QPixmap picture = m->window().grab();
                QVERIFY(!picture.isNull());
            }
        }
    }

    void theFinderGoesToFieldsAndFigures()
    {
        m->window().goTo(8);
        QTest::keyClick(&m->window(), Qt::Key_K, Qt::ControlModifier);
        auto* line = m->window().findChild<QLineEdit*>(QStringLiteral("finder.line"));
        QVERIFY(line && line->isVisible());
        QTest::keyClicks(line, QStringLiteral("permitted drop"));
        auto* list = m->window().findChild<QListWidget*>(QStringLiteral("finder.list"));
        QVERIFY(list->count() >= 1);
        QTest::keyClick(line, Qt::Key_Return);
        m->settle();
        QCOMPARE(m->window().station(), 7);
        QVERIFY(m->find<QLineEdit>("guard.allowedDrop"));
        QTest::keyClick(&m->window(), Qt::Key_K, Qt::ControlModifier);
        QTest::keyClicks(line, QStringLiteral("reflected inertia"));
        QTest::keyClick(line, Qt::Key_Return);
        m->settle();
        QCOMPARE(m->window().station(), 0);
        QVERIFY(m->window().findChild<MarginsPanel*>()->workingText().contains(QStringLiteral("Reflected inertia")));
    }

    void workingsOpen()
    {
        QTest::keyClick(&m->window(), Qt::Key_F2);
        const QString text = m->window().findChild<MarginsPanel*>()->workingText();
        QVERIFY2(text.contains(QStringLiteral("4.06")), qPrintable(text));
        QVERIFY(text.contains(QStringLiteral("(m+m_p+m_r)·r")));
        auto* line = m->find<QLineEdit>("load.friction");
        line->setFocus();
        QTest::keyClick(line, Qt::Key_F1);
        QVERIFY(m->window().findChild<MarginsPanel*>()->workingText().contains(QStringLiteral("Accepted")));
    }

    void theChainIsEditedOnThePicture()
    {
        auto* chain = m->window().page()->findChild<ChainView*>();
        const std::size_t before = m->document().axis().stages.size();
        const ChainLayout l = layoutChain(chain->elements(), QStringLiteral("stages[0]"), chain->size());
        QTest::mouseClick(chain, Qt::LeftButton, {}, l.blocks[2].center().toPoint());
        m->settle();
        QVERIFY(m->find<QLineEdit>("stages[0].ratedTorque"));
        QTest::mouseClick(chain, Qt::LeftButton, {}, l.remove.center().toPoint());
        m->settle();
        QCOMPARE(m->document().axis().stages.size(), before - 1);
        QCOMPARE(m->document().evaluation().check("load.coupling_torque"), nullptr);
        m->document().undoStack().undo();
        m->settle();
        QCOMPARE(m->document().axis().stages.size(), before);
        chain->setFocus();
        QTest::keyClick(chain, Qt::Key_Right); // load to mechanism
        m->settle();
        QVERIFY(m->find<QLineEdit>("mechanism.lead"));
    }

    /// Nothing in the picture lies over anything else, from the least window to a wide one.
    void chainLayoutHasNoOverlap_data()
    {
        QTest::addColumn<QSizeF>("size");
        QTest::newRow("least") << QSizeF(560, 250);
        QTest::newRow("usual") << QSizeF(810, 290);
        QTest::newRow("wide") << QSizeF(2400, 700);
    }
    void chainLayoutHasNoOverlap()
    {
        QFETCH(QSizeF, size);
        std::vector<ChainElement> elements(6);
        elements[0].key = QStringLiteral("load");
        elements[1].key = QStringLiteral("mechanism");
        for (int k = 2; k < 5; ++k)
            elements[static_cast<std::size_t>(k)].key = QStringLiteral("stages[%1]").arg(k - 2);
        elements[5].key = QStringLiteral("motor");
        for (auto& e : elements)
            e.inertiaShare = e.torqueShare = 1.0;
        const ChainLayout l = layoutChain(elements, QStringLiteral("stages[1]"), size);
        QCOMPARE(l.blocks.size(), elements.size());
        QCOMPARE(l.inserts.size(), std::size_t{4});
        for (std::size_t a = 0; a < l.blocks.size(); ++a) {
            QVERIFY(QRectF(QPointF(), size).contains(l.blocks[a]));
            for (std::size_t b = a + 1; b < l.blocks.size(); ++b)
                QVERIFY(!l.blocks[a].intersects(l.blocks[b]));
            QVERIFY(!l.blocks[a].intersects(l.inertiaBars[a]));
            QVERIFY(!l.inertiaBars[a].intersects(l.torqueBars[a]));
            for (const QRectF& insert : l.inserts)
                QVERIFY(!insert.intersects(l.blocks[a]));
        }
        QVERIFY(!l.earlier.intersects(l.later) && !l.later.intersects(l.remove));
    }

    void segmentsAreTyped()
    {
        m->window().goTo(1);
        m->settle();
        auto* table = m->find<QTableWidget>("segments");
        table->item(0, 3)->setText(QStringLiteral("0.5 m/s"));
        m->settle();
        QCOMPARE(*m->document().axis().cycle.segments[0].speed, 0.5);
        table->item(0, 3)->setText(QStringLiteral("fast"));
        QCOMPARE(*m->document().axis().cycle.segments[0].speed, 0.5);
        auto* sentence = m->window().page()->findChild<QLabel*>(QStringLiteral("sentence"));
        QVERIFY(sentence->text().contains(QStringLiteral("fast")));
        table->item(0, 2)->setText(QStringLiteral("0.3 s")); // 0.36 m in 0.3 s does not go with 0.5 m/s
        m->settle();
        QVERIFY(m->window()
                    .page()
                    ->findChild<QLabel*>(QStringLiteral("sentence"))
                    ->text()
                    .contains(QStringLiteral("last good")));
    }

    void segmentsArePulledOnTheGraph()
    {
        m->window().goTo(1);
        m->settle();
        auto* plot = m->find<PlotView>("move.plot");
        const double before = m->document().evaluation().move.motion->solved[0].time;
        const QPoint from = plot->pixelOf(1, {0.3, 300}), to = plot->pixelOf(1, {0.5, 300});
        QWidget* canvas = plot->childAt(from);
        QVERIFY(canvas);
        const auto at = [&](QPoint p) { return canvas->mapFrom(plot, p); };
        QTest::mousePress(canvas, Qt::LeftButton, {}, at(from));
        for (int k = 1; k <= 4; ++k)
            QTest::mouseMove(canvas, at(from + (to - from) * k / 4));
        QTest::mouseRelease(canvas, Qt::LeftButton, {}, at(to));
        m->settle();
        const double after = *m->document().axis().cycle.segments[0].time;
        QVERIFY2(std::abs(after - (before + 0.2)) < 0.03, qPrintable(QString::number(after)));
        QCOMPARE(std::round(after * 100) / 100, after); // snapped
        QCOMPARE(m->document().undoStack().count(), 1); // one step of undo
        m->document().undoStack().undo();
        QVERIFY(!m->document().axis().cycle.segments[0].time.has_value());
    }

    void nothingIsTickedBeforeTheBusIsDead()
    {
        m->window().goTo(3);
        m->settle();
        auto* tick = m->find<QCheckBox>("wire.tick");
        QVERIFY(!tick->isEnabled());
        QVERIFY(
            app::typeStep(
                m->window(), 3,
                {{"provedBefore", "yes"}, {"bus", "23 V"}, {"lines", "0 V"}, {"earth", "0 V"}, {"provedAfter", "yes"}})
            != QString());
        QVERIFY(!tick->isEnabled());
        QCOMPARE(m->document().evaluation().steps[2].state, StepState::Failed);
        QCOMPARE(app::typeStep(m->window(), 3,
                               {{"provedBefore", "yes"},
                                {"bus", "400 mV"},
                                {"lines", "0 V"},
                                {"earth", "0 V"},
                                {"provedAfter", "yes"}}),
                 QString());
        QVERIFY(tick->isEnabled());
        auto* view = m->window().page()->findChild<QWidget*>(QStringLiteral("connections"));
        view->setFocus();
        QTest::keyClick(view, Qt::Key_Space);
        QTest::keyClick(view, Qt::Key_Down);
        QTest::keyClick(view, Qt::Key_Space);
        m->settle();
        int ticked = 0;
        for (const auto& [id, f] : conductorsSeen(m->document().evidence()))
            ticked += f->as<ConductorSeen>()->ticked;
        QCOMPARE(ticked, 2);
        // another person at the laptop measures again
        m->document().setPerson({"T. Yarrow", "technician"});
        m->settle();
        QVERIFY(!tick->isEnabled());
        QCOMPARE(m->document().evaluation().steps[2].state, StepState::Stale);
    }

    void choosingACandidate()
    {
        m->window().goTo(2);
        m->settle();
        auto* table = m->find<QTableWidget>("candidates");
        QVERIFY(waitFor([&] { return table->rowCount() >= 12; }));
        table->setCurrentCell(1, 1);
        const QString name = table->item(1, 1)->text();
        QTest::mouseClick(m->find<QPushButton>("match.choose"), Qt::LeftButton);
        m->settle();
        QVERIFY(name.contains(QString::fromStdString(m->document().axis().actuator.motor()->name)));
        QVERIFY(m->document().axis().actuator.withBrake()); // the load hangs
    }

    /// A stepper takes the servo's place, its leads and supply can be changed, and one undo brings the servo back.
    void aStepperTakesTheServosPlace()
    {
        m->document().selectAxis(3);
        m->window().goTo(2);
        m->settle();
        QVERIFY(m->document().axis().actuator.stepperMotor());
        auto* table = m->find<QTableWidget>("candidates");
        auto* kind = m->find<QComboBox>("match.kind");
        QCOMPARE(kind->currentIndex(), 1);
        QVERIFY(waitFor([&] { return table->rowCount() >= 20; }));
        auto* bus = m->find<QLineEdit>("stepping.bus");
        QVERIFY(bus);
        bus->selectAll();
        QTest::keyClicks(bus, QStringLiteral("36 V"));
        QTest::keyClick(bus, Qt::Key_Return);
        m->settle();
        QCOMPARE(m->document().axis().actuator.stepper()->stepping.bus, 36.0);
        kind->setFocus();
        QTest::keyClick(kind, Qt::Key_Up);
        QVERIFY(waitFor([&] {
            return table->item(0, 3)->text().startsWith(QStringLiteral("Marl"))
                   || table->item(0, 3)->text().startsWith(QStringLiteral("Chert"));
        }));
        table->setCurrentCell(0, 0);
        QTest::mouseClick(m->find<QPushButton>("match.choose"), Qt::LeftButton);
        m->settle();
        QVERIFY(m->document().axis().actuator.motor() && !m->document().axis().actuator.stepperMotor());
        m->document().undoStack().undo();
        m->settle();
        QVERIFY(m->document().axis().actuator.stepperMotor() && !m->document().axis().actuator.motor());
        QVERIFY(m->find<QLineEdit>("stepping.bus"));
        QCOMPARE(m->document().axis().actuator.stepper()->stepping.bus, 36.0);
    }

    /// The ratio is tried on the picture; the steps of a pull are one step of undo.
    void theRatioIsPulled()
    {
        m->document().selectAxis(1);
        m->window().goTo(2);
        m->settle();
        auto* picture = m->find<QComboBox>("match.picture");
        QVERIFY(picture->itemText(1).startsWith(QStringLiteral("Ratio of")));
        picture->setFocus();
        QTest::keyClick(picture, Qt::Key_Down);
        m->settle();
        auto* plot = m->find<PlotView>("match.plot");
        const double before = m->document().axis().stages[0].ratio;
        const int steps = m->document().undoStack().count();
        const QPoint from = plot->pixelOf(0, {before, 0});
        QTest::mousePress(plot->childAt(from), Qt::LeftButton, {}, plot->childAt(from)->mapFrom(plot, from));
        for (const double ratio : {5.5, 6.0, 7.0}) {
            const QPoint to = plot->pixelOf(0, {ratio, 0});
            QTest::mouseMove(plot->childAt(from), plot->childAt(from)->mapFrom(plot, to));
        }
        QTest::mouseRelease(plot->childAt(from), Qt::LeftButton, {},
                            plot->childAt(from)->mapFrom(plot, plot->pixelOf(0, {7.0, 0})));
        m->settle();
        QVERIFY2(std::abs(m->document().axis().stages[0].ratio - 7.0) < 0.15,
                 qPrintable(QString::number(m->document().axis().stages[0].ratio)));
        QCOMPARE(m->document().undoStack().count(), steps + 1);
        m->document().undoStack().undo();
        m->settle();
        QCOMPARE(m->document().axis().stages[0].ratio, before);
    }

    void candidatesAreFiltered()
    {
        m->window().goTo(2);
        m->settle();
        auto* table = m->find<QTableWidget>("candidates");
        QVERIFY(waitFor([&] { return table->rowCount() >= 12; }));
        const int all = table->rowCount();
        QTest::keyClicks(m->find<QLineEdit>("match.filter"), QStringLiteral("birch 80"));
        QVERIFY(table->rowCount() > 0 && table->rowCount() < all);
        for (int r = 0; r < table->rowCount(); ++r)
            QVERIFY2(table->item(r, 1)->text().contains(QStringLiteral("Birch")),
                     qPrintable(table->item(r, 1)->text()));
        m->find<QLineEdit>("match.filter")->clear();
        QCOMPARE(table->rowCount(), all);
    }

    void drivesAreNotTouchedBeforeTheBackup()
    {
        m->window().goTo(4);
        m->settle();
        for (const char* name : {"set.read", "set.write", "set.save"})
            QVERIFY2(!m->find<QPushButton>(name)->isEnabled(), name);
        auto* address = m->find<QLineEdit>("set.address");
        QTest::keyClicks(address, QStringLiteral("not an address"));
        QTest::keyClick(address, Qt::Key_Return);
        QVERIFY2(m->window().lastSaid().contains(QStringLiteral("is no address")), qPrintable(m->window().lastSaid()));
        m->window().goTo(5);
        m->settle();
        QVERIFY(!m->find<QPushButton>("turn.plus")->isEnabled());
        QVERIFY(m->window().page()->findChild<LadderView*>()->openRung().contains(QStringLiteral("Set")));
    }

    void stopLineKeepsItsOrder()
    {
        StopLineState s;
        s.ramp = 0.02;
        s.standstill = 0.105;
        s.brakeClosed = 0.17;
        s.torqueOff = 0.2;
        s.delayPermitted = 0.5;
        const StopLineLayout l = layoutStopLine(s, {800, 280});
        QVERIFY(l.x(0) < l.x(s.standstill) && l.x(s.standstill) < l.x(s.brakeClosed)
                && l.x(s.torqueOff) < l.phases.right());
        QVERIFY(l.x(0.5) < l.phases.right());
        QVERIFY(!l.phases.intersects(l.delays) && !l.delays.intersects(l.speed) && !l.speed.intersects(l.travel));
    }

    void bothThemesTellVerdictsByShape()
    {
        for (const bool dark : {false, true}) {
            m->window().setDark(dark);
            QVERIFY(theme().dark == dark);
            std::vector<QImage> marks;
            for (const Verdict v : {Verdict::Unknown, Verdict::Ok, Verdict::Watch, Verdict::Fail}) {
                QImage image(24, 24, QImage::Format_Grayscale8);
                image.fill(dark ? Qt::black : Qt::white);
                QPainter p(&image);
                paintVerdict(p, {12, 12}, 16, v);
                p.end();
                for (const QImage& other : marks)
                    QVERIFY2(image != other, "two verdicts look alike without colour");
                marks.push_back(image);
            }
        }
        m->window().setDark(false);
    }

    void imperialUnitsAreShownAndRead()
    {
        QTest::keyClick(&m->window(), Qt::Key_I, Qt::ControlModifier);
        m->settle();
        QVERIFY(m->find<QLineEdit>("load.moving")->text().contains(QStringLiteral("lb")));
        m->type("load.moving", "100");
        QVERIFY(std::abs(*m->document().axis().load.moving - 45.359237) < 1e-9);
        QTest::keyClick(&m->window(), Qt::Key_I, Qt::ControlModifier);
        m->settle();
        QVERIFY(m->find<QLineEdit>("load.moving")->text().contains(QStringLiteral("kg")));
    }

    void strangeFilesKeepWhatIsOpen()
    {
        const Machine before = m->document().machine();
        QFile file(m->path("list.vridge"));
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write("milk, bread");
        file.close();
        QVERIFY(!m->window().openPath(file.fileName()));
        QVERIFY(!m->window().openPath(m->path("nothing.vridge")));
        QVERIFY(m->document().machine() == before);
    }

    void droppedFilesAreOpened()
    {
        Machine machine = store::demoMachine();
        machine.name = "Another machine";
        QVERIFY(store::MachineFile::create(m->path("other.vridge").toStdString(), machine).has_value());
        auto* data = new QMimeData;
        data->setUrls({QUrl::fromLocalFile(m->path("other.vridge"))});
        QDragEnterEvent enter(QPoint(300, 300), Qt::CopyAction, data, Qt::LeftButton, Qt::NoModifier);
        QCoreApplication::sendEvent(&m->window(), &enter);
        QVERIFY(enter.isAccepted());
        QDropEvent drop(QPointF(300, 300), Qt::CopyAction, data, Qt::LeftButton, Qt::NoModifier);
        QCoreApplication::sendEvent(&m->window(), &drop);
        delete data;
        QCOMPARE(m->document().machine().name, std::string("Another machine"));
    }

    void widgetsHaveNames()
    {
        for (int k = 0; k <= MainWindow::machineView; ++k) {
            m->window().goTo(k);
            m->settle();
            for (const QWidget* w : m->window().page()->findChildren<QWidget*>()) {
                if (!w->isVisible() || (w->focusPolicy() & Qt::TabFocus) == 0 || qobject_cast<const QLabel*>(w)
                    || w->inherits("QScrollArea") || w->inherits("QHeaderView") || w->inherits("QTableView") == false)
                    continue;
                QVERIFY2(!w->accessibleName().isEmpty(),
                         qPrintable(QStringLiteral("%1 in station %2").arg(w->objectName()).arg(k)));
            }
            for (const QLineEdit* w : m->window().page()->findChildren<QLineEdit*>())
                QVERIFY2(!w->accessibleName().isEmpty(), qPrintable(w->objectName()));
            for (const QPushButton* w : m->window().page()->findChildren<QPushButton*>())
                QVERIFY2(!w->accessibleName().isEmpty(), qPrintable(w->objectName()));
        }
    }
};

QTEST_MAIN(TestWindow)
#include "tst_window.moc"
