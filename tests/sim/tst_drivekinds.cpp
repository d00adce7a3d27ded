#include "support/simulated.h"

#include <QTest>

using namespace ridge;
using Refusal = sim::Device::Refusal;

/// What the simulated drive does with each kind of axis.
class TestDriveKinds : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void everyDemoAxisMoves_data()
    {
        QTest::addColumn<QString>("axis");
        QTest::addColumn<double>("bandwidth");
        QTest::newRow("A1 lift") << "A1" << 25.0;
        QTest::newRow("A2 belt") << "A2" << 5.0;
        QTest::newRow("A3 dial") << "A3" << 10.0;
        QTest::newRow("A4 stepper") << "A4" << 1.0;
        QTest::newRow("A5 linear") << "A5" << 30.0;
        QTest::newRow("A6 frameless") << "A6" << 20.0;
    }
    void everyDemoAxisMoves()
    {
        QFETCH(QString, axis);
        QFETCH(double, bandwidth);
        Simulated s = demoAxis({axis.toStdString()});
        s.tune(bandwidth);
        s.speeds(5, 100);
        QVERIFY2(s.enable(1), qPrintable(QString::number(s.error(), 16)));
        const double from = s.angle();
        s.moveBy(4, 3000);
        QCOMPARE(s.error(), 0);
        QVERIFY2(std::abs(s.angle() - from - 4) < 0.02, qPrintable(QString::number(s.angle() - from)));
        s.moveBy(-4, 3000);
        QVERIFY2(std::abs(s.angle() - from) < 0.02, qPrintable(QString::number(s.angle() - from)));
    }
};

QTEST_GUILESS_MAIN(TestDriveKinds)
#include "tst_drivekinds.moc"
