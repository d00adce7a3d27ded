#include <QDir>
#include <QFile>
#include <QProcess>
#include <QTemporaryDir>
#include <QTest>

/// tools/setup.sh against a dpkg, an apt and a sudo that are stubs: what a machine without the packages does.
class TestSetup : public QObject {
    Q_OBJECT

    struct Ended {
        int code = -1;
        QString words, calls;
    };
    /// A folder of commands that stand before the real ones; `installed` is what dpkg knows.
    class Stubs {
    public:
        explicit Stubs(const QString& installed)
        {
            write("installed", installed);
            // as the real one: prints those it knows, complains of the others, fails when there was one to complain of
            command("dpkg-query",
                    R"(shift 3; bad=0; for p in "$@"; do if grep -qx "$p" "$STUBS/installed"; then echo "$p installed"
                                    else echo "dpkg-query: no packages found matching $p" >&2; bad=1; fi; done; exit $bad)");
            command(
                "apt-get",
                R"(echo "apt-get $* [$DEBIAN_FRONTEND]" >>"$STUBS/calls"; case $1 in update) exit "${UPDATE:-0}" ;; esac
                                 [ "${INSTALL:-0}" = 0 ] || { echo "E: Failed to fetch" >&2; exit "$INSTALL"; }
                                 [ -n "${LIES:-}" ] && exit 0
                                 shift; for p in "$@"; do case $p in -*) ;; *) echo "$p" >>"$STUBS/installed" ;; esac; done)");
            command("id", R"([ "$1" = -u ] && echo "${AS:-0}")");
            command("sudo", R"(echo "sudo $*" >>"$STUBS/calls"; [ -n "${NOSUDO:-}" ] && exit 1; [ "$1" = -n ] && shift
                              unset DEBIAN_FRONTEND; exec "$@")"); // sudo drops the variable
            write("packages.txt", QStringLiteral("# what is needed\nalpha\nbeta  # the second\n\ngamma-dev\n"));
        }
        Ended run(const QStringList& environment, bool withDpkg = true)
        {
            if (!withDpkg)
                QFile::remove(m_folder.filePath(QStringLiteral("dpkg-query")));
            return shell(environment, QStringLiteral("ensure_packages \"$STUBS/packages.txt\"; echo went on >&2"));
        }
        /// The tests, by a ctest that answers with what stands in `first` and, asked again, in `second`.
        Ended tests(const QString& first, const QString& second)
        {
            write("first", first);
            write("second", second);
            command("ctest", R"(echo "ctest $*" >>"$STUBS/calls"
                                case "$*" in *-N*) printf 'Test #13: tst_drive\n  Test #23: tst_doors\n' ;;
                                *-R*) cat "$STUBS/second"; ! grep -q FAILED "$STUBS/second" ;;
                                *) cat "$STUBS/first"; ! grep -q FAILED "$STUBS/first" ;; esac)");
            return shell(
                {}, QStringLiteral("cd \"$STUBS\"; . '" TOOLS_DIR "/run-tests.sh'; run_tests asan; echo went on >&2"));
        }

    private:
        Ended shell(const QStringList& environment, const QString& script)
        {
            QDir(m_folder.path()).mkpath(QStringLiteral("build/asan"));
            QProcess bash;
            QProcessEnvironment e;
            e.insert(QStringLiteral("STUBS"), m_folder.path());
            // nothing of the real machine but the tools of the shell
            e.insert(QStringLiteral("PATH"), m_folder.path() + QStringLiteral(":") + tools());
            for (const QString& item : environment)
                e.insert(item.section(QLatin1Char('='), 0, 0), item.section(QLatin1Char('='), 1));
            bash.setProcessEnvironment(e);
            bash.setStandardInputFile(QProcess::nullDevice());
            bash.start(QStringLiteral("/bin/bash"),
                       {QStringLiteral("-c"),
                        QStringLiteral("set -euo pipefail; . '" TOOLS_DIR "/setup.sh'; %1").arg(script)});
            bash.waitForFinished(20000);
            QFile calls(m_folder.filePath(QStringLiteral("calls")));
            const bool called = calls.open(QIODevice::ReadOnly);
            return {bash.exitCode(), QString::fromUtf8(bash.readAllStandardError()),
                    called ? QString::fromUtf8(calls.readAll()) : QString()};
        }
        void write(const char* name, const QString& text)
        {
            QFile file(m_folder.filePath(QString::fromLatin1(name)));
            QVERIFY(file.open(QIODevice::WriteOnly) && file.write(text.toUtf8()) >= 0);
        }
        void command(const char* name, const char* body)
        {
            write(name, QStringLiteral("#!/bin/bash\n%1\n").arg(QString::fromUtf8(body)));
            QFile::setPermissions(m_folder.filePath(QString::fromLatin1(name)),
                                  QFile::ReadOwner | QFile::WriteOwner | QFile::ExeOwner);
        }
        /// Links to the few tools that the script uses, so that no real dpkg, apt or sudo is found.
        QString tools()
        {
            const QString folder = m_folder.filePath(QStringLiteral("tools"));
            QDir().mkpath(folder);
            for (const char* name : {"bash", "grep", "sed", "awk", "cat", "env", "tail", "true", "tee"})
                for (const char* place : {"/usr/bin/", "/bin/"})
                    if (QFile::exists(QString::fromLatin1(place) + QString::fromLatin1(name))) {
                        QFile::link(QString::fromLatin1(place) + QString::fromLatin1(name),
                                    folder + QLatin1Char('/') + QString::fromLatin1(name));
                        break;
                    }
            return folder;
        }
        QTemporaryDir m_folder;
    };

