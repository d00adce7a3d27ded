#include "store/machinefile.h"
#include "store/machinejson.h"

#include <QProcess>
#include <QRandomGenerator>
#include <QTemporaryDir>
#include <QTest>

using namespace ridge;

/// A flat battery, a crash, a pulled plug: whatever was confirmed is in the file.
class TestKill : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void nothingConfirmedIsLost()
    {
        const QTemporaryDir folder;
        const QString path = folder.filePath(QStringLiteral("machine.vridge"));
        QVERIFY(store::MachineFile::create(path.toStdString(), store::demoMachine()).has_value());
        QRandomGenerator chance(20261125); // the same moments every time
        int next = 100, cuts = 0;
        for (int round = 0; round < 25; ++round) {
            QProcess editor;
            editor.setProcessChannelMode(QProcess::SeparateChannels);
            QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
            environment.insert(QStringLiteral("QT_QPA_PLATFORM"), QStringLiteral("offscreen"));
            editor.setProcessEnvironment(environment);
            editor.start(QStringLiteral(BIN_DIR "/ridge_editor"), {path, QString::number(next)});
            QVERIFY(editor.waitForStarted(10000));
            QVERIFY2(editor.waitForReadyRead(30000), editor.readAllStandardError().constData());
            QTest::qSleep(static_cast<int>(chance.bounded(1, 90)));
            editor.kill();
            QVERIFY(editor.waitForFinished(10000));
            const QList<QByteArray> lines = editor.readAllStandardOutput().split('\n');
            int confirmed = 0;
            for (qsizetype k = 0; k + 1 < lines.size(); ++k) // the last piece may be cut
                confirmed = std::max(confirmed, lines[k].toInt());
            QVERIFY(confirmed >= next);
            const auto file = store::MachineFile::open(path.toStdString());
            QVERIFY2(file.has_value(), file ? "" : messageFor(file.error()).c_str());
            const double held = *file->machine()->axes[0].load.moving;
            QVERIFY2(held >= confirmed,
                     qPrintable(QStringLiteral("%1 was confirmed, %2 is in the file").arg(confirmed).arg(held)));
            QVERIFY(held <= confirmed + 1); // at most the edit that was under way
            QVERIFY(file->chain().holds());
            next = static_cast<int>(held) + 1;
            ++cuts;
        }
        QCOMPARE(cuts, 25);
    }
};

QTEST_GUILESS_MAIN(TestKill)
#include "tst_kill.moc"
