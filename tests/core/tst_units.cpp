#include "core/units/parse.h"
#include "core/units/print.h"

#include <QProcess>
#include <QTest>

#include <cmath>

using namespace ridge;

/// The one parser and printer of quantities, checked against GNU units (the program `units`) and by the words of its
/// refusals.
class TestUnits : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void agreesWithGnuUnits_data()
    {
        QTest::addColumn<QString>("typed"); // as people type it here
        QTest::addColumn<QString>("gnu");   // the same for GNU units
        QTest::addColumn<QString>("si");
        const auto row = [](const char* typed, const char* gnu, const char* si) {
            QTest::newRow(typed) << QString::fromUtf8(typed) << QString::fromUtf8(gnu) << QString::fromUtf8(si);
        };
        row("3 in", "3 inch", "m");
        row("2.5 ft", "2.5 ft", "m");
        row("7 mil", "7 mil", "m");
        row("12.5 kg*cm2", "12.5 kg cm^2", "kg m^2");
        row("0.4 oz-in2", "0.4 oz inch^2", "kg m^2");
        row("1.2 lb-in-s2", "1.2 lbf inch s^2", "kg m^2");
        row("3 oz-in-s2", "3 (1|16) lbf inch s^2", "kg m^2");
        row("40 oz-in", "40 (1|16) lbf inch", "N m");
        row("15 lb-in", "15 lbf inch", "N m");
        row("6 lb-ft", "6 lbf ft", "N m");
        row("12 kgf-cm", "12 kgf cm", "N m");
        row("1500 rpm", "1500 rev/min", "radian/s");
        row("2 rps", "2 rev/s", "radian/s");
        row("90 deg", "90 degree", "radian");
        row("5 arcmin", "5 arcmin", "radian");
        row("12 arcsec", "12 arcsec", "radian");
        row("1,5 kW", "1.5 kW", "W");
        row("2 hp", "2 hp", "W");
        row("90 psi", "90 psi", "Pa");
        row("6 bar", "6 bar", "Pa");
        row("120 ipm", "120 inch/min", "m/s");
        row("386 in/s2", "386 inch/s^2", "m/s^2");
        row("3 lbf", "3 lbf", "N");
        row("4 slug", "4 slug", "kg");
        row("3 lb", "3 lb", "kg");
        row("1.5 mm2", "1.5 mm^2", "m^2");
        row("=2*18.4 N", "2*18.4 N", "N");
        row("60 V/krpm", "60 V/(1000 rev/min)", "V s/radian");
        row("3 N*m/A", "3 N m/A", "N m/A");
        row("250 N/um", "250 N/micrometer", "N/m");
        row("0.4 N*m/arcmin", "0.4 N m/arcmin", "N m/radian");
    }
    void agreesWithGnuUnits()
    {
        QFETCH(QString, typed);
        QFETCH(QString, gnu);
        QFETCH(QString, si);
        QProcess units;
        units.start(QStringLiteral("units"),
                    {QStringLiteral("--terse"), QStringLiteral("--digits"), QStringLiteral("15"), gnu, si});
        QVERIFY2(units.waitForFinished(10000) && units.exitCode() == 0, "GNU units is in packages.txt");
        bool good = false;
        const double want = QString::fromUtf8(units.readAllStandardOutput()).trimmed().toDouble(&good);
        QVERIFY2(good && want != 0, qPrintable(gnu));
        const auto got = parseMeasure(typed.toStdString());
        QVERIFY2(got.has_value(), got ? "" : messageFor(got.error()).c_str());
        QVERIFY2(std::abs(got->value / want - 1) < 1e-12,
                 qPrintable(QStringLiteral("%1 is not %2").arg(got->value, 0, 'g', 15).arg(want, 0, 'g', 15)));
    }

    /// tempC and tempF are functions in GNU units; fixed points from the definition of the scales.
    void temperaturesAreAffine_data()
    {
        QTest::addColumn<QString>("typed");
        QTest::addColumn<double>("kelvin");
        QTest::newRow("ice") << QStringLiteral("0 degC") << 273.15;
        QTest::newRow("ice in fahrenheit") << QStringLiteral("32 degF") << 273.15;
        QTest::newRow("steam") << QStringLiteral("212 °F") << 373.15;
        QTest::newRow("where both agree") << QStringLiteral("-40 degF") << 233.15;
        QTest::newRow("comma") << QStringLiteral("36,6 °C") << 309.75;
    }
    void temperaturesAreAffine()
    {
        QFETCH(QString, typed);
        QFETCH(double, kelvin);
        const auto got = parseQuantity(typed.toStdString(), Quantity::Temperature);
        QVERIFY(got.has_value());
        QVERIFY2(std::abs(*got - kelvin) < 1e-9, qPrintable(QString::number(*got, 'g', 12)));
    }

    void arithmeticAndBareNumbers_data()
    {
        QTest::addColumn<QString>("typed");
        QTest::addColumn<double>("metres");
        QTest::newRow("default unit") << QStringLiteral("12") << 0.012;
        QTest::newRow("sum") << QStringLiteral("=10+2") << 0.012;
        QTest::newRow("mixed units") << QStringLiteral("=1 in + 4.6 mm") << 0.03;
        QTest::newRow("brackets") << QStringLiteral("=(3+1)*2 mm") << 0.008;
        QTest::newRow("negative") << QStringLiteral("-3 mm") << -0.003;
        QTest::newRow("exponent") << QStringLiteral("1.5e-3 m") << 0.0015;
        QTest::newRow("decimal comma") << QStringLiteral("1,234 mm") << 0.001234;
    }
    void arithmeticAndBareNumbers()
    {
        QFETCH(QString, typed);
        QFETCH(double, metres);
        const auto got = parseQuantity(typed.toStdString(), Quantity::Length, "mm");
        QVERIFY2(got.has_value(), got ? "" : messageFor(got.error()).c_str());
        QVERIFY2(std::abs(*got - metres) < 1e-15, qPrintable(QString::number(*got, 'g', 15)));
    }

    void refusesInWords_data()
    {
        QTest::addColumn<QString>("typed");
        QTest::addColumn<QString>("code");
        QTest::addColumn<QString>("word"); // has to stand in the sentence
        QTest::newRow("force for a torque")
            << QStringLiteral("3 N") << QStringLiteral("wrong-dimension") << QStringLiteral("force");
        QTest::newRow("frequency for a torque")
            << QStringLiteral("3 Hz") << QStringLiteral("wrong-dimension") << QStringLiteral("torque");
        QTest::newRow("unknown unit") << QStringLiteral("3 furlong") << QStringLiteral("unknown-unit")
                                      << QStringLiteral("furlong");
        QTest::newRow("words") << QStringLiteral("about three") << QStringLiteral("not-a-number")
                               << QStringLiteral("about three");
        QTest::newRow("nothing behind the sum")
            << QStringLiteral("=2+") << QStringLiteral("not-a-number") << QStringLiteral("2+");
        QTest::newRow("division by zero")
            << QStringLiteral("=1/0") << QStringLiteral("not-a-number") << QStringLiteral("1/0");
        QTest::newRow("infinite") << QStringLiteral("1e400") << QStringLiteral("not-a-number")
                                  << QStringLiteral("1e400");
        QTest::newRow("nan") << QStringLiteral("nan") << QStringLiteral("not-a-number") << QStringLiteral("nan");
        QTest::newRow("mixed sum") << QStringLiteral("=1 N + 1 m") << QStringLiteral("wrong-dimension") << QString();
    }
    void refusesInWords()
    {
        QFETCH(QString, typed);
        QFETCH(QString, code);
        QFETCH(QString, word);
        const auto got = parseQuantity(typed.toStdString(), Quantity::Torque);
        QVERIFY2(!got.has_value(), "this should have been refused");
        QCOMPARE(QString::fromStdString(got.error().code), code);
        QVERIFY2(QString::fromStdString(messageFor(got.error())).contains(word), messageFor(got.error()).c_str());
    }

    /// A turn is not a hertz: 1500 rpm never passes for a frequency.
    void anglesAreKeptApart()
    {
        QVERIFY(!parseQuantity("1500 rpm", Quantity::Frequency).has_value());
        QVERIFY(!parseQuantity("25 Hz", Quantity::AngularSpeed).has_value());
        QVERIFY(parseQuantity("25 rev/s", Quantity::AngularSpeed).has_value());
    }

    void everyQuantityPrintsAndReadsBack()
    {
        for (const QuantityInfo& q : allQuantities())
            for (const UnitSystem system : {UnitSystem::Metric, UnitSystem::Imperial})
                for (const double si : {0.0, 1.0, -3.25, 0.0123456, 4.2e-5, 98765.0}) {
                    if (q.quantity == Quantity::Temperature && si < 0)
                        continue;
                    const std::string text = print(si, q.quantity, system, 12);
                    const auto back = parseQuantity(text, q.quantity, displayUnit(q.quantity, system));
                    QVERIFY2(back.has_value(), (text + ": " + std::string(q.id)).c_str());
                    QVERIFY2(std::abs(*back - si) <= 1e-9 * std::max(1.0, std::abs(si))
                                                         + (q.quantity == Quantity::Temperature ? 1e-6 : 0),
                             (text + ": " + std::string(q.id)).c_str());
                }
    }

    /// A wrong unit is told by what it is, never by exponents.
    void everyQuantityHasAName()
    {
        for (const QuantityInfo& q : allQuantities())
            QVERIFY2(!describe(dimensionOf(q.quantity)).starts_with("a quantity in"), std::string(q.id).c_str());
    }

    void numbersAreShortAndPlain_data()
    {
        QTest::addColumn<double>("value");
        QTest::addColumn<QString>("text");
        QTest::newRow("trailing zeros") << 2.5000 << QStringLiteral("2.5");
        QTest::newRow("whole") << 1200.0 << QStringLiteral("1200");
        QTest::newRow("rounded") << 1.23456 << QStringLiteral("1.235");
        QTest::newRow("zero") << -0.0 << QStringLiteral("0");
        QTest::newRow("not a number") << std::nan("") << QStringLiteral("–");
    }
    void numbersAreShortAndPlain()
    {
        QFETCH(double, value);
        QFETCH(QString, text);
        QCOMPARE(QString::fromStdString(printNumber(value)), text);
    }

    void smallValuesGetASmallerUnit()
    {
        QCOMPARE(QString::fromStdString(print(0.01989, Quantity::Time)), QStringLiteral("19.89\u00A0ms"));
        QCOMPARE(QString::fromStdString(print(2.5e-5, Quantity::Length)), QStringLiteral("25\u00A0µm"));
        QCOMPARE(QString::fromStdString(print(9.0, Quantity::Length)), QStringLiteral("9\u00A0m"));
        QCOMPARE(QString::fromStdString(print(1.5e-6, Quantity::Area)), QStringLiteral("1.5\u00A0mm²"));
        QCOMPARE(QString::fromStdString(print(3.2, Quantity::Time)), QStringLiteral("3.2\u00A0s"));
    }

    /// Inch fractions and feet with inches, as they stand on drawings.
    void mixedMeasures_data()
    {
        QTest::addColumn<QString>("text");
        QTest::addColumn<double>("metres");
        QTest::newRow("fraction") << "3 1/2 in" << 3.5 * 0.0254;
        QTest::newRow("sixteenths") << "12 11/16 in" << (12 + 11.0 / 16) * 0.0254;
        QTest::newRow("alone") << "7/8 in" << 0.875 * 0.0254;
        QTest::newRow("feet and inches") << "5 ft 6 in" << 66 * 0.0254;
        QTest::newRow("feet and inches and a fraction") << "5 ft 6 1/4 in" << 66.25 * 0.0254;
        QTest::newRow("below zero") << "-5 ft 6 in" << -66 * 0.0254;
        QTest::newRow("in a sum") << "=5 ft 6 in - 6 in" << 60 * 0.0254;
        QTest::newRow("taken from") << "=10 ft - 5 ft 6 in" << 54 * 0.0254;
        QTest::newRow("metric") << "1 m 20 cm" << 1.2;
        QTest::newRow("a product stays one") << "=2*3 in" << 6 * 0.0254;
    }
    void mixedMeasures()
    {
        QFETCH(QString, text);
        QFETCH(double, metres);
        const auto read = parseQuantity(text.toStdString(), Quantity::Length, "mm");
        QVERIFY2(read.has_value(), read ? "" : messageFor(read.error()).c_str());
        QVERIFY2(std::abs(*read - metres) < 1e-12, qPrintable(QString::number(*read, 'g', 12)));
    }
    void whatIsNoMixedMeasure()
    {
        for (const char* text : {"3 1/2/4 in", "3 5/2 in", "5 ft 6 kg", "3 kg 5", "1 2 in", "3 1/0 in"}) {
            const auto read = parseQuantity(text, Quantity::Length, "mm");
            QVERIFY2(!read.has_value(), text);
        }
    }

    /// Who types a unit that is none is told which there are.
    void anUnknownUnitNamesThoseThatFit()
    {
        const auto read = parseQuantity("12 apples", Quantity::Mass, "kg");
        QVERIFY(!read);
        QCOMPARE(QString::fromStdString(messageFor(read.error())),
                 QStringLiteral("I do not know the unit “apples”. This is a mass, as in kg or lb."));
        const auto plain = parseQuantity("3 apples", Quantity::Ratio);
        QVERIFY(!plain && messageFor(plain.error()).ends_with("without a unit."));
    }
};

QTEST_GUILESS_MAIN(TestUnits)
#include "tst_units.moc"
