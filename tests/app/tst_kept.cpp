#include "app/instruments/connectionview.h"
#include "app/shell/shots.h"
#include "app/theme/sentence.h"
#include "app/widgets/stepspanel.h"
#include "core/stations/machineplan.h"
#include "store/machinefile.h"
#include "store/machinejson.h"
#include "support/machinefixture.h"
#include "support/wait.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QListWidget>
#include <QMimeData>
#include <QTableWidget>
#include <QTest>
#include <QTimer>

using namespace ridge;
using namespace ridge::app;

/// What is kept beside the plan: instruments, photos, bridges, results typed where no link gives them.
class TestKept : public QObject {
    Q_OBJECT

    std::unique_ptr<MachineFixture> m;

    [[nodiscard]] QString pictureFile(const char* name, int side)
    {
        QImage image(side, side, QImage::Format_RGB32);
        image.fill(Qt::darkCyan);
        const QString path = m->path(name);
        return image.save(path) ? path : QString();
    }

private Q_SLOTS:
    void init() { m = std::make_unique<MachineFixture>(); }
    void cleanup() { m.reset(); }

    /// RS07: instruments are kept with kind, serial, calibration and rate; chosen at a step they go with the reading,
    /// and one out of its date puts the hand-over on watch.
    void instrumentsAreKept()
    {
        m->machinePage();
        m->tab("Instruments");
        const auto keep = [&](const char* kind, const char* serial, const char* calibrated, const char* rate) {
            m->find<QLineEdit>("instrument.kind")->setText(QString::fromUtf8(kind));
            m->find<QLineEdit>("instrument.serial")->setText(QString::fromUtf8(serial));
            m->find<QLineEdit>("instrument.calibrated")->setText(QString::fromUtf8(calibrated));
            m->find<QLineEdit>("instrument.rate")->setText(QString::fromUtf8(rate));
            m->click("instrument.keep");
            return m->find<QLabel>("instrument.words")->text();
        };
        QVERIFY(keep("meter", "", "", "").contains(QStringLiteral("serial number")));
        QVERIFY(keep("meter", "M-1", "next spring", "").contains(QStringLiteral("is no date")));
        QVERIFY(keep("scope", "S-9", "2031-01-01", "fast").contains(QStringLiteral("is no rate")));
        QVERIFY(keep("scope", "S-9", "2031-01-01", "100000").isEmpty());
        QVERIFY(keep("meter", "M-1", "2020-05-31", "").isEmpty());
        auto* table = m->find<QTableWidget>("instruments");
        QCOMPARE(table->rowCount(), 2);
        QVERIFY(table->item(1, 4)->text().contains(QStringLiteral("out of date")));
        QCOMPARE(instrumentsKept(m->document().facts())[0].rate, 100000.0);
        // at a step: chosen from the list
        m->papersAndPlace();
        m->window().goTo(3);
        m->window().showStep(3);
        m->settle();
        auto* card = m->window().findChild<StepCard*>(QStringLiteral("step"));
        auto* kept = card->findChild<QComboBox*>(QStringLiteral("step.instrument.kept"));
        QVERIFY(kept && kept->isVisible() && kept->count() == 3);
        kept->setCurrentIndex(2);
        Q_EMIT kept->activated(2);
        QCOMPARE(card->findChild<QLineEdit*>(QStringLiteral("step.instrument.serial"))->text(), QStringLiteral("M-1"));
        m->deadBus();
        const Fact& read = m->document().facts().back();
        QCOMPARE(read.instrument.serial, std::string("M-1"));
        QCOMPARE(read.instrument.calibrated, std::string("2020-05-31"));
        const Check* check = m->document().evaluation().check("sign.instruments");
        QVERIFY(check && check->verdict == Verdict::Watch);
        // kept anew with another date it is in date; what was read before stays on watch
        m->machinePage();
        m->tab("Instruments");
        m->find<QTableWidget>("instruments")->setCurrentCell(1, 0);
        QCOMPARE(m->find<QLineEdit>("instrument.serial")->text(), QStringLiteral("M-1"));
        QVERIFY(keep("meter", "M-1", "2031-05-31", "").isEmpty());
        QCOMPARE(m->find<QTableWidget>("instruments")->rowCount(), 2);
        QVERIFY(m->document().evaluation().check("sign.instruments")->verdict == Verdict::Watch);
    }