private Q_SLOTS:
    void nothingInstalled()
    {
        Stubs stubs({});
        const Ended end = stubs.run({});
        QCOMPARE(end.code, 0);
        QVERIFY2(end.words.contains(QStringLiteral("Installing from Debian: alpha beta gamma-dev")),
                 qPrintable(end.words));
        QVERIFY(end.words.contains(QStringLiteral("went on")));
        QVERIFY2(end.calls.contains(QStringLiteral("--no-install-recommends alpha beta gamma-dev [noninteractive]")),
                 qPrintable(end.calls));
    }
    void someInstalled()
    {
        Stubs stubs(QStringLiteral("alpha\ngamma-dev\n"));
        const Ended end = stubs.run({});
        QCOMPARE(end.code, 0);
        QVERIFY2(end.words.contains(QStringLiteral("Installing from Debian: beta\n")), qPrintable(end.words));
    }
    void allInstalledAsksNobody()
    {
        Stubs stubs(QStringLiteral("alpha\nbeta\ngamma-dev\n"));
        const Ended end = stubs.run({});
        QCOMPARE(end.code, 0);
        QCOMPARE(end.words, QStringLiteral("went on\n"));
        QVERIFY(end.calls.isEmpty());
    }
    void withoutRootTheNamesAreTold()
    {
        Stubs stubs({});
        const Ended end = stubs.run({QStringLiteral("AS=1000"), QStringLiteral("NOSUDO=1")});
        QCOMPARE(end.code, 1);
        QVERIFY2(end.words.contains(QStringLiteral("apt-get install alpha beta gamma-dev")), qPrintable(end.words));
        QVERIFY(!end.words.contains(QStringLiteral("went on")));
    }
    /// sudo drops what stands before it: the word has to stand behind.
    void sudoKeepsQuiet()
    {
        Stubs stubs({});
        const Ended end = stubs.run({QStringLiteral("AS=1000")});
        QCOMPARE(end.code, 0);
        QVERIFY2(end.calls.contains(QStringLiteral("alpha beta gamma-dev [noninteractive]")), qPrintable(end.calls));
    }
    /// Only what holds against a drive in real time is run once more, and only when it failed by an assertion or its
    /// time.
    void testsAreRepeatedForTimeOnly()
    {
        const QString good = QStringLiteral("100% tests passed\n");
        const auto failed = [](const char* lines) {
            return QStringLiteral("The following tests FAILED:\n") + QString::fromUtf8(lines)
                   + QStringLiteral("Errors while running CTest\n");
        };
        const auto went = [](const QString& first, const QString& second) {
            Stubs stubs({});
            const Ended end = stubs.tests(first, second);
            return std::pair{end.code == 0 && end.words.contains(QStringLiteral("went on")),
                             end.calls.contains(QStringLiteral("-R"))};
        };
        using Went = std::pair<bool, bool>; // well, and repeated
        QCOMPARE(went(good, good), Went(true, false));
        const QString one = failed("\t 13 - tst_drive (Failed)\n");
        QCOMPARE(went(one, good), Went(true, true));
        QCOMPARE(went(one, one), Went(false, true));
        QCOMPARE(went(failed("\t 13 - tst_drive (Timeout)\n\t 23 - tst_doors (Failed)\n"), good), Went(true, true));
        QCOMPARE(went(failed("\t 13 - tst_drive (SEGFAULT)\n"), good), Went(false, false));
        QCOMPARE(went(failed("\t 13 - tst_drive (Failed)\n\t 4 - tst_units (Failed)\n"), good), Went(false, false));
        QCOMPARE(went(QStringLiteral("ERROR: AddressSanitizer: heap-use-after-free\n") + one, good),
                 Went(false, false));
        QCOMPARE(went(QStringLiteral("x.cpp:3: runtime error: shift\n") + one, good), Went(false, false));
    }
    void aFailingListIsTold()
    {
        Stubs stubs({});
        const Ended end = stubs.run({QStringLiteral("UPDATE=100")});
        QCOMPARE(end.code, 1);
        QVERIFY2(end.words.contains(QStringLiteral("could not be fetched")), qPrintable(end.words));
    }
    void aFailingDownloadIsTold()
    {
        Stubs stubs({});
        const Ended end = stubs.run({QStringLiteral("INSTALL=100")});
        QCOMPARE(end.code, 1);
        QVERIFY2(end.words.contains(QStringLiteral("could not be installed")), qPrintable(end.words));
    }
    void anInstallThatDidNothingIsTold()
    {
        Stubs stubs({});
        const Ended end = stubs.run({QStringLiteral("LIES=1")});
        QCOMPARE(end.code, 1);
        QVERIFY2(end.words.contains(QStringLiteral("still missing: alpha beta gamma-dev")), qPrintable(end.words));
    }
    void anotherSystemIsTold()
    {
        Stubs stubs({});
        const Ended end = stubs.run({}, false);
        QCOMPARE(end.code, 1);
        QVERIFY2(end.words.contains(QStringLiteral("Use Debian 12")), qPrintable(end.words));
    }
    /// A pattern that fits no test is no success.
    void noTestIsAnError()
    {
        QFile presets(QStringLiteral(TOOLS_DIR "/../CMakePresets.json"));
        QVERIFY(presets.open(QIODevice::ReadOnly));
        QVERIFY(presets.readAll().contains("\"noTestsAction\": \"error\""));
        QProcess ctest;
        ctest.start(QStringLiteral("ctest"),
                    {QStringLiteral("--test-dir"), QStringLiteral(BIN_DIR "/.."), QStringLiteral("--no-tests=error"),
                     QStringLiteral("-R"), QStringLiteral("nosuchtest")});
        QVERIFY(ctest.waitForFinished(30000));
        QVERIFY(ctest.exitCode() != 0);
    }
};

QTEST_GUILESS_MAIN(TestSetup)
#include "tst_setup.moc"
