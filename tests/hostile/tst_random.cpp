#include "store/machinefile.h"
#include "store/machinejson.h"
#include "support/wait.h"
#include "support/windowfixture.h"

#include <QAbstractItemView>
#include <QApplication>
#include <QComboBox>
#include <QDialog>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QRandomGenerator>
#include <QTest>
#include <QTextEdit>

using namespace ridge;

namespace {

#ifdef RIDGE_SANITIZED
constexpr int byDefault = 30; // seconds
#else
constexpr int byDefault = 15;
#endif

/// What hands do on a window that nobody taught them: any key on anything, any button, entries that are none, undo in
/// the middle, other stations and axes while a field is half typed.
class Hands {
public:
    Hands(WindowFixture& fixture, quint32 seed)
        : m(fixture)
        , m_random(seed)
    {
        // what opens by itself and waits is closed again: by Enter, by Escape, or by the corner of the window. Not from
        // the timer's own slot: Enter in a menu may open a dialog, and a timer is silent while its slot lasts.
        QObject::connect(&m_closer, &QTimer::timeout, &m_closer, [this] {
            QMetaObject::invokeMethod(
                &m_closer, [this] { close(); }, Qt::QueuedConnection);
        });
        m_closer.start(15);
    }

    void act()
    {
        switch (m_random.bounded(12)) {
        case 0:
        case 1: press(); break;
        case 2:
        case 3:
        case 4: type(); break;
        case 5: key(Qt::Key_1 + m_random.bounded(9), Qt::ControlModifier); break; // a station, or the machine
        case 6: key(m_random.bounded(2) ? Qt::Key_Up : Qt::Key_Down, Qt::ControlModifier); break; // another axis
        case 7: key(m_random.bounded(3) ? Qt::Key_Z : Qt::Key_Y, Qt::ControlModifier); break;
        case 8: choose(); break;
        case 9: cell(); break;
        case 10: plainKey(); break;
        default: clickAnywhere(); break;
        }
        m_words << m_last;
        while (m_words.size() > 12)
            m_words.removeFirst();
        QCoreApplication::processEvents();
    }
    /// The last things done, for the one who has to find out.
    [[nodiscard]] QString words() const { return m_words.join(QStringLiteral("; ")); }

private:
    void close()
    {
        if (QWidget* popup = QApplication::activePopupWidget()) {
            QTest::keyClick(popup, m_random.bounded(3) == 0 ? Qt::Key_Return : Qt::Key_Escape);
        } else if (auto* dialog = qobject_cast<QDialog*>(QApplication::activeModalWidget())) {
            const bool files = dialog->inherits("QFileDialog"); // it would write where the test has no business
            if (!files && m_random.bounded(3) == 0)
                dialog->accept();
            else
                dialog->reject();
        }
    }

    template <class T>
    T* any()
    {
        QList<T*> all;
        for (T* w : m.window().findChildren<T*>())
            if (w->isVisible() && w->isEnabled())
                all += w;
        return all.isEmpty() ? nullptr : all[m_random.bounded(static_cast<int>(all.size()))];
    }
    QWidget* target()
    {
        QWidget* focus = QApplication::focusWidget();
        return focus ? focus : &m.window();
    }
    void key(int k, Qt::KeyboardModifiers with = Qt::NoModifier)
    {
        m_last = QKeySequence(k | static_cast<int>(with)).toString();
        QTest::keyClick(target(), static_cast<Qt::Key>(k), with);
    }
    void plainKey()
    {
        constexpr int keys[] = {Qt::Key_Tab,   Qt::Key_Backtab, Qt::Key_Up,       Qt::Key_Down,   Qt::Key_Left,
                                Qt::Key_Right, Qt::Key_Return,  Qt::Key_Escape,   Qt::Key_Delete, Qt::Key_Insert,
                                Qt::Key_Home,  Qt::Key_End,     Qt::Key_PageDown, Qt::Key_Space,  Qt::Key_F1,
                                Qt::Key_F2,    Qt::Key_F4,      Qt::Key_F12};
        key(keys[m_random.bounded(static_cast<int>(std::size(keys)))]);
    }
    void type()
    {
        auto* line = any<QLineEdit>();
        if (!line || line->isReadOnly())
            return;
        static const QStringList texts{
            QStringLiteral("5"),           QStringLiteral("-3"),      QStringLiteral("0"),
            QStringLiteral("1e30"),        QStringLiteral("12 in"),   QStringLiteral("7 kg"),
            QStringLiteral("1500 rpm"),    QStringLiteral("0,25"),    QStringLiteral("=3*("),
            QStringLiteral("=2/0"),        QStringLiteral("nan"),     QStringLiteral("<b>x</b>"),
            QStringLiteral("µ°²"),         QStringLiteral("'; drop"), QString(),
            QString(300, QLatin1Char('9'))};
        const QString& text = texts[m_random.bounded(static_cast<int>(texts.size()))];
        m_last = QStringLiteral("“%1” into %2").arg(text.left(20), line->objectName());
        line->setFocus();
        line->selectAll();
        QTest::keyClick(line, Qt::Key_Backspace);
        for (const QChar c : text)
            QApplication::sendEvent(line, std::make_unique<QKeyEvent>(QEvent::KeyPress, 0, Qt::NoModifier, c).get());
        switch (m_random.bounded(3)) { // taken, left half typed, or left for something else
        case 0: QTest::keyClick(line, Qt::Key_Return); break;
        case 1: QTest::keyClick(line, Qt::Key_Tab); break;
        default: break;
        }
    }
    void press()
    {
        auto* b = any<QAbstractButton>();
        // the test has no printer, no folder to write into, and no drive but the one it starts
        static const QStringList left{QStringLiteral("set.connect"), QStringLiteral("sign.pdf"),
                                      QStringLiteral("sign.html"), QStringLiteral("shared.wires")};
        if (!b || left.contains(b->objectName()))
            return;
        m_last = b->objectName().isEmpty() ? b->text() : b->objectName();
        QTest::mousePress(b, Qt::LeftButton);
        if (m_random.bounded(4) == 0)
            QCoreApplication::processEvents(QEventLoop::AllEvents, 30);
        if (alive(b))
            QTest::mouseRelease(b, Qt::LeftButton);
    }
    void choose()
    {
        auto* box = any<QComboBox>();
        if (!box || box->count() == 0)
            return;
        const int row = m_random.bounded(box->count());
        m_last = QStringLiteral("%1 := %2").arg(box->objectName(), box->itemText(row));
        box->setCurrentIndex(row);
        Q_EMIT box->activated(row);
    }
    void cell()
    {
        auto* view = any<QAbstractItemView>();
        if (!view || !view->model() || view->model()->rowCount() == 0 || view->model()->columnCount() == 0)
            return;
        const QModelIndex at = view->model()->index(m_random.bounded(view->model()->rowCount()),
                                                    m_random.bounded(view->model()->columnCount()));
        m_last = QStringLiteral("cell %1,%2 of %3").arg(at.row()).arg(at.column()).arg(view->objectName());
        view->setFocus();
        view->setCurrentIndex(at);
        if (m_random.bounded(2))
            QTest::keyClick(view, static_cast<Qt::Key>(Qt::Key_0 + m_random.bounded(10)));
        else
            view->edit(at);
    }
    void clickAnywhere()
    {
        const QSize size = m.window().size();
        const QPoint at(m_random.bounded(size.width()), m_random.bounded(std::max(1, size.height() - 40)) + 24);
        m_last = QStringLiteral("click at %1,%2").arg(at.x()).arg(at.y());
        if (QWidget* w = m.window().childAt(at)) {
            const auto* b = qobject_cast<QAbstractButton*>(w);
            if (!b)
                QTest::mouseClick(w, Qt::LeftButton, {}, w->mapFrom(&m.window(), at));
        }
    }
    bool alive(QAbstractButton* b) { return m.window().findChildren<QAbstractButton*>().contains(b); }

