#include "store/machinefile.h"
#include "store/machinejson.h"
#include "support/sqlfile.h"
#include "support/wait.h"
#include "support/windowfixture.h"

#include <QAbstractButton>
#include <QApplication>
#include <QElapsedTimer>
#include <QFile>
#include <QLabel>
#include <QLineEdit>
#include <QLockFile>
#include <QMessageBox>
#include <QTest>
#include <QTimer>

#include <sqlite3.h>
#include <sys/resource.h>

#include <csignal>

using namespace ridge;
using namespace ridge::app;
using store::MachineFile;

namespace {

/// Another program that writes the file and does not let go.
class Writer {
public:
    explicit Writer(const QString& path)
    {
        sqlite3_open(path.toUtf8().constData(), &m_db);
        m_held = sqlite3_exec(m_db, "BEGIN EXCLUSIVE", nullptr, nullptr, nullptr) == SQLITE_OK;
    }
    ~Writer() { letGo(); }
    Writer(const Writer&) = delete;
    Writer& operator=(const Writer&) = delete;
    [[nodiscard]] bool held() const { return m_held; }
    void letGo()
    {
        sqlite3_close(m_db);
        m_db = nullptr;
    }

private:
    sqlite3* m_db = nullptr;
    bool m_held = false;
};

/// A disk with no room left beyond what the file has now.
class FullDisk {
public:
    explicit FullDisk(const QString& path)
    {
        std::signal(SIGXFSZ, SIG_IGN);
        getrlimit(RLIMIT_FSIZE, &m_before);
        rlimit now = m_before;
        now.rlim_cur = static_cast<rlim_t>(QFile(path).size());
        setrlimit(RLIMIT_FSIZE, &now);
    }
    ~FullDisk() { setrlimit(RLIMIT_FSIZE, &m_before); }
    FullDisk(const FullDisk&) = delete;
    FullDisk& operator=(const FullDisk&) = delete;

private:
    rlimit m_before{};
};

QByteArray contents(const QString& path)
{
    QFile file(path);
    return file.open(QIODevice::ReadOnly) ? file.readAll() : QByteArray();
}

double massIn(const QString& path)
{
    const auto file = MachineFile::open(path.toStdString());
    return file ? file->machine()->axes[0].load.moving.value_or(-1) : -1;
}

store::Change bigNote()
{
    store::Change change;
    change.facts.emplace_back().payload = NoteMade{std::string(200000, 'n')};
    return change;
}

} // namespace

/// What is seen is on the disk, or the page says that it is not; and a file that is not as this program makes it is
/// not believed.
class TestWriting : public QObject {
    Q_OBJECT

    std::unique_ptr<WindowFixture> m;

    [[nodiscard]] QString banner() const
    {
        auto* label = m->window().findChild<QLabel*>(QStringLiteral("banner"));
        return label && label->isVisible() ? label->text() : QString();
    }
    void setMass(double mass)
    {
        m->document().edit(QStringLiteral("mass"), {}, [&](Axis& a) { a.load.moving = mass; });
        m->settle();
    }
    /// Presses a button of the question that comes when the window is closed.
    void closeAnswering(const char* words)
    {
        bool met = false;
        QTimer::singleShot(100, [&] {
            auto* box = qobject_cast<QMessageBox*>(QApplication::activeModalWidget());
            if (!box)
                return;
            for (QAbstractButton* button : box->buttons())
                if (button->text().startsWith(QString::fromUtf8(words))) {
                    met = true;
                    QTest::mouseClick(button, Qt::LeftButton);
                    return;
                }
            box->close();
        });
        m->window().close();
        QVERIFY2(met, words);
    }

private Q_SLOTS:
    void init() { m = std::make_unique<WindowFixture>(); }
    void cleanup() { m.reset(); }

