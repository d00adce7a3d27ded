#include "app/theme/sentence.h"
#include "app/theme/theme.h"
#include "app/widgets/forms.h"
#include "support/windowfixture.h"

#include <QAbstractButton>
#include <QApplication>
#include <QCheckBox>
#include <QComboBox>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QTableWidget>
#include <QTest>

#include <cmath>

using namespace ridge;
using namespace ridge::app;

namespace {

QString nameOf(const QWidget& w)
{
    QString name = w.objectName().isEmpty() ? w.accessibleName() : w.objectName();
    if (const auto* label = qobject_cast<const QLabel*>(&w))
        name += QStringLiteral(" “%1”").arg(label->text().left(40));
    return QString::fromLatin1(w.metaObject()->className()).section(QLatin1String("::"), -1) + QLatin1Char(' ') + name;
}

/// Whether what is written in a widget finds no room in it.
bool isCut(const QWidget& w)
{
    const QFontMetrics metrics(w.font());
    const auto wide = [&](const QString& text, int room) { return metrics.horizontalAdvance(text) > room + 1; };
    if (const auto* label = qobject_cast<const QLabel*>(&w)) {
        if (label->text().isEmpty() || label->textFormat() == Qt::RichText || label->text().contains(QLatin1Char('<')))
            return label->hasHeightForWidth() && label->heightForWidth(label->width()) > label->height() + 2;
        if (label->wordWrap())
            return label->heightForWidth(label->width()) > label->height() + 2;
        for (const QString& line : label->text().split(QLatin1Char('\n')))
            if (wide(line, label->contentsRect().width()))
                return !line.endsWith(QStringLiteral("…"));
        return false;
    }
    if (const auto* button = qobject_cast<const QPushButton*>(&w))
        return wide(button->text().remove(QLatin1Char('&')), button->width() - 8)
               && !button->text().contains(QStringLiteral("…"));
    if (qobject_cast<const QCheckBox*>(&w))
        return w.sizeHint().width() > w.width() + 1;
    if (const auto* box = qobject_cast<const QComboBox*>(&w))
        return wide(box->currentText(), box->width() - 26);
    if (const auto* line = qobject_cast<const QLineEdit*>(&w))
        return qobject_cast<const QuantityEdit*>(line->parentWidget()) && wide(line->text(), line->width() - 10);
    return false;
}

/// Whether it stands outside the widget that holds it, and is not scrolled there.
bool isOutside(const QWidget& w)
{
    const QWidget* parent = w.parentWidget();
    if (!parent || w.isWindow())
        return false;
    for (const QWidget* up = parent; up; up = up->parentWidget())
        if (qobject_cast<const QScrollArea*>(up))
            return false; // it is reached by scrolling
    return !parent->rect().adjusted(-1, -1, 1, 1).contains(w.geometry());
}

/// Whether something in an area that does not scroll sideways finds no room there.
bool isTooWide(const QScrollArea& area)
{
    return area.horizontalScrollBarPolicy() == Qt::ScrollBarAlwaysOff && area.widget()
           && area.widget()->width() > area.viewport()->width() + 1;
}

/// Whether two widgets of one layout lie on one another.
QStringList overlaps(const QWidget& w)
{
    QStringList found;
    if (!w.layout())
        return found;
    QList<const QWidget*> seen;
    for (const QObject* child : w.children()) {
        const auto* one = qobject_cast<const QWidget*>(child);
        if (!one || !one->isVisible() || one->isWindow())
            continue;
        for (const QWidget* other : seen) {
            const QRect common = one->geometry() & other->geometry();
            if (common.width() > 2 && common.height() > 2)
                found += nameOf(*one) + QStringLiteral(" over ") + nameOf(*other);
        }
        seen += one;
    }
    return found;
}

QStringList headsCut(const QTableWidget& table)
{
    QStringList cut;
    const QHeaderView& head = *table.horizontalHeader();
    if (!head.isVisible())
        return cut;
    const QFontMetrics metrics(head.font());
    for (int c = 0; c < table.columnCount(); ++c)
        if (const auto* item = table.horizontalHeaderItem(c); item && !table.isColumnHidden(c))
            for (const QString& line : item->text().split(QLatin1Char('\n')))
                if (metrics.horizontalAdvance(line) + 6 > head.sectionSize(c) && item->toolTip().isEmpty())
                    cut += item->text();
    return cut;
}

} // namespace

