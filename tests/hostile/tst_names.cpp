#include "core/model/fields.h"
#include "support/wait.h"
#include "support/windowfixture.h"

#include <QLabel>
#include <QMenu>
#include <QMessageBox>
#include <QTest>
#include <QTextBrowser>
#include <QToolTip>

using namespace ridge;
using namespace ridge::app;

namespace {
const std::string hostile = "<img src='x' width=3000 height=3000><b>&amp; <a href='file:///etc'>A&B</a>";

/// Labels that would show markup of a name as markup, and texts that hold a picture because of it.
QStringList fooled(const QWidget& root)
{
    QStringList out;
    for (const QLabel* label : root.findChildren<QLabel*>())
        if (label->isVisible() && label->textFormat() != Qt::PlainText
            && label->text().contains(QStringLiteral("<img")))
            out += QStringLiteral("%1: %2").arg(label->objectName(), label->text());
    for (const QTextEdit* text : root.findChildren<QTextEdit*>())
        for (const QTextFormat& f : text->document()->allFormats())
            if (f.isImageFormat() || (f.isCharFormat() && f.toCharFormat().isAnchor()))
                out += text->objectName() + QStringLiteral(" holds a picture or a link");
    return out;
}
} // namespace

/// A name from a file is text on every page, whatever it looks like.
class TestNames : public QObject {
    Q_OBJECT

    std::unique_ptr<WindowFixture> m;

private Q_SLOTS:
    void init()
    {
        m = std::make_unique<WindowFixture>();
        m->document().editMachine(QStringLiteral("names"), [](Machine& machine) {
            machine.name += hostile;
            machine.note = hostile;
            for (Axis& a : machine.axes) {
                a.name = hostile + a.id;
                a.note = hostile;
                for (FieldGroup& g : fieldGroups(a))
                    for (const Field& f : g.fields)
                        if (f.kind == FieldKind::Text)
                            f.setText(g.object, hostile);
            }
        });
        m->document().append(m->document().typedSource(), NoteMade{hostile});
        m->document().append(m->document().typedSource(), BridgeIn{hostile, hostile, hostile, {}});
        m->settle();
    }
    void cleanup() { m.reset(); }

    void everyPage()
    {
        for (int axis = 0; axis < 3; ++axis)
            for (int station = 0; station <= MainWindow::machineView; ++station) {
                m->document().selectAxis(static_cast<std::size_t>(axis));
                m->window().goTo(station);
                m->settle();
                QTest::keyClick(&m->window(), Qt::Key_F2); // the working at the right
                m->settle();
                const QStringList wrong = fooled(m->window());
                QVERIFY2(wrong.isEmpty(), qPrintable(QStringLiteral("%1/%2: ").arg(axis).arg(station)
                                                     + wrong.join(QStringLiteral(" | "))));
                QVERIFY(m->window().width() <= 1400); // nothing was blown up
            }
    }

    void tipsAndBoxes()
    {
        QToolTip::showText(QPoint(10, 10), QString::fromStdString(hostile), &m->window());
        m->settle();
        const QWidgetList top = QApplication::topLevelWidgets();
        const auto tip = std::ranges::find_if(top, [](const QWidget* w) { return w->inherits("QTipLabel"); });
        QVERIFY(tip != top.end());
        QCOMPARE(qobject_cast<const QLabel*>(*tip)->textFormat(), Qt::PlainText);
        QCOMPARE(qobject_cast<const QLabel*>(*tip)->text(), QString::fromStdString(hostile));
        QVERIFY((*tip)->height() < 400);
        QMessageBox box(&m->window());
        box.setText(QString::fromStdString(hostile));
        box.open();
        m->settle();
        QVERIFY(fooled(box).isEmpty());
        box.reject();
    }

    /// A recent file with an ampersand in its name shows it, instead of a letter underlined.
    void recentFiles()
    {
        const QString path = m->path("belts & screws.vridge");
        QVERIFY(m->document().createAt(path, Machine{}).isEmpty());
        m->window().openPath(path);
        m->settle();
        const auto actions = m->window().findChildren<QAction*>();
        QVERIFY(std::ranges::any_of(
            actions, [](const QAction* a) { return a->text().contains(QStringLiteral("belts && screws.vridge")); }));
    }
};

QTEST_MAIN(TestNames)
#include "tst_names.moc"