    /// RS06: what no link gives is typed: backup, hand count, channels, data, power cycle, direction, feel, stop times.
    /// Each counts like a read one and is marked as typed, with instrument and method.
    void whatNoLinkGivesIsTyped()
    {
        QCOMPARE(m->window().newMachine(m->path("typed.vridge"), QStringLiteral("Typed"), {}), QString());
        m->addAxis("vertical-screw", "Lift by hand");
        m->document().edit(QStringLiteral("motor"), {},
                           [](Axis& a) { a.actuator = store::demoMachine().axes[0].actuator; });
        const auto step = [&](int number) {
            return m->document().evaluation().steps[static_cast<std::size_t>(number - 1)];
        };
        const auto type = [&](int number, const std::vector<std::pair<const char*, const char*>>& entries) {
            QCOMPARE(typeStep(m->window(), number, entries), QString());
            const StepStatus now = step(number);
            QVERIFY2(now.state == StepState::Passed,
                     qPrintable(QStringLiteral("S%1 %2").arg(number).arg(sentence(now.reason))));
            QVERIFY(now.fact && now.fact->origin == Origin::Typed && !now.practised);
        };
        type(11, {{"kept", "yes"}, {"where", "panel drawer"}});
        type(12, {{"expected", "8388608"}, {"counts", "8388600"}, {"method", "mark on the coupling"}});
        QCOMPARE(step(12).fact->as<StepDone>()->words.at("method"), std::string("mark on the coupling"));
        type(13, {{"a", "yes"},
                  {"b", "yes"},
                  {"both", "yes"},
                  {"monitor", "yes"},
                  {"instrument.kind", "meter"},
                  {"instrument.serial", "M-1"}});
        QCOMPARE(step(13).fact->instrument.serial, std::string("M-1"));
        type(14, {{"entered", "yes"}, {"current", "25 %"}});
        type(15, {{"set", "yes"}, {"survived", "yes"}});
        type(19, {{"agrees", "yes"}});
        type(20, {{"both", "yes"}, {"stopped", "yes"}, {"smooth", "yes"}});
        QVERIFY(m->document().evaluation().check("turn.jogged")->verdict != Verdict::Fail);
        // the reader of the record sees that it was typed
        m->machinePage();
        auto* log = m->find<QTableWidget>("machine.logbook");
        bool marked = false;
        for (int r = 0; r < log->rowCount(); ++r)
            marked = marked
                     || (log->item(r, 6)->text().contains(QStringLiteral("S12"))
                         && log->item(r, 4)->text() == QStringLiteral("typed"));
        QVERIFY(marked);
    }

