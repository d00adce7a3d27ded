#include <QFile>
#include <QProcess>
#include <QTemporaryDir>
#include <QTest>

#include <random>

namespace {
struct Ran {
    int code = -1;
    bool crashed = false;
    QByteArray out, error;
};
Ran run(const QStringList& arguments)
{
    QProcess p;
    p.start(QStringLiteral(BIN_DIR "/vortex-ridge-cli"), arguments);
    if (!p.waitForFinished(60000))
        return {};
    return {p.exitCode(), p.exitStatus() != QProcess::NormalExit, p.readAllStandardOutput(), p.readAllStandardError()};
}
const QString demo = QStringLiteral(DATA_DIR "/fernhollow.json");
} // namespace

/// The command line given what is no machine, no axis and no number: exit 2 with one sentence, nothing on standard
/// output, nothing written, no crash and no wait.
class TestCommands : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;
    QStringList m_files; ///< hostile ones

    [[nodiscard]] QString put(const char* name, const QByteArray& content)
    {
        const QString path = m_folder.filePath(QString::fromLatin1(name));
        QFile file(path);
        if (file.open(QIODevice::WriteOnly))
            file.write(content);
        return path;
    }

private Q_SLOTS:
    void initTestCase()
    {
        std::mt19937 random(4);
        QByteArray noise(5000, '\0');
        for (char& c : noise)
            c = static_cast<char>(random());
        m_files = {
            m_folder.filePath(QStringLiteral("not there")),
            m_folder.path(),
            QStringLiteral("/dev/null"),
            put("empty", {}),
            put("noise", noise),
            put("text", "hello\n"),
            put("list", "[1,2,3]"),
            put("deep", QByteArray(200000, '[')),
            put("latin", QByteArray("{\"format\":\"vortex-ridge-machine\",\"version\":2,\"name\":\"M\xFChle\"}")),
            put("wrong", R"({"format":"vortex-ridge-machine","version":2,"axes":[{"id":7}]})"),
            put("newer", R"({"format":"vortex-ridge-machine","version":4294967297})"),
            put("negative", R"({"format":"vortex-ridge-machine","version":-3})"),
            put("zero.vridge", "SQLite format 3"),
            put("half.vridge", QByteArray("SQLite format 3\0", 16) + noise)};
    }

    void noCommandTakesThem_data()
    {
        QTest::addColumn<QStringList>("before");
        QTest::addColumn<QStringList>("after");
        const QString out = m_folder.filePath(QStringLiteral("made"));
        const auto row = [](const char* name, QStringList before, QStringList after = {}) {
            QTest::newRow(name) << before << after;
        };
        const auto words = [](const char* text) { return QString::fromLatin1(text).split(QLatin1Char(' ')); };
        for (const char* plain : {"evaluate", "check", "bus", "machine", "wire", "export", "verify", "versions", "duty",
                                  "fit", "inertia", "facts"})
            row(plain, {QString::fromLatin1(plain)});
        row("match", {QStringLiteral("match")}, words("--axis A1"));
        row("sweep", {QStringLiteral("sweep")}, words("--axis A1 --over gearbox.ratio=1:20:5"));
        row("fastest", {QStringLiteral("fastest")}, words("--axis A1"));
        row("gentlest", {QStringLiteral("gentlest")}, words("--axis A1"));
        row("steps", {QStringLiteral("steps")}, words("--axis A1"));
        row("judge", words("wire check"));
        row("parts", words("catalogue validate"));
        row("import", {QStringLiteral("import")}, {out + QStringLiteral(".vridge")});
        row("report", {QStringLiteral("report")}, {out + QStringLiteral(".html")});
        row("axis add", words("axis add"), words("--name X"));
        row("append", {QStringLiteral("append")}, {QStringLiteral("--axis"), QStringLiteral("A1"), out});
        row("a parts list",
            {QStringLiteral("match"), demo, QStringLiteral("--axis"), QStringLiteral("A1"), QStringLiteral("--parts")});
    }
    void noCommandTakesThem()
    {
        QFETCH(QStringList, before);
        QFETCH(QStringList, after);
        for (const QString& file : m_files) {
            const Ran r = run(before + QStringList{file} + after);
            const QString what = before.join(QLatin1Char(' ')) + QLatin1Char(' ') + file;
            QVERIFY2(!r.crashed, qPrintable(what));
            QVERIFY2(r.code == 2, qPrintable(what + QStringLiteral(": exit %1 ").arg(r.code)
                                             + QString::fromUtf8(r.out.left(200) + r.error)));
            QVERIFY2(r.error.trimmed().size() > 15 && r.error.count('\n') == 1,
                     qPrintable(what + QString::fromUtf8(r.error)));
            QVERIFY2(r.out.isEmpty(), qPrintable(what));
        }
        for (const char* made : {"made.vridge", "made.html", "made"})
            QVERIFY2(!QFile::exists(m_folder.filePath(QString::fromLatin1(made))), made);
    }

    /// Words that are none, in every place of every command.
    void wordsThatAreNone()
    {
        const QStringList commands{QStringLiteral("evaluate"), QStringLiteral("check"),    QStringLiteral("match"),
                                   QStringLiteral("sweep"),    QStringLiteral("fastest"),  QStringLiteral("gentlest"),
                                   QStringLiteral("bus"),      QStringLiteral("machine"),  QStringLiteral("wire"),
                                   QStringLiteral("fit"),      QStringLiteral("inertia"),  QStringLiteral("import"),
                                   QStringLiteral("export"),   QStringLiteral("report"),   QStringLiteral("catalogue"),
                                   QStringLiteral("convert"),  QStringLiteral("schema"),   QStringLiteral("new"),
                                   QStringLiteral("axis"),     QStringLiteral("facts"),    QStringLiteral("append"),
                                   QStringLiteral("steps"),    QStringLiteral("verify"),   QStringLiteral("versions"),
                                   QStringLiteral("duty"),     QStringLiteral("handbook"), QStringLiteral("nonsense")};
        const QList<QStringList> nonsense{{QStringLiteral("--wrong")},
                                          {demo, QStringLiteral("--axis")},
                                          {demo, QStringLiteral("--axis"), QStringLiteral("A99")},
                                          {demo, demo, demo, demo},
                                          {QString()},
                                          {QString(5000, QLatin1Char('x'))}};
        for (const QString& command : commands)
            for (const QStringList& words : nonsense) {
                const Ran r = run(QStringList{command} + words);
                const QString what = command + QLatin1Char(' ') + words.join(QLatin1Char(' ')).left(60);
                QVERIFY2(!r.crashed && r.code == 2, qPrintable(what + QStringLiteral(": exit %1").arg(r.code)));
                QVERIFY2(r.error.count('\n') == 1 && r.out.isEmpty(), qPrintable(what + QString::fromUtf8(r.error)));
            }
        QCOMPARE(run({}).code, 2);
    }
};

QTEST_GUILESS_MAIN(TestCommands)
#include "tst_commands.moc"
