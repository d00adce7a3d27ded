#include "store/catalogue.h"
#include "store/machinefile.h"
#include "store/machinejson.h"
#include "store/report.h"
#include "store/schema.h"

#include <QFile>
#include <QProcess>
#include <QTemporaryDir>
#include <QTest>

#include <sqlite3.h>

using namespace ridge;
using namespace ridge::store;

namespace {
QByteArray contents(const QString& path)
{
    QFile file(path);
    return file.open(QIODevice::ReadOnly) ? file.readAll() : QByteArray();
}
void put(const QString& path, const QByteArray& data)
{
    QFile file(path);
    QVERIFY(file.open(QIODevice::WriteOnly));
    QCOMPARE(file.write(data), data.size());
}
/// Runs SQL on a file from outside, as another program would.
bool sql(const QString& path, const char* text)
{
    sqlite3* db = nullptr;
    const bool good = sqlite3_open(path.toUtf8().constData(), &db) == SQLITE_OK && sqlite3_exec(db, text, nullptr, nullptr, nullptr) == SQLITE_OK;
    sqlite3_close(db);
    return good;
}
} // namespace

/// The machine file, its JSON, the catalogue and the report.
class TestStore : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;
    [[nodiscard]] QString fresh() const
    {
        static int n = 0;
        return m_folder.filePath(QStringLiteral("m%1.vridge").arg(++n));
    }

