#include "support/cases.h"

#include <QDir>
#include <QFile>
#include <QTest>

#include <cstdio>
#include <set>

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
        cases::addDrive(table);
        cases::addSafety(table, document);
        int passed = 0, failed = 0, without = 0;
        std::set<std::string> missing;
        for (const auto& item : document.at("cases")) {
            const auto verdict = cases::run(item, table);
            const std::string id = item.value("id", "?"), function = item.value("fn", "?");
            switch (verdict.outcome) {
            case cases::Outcome::Passed: ++passed; break;
            case cases::Outcome::NoFunction:
                ++without;
                missing.insert(function);
                break;
            case cases::Outcome::Failed:
                ++failed;
                std::printf("FAILED %s (%s): %s\n", id.c_str(), function.c_str(), verdict.why.c_str());
                break;
            }
        }
        std::printf("%s: %d passed, %d failed, %d pending\n", qPrintable(QFileInfo(path).fileName()), passed, failed,
                    without);
        QCOMPARE(failed, 0);
        if (!qEnvironmentVariableIsEmpty("RIDGE_CASES"))
            return; // another folder has a list of its own, or none
        const std::set<std::string> pending = pendingFunctions();
        for (const std::string& name : missing)
            QVERIFY2(
                pending.contains(name),
                ("a case without a function: " + name + " stands neither in the table nor in pending.txt").c_str());
        m_met.insert(missing.begin(), missing.end());
        QVERIFY2(passed > 0, "nothing was checked");
    }

    /// The list of what is still pending only shrinks: a function that is there now has to leave it.
    void pendingListIsShort()
    {
        if (!qEnvironmentVariableIsEmpty("RIDGE_CASES"))
            QSKIP("another folder of cases");
        for (const std::string& name : pendingFunctions())
            QVERIFY2(m_met.contains(name), (name + " has its function now: strike it from pending.txt").c_str());
    }

private:
    static std::set<std::string> pendingFunctions()
    {
        std::set<std::string> names;
        QFile file(QStringLiteral(CASES_DIR "/pending.txt"));
        if (file.open(QIODevice::ReadOnly))
            for (const QByteArray& line : file.readAll().split('\n'))
                if (!line.trimmed().isEmpty() && !line.startsWith('#'))
                    names.insert(line.trimmed().toStdString());
        return names;
    }
    std::set<std::string> m_met;
};

QTEST_GUILESS_MAIN(TestCases)
#include "tst_cases.moc"
