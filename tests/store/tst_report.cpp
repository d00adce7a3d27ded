#include "core/stations/gates.h"
#include "store/machinefile.h"
#include "store/machinejson.h"
#include "store/report.h"
#include "support/filetext.h"

#include <QTemporaryDir>
#include <QTest>

using namespace ridge;
using namespace ridge::store;

/// The hand-over report: what is simulated is told, nothing is left out, what was changed from outside is told.
class TestReport : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;

private Q_SLOTS:
    void theReportSaysWhatIsSimulated()
    {
        const Axis axis = demoMachine().axes[0];
        Facts facts(3);
        for (std::size_t k = 0; k < facts.size(); ++k) {
            facts[k].number = static_cast<std::int64_t>(k + 1);
            facts[k].time = "2026-11-25T10:00:00Z";
            facts[k].axis = axis.id;
            facts[k].person = {"<script>alert(1)</script>", "technician"};
            facts[k].origin = Origin::Simulated;
            facts[k].identity = {"Bench", "Marl", "77", "1.4", true};
        }
        StopTested t;
        t.kind = "SS1";
        t.passed = true;
        facts[0].payload = t;
        facts[1].payload = NoteMade{"a & b"};
        facts[1].origin = Origin::Typed;
        facts[2].payload = Signed{"gives", "", true};
        View view;
        view.identity = facts[0].identity;
        const Evidence evidence(facts, axis.id, view, fingerprintOf(demoMachine(), axis));
        const std::string html = reportHtml(
            demoMachine(), axis, evaluate(demoMachine(), axis, evidence, {.working = true}), evidence, facts);
        QVERIFY(html.find("simulated (practice)") != std::string::npos);
        QVERIFY(html.find("REHEARSAL") != std::string::npos);
        QVERIFY(html.find("<script>") == std::string::npos);
        QVERIFY(html.find("a &amp; b") != std::string::npos);
        for (const char* heading :
             {"Readiness", "Steps of the work", "Checks, tightest first", "Workings of the deciding numbers", "Wiring",
              "Parameters", "Safe stop", "Signatures", "Record"})
            QVERIFY2(html.find(heading) != std::string::npos, heading);
        QVERIFY(html.find("never states that a machine is safe") != std::string::npos);
        QVERIFY(html.find("This is a calculation and a record.") != std::string::npos); // C-00
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

    /// However long the record is: every entry of the axis and of the machine, in its order.
    void aLongRecordIsPrintedWhole()
    {
        const Axis axis = demoMachine().axes[0];
        constexpr std::size_t many = 3000;
        Facts facts(many);
        for (std::size_t k = 0; k < many; ++k) {
            facts[k].number = static_cast<std::int64_t>(k + 1);
            facts[k].time = "2026-11-25T10:00:00Z";
            facts[k].axis = k % 3 == 0 ? std::string{} : k % 3 == 1 ? axis.id : std::string("A2");
            facts[k].person = {"R. Sorrel", "technician"};
            facts[k].payload = NoteMade{"entry " + std::to_string(k + 1) + " of many."};
        }
        const Evidence evidence(facts, axis.id, {}, fingerprintOf(demoMachine(), axis));
        const std::string html =
            reportHtml(demoMachine(), axis, evaluate(demoMachine(), axis, evidence), evidence, facts);
        std::size_t at = 0;
        for (std::size_t k = 0; k < many; ++k) {
            const std::string entry = "entry " + std::to_string(k + 1) + " of many.";
            const std::size_t found = html.find(entry, at);
            QVERIFY2((found != std::string::npos) == (k % 3 != 2), entry.c_str()); // not of the other axis
            if (found != std::string::npos)
                at = found;
        }
    }

    /// Somebody changed an entry by hand, or took away the last ones: the report says so and nobody signs over it.
    void aRecordThatWasChanged()
    {
        const Axis axis = demoMachine().axes[0];
        const Facts none;
        for (const bool cut : {false, true}) {
            MachineFile::Chain chain;
            chain.cut = cut;
            chain.broken = cut ? 0 : 7;
            View view;
            view.person = {"R. Sorrel", "technician"};
            view.altered = chain.words();
            const Evidence evidence(none, axis.id, view, fingerprintOf(demoMachine(), axis));
            const Evaluation e = evaluate(demoMachine(), axis, evidence);
            const std::string html = reportHtml(demoMachine(), axis, e, evidence, none);
            QVERIFY(html.find("The record was changed from outside") != std::string::npos);
            QVERIFY((html.find("entry 7 does not follow") != std::string::npos) == !cut);
            const auto against = refusalsToSign(e, evidence);
            QVERIFY(std::ranges::any_of(
                against, [](const Message& m) { return plain(m).find("changed from outside") != std::string::npos; }));
        }
        const Evidence whole(none, axis.id, {}, fingerprintOf(demoMachine(), axis));
        QVERIFY(reportHtml(demoMachine(), axis, evaluate(demoMachine(), axis, whole), whole, none)
                    .find("changed from outside")
                == std::string::npos);
    }
};

QTEST_GUILESS_MAIN(TestReport)
#include "tst_report.moc"