private Q_SLOTS:
    void jsonGoesThereAndBack()
    {
        const Machine& demo = demoMachine();
        QCOMPARE(demo.axes.size(), std::size_t{6});
        const auto again = parseMachine(writeMachine(demo));
        QVERIFY(again.has_value());
        QVERIFY(*again == demo);
    }

    void unknownKeysSurvive()
    {
        const std::string text = R"({"format":"vortex-ridge-machine","version":1,"name":"x","later":{"a":[1,2]},
            "axes":[{"id":"A","name":"a","load":{"moving_kg":3},"mechanism":{"type":"belt"},"colour":"blue"}]})";
        const auto m = parseMachine(text);
        QVERIFY(m.has_value());
        const std::string out = writeMachine(*m);
        QVERIFY(out.find("\"later\"") != std::string::npos);
        QVERIFY(out.find("\"colour\": \"blue\"") != std::string::npos);
    }

    void hostileJsonIsRefused_data()
    {
        QTest::addColumn<QByteArray>("text");
        QTest::addColumn<QString>("code");
        QTest::addColumn<QString>("place");
        const auto row = [](const char* name, const char* text, const char* code, const char* place) { QTest::newRow(name) << QByteArray(text) << QString::fromLatin1(code) << QString::fromLatin1(place); };
        row("empty", "", "file-damaged", "");
        row("cut off", "{\"format\":\"vortex-ridge-machine\",\"version\":1,\"na", "file-damaged", "line 1");
        row("another format", R"({"format":"something","version":1})", "file-foreign", "");
        row("a list", "[1,2,3]", "file-foreign", "");
        row("newer", R"({"format":"vortex-ridge-machine","version":99})", "file-newer", "99");
        row("no version", R"({"format":"vortex-ridge-machine"})", "file-damaged", "/version");
        row("text for number", R"({"format":"vortex-ridge-machine","version":1,"axes":[{"id":"A","mechanism":{"type":"belt"},"load":{"moving_kg":"heavy"}}]})", "file-damaged", "/load/moving_kg");
        row("unknown mechanism", R"({"format":"vortex-ridge-machine","version":1,"axes":[{"id":"A","mechanism":{"type":"spring"}}]})", "file-damaged", "/mechanism/type");
        row("axes no list", R"({"format":"vortex-ridge-machine","version":1,"axes":7})", "file-damaged", "/axes");
        row("too large a number", R"({"format":"vortex-ridge-machine","version":1,"axes":[{"id":"A","load":{"moving_kg":1e999}}]})", "file-damaged", "");
        row("deep", QByteArray("{\"format\":\"vortex-ridge-machine\",\"version\":1,\"x\":" + QByteArray(3000, '[') + QByteArray(3000, ']') + "}").constData(), "", "");
    }
    void hostileJsonIsRefused()
    {
        QFETCH(QByteArray, text);
        QFETCH(QString, code);
        QFETCH(QString, place);
        const auto m = parseMachine(text.toStdString());
        if (code.isEmpty()) { // odd but whole: it must only not crash
            QVERIFY(m.has_value() || !m.error().code.empty());
            return;
        }
        QVERIFY(!m.has_value());
        QCOMPARE(QString::fromStdString(m.error().code), code);
        QVERIFY2(QString::fromStdString(messageFor(m.error())).contains(place), messageFor(m.error()).c_str());
    }

    void theFileKeepsEverything()
    {
        const QString path = fresh();
        {
            auto file = MachineFile::create(path.toStdString(), demoMachine());
            QVERIFY(file.has_value());
            Axis changed = demoMachine().axes[0];
            changed.load.moving = 47.5;
            Trace trace;
            trace.time = {0, 1, 2};
            trace.positionError = {0.1, 0.2, 0.3};
            trace.speedDemand = trace.speed = trace.torque = {1, 2, 3};
            trace.position = {4, 5, 6};
            Change change;
            change.axes = {changed};
            change.log = {{0, "t1", "A1", "decision", "Change the mass", {}}, {0, "t2", "A1", "note", "ü “quotes” ' and\nlines", {}}};
            change.capture = {"A1-1", trace};
            QVERIFY(file->commit(change).has_value());
        }
        const auto file = MachineFile::open(path.toStdString());
        QVERIFY(file.has_value());
        const auto m = file->machine();
        QVERIFY(m.has_value());
        QCOMPARE(m->axes.size(), std::size_t{6});
        QCOMPARE(*m->axes[0].load.moving, 47.5);
        QVERIFY(m->axes[1] == demoMachine().axes[1]);
        QCOMPARE(m->axes[5].id, std::string("A6")); // the order stays
        const auto capture = file->capture("A1-1");
        QVERIFY(capture.has_value());
        QCOMPARE(capture->position[2], 6.0);
        QVERIFY(!file->capture("nothing").has_value());
        const auto log = file->logbook();
        QCOMPARE(log.size(), std::size_t{2});
        QCOMPARE(log[1].text, std::string("ü “quotes” ' and\nlines"));
        QCOMPARE(file->brokenLogEntry(), 0);
    }

    void theLogbookIsOnlyAdded()
    {
        const QString path = fresh();
        {
            auto file = MachineFile::create(path.toStdString(), demoMachine());
            for (int k = 0; k < 5; ++k)
                QVERIFY(file->commit({{}, {}, {}, {{0, "t", "A1", "note", std::to_string(k), {}}}, {}}).has_value());
        }
        QVERIFY(!sql(path, "UPDATE logbook SET text = 'other' WHERE number = 2"));
        QVERIFY(!sql(path, "DELETE FROM logbook WHERE number = 2"));
        // whoever takes the trigger away is found by the hash chain
        QVERIFY(sql(path, "DROP TRIGGER logbook_no_update; UPDATE logbook SET text = 'other' WHERE number = 3"));
        QCOMPARE(MachineFile::open(path.toStdString())->brokenLogEntry(), 3);
    }

    void versionsAreKept()
    {
        const QString path = fresh();
        auto file = MachineFile::create(path.toStdString(), demoMachine());
        QVERIFY(file->keepVersion("before the gearbox", "2026-11-25", demoMachine()).has_value());
        QCOMPARE(file->keepVersion("before the gearbox", "later", demoMachine()).error().code, std::string("version-exists"));
        QCOMPARE(file->versions().size(), std::size_t{1});
        QVERIFY(*file->version("before the gearbox") == demoMachine());
        QCOMPARE(file->version("never").error().code, std::string("no-version"));
    }

    void strangeFilesAreLeftAlone_data()
    {
        QTest::addColumn<QString>("kind");
        QTest::addColumn<QString>("code");
        QTest::newRow("newer schema") << QStringLiteral("newer") << QStringLiteral("file-newer");
        QTest::newRow("another program's database") << QStringLiteral("foreign") << QStringLiteral("file-foreign");
        QTest::newRow("text") << QStringLiteral("text") << QStringLiteral("file-foreign");
        QTest::newRow("empty") << QStringLiteral("empty") << QStringLiteral("file-foreign");
        QTest::newRow("cut in half") << QStringLiteral("cut") << QStringLiteral("file-damaged");
        QTest::newRow("bytes overwritten") << QStringLiteral("scribbled") << QStringLiteral("file-damaged");
        QTest::newRow("a broken axis inside") << QStringLiteral("axis") << QStringLiteral("file-damaged");
    }
    void strangeFilesAreLeftAlone()
    {
        QFETCH(QString, kind);
        QFETCH(QString, code);
        const QString path = fresh();
        { QVERIFY(MachineFile::create(path.toStdString(), demoMachine()).has_value()); }
        QByteArray data = contents(path);
        if (kind == QLatin1String("newer"))
            QVERIFY(sql(path, "PRAGMA user_version=99"));
        else if (kind == QLatin1String("foreign"))
            QVERIFY(sql(path, "PRAGMA application_id=1"));
        else if (kind == QLatin1String("axis"))
            QVERIFY(sql(path, "UPDATE axis SET doc = '{\"id\":5}' WHERE id = 'A2'"));
        else if (kind == QLatin1String("text"))
            put(path, "this is a shopping list\n");
        else if (kind == QLatin1String("empty"))
            put(path, {});
        else if (kind == QLatin1String("cut"))
            put(path, data.left(data.size() / 2));
        else
            put(path, data.left(4096) + QByteArray(data.size() - 4096, 'z'));
        const QByteArray before = contents(path);
        const auto opened = MachineFile::open(path.toStdString());
        QVERIFY2(!opened.has_value(), "this file should not open");
        QCOMPARE(QString::fromStdString(opened.error().code), code);
        QVERIFY(!messageFor(opened.error()).empty());
        QCOMPARE(contents(path), before); // not a byte was touched
    }

    void namesThatCannotBe()
    {
        QCOMPARE(MachineFile::open("/nowhere/at/all.vridge").error().code, std::string("file-missing"));
        QCOMPARE(MachineFile::create("/nowhere/at/all.vridge", demoMachine()).error().code, std::string("file-write"));
        const QString path = fresh();
        put(path, "here already");
        QCOMPARE(MachineFile::create(path.toStdString(), demoMachine()).error().code, std::string("file-exists"));
        QCOMPARE(contents(path), QByteArray("here already"));
    }

    void theSchemaIsWhatTheTablesSay()
    {
        const QByteArray shipped = contents(QStringLiteral(DATA_DIR "/machine.schema.json"));
        QVERIFY2(QString::fromStdString(machineSchema()) == QString::fromUtf8(shipped), "run: vortex-ridge-cli schema > data/machine.schema.json");
    }

    void catalogueRowsAreJudgedAlone()
    {
        QVERIFY(shippedCatalogue().motors.size() >= 12);
        const auto c = parseCatalogue(R"({"format":"vortex-ridge-catalogue","version":1,"brakeResistors":[
            {"name":"good","resistance_ohm":50,"continuousPower_W":100,"pulseEnergy_J":1000},
            {"name":"bad","resistance_ohm":-5,"continuousPower_W":100,"pulseEnergy_J":1000},
            {"name":"worse","resistance_ohm":"fifty"}]})");
        QVERIFY(c.has_value());
        QCOMPARE(c->resistors.size(), std::size_t{1});
        QCOMPARE(c->refused.size(), std::size_t{2});
        QVERIFY(c->refused[0].subject.find("/brakeResistors/1") != std::string::npos);
        QVERIFY(!parseCatalogue("{}").has_value());
    }

    void theReportSaysWhatIsSimulated()
    {
        Axis axis = demoMachine().axes[0];
        axis.sign.name = "<script>alert(1)</script>";
        axis.sign.time = "2026-11-25";
        StopTest t;
        t.kind = "SS1";
        t.passed = true;
        axis.guard.tests = {t};
        const std::string html = reportHtml(demoMachine(), axis, evaluate(demoMachine(), axis, {true}), {{1, "t", "A1", "note", "a & b", "h"}});
        QVERIFY(html.find("SS1 (simulated)") != std::string::npos);
        QVERIFY(html.find("<script>") == std::string::npos);
        QVERIFY(html.find("a &amp; b") != std::string::npos);
        for (const char* heading : {"Readiness", "Checks, tightest first", "Workings of the deciding numbers", "Wiring", "Parameters", "Safe stop", "Logbook"})
            QVERIFY2(html.find(heading) != std::string::npos, heading);
        QVERIFY(html.find("never states that a machine is safe") != std::string::npos);
    }

    void textIsWrittenWholeOrNotAtAll()
    {
        const QString path = m_folder.filePath(QStringLiteral("report.html"));
        QVERIFY(writeText(path.toStdString(), "first").has_value());
        QCOMPARE(contents(path), QByteArray("first"));
        const auto failed = writeText("/nowhere/report.html", "x");
        QVERIFY(!failed.has_value());
        QCOMPARE(failed.error().code, std::string("file-write"));
    }
};

QTEST_GUILESS_MAIN(TestStore)
#include "tst_store.moc"
