#include "store/machinefile.h"
#include "store/machinejson.h"

#include <QProcess>
#include <QRandomGenerator>
#include <QTemporaryDir>
#include <QTest>
#include <QThread>

#include <array>
#include <memory>

using namespace ridge;

namespace {
#ifdef RIDGE_SANITIZED
constexpr int killsByDefault = 40; // each start of the window takes three times as long there
#else
constexpr int killsByDefault = 200;
#endif
constexpr int lanes = 4; // windows at a time, each on a file of its own

/// One file, one window after the other, each killed at some moment of its work.
struct Lane {
    QString path;
    quint32 seed = 0;
    int rounds = 0;
    QString wrong = {}; ///< what was found; empty: nothing
    int cuts = 0;

    void play()
    {
        QRandomGenerator chance(seed); // the same moments every time
        int next = 100;
        for (int round = 0; round < rounds && wrong.isEmpty(); ++round)
            next = one(next, static_cast<int>(chance.bounded(1, 90)));
    }

private:
    /// @return the value that comes next
    int one(int next, int moment)
    {
        QProcess editor;
        editor.setProcessChannelMode(QProcess::SeparateChannels);
        QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
        environment.insert(QStringLiteral("QT_QPA_PLATFORM"), QStringLiteral("offscreen"));
        editor.setProcessEnvironment(environment);
        editor.start(QStringLiteral(BIN_DIR "/ridge_editor"), {path, QString::number(next)});
        if (!editor.waitForStarted(10000) || !editor.waitForReadyRead(60000)) {
            wrong = QStringLiteral("it did not start: ") + QString::fromUtf8(editor.readAllStandardError());
            return next;
        }
        QThread::msleep(static_cast<unsigned long>(moment));
        editor.kill();
        editor.waitForFinished(10000);
        const QList<QByteArray> lines = editor.readAllStandardOutput().split('\n');
        int confirmed = 0;
        for (qsizetype k = 0; k + 1 < lines.size(); ++k) // the last piece may be cut
            confirmed = std::max(confirmed, lines[k].toInt());
        const auto file = store::MachineFile::open(path.toStdString());
        const auto machine = file ? file->machine() : Result<Machine>(tl::make_unexpected(file.error()));
        if (!machine) {
            wrong = QString::fromStdString(messageFor(machine.error()));
            return next;
        }
        const int held = static_cast<int>(*machine->axes[0].load.moving);
        if (confirmed < next || held < confirmed || held > confirmed + 1) // at most the edit that was under way
            wrong = QStringLiteral("%1 was confirmed, %2 is in the file, %3 was the first")
                        .arg(confirmed)
                        .arg(held)
                        .arg(next);
        else if (!file->chain().holds())
            wrong = QStringLiteral("the chain of the record is broken");
        ++cuts;
        return held + 1;
    }
};
} // namespace

/// A flat battery, a crash, a pulled plug: whatever was confirmed is in the file. Kills by hand: RIDGE_KILLS=5000.
class TestKill : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void nothingConfirmedIsLost()
    {
        bool given = false;
        const int asked = qEnvironmentVariableIntValue("RIDGE_KILLS", &given), kills = given ? asked : killsByDefault;
        const QTemporaryDir folder;
        std::array<Lane, lanes> all;
        std::array<std::unique_ptr<QThread>, lanes> threads;
        for (std::size_t k = 0; k < lanes; ++k) {
            all[k] = {folder.filePath(QStringLiteral("machine%1.vridge").arg(k)), 20261125 + static_cast<quint32>(k),
                      kills / lanes};
            QVERIFY(store::MachineFile::create(all[k].path.toStdString(), store::demoMachine()).has_value());
            threads[k].reset(QThread::create([&lane = all[k]] { lane.play(); }));
            threads[k]->start();
        }
        int cuts = 0;
        for (std::size_t k = 0; k < lanes; ++k) {
            threads[k]->wait();
            cuts += all[k].cuts;
        }
        for (const Lane& lane : all)
            QVERIFY2(lane.wrong.isEmpty(), qPrintable(lane.wrong));
        QCOMPARE(cuts, kills / lanes * lanes);
    }
};

QTEST_GUILESS_MAIN(TestKill)
#include "tst_kill.moc"