/// Nothing is cut and nothing lies outside: every station and the machine page, from 1100 × 700 to 2560 × 1440, in both
/// unit systems and both themes, on a servo, a stepper, a linear and a turning axis. Run also at 150 % and 200 % scale.
class TestLooks : public QObject {
    Q_OBJECT

    std::unique_ptr<WindowFixture> m;

    [[nodiscard]] QStringList wrong()
    {
        QStringList found;
        for (QWidget* w : m->window().findChildren<QWidget*>()) {
            if (!w->isVisible() || w->width() < 2)
                continue;
            if (isCut(*w))
                found += QStringLiteral("cut: %1 %2x%3").arg(nameOf(*w)).arg(w->width()).arg(w->height());
            if (isOutside(*w))
                found += QStringLiteral("outside: %1").arg(nameOf(*w));
            if (const auto* area = qobject_cast<QScrollArea*>(w); area && isTooWide(*area))
                found += QStringLiteral("too wide: %1 in %2")
                             .arg(area->widget()->width())
                             .arg(nameOf(*area->parentWidget()));
            for (const QString& pair : overlaps(*w))
                found += QStringLiteral("on one another: ") + pair;
            if (const auto* table = qobject_cast<QTableWidget*>(w))
                for (const QString& head : headsCut(*table))
                    found += QStringLiteral("cut head: %1 of %2").arg(head, nameOf(*w));
        }
        return found;
    }

private Q_SLOTS:
    void init() { m = std::make_unique<WindowFixture>(); }
    void cleanup()
    {
        m.reset();
        setUnitSystem(UnitSystem::Metric);
        applyTheme(*qobject_cast<QApplication*>(QCoreApplication::instance()), false);
    }

    void nothingIsCut_data()
    {
        QTest::addColumn<QSize>("size");
        QTest::addColumn<bool>("imperial");
        QTest::addColumn<bool>("dark");
        QTest::addColumn<int>("axis");
        for (const int axis : {0, 1, 2, 3, 4, 5})
            for (const bool imperial : {false, true})
                QTest::addRow("small, A%d, %s", axis + 1, imperial ? "imperial" : "metric")
                    << QSize(1100, 700) << imperial << imperial << axis;
        QTest::newRow("usual") << QSize(1280, 800) << false << false << 0;
        QTest::newRow("usual, imperial") << QSize(1280, 800) << true << true << 1;
        QTest::newRow("wide") << QSize(2560, 1440) << false << true << 0;
        QTest::newRow("wide, imperial") << QSize(2560, 1440) << true << false << 2;
    }
    void nothingIsCut()
    {
        QFETCH(QSize, size);
        QFETCH(bool, imperial);
        QFETCH(bool, dark);
        QFETCH(int, axis);
        applyTheme(*qobject_cast<QApplication*>(QCoreApplication::instance()), dark);
        setUnitSystem(imperial ? UnitSystem::Imperial : UnitSystem::Metric);
        m->window().resize(size);
        m->window().show();
        m->document().selectAxis(static_cast<std::size_t>(axis));
        m->settle();
        QCOMPARE(m->window().size(), size); // no station asks for more
        QStringList all;
        for (int station = 0; station <= MainWindow::machineView; ++station) {
            m->window().goTo(station);
            m->settle();
            QTest::qWait(30);
            QCOMPARE(m->window().size(), size);
            // what folds anew does so a moment later, and that moment is longer under a sanitizer
            QStringList found = wrong();
            for (int tries = 0; tries < 20 && !found.isEmpty(); ++tries) {
                QTest::qWait(50);
                found = wrong();
            }
            for (const QString& what : found)
                all += QStringLiteral("%1: %2").arg(station).arg(what);
        }
        QVERIFY2(all.isEmpty(), qPrintable(all.join(QLatin1Char('\n'))));
    }
};

QTEST_MAIN(TestLooks)
#include "tst_looks.moc"
