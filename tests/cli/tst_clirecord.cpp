#include "support/cli.h"

#include <QFile>
#include <QJsonArray>
#include <QTemporaryDir>
#include <QTest>

#include <sqlite3.h>

using namespace cli;

/// Machines, axes and the record by script: the real program, JSON on standard output, exit 2 with one sentence on bad
/// input.
class TestCliRecord : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;
    [[nodiscard]] QString path(const char* name) const { return m_folder.filePath(QString::fromLatin1(name)); }

private Q_SLOTS:
    /// A machine from nothing, by script.
    void aMachineFromNothing()
    {
        const QString file = path("own.vridge");
        const auto list = [](std::initializer_list<const char*> words) {
            QStringList out;
            for (const char* w : words)
                out += QString::fromUtf8(w);
            return out;
        };
        QCOMPARE(run({QStringLiteral("new"), file, QStringLiteral("--name"), QStringLiteral("Potting line")}).code, 0);
        QCOMPARE(run({QStringLiteral("new"), file, QStringLiteral("--name"), QStringLiteral("Again")}).code,
                 2);                                                          // it exists
        QCOMPARE(run({QStringLiteral("new"), path("other.vridge")}).code, 2); // no name
        QCOMPARE(run({QStringLiteral("new"), path("other.txt"), QStringLiteral("--name"), QStringLiteral("x")}).code,
                 2);
        const auto axis = [&](std::initializer_list<const char*> words) {
            QStringList all = list(words);
            all.insert(1, file);
            return run(QStringList{QStringLiteral("axis")} + all);
        };
        QCOMPARE(axis({"add", "--name", "Lift", "--mechanism", "vertical-screw"})
                     .json()
                     .value(QStringLiteral("id"))
                     .toString(),
                 QStringLiteral("A1"));
        QCOMPARE(axis({"add", "--name", "Stage", "--mechanism", "linear-motor", "--actuator", "linear"})
                     .json()
                     .value(QStringLiteral("id"))
                     .toString(),
                 QStringLiteral("A2"));
        const Ran wrong = axis({"add", "--name", "X", "--mechanism", "levitation"});
        QCOMPARE(wrong.code, 2);
        QVERIFY(wrong.error.contains("levitation") && wrong.error.contains("vertical-screw"));
        QCOMPARE(axis({"add", "--name", "X", "--mechanism", "belt", "--actuator", "linear"}).code, 2);
        QCOMPARE(axis({"add", "--name", "X", "--mechanism", "linear-motor", "--actuator", "stepper"}).code, 2);
        QCOMPARE(axis({"add", "--mechanism", "belt"}).code, 2);
        QCOMPARE(axis({"copy", "--axis", "Lift", "--name", "Lift two"}).json().value(QStringLiteral("id")).toString(),
                 QStringLiteral("A3"));
        QCOMPARE(axis({"copy", "--axis", "Lift", "--name", "Lift two"}).code, 2); // there is one of that name
        QCOMPARE(axis({"rename", "--axis", "A3", "--name", "Lift"}).code, 2);
        QCOMPARE(axis({"rename", "--axis", "A3", "--name", "Back lift"}).code, 0);
        QCOMPARE(axis({"remove", "--axis", "A2"}).code, 0);
        QCOMPARE(axis({"remove", "--axis", "A2"}).code, 2);
        QCOMPARE(axis({"juggle", "--axis", "A1"}).code, 2);
        const QJsonArray axes = run({QStringLiteral("evaluate"), file}).json().value(QStringLiteral("axes")).toArray();
        QCOMPARE(axes.size(), 2);
        QCOMPARE(axes[1].toObject().value(QStringLiteral("name")).toString(), QStringLiteral("Back lift"));
        // every edit stands in the record, and the chain holds
        const QJsonObject verified = run({QStringLiteral("verify"), file}).json();
        QVERIFY(verified.value(QStringLiteral("holds")).toBool());
        QCOMPARE(verified.value(QStringLiteral("entries")).toInt(), 5);
        QCOMPARE(run({QStringLiteral("facts"), file, QStringLiteral("--kind"), QStringLiteral("plan")})
                     .json()
                     .value(QStringLiteral("facts"))
                     .toArray()
                     .size(),
                 5);
        QCOMPARE(run({QStringLiteral("facts"), file, QStringLiteral("--kind"), QStringLiteral("gossip")}).code, 2);
        QVERIFY(run({QStringLiteral("versions"), file}).json().value(QStringLiteral("versions")).toArray().isEmpty());
    }

    /// Typed facts by script go through the same refusals as in the window.
    void typedFactsByScript()
    {
        const QString file = path("typed.vridge");
        QCOMPARE(run({QStringLiteral("import"), demo, file}).code, 0);
        const auto append = [&](const QByteArray& json) {
            const QString fact = path("fact.json");
            QFile f(fact);
            if (!f.open(QIODevice::WriteOnly) || f.write(json) < 0)
                return Ran{};
            f.close();
            return run({QStringLiteral("append"), file, QStringLiteral("--axis"), QStringLiteral("A1"), fact});
        };
        const QByteArray who = R"("origin":"typed","person":{"name":"R. Sorrel","role":"technician"})";
        const Ran papers = append(
            "{" + who
            + R"(,"kind":"step","what":{"step":"S01","outcome":"passed","words":{"assessment":"RA-7"},"values":{"plates":1,"stops":1}}})");
        QVERIFY2(papers.code == 0, papers.error.constData());
        QCOMPARE(papers.json().value(QStringLiteral("number")).toInt(), 1);
        QVERIFY(!papers.json().value(QStringLiteral("hash")).toString().isEmpty());
        struct Refused {
            QByteArray json, part;
        };
        const std::vector<Refused> all{
            {R"({"origin":"typed","kind":"note","what":{"text":"x"}})", "name of the person"},
            {"{" + who + R"(,"kind":"drive-read","what":{}})", "Which value"},
            {"{" + who + R"(,"kind":"signature","what":{"side":"gives"}})", "cannot be typed"},
            {R"({"origin":"measured","person":{"name":"R. Sorrel"},"kind":"note","what":{"text":"x"}})",
             "marked as typed"},
            {"{" + who + R"(,"drive":{"serial":"7"},"kind":"stop-test","what":{"kind":"SS1","passed":true}})",
             "instrument"},
            {"{" + who + R"(,"kind":"step","what":{"step":"S03","outcome":"passed","values":{}}})",
             "needed for the result"},
            {"{" + who
                 + R"(,"kind":"step","what":{"step":"S02","outcome":"passed","values":{"area":1,"charge":1,"stop":1,"propped":1}}})",
             "Acknowledge C-02"},
            {"{" + who + R"(,"kind":"waiver","what":{"what":"W-MNS-02 D1","reason":"x"}})", "competent person"},
            {"{" + who + R"(,"kind":"bridge-out","what":{"bridge":"B9"}})", "No bridge B9"},
            {"{" + who + R"(,"drive":{"serial":"7"},"kind":"drive-written","what":{"wanted":{"6072:0":9000}}})",
             "cannot be typed"},
            {"{" + who
                 + R"(,"drive":{"serial":"7"},"instrument":{"kind":"scope","serial":"S1"},"kind":"stop-test","what":{"kind":"SLP","passed":true}})",
             "not referenced"},
            {"{" + who + R"(,"kind":"justified","what":{"what":"2018:1 bit 0","reason":"x"}})", "Nothing of that name"},
            {"{" + who + R"(,"kind":"protections","what":{"off":{"input X5":""}}})", "what is found"},
            {"{" + who + R"(,"kind":"rumour","what":{}})", "rumour"},
            {"not json", "parse"}};
        for (const Refused& r : all) {
            const Ran ran = append(r.json);
            QVERIFY2(ran.code == 2 && ran.error.contains(r.part), (r.part + ": " + ran.error).constData());
        }
        QCOMPARE(run({QStringLiteral("verify"), file}).json().value(QStringLiteral("entries")).toInt(),
                 1); // none of them got in
        const QJsonObject steps =
            run({QStringLiteral("steps"), file, QStringLiteral("--axis"), QStringLiteral("A1")}).json();
        QCOMPARE(steps.value(QStringLiteral("steps")).toArray().size(), 32);
        QCOMPARE(
            steps.value(QStringLiteral("steps")).toArray().first().toObject().value(QStringLiteral("state")).toString(),
            QStringLiteral("passed"));
        QCOMPARE(run({QStringLiteral("steps"), file}).code, 2);
        QCOMPARE(run({QStringLiteral("steps"), file, QStringLiteral("--axis"), QStringLiteral("A9")}).code, 2);
    }

    /// RS10, RS14 by script: what is off is written down, listed and justified; a plan from elsewhere whose emergency
    /// stop resets by itself refuses as one made here; nothing on the command line writes to a drive or moves it.
    void whatIsDefeatedByScript()
    {
        QJsonObject plan = run({QStringLiteral("export"), demo}).json();
        QJsonArray axes = plan.value(QStringLiteral("axes")).toArray();
        QJsonObject lift = axes[0].toObject(), guard = lift.value(QStringLiteral("guard")).toObject();
        guard.insert(QStringLiteral("emergencyReset"), QStringLiteral("automatic"));
        lift.insert(QStringLiteral("guard"), guard);
        axes[0] = lift;
        plan.insert(QStringLiteral("axes"), axes);
        QFile changed(path("automatic.json"));
        QVERIFY(changed.open(QIODevice::WriteOnly));
        changed.write(QJsonDocument(plan).toJson());
        changed.close();
        const QString file = path("automatic.vridge");
        QCOMPARE(run({QStringLiteral("import"), changed.fileName(), file}).code, 0);
        const QJsonArray steps = run({QStringLiteral("steps"), file, QStringLiteral("--axis"), QStringLiteral("A1")})
                                     .json()
                                     .value(QStringLiteral("steps"))
                                     .toArray();
        QCOMPARE(steps[3].toObject().value(QStringLiteral("state")).toString(), QStringLiteral("failed"));
        QVERIFY(steps[3].toObject().value(QStringLiteral("reason")).toString().contains(QStringLiteral("W-EST-03")));
        const auto append = [&](const QByteArray& what) {
            QFile f(path("off.json"));
            if (f.open(QIODevice::WriteOnly))
                f.write(R"({"origin":"typed","person":{"name":"R. Sorrel","role":"technician"},)" + what + "}");
            f.close();
            return run({QStringLiteral("append"), file, QStringLiteral("--axis"), QStringLiteral("A1"), f.fileName()});
        };
        const auto listed = [&] {
            const QJsonObject all =
                run({QStringLiteral("evaluate"), file, QStringLiteral("--axis"), QStringLiteral("A1")}).json();
            return all.value(QStringLiteral("axes"))
                .toArray()[0]
                .toObject()
                .value(QStringLiteral("defeated"))
                .toArray();
        };
        QVERIFY(listed().isEmpty());
        QCOMPARE(append(R"("kind":"protections","what":{"off":{"input X5":"bypass plug"}})").code, 0);
        QCOMPARE(listed().size(), 1);
        QCOMPARE(listed()[0].toObject().value(QStringLiteral("open")).toBool(), true);
        const QByteArray what = listed()[0].toObject().value(QStringLiteral("what")).toString().toUtf8();
        QCOMPARE(append(R"("kind":"justified","what":{"reason":"until May","what":")" + what + R"("})").code, 0);
        QCOMPARE(listed()[0].toObject().value(QStringLiteral("open")).toBool(), false);
        for (const char* act : {"jog", "write", "save", "enable", "move", "reset"})
            QCOMPARE(run({QString::fromUtf8(act), file}).code, 2);
    }

    /// MF07 by script: one bus, one matrix, one wire list, and what cannot be.
    void whatAxesShare()
    {
        QJsonObject plan = run({QStringLiteral("export"), demo}).json();
        const auto with = [&](const QByteArray& shared) {
            plan.insert(QStringLiteral("shared"), QJsonDocument::fromJson(shared).object());
            QFile f(path("shared.json"));
            if (f.open(QIODevice::WriteOnly))
                f.write(QJsonDocument(plan).toJson());
            return f.fileName();
        };
        const QString good = with(R"({"supplies":[{"name":"B1","axes":["A1","A2"]}],
            "gantries":[{"left":"A1","right":"A2","alarmsCrossed":true}],
            "safety":[{"name":"gate","kind":"emergency stop","acts":{"A1":"SS1","A2":"SS1"}}]})");
        const Ran r = run({QStringLiteral("machine"), good});
        QVERIFY2(r.code == 0, r.error.constData());
        const QJsonArray buses = r.json().value(QStringLiteral("buses")).toArray();
        QCOMPARE(buses[0].toObject().value(QStringLiteral("axes")).toArray().size(), 2);
        const QJsonObject matrix = r.json().value(QStringLiteral("matrix")).toObject();
        QCOMPARE(matrix.value(QStringLiteral("acts")).toArray()[0].toArray()[1].toString(), QStringLiteral("SS1"));
        const QByteArray wires = run({QStringLiteral("wire"), good}).out;
        QVERIFY(wires.startsWith("from,to,cable,mm2,colour,pair\n"));
        QVERIFY(wires.contains("\nD1.ALM,D2.EXT,control,0.5,,\n"));
        QVERIFY(wires.contains("\nD1.P,D2.P,bus B1,4,,\n"));
        // numbers follow, and what is left of a beam is none
        const QString file = path("shared.vridge");
        QCOMPARE(run({QStringLiteral("import"), good, file}).code, 0);
        const auto axis = [&](const char* verb, const QStringList& more) {
            return run(QStringList{QStringLiteral("axis"), QString::fromUtf8(verb), file, QStringLiteral("--axis"),
                                   QStringLiteral("A2")}
                       + more)
                .code;
        };
        QCOMPARE(axis("renumber", {QStringLiteral("--number"), QStringLiteral("Z2")}), 0);
        const auto shared = [&] {
            return run({QStringLiteral("export"), file}).json().value(QStringLiteral("shared")).toObject();
        };
        QCOMPARE(shared().value(QStringLiteral("gantries")).toArray()[0].toObject().value(QStringLiteral("right")),
                 QJsonValue(QStringLiteral("Z2")));
        QCOMPARE(run({QStringLiteral("axis"), QStringLiteral("remove"), file, QStringLiteral("--axis"),
                      QStringLiteral("Z2")})
                     .code,
                 0);
        QVERIFY(!shared().contains(QStringLiteral("gantries")) && !shared().contains(QStringLiteral("supplies")));
        const Ran wrong = run({QStringLiteral("machine"), with(R"({"supplies":[{"name":"B1","axes":["A1","A9"]}]})")});
        QCOMPARE(wrong.code, 1);
        QVERIFY(wrong.json()
                    .value(QStringLiteral("problems"))
                    .toArray()[0]
                    .toObject()
                    .value(QStringLiteral("sentence"))
                    .toString()
                    .contains(QStringLiteral("A9")));
        QCOMPARE(run({QStringLiteral("machine"), with(R"({"supplies":3})")}).code, 2);
    }

    void aBrokenChainIsTold()
    {
        const QString file = path("broken.vridge");
        QCOMPARE(run({QStringLiteral("new"), file, QStringLiteral("--name"), QStringLiteral("x")}).code, 0);
        for (const char* name : {"one", "two", "three"})
            QCOMPARE(run({QStringLiteral("axis"), QStringLiteral("add"), file, QStringLiteral("--name"),
                          QString::fromUtf8(name)})
                         .code,
                     0);
        sqlite3* db = nullptr;
        QCOMPARE(sqlite3_open(file.toUtf8().constData(), &db), SQLITE_OK);
        QCOMPARE(sqlite3_exec(
                     db, "DROP TRIGGER fact_no_update; UPDATE fact SET doc = replace(doc, 'A2', 'A9') WHERE number = 2",
                     nullptr, nullptr, nullptr),
                 SQLITE_OK);
        sqlite3_close(db);
        const Ran r = run({QStringLiteral("verify"), file});
        QCOMPARE(r.code, 1);
        QCOMPARE(r.json().value(QStringLiteral("broken")).toInt(), 2);
    }
};

QTEST_GUILESS_MAIN(TestCliRecord)
#include "tst_clirecord.moc"
