#include "app/theme/sentence.h"
#include "app/widgets/handbook.h"
#include "support/windowfixture.h"

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QTest>
#include <QTextBrowser>

using namespace ridge;
using app::Handbook;

/// The handbook as a person uses it: opened by its key, searched, entered in any unit, and nothing of it in the
/// machine.
class TestHandbookWindow : public QObject {
    Q_OBJECT

    std::unique_ptr<WindowFixture> m;
    Handbook* m_book = nullptr;

    [[nodiscard]] QString answer() const
    {
        return m_book->findChild<QTextBrowser*>(QStringLiteral("handbook.working"))->toPlainText();
    }
    [[nodiscard]] QLineEdit* field(const char* name) const
    {
        return m_book->findChild<QLineEdit*>(QStringLiteral("handbook.") + QLatin1String(name));
    }
    void enter(const char* name, const char* text) const
    {
        QLineEdit* line = field(name);
        QVERIFY(line);
        line->setFocus();
        line->selectAll();
        QTest::keyClicks(line, QString::fromUtf8(text));
        QTest::keyClick(line, Qt::Key_Return);
    }

private Q_SLOTS:
    void init()
    {
        m = std::make_unique<WindowFixture>();
        m->window().show();
        QVERIFY(QTest::qWaitForWindowActive(&m->window()));
        QTest::keyClick(&m->window(), Qt::Key_H, Qt::ControlModifier);
        QTRY_VERIFY(m_book = m->window().findChild<Handbook*>(QStringLiteral("handbook")));
    }
    void cleanup()
    {
        app::setUnitSystem(UnitSystem::Metric);
        m.reset();
    }

    void everyEntryShowsAnAnswer()
    {
        auto* list = m_book->findChild<QListWidget*>(QStringLiteral("handbook.list"));
        int shown = 0;
        for (int k = 0; k < list->count(); ++k) {
            if (!(list->item(k)->flags() & Qt::ItemIsSelectable))
                continue;
            list->setCurrentRow(k);
            QVERIFY2(!answer().trimmed().isEmpty(), qPrintable(list->item(k)->text()));
            QVERIFY(!m_book->findChild<QLabel*>(QStringLiteral("handbook.sentence"))->isVisible());
            ++shown;
        }
        QCOMPARE(static_cast<std::size_t>(shown), handbook().size());
    }

    void searchNarrowsTheList()
    {
        auto* list = m_book->findChild<QListWidget*>(QStringLiteral("handbook.list"));
        const int all = list->count();
        field("search")->setFocus();
        QTest::keyClicks(field("search"), QStringLiteral("belt tone"));
        QVERIFY(list->count() < all && list->count() == 2); // its chapter and itself
        QVERIFY(list->currentItem()->text().contains(QStringLiteral("strand")));
        QTest::keyClicks(field("search"), QStringLiteral(" nonsense"));
        QCOMPARE(list->count(), 0);
        field("search")->clear();
        QCOMPARE(list->count(), all);
    }

    /// 0.1 kg/m, 20 in, 90 lbf: 1/(2·0.508)·√(400.34/0.1) = 62.277 Hz, by hand.
    void unitsAreTypedFreely()
    {
        m_book->show("strand-tone");
        enter("strand-tone.m", "0,1 kg/m");
        enter("strand-tone.L", "20 in");
        enter("strand-tone.F", "90 lbf");
        QVERIFY2(answer().contains(QStringLiteral("62.27")), qPrintable(answer()));
        QVERIFY(answer().contains(QStringLiteral("sqrt"))); // its working
    }

    void theReadersUnitsAreShown()
    {
        app::setUnitSystem(UnitSystem::Imperial);
        m_book->show("resolution");
        enter("resolution.s", "0.5 in");
        QVERIFY2(answer().contains(QStringLiteral("mil")), qPrintable(answer()));
        QVERIFY(field("resolution.s")->text().contains(QStringLiteral("in")));
    }

    void aWrongEntryIsExplainedWhereItStands()
    {
        m_book->show("strand-tone");
        const QString before = answer();
        enter("strand-tone.L", "5 kg");
        QCOMPARE(answer(), before); // what was there goes on
        QCOMPARE(field("strand-tone.L")->text(), QStringLiteral("5 kg"));
        bool told = false;
        for (auto* edit : m_book->findChildren<app::QuantityEdit*>())
            told = told || edit->sentence().contains(QStringLiteral("mass"));
        QVERIFY(told);
        enter("strand-tone.L", "0.5 m");
        m_book->show("rise-time"); // 12 V do not push 20 A through 1 ohm
        enter("rise-time.V", "12 V");
        enter("rise-time.I", "20 A");
        auto* sentence = m_book->findChild<QLabel*>(QStringLiteral("handbook.sentence"));
        QVERIFY(!sentence->isHidden() && sentence->text().size() > 10);
        QVERIFY(answer().isEmpty());
        enter("rise-time.I", "2 A");
        QVERIFY(sentence->isHidden() && !answer().isEmpty());
    }

    void choicesAndJudgements()
    {
        m_book->show("monitor");
        auto* contact = m_book->findChild<QComboBox*>(QStringLiteral("handbook.monitor.c"));
        QVERIFY(answer().contains(QStringLiteral("as it has to be")));
        contact->setFocus();
        QTest::keyClick(contact, Qt::Key_Up); // open, though both channels are off
        QVERIFY2(answer().contains(QStringLiteral("does not agree")), qPrintable(answer()));
        m_book->show("i2t");
        enter("i2t.I", "3 A");
        QVERIFY(answer().contains(QStringLiteral("without end")));
    }

    void nothingOfItIsInTheMachine()
    {
        const std::size_t facts = m->document().facts().size();
        const Machine before = m->document().machine();
        m_book->show("coast");
        enter("coast.w", "1500 rpm");
        m_book->close();
        m->settle();
        QCOMPARE(m->document().facts().size(), facts);
        QVERIFY(m->document().machine() == before);
        QVERIFY(!m->document().undoStack().canUndo());
    }
};

QTEST_MAIN(TestHandbookWindow)
#include "tst_handbookwindow.moc"
