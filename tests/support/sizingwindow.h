#pragma once
#include "core/stations/evaluate.h"
#include "support/windowfixture.h"

#include <QAction>
#include <QApplication>
#include <QComboBox>
#include <QDialog>
#include <QDropEvent>
#include <QFile>
#include <QLineEdit>
#include <QMimeData>
#include <QTableWidget>
#include <QTest>
#include <QTimer>

#include <functional>

/// What the tests of Load, Move and Match in the real window share.
namespace sizingwindow {

using namespace ridge;

template <class T>
T* inside(QWidget* parent, const char* name)
{
    return parent->findChild<T*>(QString::fromLatin1(name));
}

inline void put(const QString& path, const QByteArray& data)
{
    QFile file(path);
    QVERIFY(file.open(QIODevice::WriteOnly));
    QCOMPARE(file.write(data), data.size());
}

/// Does something with the dialog that opens while `begin` runs.
template <class D>
bool withDialog(const std::function<void()>& begin, const std::function<void(D&)>& act)
{
    bool met = false;
    QTimer timer;
    timer.setInterval(10);
    QObject::connect(&timer, &QTimer::timeout, [&] {
        auto* dialog = qobject_cast<D*>(QApplication::activeModalWidget());
        if (!dialog)
            return;
        timer.stop();
        met = true;
        act(*dialog);
        if (dialog->isVisible())
            dialog->reject();
    });
    timer.start();
    begin();
    return met;
}

inline void typeInto(QLineEdit* line, const char* text)
{
    line->setFocus();
    line->selectAll();
    QTest::keyClicks(line, QString::fromUtf8(text));
    QTest::keyClick(line, Qt::Key_Return);
}

/// The window on a fresh copy of the demo for every test.
class OnTheDemo : public QObject {
protected:
    std::unique_ptr<WindowFixture> m;

    void go(std::size_t axis, Station station)
    {
        m->document().selectAxis(axis);
        m->window().goTo(static_cast<int>(station));
        m->settle();
    }
    void drop(const QString& path)
    {
        QMimeData data;
        data.setUrls({QUrl::fromLocalFile(path)});
        QDragEnterEvent enter(QPoint(300, 300), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        QCoreApplication::sendEvent(&m->window(), &enter);
        QDropEvent event(QPointF(300, 300), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        QCoreApplication::sendEvent(&m->window(), &event);
        m->settle();
    }
    void showPicture(const char* begin)
    {
        auto* list = m->find<QComboBox>("match.picture");
        const int at = list->findText(QString::fromLatin1(begin), Qt::MatchStartsWith);
        QVERIFY2(at >= 0, begin);
        list->setCurrentIndex(at);
        Q_EMIT list->activated(at);
        m->settle();
    }
    [[nodiscard]] QTableWidget* candidates() { return m->find<QTableWidget>("candidates"); }
    [[nodiscard]] int shownRows() { return candidates()->rowCount(); }
};

} // namespace sizingwindow