    /// While another program writes, an edit stays on the page and says so; then it is written by itself.
    void whatAnotherProgramBlocksIsWrittenLater()
    {
        const QString path = m->document().path();
        const std::size_t entries = m->document().facts().size();
        Writer other(path);
        QVERIFY(other.held());
        QElapsedTimer frozen;
        frozen.start();
        setMass(41);
        setMass(42);
        QVERIFY2(frozen.elapsed() < 1500, "one short wait at most");
        QCOMPARE(m->document().axis().load.moving.value_or(0), 42.0);
        QVERIFY2(banner().contains(QStringLiteral("Not in the file yet"))
                     && banner().contains(QStringLiteral("another program is writing it")),
                 qPrintable(banner()));
        QCOMPARE(m->document().facts().size(), entries); // nothing is in the record that is not on the disk
        // a fact does not pass what waits: it is refused
        m->document().note(QStringLiteral("seen"));
        QCOMPARE(m->document().facts().size(), entries);
        other.letGo();
        QVERIFY(waitFor([&] { return banner().isEmpty(); }, 8000));
        QCOMPARE(massIn(path), 42.0);
        QCOMPARE(m->document().facts().size(), entries + 2); // both edits, in their order
        QVERIFY(MachineFile::open(path.toStdString())->chain().holds());
    }

    /// Undo while nothing can be written: the file ends where the page is.
    void undoOfWhatWasNotWritten()
    {
        const QString path = m->document().path();
        const double before = m->document().axis().load.moving.value_or(0);
        {
            FullDisk full(path);
            for (int k = 0; k < 12; ++k)
                setMass(60 + k);
            m->document().editMachine(QStringLiteral("remove"), [](Machine& machine) { machine.axes.pop_back(); });
            QVERIFY2(banner().contains(QStringLiteral("Not in the file yet")), qPrintable(banner()));
            while (m->document().undoStack().canUndo())
                m->document().undoStack().undo();
        }
        QVERIFY(waitFor([&] { return banner().isEmpty(); }, 8000));
        QCOMPARE(massIn(path), before);
        QCOMPARE(MachineFile::open(path.toStdString())->machine()->axes.size(), m->document().machine().axes.size());
        QVERIFY(MachineFile::open(path.toStdString())->chain().holds());
    }

    void theWindowIsNotClosedOverIt()
    {
        const QString path = m->document().path();
        Writer other(path);
        setMass(43);
        closeAnswering("Stay");
        QVERIFY(m->window().isVisible());
        other.letGo();
        m->window().close();
        QVERIFY(!m->window().isVisible());
        QCOMPARE(massIn(path), 43.0);
    }
    void whatIsLostIsLostByChoice()
    {
        const QString path = m->document().path();
        const double before = massIn(path);
        Writer other(path);
        setMass(44);
        closeAnswering("Lose");
        QVERIFY(!m->window().isVisible());
        other.letGo();
        QVERIFY(m->document().writeWaiting()); // nothing waits any more
        QCOMPARE(massIn(path), before);
    }

    /// A file that was removed under the window: told, and a copy elsewhere has the edits.
    void aFileThatIsGone()
    {
        QVERIFY(QFile::remove(m->document().path()));
        setMass(45);
        QVERIFY2(banner().contains(QStringLiteral("moved, removed or replaced")), qPrintable(banner()));
        const QString copy = m->path("copy.vridge");
        QCOMPARE(m->document().copyTo(copy), QString());
        QCOMPARE(massIn(copy), 45.0);
    }

    /// Two windows: the second reads and says who has it.
    void oneWriter()
    {
        const QString path = m->path("held.vridge");
        QVERIFY(MachineFile::create(path.toStdString(), store::demoMachine()).has_value());
        QLockFile other(path + QStringLiteral(".lock"));
        QVERIFY(other.tryLock(0));
        QVERIFY(m->window().openPath(path));
        m->settle();
        QVERIFY(m->document().readOnly());
        QVERIFY2(banner().contains(QStringLiteral("open for writing elsewhere"))
                     && banner().contains(QString::number(QCoreApplication::applicationPid())),
                 qPrintable(banner()));
        const double before = m->document().axis().load.moving.value_or(0);
        setMass(before + 1);
        QCOMPARE(m->document().axis().load.moving.value_or(0), before);
        m->document().note(QStringLiteral("not"));
        QVERIFY(!m->document().keepVersion(QStringLiteral("v")).isEmpty());
        QCOMPARE(massIn(path), before);
        auto file = MachineFile::open(path.toStdString());
        auto change = bigNote();
        QCOMPARE(file->commit(change).error().code, std::string("file-held"));
        other.unlock();
        QVERIFY(file->commit(change).has_value());
        // and a lock whose program is gone does not count
        file = MachineFile::open(path.toStdString());
        QFile dead(path + QStringLiteral(".lock"));
        if (!dead.exists()) {
            QVERIFY(dead.open(QIODevice::WriteOnly));
            dead.write("999999\ngone\n\n\n\n");
            dead.close();
        }
        QVERIFY(file->hold().has_value());
    }