    /// MF06: photos on device, name plate, conductor, bridge and step: kept in the file with date and person, dropped
    /// or chosen, shown where they belong, in the report on wish.
    void photosAreKept()
    {
        const QString good = pictureFile("plate.png", 64), other = pictureFile("cable.jpg", 32);
        QFile text(m->path("no.png"));
        QVERIFY(text.open(QIODevice::WriteOnly) && text.write("this is no picture") > 0);
        text.close();
        const auto photos = [&] {
            return std::ranges::count_if(m->document().facts(),
                                         [](const Fact& f) { return f.as<PhotoKept>() != nullptr; });
        };
        m->machinePage();
        m->tab("Photos");
        m->find<QComboBox>("photo.of")->setCurrentText(QStringLiteral("name plate of the drive"));
        auto* row = m->find<PhotoRow>("photos");
        QVERIFY(row->add(text.fileName()).contains(QStringLiteral("no picture")));
        QVERIFY(row->add(m->path("missing.png")).contains(QStringLiteral("cannot be read")));
        QCOMPARE(photos(), 0);
        QCOMPARE(row->add(good), QString());
        QCOMPARE(photos(), 1);
        const Fact& kept = m->document().facts().back();
        QCOMPARE(kept.as<PhotoKept>()->of, std::string("name plate of the drive"));
        QCOMPARE(kept.axis, std::string("A1"));
        QVERIFY(kept.person.named() && !kept.time.empty());
        QCOMPARE(row->findChildren<QPushButton*>(QStringLiteral("photos.picture")).size(), 1);
        m->find<QComboBox>("photo.of")->setCurrentText(QStringLiteral("limit switch, low end"));
        QCOMPARE(row->findChildren<QPushButton*>(QStringLiteral("photos.picture")).size(), 0);
        // a step and a conductor, by dropping
        const auto dropOn = [&](QWidget* target, const QString& path) {
            QMimeData data;
            data.setUrls({QUrl::fromLocalFile(path)});
            QDragEnterEvent enter(QPoint(5, 5), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
            QApplication::sendEvent(target, &enter);
            QVERIFY(enter.isAccepted());
            QDropEvent drop(QPointF(5, 5), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
            QApplication::sendEvent(target, &drop);
        };
        m->window().goTo(3);
        m->window().showStep(5);
        m->settle();
        dropOn(m->window().findChild<StepCard*>(QStringLiteral("step"))->findChild<PhotoRow*>(), good);
        QCOMPARE(m->document().facts().back().as<PhotoKept>()->of, std::string("S05"));
        dropOn(m->find<PhotoRow>("photos"), other);
        QVERIFY(m->document().facts().back().as<PhotoKept>()->of.find("conductor ") == 0);
        // nobody named: nothing kept
        m->document().setPerson({});
        QVERIFY(m->find<PhotoRow>("photos")->add(good).contains(QStringLiteral("Say who works")));
        m->document().setPerson({"R. Sorrel", "technician"});
        QCOMPARE(photos(), 3);
        // in the file, whole
        const auto file = store::MachineFile::open(m->document().path().toStdString());
        QVERIFY(file);
        QFile written(good);
        QVERIFY(written.open(QIODevice::ReadOnly));
        const auto blob = file->photo(kept.as<PhotoKept>()->blob);
        QCOMPARE(QByteArray(blob.data(), static_cast<qsizetype>(blob.size())), written.readAll());
        // in the report only on wish
        m->window().goTo(8);
        m->settle();
        const auto report = [&](bool with) {
            m->find<QCheckBox>("sign.photos")->setChecked(with);
            m->window().page()->setProperty("reportPath", m->path(with ? "with" : "without"));
            m->click("sign.html");
            QFile html(m->path(with ? "with.html" : "without.html"));
            return html.open(QIODevice::ReadOnly) ? html.readAll() : QByteArray();
        };
        QCOMPARE(report(false).count("<img"), 0);
        const QByteArray with = report(true);
        QCOMPARE(with.count("<img"), 3);
        QVERIFY(with.contains("data:image/png;base64,") && with.contains("data:image/jpeg;base64,"));
    }

    /// RS09: a bridge with from, to, why, who and when; drawn in the plan, named on every page until it is out, by
    /// whom.
    void aBridgeIsDrawnUntilItIsOut()
    {
        m->window().goTo(3);
        m->settle();
        auto* plan = m->window().page()->findChild<ConnectionView*>();
        QCOMPARE(plan->bridgesDrawn(), 0);
        const WirePlan& wires = m->document().evaluation().wire.plan();
        QVERIFY(wires.conductors.size() > 4);
        const std::string from = wires.conductors[0].a, to = wires.conductors[2].a;
        m->window().goTo(8);
        m->settle();
        m->find<QLineEdit>("sign.bridgeFrom")->setText(QString::fromStdString(from));
        m->click("sign.addBridge"); // a bridge without a reason is refused
        QVERIFY(openBridges(m->document().evidence()).empty());
        m->find<QLineEdit>("sign.bridgeTo")->setText(QString::fromStdString(to));
        m->find<QLineEdit>("sign.bridgeWhy")->setText(QStringLiteral("door contact not fitted yet"));
        m->click("sign.addBridge");
        const auto in = openBridges(m->document().evidence());
        QCOMPARE(in.size(), 1U);
        QVERIFY(in[0]->person.named() && !in[0]->time.empty());
        auto* photos = m->find<PhotoRow>("photos");
        QVERIFY(photos->isVisible());
        QCOMPARE(photos->add(pictureFile("bridge.png", 40)), QString());
        QCOMPARE(m->document().facts().back().as<PhotoKept>()->of, "bridge " + in[0]->as<BridgeIn>()->bridge);
        for (int station = 0; station < 9; ++station) { // C-16: on every page
            m->window().goTo(station);
            m->settle();
            bool named = false;
            for (const QLabel* l : m->window().findChildren<QLabel*>())
                named = named || (l->isVisible() && l->text().contains(QStringLiteral("door contact not fitted")));
            QVERIFY2(named, qPrintable(QString::number(station)));
        }
        m->window().goTo(3);
        m->settle();
        QCOMPARE(plan->bridgesDrawn(), 1);
        QVERIFY(m->find<QLabel>("wire.bridges")->text().contains(QStringLiteral("fit the real contact")));
        QVERIFY(m->document().evaluation().steps[29].state == StepState::Failed);
        m->window().goTo(8);
        m->settle();
        m->click("sign.strikeBridge");
        QVERIFY(openBridges(m->document().evidence()).empty());
        QVERIFY(m->document().facts().back().as<BridgeOut>() && m->document().facts().back().person.named());
        m->window().goTo(3);
        m->settle();
        QCOMPARE(plan->bridgesDrawn(), 0);
        QVERIFY(!m->find<QLabel>("wire.bridges")->isVisible());
    }

    /// MF03 in the window: a bench job begun from nothing, and its sheet, that says what is not done.
    void aBenchJobHasItsSheet()
    {
        m->addAxis("bench", "Spare motor");
        m->window().goTo(8);
        m->settle();
        m->window().page()->setProperty("reportPath", m->path("sheet"));
        m->click("sign.html");
        QFile file(m->path("sheet.html"));
        QVERIFY(file.open(QIODevice::ReadOnly));
        const QString sheet = QString::fromUtf8(file.readAll());
        for (const char* part : {"Bench test:", "Spare motor", "REHEARSAL", "not measured", "It was not run"})
            QVERIFY2(sheet.contains(QString::fromUtf8(part)), part);
        QVERIFY(!sheet.contains(QStringLiteral("Hand-over:")));
        m->click("sign.pdf");
        QVERIFY(QFileInfo(m->path("sheet.pdf")).size() > 2000);
    }

    /// MF07: drives of several axes, beams, buses and safety inputs are laid in one grid of the machine; what cannot be
    /// is refused where it is typed, what follows stands beside it, and one wire list comes of it.
    void whatAxesShare()
    {
        QCOMPARE(m->window().newMachine(m->path("own.vridge"), QStringLiteral("Own"), {}), QString());
        m->addAxis("vertical-screw", "Left lift");
        m->addAxis("vertical-screw", "Right lift");
        m->addAxis("linear-stage", "Slide");
        m->tab("What axes share");
        auto* grid = m->find<QTableWidget>("shared");
        const auto add = [&](const char* title) {
            auto* kind = m->find<QComboBox>("shared.kind");
            kind->setCurrentIndex(kind->findText(QString::fromUtf8(title)));
            m->click("shared.add");
            return grid->currentRow();
        };
        /// Twice on a cell, then a choice of its list or a text, then Enter.
        const auto enter = [&](int row, int column, const char* text) {
            grid->setFocus();
            grid->setCurrentCell(row, column);
            const QPoint at = grid->visualItemRect(grid->item(row, column)).center();
            QTest::mouseClick(grid->viewport(), Qt::LeftButton, {}, at);
            QTest::mouseDClick(grid->viewport(), Qt::LeftButton, {}, at);
            const QString wanted = QString::fromUtf8(text);
            if (auto* box = grid->viewport()->findChild<QComboBox*>()) {
                const int choice = box->findText(wanted);
                QVERIFY2(choice >= 0, text);
                box->setCurrentIndex(choice);
                QTest::keyClick(box, Qt::Key_Enter);
            } else {
                auto* line = grid->viewport()->findChild<QLineEdit*>();
                QVERIFY2(line, text);
                line->setText(wanted);
                QTest::keyClick(line, Qt::Key_Enter);
            }
            m->settle();
            QTRY_VERIFY(!grid->viewport()->findChild<QComboBox*>() && !grid->viewport()->findChild<QLineEdit*>());
        };
        const auto says = [&](const char* title) {
            auto* follows = m->find<QTableWidget>("shared.follows");
            for (int r = 0; r < follows->rowCount(); ++r)
                if (follows->item(r, 0)->text().contains(QString::fromUtf8(title)))
                    return follows->item(r, 0)->text().left(1) + follows->item(r, 1)->text();
            return QString();
        };
        const auto words = [&] { return m->find<QLabel>("shared.words")->text(); };
        const auto shared = [&]() -> const SharedParts& { return m->document().machine().shared; };

        const int beam = add("Beam");
        QVERIFY(says("shared.gantries[0]").startsWith(QStringLiteral("■"))); // no sides yet
        enter(beam, 4, "left");
        enter(beam, 5, "right");
        enter(beam, 3, "0.4 kg");
        QVERIFY2(words().contains(QStringLiteral("mass")), qPrintable(words()));
        enter(beam, 3, "0.8 mm");
        QCOMPARE(shared().gantries.at(0), (GantryPair{"A1", "A2", 0.0008, false}));
        QCOMPARE(grid->item(beam, 1)->text(), QStringLiteral("A1 + A2"));
        QVERIFY(says("crossed").startsWith(QStringLiteral("■")));
        enter(beam, 2, "alarms crossed");
        QVERIFY(says("crossed").startsWith(QStringLiteral("●")));

        const int input = add("Safety input");
        enter(input, 1, "stop at the gate");
        enter(input, 4, "SS1");
        QVERIFY(says("asked the same").contains(QStringLiteral("stop at the gate")));
        enter(input, 5, "SS1");
        enter(input, 6, "STO");
        QVERIFY(says("asked the same").startsWith(QStringLiteral("●")));
        for (const char* axis : {"Left lift", "Right lift", "Slide"})
            QVERIFY(says(axis).startsWith(QStringLiteral("●")));

        const int bus = add("D.c. bus");
        enter(bus, 4, "on it");
        enter(bus, 5, "on it");
        const int second = add("D.c. bus");
        enter(second, 5, "on it"); // it is on the first
        QVERIFY2(words().contains(QStringLiteral("B1")), qPrintable(words()));
        QVERIFY(shared().supplies.at(1).axes.empty());
        enter(second, 1, "B1");
        QVERIFY2(words().contains(QStringLiteral("twice")), qPrintable(words()));
        m->click("shared.remove");
        QCOMPARE(shared().supplies.size(), std::size_t{1});
        m->document().undoStack().undo();
        m->settle();
        QCOMPARE(shared().supplies.size(), std::size_t{2});
        QCOMPARE(grid->rowCount(), 4);
        m->document().undoStack().redo();
        m->settle();
        const int unit = add("Shared drive");
        enter(unit, 5, "on it");
        enter(unit, 4, "on it");
        QCOMPARE(grid->item(unit, 4)->text(), QStringLiteral("B")); // the letters follow the order of entry
        QCOMPARE(grid->item(unit, 5)->text(), QStringLiteral("A"));

        // the file holds it, and the machine's own judgement is that of the core
        const auto file = store::MachineFile::open(m->document().path().toStdString());
        QVERIFY(file && file->machine()->shared == shared());
        QCOMPARE(m->find<QTableWidget>("shared.follows")->rowCount(),
                 static_cast<int>(sharedProblems(*file->machine()).size() + machineChecks(*file->machine()).size()));
        m->click("shared.wires"); // no motor is chosen
        QVERIFY(words().contains(QStringLiteral("nothing to wire")));
    }

    /// The one wire list is saved as a table that other programs read.
    void theWireListIsSaved()
    {
        m->machinePage();
        m->tab("What axes share");
        const QString path = m->path("wires.csv");
        QTimer::singleShot(0, qApp, [&] {
            auto* dialog = qobject_cast<QFileDialog*>(QApplication::activeModalWidget());
            QVERIFY(dialog);
            dialog->findChild<QLineEdit*>()->setText(path);
            QTest::keyClick(dialog->findChild<QLineEdit*>(), Qt::Key_Enter);
        });
        m->click("shared.wires");
        QFile file(path);
        QVERIFY(file.open(QIODevice::ReadOnly));
        const QList<QByteArray> lines = file.readAll().trimmed().split('\n');
        QCOMPARE(lines.first(), QByteArray("from,to,cable,mm2,colour,pair"));
        QCOMPARE(static_cast<std::size_t>(lines.size()) - 1,
                 machineWirePlan(m->document().machine()).conductors.size());
        QVERIFY(m->find<QLabel>("shared.words")->text().contains(path));
    }
};

QTEST_MAIN(TestKept)
#include "tst_kept.moc"