    WindowFixture& m;
    QRandomGenerator m_random;
    QTimer m_closer;
    QString m_last;
    QStringList m_words;
};

} // namespace

/// Random hands on the real window. Nothing crashes or hangs; what the window holds is what the file holds; undoing
/// everything gives the plan of the beginning, and doing it again the plan of the end. Seconds and seed come from
/// RIDGE_RANDOM_SECONDS (15, under the sanitizers 30) and RIDGE_RANDOM_SEED (the clock); the seed is printed.
class TestRandom : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void handsThatNobodyTaught()
    {
        bool given = false;
        quint32 seed = qEnvironmentVariable("RIDGE_RANDOM_SEED").toUInt(&given);
        if (!given)
            seed = static_cast<quint32>(QDateTime::currentMSecsSinceEpoch());
        const int seconds = qEnvironmentVariableIsSet("RIDGE_RANDOM_SECONDS")
                                ? qEnvironmentVariableIntValue("RIDGE_RANDOM_SECONDS")
                                : byDefault;
        qInfo("seed %u", seed);
        WindowFixture fixture;
        fixture.document().undoStack().setUndoLimit(0); // the beginning stays within reach, however long the hands work
        const Machine atFirst = fixture.document().machine();
        Hands hands(fixture, seed);
        QElapsedTimer clock;
        clock.start();
        qint64 longest = 0;
        int actions = 0;
        for (; clock.elapsed() < seconds * 1000; ++actions) {
            QElapsedTimer one;
            one.start();
            hands.act();
            longest = std::max(longest, one.elapsed());
            if (fixture.document().path().isEmpty() || fixture.document().path() != fixture.path("demo.vridge"))
                break;                                                  // another machine was opened by its key
            QVERIFY2(one.elapsed() < 20000, qPrintable(hands.words())); // it hung
        }
        qInfo("%d actions, the longest took %lld ms", actions, longest);
        QVERIFY(actions > 50 || seconds < 2);
        if (fixture.document().path() != fixture.path("demo.vridge"))
            return;
        if (QWidget* focus = QApplication::focusWidget())
            focus->clearFocus();
        runFor(700); // pulled values reach the file a moment later
        const Machine held = fixture.document().machine();
        {
            const auto file = store::MachineFile::open(fixture.document().path().toStdString());
            QVERIFY2(file.has_value(), qPrintable(hands.words()));
            const auto read = file->machine();
            QVERIFY2(read.has_value(), read ? "" : messageFor(read.error()).c_str());
            QVERIFY2(store::writeMachine(*read) == store::writeMachine(held), qPrintable(hands.words()));
            QVERIFY(file->chain().holds());
        }
        QUndoStack& undo = fixture.document().undoStack();
        while (undo.canUndo())
            undo.undo();
        QVERIFY2(store::writeMachine(fixture.document().machine()) == store::writeMachine(atFirst),
                 qPrintable(hands.words()));
        while (undo.canRedo())
            undo.redo();
    }
};

QTEST_MAIN(TestRandom)
#include "tst_random.moc"
