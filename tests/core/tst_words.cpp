#include "core/objects/cia402.h"
#include "core/objects/faults.h"
#include "core/stations/steps.h"
#include "store/report.h"
#include "support/story.h"

#include <QDirIterator>
#include <QRegularExpression>
#include <QTest>

using namespace ridge;

/// Rules of wording, held over everything the program can say: the literals of the source, the data that ship and the
/// user's documents.
class TestWords : public QObject {
    Q_OBJECT

    struct Said {
        QString where, text;
    };
    std::vector<Said> m_all;

    void take(const QString& folder, const QStringList& kinds, bool literalsOnly)
    {
        QDirIterator it(QStringLiteral(SOURCE_DIR "/") + folder, kinds, QDir::Files, QDirIterator::Subdirectories);
        static const QRegularExpression literal(QStringLiteral("\"((?:[^\"\\\\]|\\\\.)*)\""));
        while (it.hasNext()) {
            QFile file(it.next());
            QVERIFY(file.open(QIODevice::ReadOnly));
            const QString text = QString::fromUtf8(file.readAll());
            if (!literalsOnly) {
                m_all.push_back({file.fileName(), text});
                continue;
            }
            // literals that stand one after the other are one sentence
            QString sentence;
            qsizetype end = -1;
            auto matches = literal.globalMatch(text);
            while (matches.hasNext()) {
                const auto match = matches.next();
                if (end >= 0 && !text.mid(end, match.capturedStart() - end).trimmed().isEmpty()) {
                    m_all.push_back({file.fileName(), sentence});
                    sentence.clear();
                }
                sentence += match.captured(1);
                end = match.capturedEnd();
            }
            m_all.push_back({file.fileName(), sentence});
        }
    }
    [[nodiscard]] QStringList matching(const char* pattern) const
    {
        const QRegularExpression wanted(QString::fromUtf8(pattern), QRegularExpression::CaseInsensitiveOption);
        QStringList out;
        for (const Said& s : m_all) {
            auto it = wanted.globalMatch(s.text);
            while (it.hasNext()) {
                const auto match = it.next();
                out += s.where.section(QLatin1Char('/'), -1) + QStringLiteral(": ")
                       + s.text.mid(std::max<qsizetype>(0, match.capturedStart() - 60), 160).simplified();
            }
        }
        return out;
    }

private Q_SLOTS:
    void initTestCase()
    {
        for (const char* folder : {"app", "cli", "core", "link", "sim", "store"})
            take(QString::fromUtf8(folder), {QStringLiteral("*.cpp"), QStringLiteral("*.h")}, true);
        take(QStringLiteral("data"), {QStringLiteral("*.json")}, false);
        take(QStringLiteral("docs"), {QStringLiteral("guide.md"), QStringLiteral("keys.md")}, false);
        QVERIFY(m_all.size() > 3000); // it did look
        QVERIFY(!matching("write differences to drive").isEmpty());
    }

    /// EV07: "write to drive" and "read from drive"; the two words that mean both ways never appear.
    void theTwoWordsThatMeanBothWays()
    {
        const QStringList found = matching("\\b(up|down)[- ]?load");
        QVERIFY2(found.isEmpty(), qPrintable(found.join(QLatin1Char('\n'))));
    }

    /// EV07: states and modes in words, codes beside; no state, no mode and no fault is a bare number.
    void statesModesAndFaultsHaveWords()
    {
        std::set<std::string_view> states, modes;
        for (int k = 0; k <= static_cast<int>(DriveState::Fault); ++k) {
            const auto words = driveStateWords(static_cast<DriveState>(k));
            QVERIFY(words.size() > 2 && words.find('_') == std::string_view::npos);
            states.insert(words);
        }
        QCOMPARE(states.size(), static_cast<std::size_t>(DriveState::Fault) + 1);
        for (const int mode : {0, 1, 2, 3, 4, 6, 7, 8, 9, 10}) // CiA 402, object 6060, from memory
            modes.insert(driveModeWords(mode));
        QCOMPARE(modes.size(), 10U);
        QVERIFY(driveModeWords(-3).find("maker") != std::string_view::npos);
        QVERIFY(driveModeWords(99).find("does not know") != std::string_view::npos);
        for (const int code : {0x2310, 0x3210, 0x3220, 0x7305, 0x8130, 0x8611, 0xFF01, 0x1234}) {
            const FaultWords& f = faultWords(static_cast<std::uint16_t>(code));
            QVERIFY(f.words.size() > 4 && f.cause.size() > 4 && f.cure.size() > 4);
        }
        QVERIFY(faultWords(0x1234).words.find("does not know") != std::string_view::npos);
    }

    /// EV05: never safe, never lawful, never isolated by torque off: every sentence with such a word denies it or
    /// speaks of the name of a function.
    void neverSafeNeverLawful()
    {
        QStringList wrong;
        for (const QString& line : matching("\\b(is|are|be|was|now|it's)\\s+safe\\b|\\bsafe to\\b|\\b(un)?lawful\\b|"
                                            "\\bcertif|\\bcompl(ies|iant) with\\b|\\blegal"))
            if (!line.contains(QStringLiteral("never"), Qt::CaseInsensitive)
                && !line.contains(QStringLiteral("decide"), Qt::CaseInsensitive))
                wrong += line;
        for (const QString& line : matching("isolat"))
            if (!line.contains(QStringLiteral("not"), Qt::CaseInsensitive)
                && !line.contains(QStringLiteral("galvanic"), Qt::CaseInsensitive)
                && !line.endsWith(QStringLiteral(": isolated")) // a property of a supply, no sentence
                && !line.contains(QStringLiteral("\"severity\": \"refuse\"")))
                wrong += line;
        QVERIFY2(wrong.isEmpty(), qPrintable(wrong.join(QLatin1Char('\n'))));
    }

    /// EV05: C-00 stands in every report, with and without anything done.
    void everyReportDefers()
    {
        for (const bool done : {false, true}) {
            Story s;
            if (done)
                s.wholeJob();
            const std::string html = store::reportHtml(s.machine, s.axis(), s.evaluated(), s.evidence(), s.facts);
            QVERIFY(html.find("calculation and a record") != std::string::npos);
            QVERIFY(html.find("Local codes") != std::string::npos || html.find("local codes") != std::string::npos);
        }
    }
};

QTEST_GUILESS_MAIN(TestWords)
#include "tst_words.moc"