    /// A writer that knows no lock: nobody's work is overwritten by what was read before.
    void aChangeBetween()
    {
        const QString path = m->path("between.vridge");
        QVERIFY(MachineFile::create(path.toStdString(), store::demoMachine()).has_value());
        auto mine = MachineFile::open(path.toStdString());
        QVERIFY(mine.has_value());
        QVERIFY(sql(path, "UPDATE axis SET pos = pos + 10"));
        auto change = bigNote();
        QCOMPARE(mine->commit(change).error().code, std::string("file-changed"));
        QVERIFY(MachineFile::open(path.toStdString())->facts()->empty());
    }

    void aFullDisk()
    {
        const QString path = m->path("full.vridge");
        auto file = MachineFile::create(path.toStdString(), store::demoMachine());
        QVERIFY(file.has_value());
        auto change = bigNote();
        {
            FullDisk full(path);
            const auto done = file->commit(change);
            QVERIFY(!done.has_value());
            QCOMPARE(done.error().code, std::string("file-write"));
        }
        change = bigNote();
        QVERIFY(file->commit(change).has_value());
        QCOMPARE(MachineFile::open(path.toStdString())->facts()->size(), std::size_t{1});
    }

    void aSchemaThatIsNotOurs_data()
    {
        QTest::addColumn<QByteArray>("change");
        QTest::addColumn<QByteArray>("named");
        const auto row = [](const char* name, const char* change, const char* named) {
            QTest::newRow(name) << QByteArray(change) << QByteArray(named);
        };
        row("a view called axis",
            "ALTER TABLE axis RENAME TO away; CREATE VIEW axis AS WITH RECURSIVE n(id) AS (SELECT 1 UNION ALL SELECT "
            "id + "
            "1 FROM n) SELECT id, id AS pos, '{}' AS doc FROM n",
            "away");
        row("a trigger that changes masses",
            "CREATE TRIGGER more AFTER UPDATE ON axis BEGIN UPDATE machine SET doc = '{}'; END", "trigger more");
        row("a trigger of our name",
            "DROP TRIGGER fact_no_update; CREATE TRIGGER fact_no_update BEFORE UPDATE ON fact BEGIN SELECT 1; END",
            "fact_no_update");
        row("no axis table", "DROP TABLE axis", "table axis is missing");
        row("a table more", "CREATE TABLE luggage(x BLOB)", "luggage");
        row("a computed column", "ALTER TABLE axis ADD COLUMN slow AS (zeroblob(1000000000))", "axis");
        row("an index over an expression", "CREATE INDEX slow ON axis(hex(doc))", "slow");
    }
    void aSchemaThatIsNotOurs()
    {
        QFETCH(QByteArray, change);
        QFETCH(QByteArray, named);
        const QString path = m->path("strange.vridge");
        QVERIFY(MachineFile::create(path.toStdString(), store::demoMachine()).has_value());
        QVERIFY(sql(path, change.constData()));
        const QByteArray before = contents(path);
        QElapsedTimer time;
        time.start();
        const auto file = MachineFile::open(path.toStdString());
        QVERIFY2(time.elapsed() < 1000, "it is not run");
        QVERIFY(!file.has_value());
        const std::string sentence = messageFor(file.error());
        QVERIFY2(sentence.find(named.toStdString()) != std::string::npos, sentence.c_str());
        QCOMPARE(contents(path), before);
    }
};

QTEST_MAIN(TestWriting)
#include "tst_writing.moc"
