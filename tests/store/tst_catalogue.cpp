#include "core/drives/validate.h"
#include "core/model/solids.h"
#include "store/catalogue.h"
#include "store/tables.h"

#include <QTest>

#include <cmath>

using namespace ridge;
using namespace ridge::store;

/// Parts and tables from elsewhere: JSON and CSV, their units, their limits, and what is wrong with a row.
class TestCatalogue : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void tablesAreReadWithTheirUnits()
    {
        std::string csv = "time (ms);\"position; of the slide (in)\"\n";
        for (int k = 0; k < 10; ++k)
            csv += std::to_string(k * 10) + ";" + std::to_string(k) + ",5\n";
        const auto motion = parseRecorded(csv, false);
        QVERIFY2(motion.has_value(), motion ? "" : motion.error().actual.c_str());
        QVERIFY(std::abs(motion->times[3] - 0.03) < 1e-12);
        QVERIFY(std::abs(motion->positions[3] - 3.5 * 0.0254) < 1e-12);
        const auto angle =
            parseRecorded("0,0\n1,1\n2,2\n3,3\n4,4\n5,5\n6,6\n7,90\n", true); // degrees without a heading
        QVERIFY(angle && std::abs(angle->positions.back() - 1.5707963267948966) < 1e-12);
        const auto torque = parseMeasured("\xEF\xBB\xBFn [rpm]\tT [lbf*in]\tTc [lbf*in]\r\n0\t10\t5\r\n1000\t8\t4\r\n");
        QVERIFY2(torque.has_value(), torque ? "" : torque.error().actual.c_str());
        QVERIFY(std::abs((*torque)[1].shortTime - 8 * 0.1129848290276167) < 1e-9);
    }

    void badTablesNameTheirPlace_data()
    {
        QTest::addColumn<QByteArray>("csv");
        QTest::addColumn<QByteArray>("code");
        QTest::addColumn<QByteArray>("place");
        QTest::newRow("text") << QByteArray("0,1,1\n100,x,1\n") << QByteArray("file-damaged")
                              << QByteArray("line 2, column 2");
        QTest::newRow("short line") << QByteArray("0,1,1\n100,1\n") << QByteArray("file-damaged")
                                    << QByteArray("line 2");
        QTest::newRow("speed runs back") << QByteArray("0,1,1\n100,1,1\n50,1,1\n") << QByteArray("measured-order")
                                         << QByteArray("row 3");
        QTest::newRow("more lasting than short")
            << QByteArray("0,1,2\n") << QByteArray("measured-order") << QByteArray("row 1");
        QTest::newRow("one row") << QByteArray("0,2,1\n") << QByteArray("measured-order") << QByteArray();
        QTest::newRow("unknown unit") << QByteArray("n [furlongs],T [N*m],T [N*m]\n") << QByteArray("unknown-unit")
                                      << QByteArray("line 1, column 1");
        QTest::newRow("other unit") << QByteArray("n [rpm],T [kg],T [N*m]\n") << QByteArray("wrong-dimension")
                                    << QByteArray("line 1, column 2");
    }
    void badTablesNameTheirPlace()
    {
        QFETCH(QByteArray, csv);
        QFETCH(QByteArray, code);
        QFETCH(QByteArray, place);
        const auto rows = parseMeasured(csv.toStdString());
        QVERIFY(!rows.has_value());
        QCOMPARE(rows.error().code, code.toStdString());
        QVERIFY2(rows.error().subject.find(place.toStdString()) != std::string::npos, rows.error().subject.c_str());
    }

    void aPartOfTheSameNameReplaces()
    {
        Catalogue all = shippedCatalogue(), own;
        own.motors.push_back(all.motors[3]);
        own.motors[0].inertia *= 2;
        own.encoders.push_back({"Own ring", 4096, 0.001, 600, true, false});
        const std::size_t motors = all.motors.size(), encoders = all.encoders.size();
        mergeCatalogue(all, own);
        QCOMPARE(all.motors.size(), motors);
        QCOMPARE(all.motors[3].inertia, own.motors[0].inertia);
        QCOMPARE(all.encoders.size(), encoders + 1);
        const auto back = parseCatalogue(writeCatalogue(all, "all"));
        QVERIFY(back && back->refused.empty());
        QVERIFY(back->motors == all.motors && back->encoders == all.encoders && back->brakes == all.brakes
                && back->supplies == all.supplies);
    }

    /// The catalogue of the program has what it promises (product description) and every motor agrees with itself.
    void theShippedCatalogueIsWhole()
    {
        const Catalogue& c = shippedCatalogue();
        const auto count = [&](MotorKind kind) { return std::ranges::count(c.motors, kind, &ServoMotor::kind); };
        QVERIFY(count(MotorKind::Servo) >= 60 && count(MotorKind::Linear) >= 8 && count(MotorKind::Frameless) >= 8);
        QVERIFY(c.steppers.size() >= 20 && c.drives.size() >= 20 && c.gearboxes.size() >= 20);
        QVERIFY(!c.brakes.empty() && !c.resistors.empty() && !c.encoders.empty() && !c.supplies.empty());
        for (const ServoMotor& m : c.motors)
            for (const ConsistencyRule& r : motorConsistency(m))
                QVERIFY2(r.good, (m.name + ": " + r.meaning).c_str());
    }

    void catalogueRowsAreJudgedAlone()
    {
        QVERIFY(shippedCatalogue().motors.size() >= 12);
        const auto c = parseCatalogue(R"({"format":"vortex-ridge-catalogue","version":1,"brakeResistors":[
            {"name":"good","resistance_ohm":50,"continuousPower_W":100,"pulseEnergy_J":1000},
            {"name":"bad","resistance_ohm":-5,"continuousPower_W":100,"pulseEnergy_J":1000},
            {"name":"worse","resistance_ohm":"fifty"}]})");
        QVERIFY(c.has_value());
        QCOMPARE(c->resistors.size(), std::size_t{1});
        QCOMPARE(c->refused.size(), std::size_t{2});
        QVERIFY(c->refused[0].subject.find("/brakeResistors/1") != std::string::npos);
        QVERIFY(!parseCatalogue("{}").has_value());
        // a key that is not known is told, once, and the rest of the row counts
        const auto slip = parseCatalogue(R"({"format":"vortex-ridge-catalogue","version":1,"brakeResistors":[
            {"name":"a","resistance_ohm":50,"continuousPower_W":100,"pulseEnergy_J":1000,"puls_J":3},
            {"name":"b","resistance_ohm":50,"continuousPower_W":100,"pulseEnergy_J":1000,"puls_J":3}]})");
        QVERIFY(slip && slip->resistors.size() == 2 && slip->refused.size() == 1);
        QCOMPARE(slip->refused[0].code, std::string("unknown-column"));
        QCOMPARE(slip->refused[0].actual, std::string("puls_J"));
    }

    /// "1,000.5" between commas is two cells, and "1,000" in quotes may be a thousand: neither is read as 1.
    void commasInsideNumbers()
    {
        const std::string head = "name,resistance_ohm,continuousPower_W,pulseEnergy_J\n";
        const auto resistors = [&](const std::string& row) {
            return parseCatalogueCsv("resistors", head + row + "\n");
        };
        for (const char* row : {"A,50,1,000.5,900", "A,50,100,1,000.5", "A,50,\"1,000\",900", "A,50,\"1,000.5\",900"}) {
            const auto c = resistors(row);
            QVERIFY2(c && c->resistors.empty() && c->refused.size() == 1, row);
            QVERIFY2(messageFor(c->refused[0]).find("line 2") != std::string::npos, row);
        }
        const auto good = resistors("A,50,\"100,5\",900,,");
        QVERIFY(good && good->resistors.size() == 1 && good->resistors[0].continuousPower == 100.5);
        const auto semicolons =
            parseCatalogueCsv("resistors", "name;resistance_ohm;continuousPower_W;pulseEnergy_J\nA;50;"
                                           "1,125;900\n");
        QVERIFY(semicolons && semicolons->resistors.size() == 1 && semicolons->resistors[0].continuousPower == 1.125);
        QVERIFY(!parseMeasured("0,1,000.5,2\n100,8,4,2\n").has_value());
        QVERIFY(!parseMeasured("n [rpm],T [N*m],T [N*m]\n0,1,000.5,2\n100,8,4\n").has_value());
        QVERIFY(parseMeasured("n [rpm],T [N*m],T [N*m],who\n0,10,5,x\n100,8,4,y\n").has_value());
    }

    /// Two parts of one name cannot be told apart: the second is refused with its place, in both formats.
    void oneNameOnePart()
    {
        const auto csv = parseCatalogueCsv("resistors", "name,resistance_ohm,continuousPower_W,pulseEnergy_J\n"
                                                        "A,50,100,900\nB,50,100,900\nA,60,100,900\n");
        QVERIFY(csv && csv->resistors.size() == 2 && csv->refused.size() == 1);
        QCOMPARE(csv->refused[0].code, std::string("twice"));
        QCOMPARE(csv->refused[0].subject, std::string("line 4, name"));
        const auto json = parseCatalogue(R"({"format":"vortex-ridge-catalogue","brakeResistors":[
            {"name":"A","resistance_ohm":50,"continuousPower_W":100,"pulseEnergy_J":900},
            {"name":"A","resistance_ohm":60,"continuousPower_W":100,"pulseEnergy_J":900}]})");
        QVERIFY(json && json->resistors.size() == 1 && json->refused.size() == 1);
        QCOMPARE(json->refused[0].subject, std::string("/brakeResistors/1/name"));
    }

    /// A list that is too long says how long it is and may be, not that it is none.
    void aListThatIsTooLongSaysSo()
    {
        std::string many = R"({"format":"vortex-ridge-catalogue","servoMotors":[{"name":"A","measured":[)";
        for (int k = 0; k < 1200; ++k)
            many += k ? ",{}" : "{}";
        const auto read = parseCatalogue(many + "]}]}");
        QVERIFY(read && read->refused.size() == 1);
        QVERIFY2(read->refused[0].actual.find("1200 entries, at most 1000") != std::string::npos,
                 read->refused[0].actual.c_str());
    }

    /// A full cylinder with a bore is a slip, not a full cylinder.
    void aFullCylinderHasNoBore()
    {
        Solid s;
        s.a = 0.1;
        s.c = 0.2;
        QVERIFY(solidBody(s).has_value());
        s.b = 0.05;
        const auto refused = solidBody(s);
        QVERIFY(!refused);
        QCOMPARE(refused.error().code, std::string("full-cylinder"));
        QCOMPARE(refused.error().subject, std::string("b"));
        s.shape = SolidShape::Tube;
        QVERIFY(solidBody(s).has_value());
    }
};

QTEST_APPLESS_MAIN(TestCatalogue)
#include "tst_catalogue.moc"
