#include "support/cases.h"

#include <QDir>
#include <QFile>
#include <QTest>

#include <cstdio>
#include <map>

/// Every check case of tests/cases (or of the folder named by RIDGE_CASES), by the name of its function.
/// Sources stand beside each case in its file.
class TestCases : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void files_data()
    {
        QTest::addColumn<QString>("path");
        const QString given = qEnvironmentVariable("RIDGE_CASES");
        const QDir folder(given.isEmpty() ? QStringLiteral(CASES_DIR) : given);
        const auto names = folder.entryList({QStringLiteral("*.json")}, QDir::Files, QDir::Name);
        QVERIFY2(!names.isEmpty(), qPrintable(QStringLiteral("no case file in ") + folder.path()));
        for (const QString& name : names)
            QTest::newRow(qPrintable(name)) << folder.filePath(name);
    }

    void files()
    {
        QFETCH(QString, path);
        QFile file(path);
        QVERIFY2(file.open(QIODevice::ReadOnly), qPrintable(path));
        const auto document = cases::json::parse(file.readAll().toStdString(), nullptr, false);
        QVERIFY2(!document.is_discarded(), "the file is no JSON");
        if (!document.contains("cases"))
            QSKIP("not a file of check cases");
        QVERIFY2(!document.at("cases").empty(), "the file has no case");
        cases::Table table;
        cases::addMechanics(table);
        cases::addMotors(table);
        cases::addSelection(table);
        cases::addTuning(table);
        cases::addSafety(table, document);
        int passed = 0, failed = 0, without = 0;
        std::map<std::string, int> missing;
        for (const auto& item : document.at("cases")) {
            const auto verdict = cases::run(item, table);
            const std::string id = item.value("id", "?");
            switch (verdict.outcome) {
            case cases::Outcome::Passed: ++passed; break;
            case cases::Outcome::NoFunction:
                ++without;
                ++missing[item.value("fn", "?")];
                break;
            case cases::Outcome::Failed:
                ++failed;
                std::printf("FAILED %s (%s): %s\n", id.c_str(), item.value("fn", "?").c_str(), verdict.why.c_str());
                break;
            }
        }
        std::printf("%s: %d passed, %d failed, %d had no function to map to\n", qPrintable(QFileInfo(path).fileName()),
                    passed, failed, without);
        for (const auto& [name, count] : missing)
            std::printf("    no function: %s (%d)\n", name.c_str(), count);
        QCOMPARE(failed, 0);
        QVERIFY2(passed > 0 || !qEnvironmentVariableIsEmpty("RIDGE_CASES"), "nothing was checked");
    }
};

QTEST_GUILESS_MAIN(TestCases)
#include "tst_cases.moc"
