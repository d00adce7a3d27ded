#pragma once
#include "windowfixture.h"

#include <QComboBox>
#include <QLineEdit>
#include <QPushButton>
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
};
