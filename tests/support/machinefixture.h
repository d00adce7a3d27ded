#pragma once
#include "app/shell/shots.h"

#include "windowfixture.h"

#include <QComboBox>
#include <QLineEdit>
#include <QPushButton>
#include <QTabWidget>
#include <QTableWidget>
#include <QTest>

/// The real window, and what a person does on its machine page.
class MachineFixture : public WindowFixture {
public:
    void machinePage()
    {
        window().goTo(ridge::app::MainWindow::machineView);
        settle();
    }
    /// The tab of the machine page that begins so.
    void tab(const char* title)
    {
        auto* tabs = find<QTabWidget>("machine.tabs");
        for (int k = 0; k < tabs->count(); ++k)
            if (tabs->tabText(k).startsWith(QString::fromUtf8(title)))
                tabs->setCurrentIndex(k);
        QVERIFY2(tabs->tabText(tabs->currentIndex()).startsWith(QString::fromUtf8(title)), title);
        settle();
    }
    void choose(int row)
    {
        find<QTableWidget>("machine.axes")->setCurrentCell(row, 0);
        settle();
    }
    void click(const char* name)
    {
        auto* b = find<QPushButton>(name);
        QVERIFY2(b && b->isEnabled(), name);
        QTest::mouseClick(b, Qt::LeftButton);
        settle();
    }
    void addAxis(const char* pattern, const char* name)
    {
        machinePage();
        auto* box = find<QComboBox>("axis.pattern");
        const int at = box->findData(QString::fromUtf8(pattern));
        QVERIFY2(at >= 0, pattern);
        box->setCurrentIndex(at);
        find<QLineEdit>("axis.name")->setText(QString::fromUtf8(name));
        click("axis.add");
    }
    /// S01 and S02 on their cards.
    void papersAndPlace()
    {
        using ridge::app::typeStep;
        QCOMPARE(typeStep(window(), 1, {{"assessment", "RA-7"}, {"plates", "yes"}, {"stops", "yes"}}), QString());
        QCOMPARE(typeStep(window(), 2, {{"area", "yes"}, {"charge", "yes"}, {"stop", "yes"}, {"propped", "yes"}}),
                 QString());
    }
    /// S03 with a bus that is dead.
    void deadBus()
    {
        QCOMPARE(ridge::app::typeStep(window(), 3,
                                      {{"provedBefore", "yes"},
                                       {"bus", "0.1 V"},
                                       {"lines", "0 V"},
                                       {"earth", "0 V"},
                                       {"provedAfter", "yes"}}),
                 QString());
    }
};
