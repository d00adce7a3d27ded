// Sets of values in and out of files of the trade.
#include "core/stations/parametersets.h"
#include "store/machinejson.h"
#include "store/parameterfiles.h"

#include <QTest>

#include <random>

using namespace ridge;

namespace {
const DriveValues some{{{0x6072, 0}, 900}, {{0x608F, 1}, 131072}, {{0x607D, 1}, -15000}, {{0x2120, 4}, 500000}};
const std::map<std::string, std::string> strange{{"9A00:1", "17, of \"them\""}};
Axis lift() { return store::demoMachine().axes[0]; }

bool has(const std::string& text, const char* part) { return text.find(part) != std::string::npos; }
} // namespace

class TestSets : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void tablesGoThereAndBack()
    {
        const std::string csv = store::writeSetCsv(lift(), some, strange);
        QVERIFY(csv.starts_with("object,name,value,meaning\n"));
        const auto back = store::parseSetCsv(csv);
        QVERIFY(back && back->refused.empty());
        QVERIFY(back->values == some);
        QVERIFY(back->foreign == strange); // kept as it came
    }

    /// Sections and keys of a device configuration file (CiA 306, from memory of its form).
    void deviceConfigurationsGoThereAndBack()
    {
        const std::string dcf = store::writeDcf({"Bench", "Marl 2.5", "4711", "1.4", "Tray\nlift"}, some, strange);
        QVERIFY(has(dcf, "[FileInfo]"));
        QVERIFY(has(dcf, "[608Fsub1]"));
        QVERIFY(has(dcf, "ParameterValue=131072"));
        QVERIFY(has(dcf, "[6072]") && has(dcf, "DataType=0x0006")); // UNSIGNED16
        QVERIFY(!has(dcf, "Tray\nlift"));                           // nobody writes a line of his own into it
        const auto back = store::parseDcf(dcf);
        QVERIFY(back && back->refused.empty());
        QVERIFY(back->values == some);
        QCOMPARE(back->foreign.size(), std::size_t(1));
    }

    void numbersAreReadAsSuchFilesWriteThem()
    {
        const auto read = store::parseDcf("; made by hand\r\n[6072]\r\nParameterName=x\r\nParameterValue=0x3E8\r\n"
                                          "[608FSUB1]\r\nparametervalue=010\r\n[607D Sub2]\nParameterValue=5\n");
        QVERIFY(read);
        QCOMPARE(read->values.at({0x6072, 0}), std::int64_t(1000));
        QCOMPARE(read->values.at({0x608F, 1}), std::int64_t(8)); // octal, as the leading nought says
    }

    /// The columns by their heading, whatever stands between; a German table with semicolons.
    void tablesOfOthersAreRead()
    {
        const auto read = store::parseSetCsv("nr;value;object\n1;900;6072\n2;-7;607D:1\n");
        QVERIFY(read);
        QCOMPARE(read->values.at({0x6072, 0}), std::int64_t(900));
        QCOMPARE(read->values.at({0x607D, 1}), std::int64_t(-7));
    }

    void whatIsWrongIsRefusedByItsRow()
    {
        const auto read = store::parseSetCsv("object,value\n6072,900\n6072:0,1.5\n6060,much\n2120:1,-4\nZZ,1\n");
        QVERIFY(read);
        QCOMPARE(read->values.size(), std::size_t(1));
        QCOMPARE(read->foreign.size(), std::size_t(1)); // ZZ, kept
        QCOMPARE(read->refused.size(), std::size_t(3));
        QVERIFY(has(read->refused[0].subject + messageFor(read->refused[0]), "line 3"));
        QVERIFY(has(messageFor(read->refused[2]), "range")); // what, why, what may be
    }

    void hostileFiles()
    {
        QVERIFY(!store::parseSetCsv(""));
        QVERIFY(!store::parseDcf(""));
        QVERIFY(!store::parseDcf("not a file of any kind"));
        std::string many = "object,value\n";
        for (int k = 0; k < 30000; ++k)
            many += "6072,1\n";
        QVERIFY(!store::parseSetCsv(many));
        std::mt19937 random(11);
        const std::string seeds[]{store::writeSetCsv(lift(), some, strange),
                                  store::writeDcf({"a", "b", "c", "d", "e"}, some, strange)};
        int taken = 0;
        for (int k = 0; k < 2000; ++k) {
            std::string text = seeds[k % 2];
            for (int n = 0; n < 8; ++n)
                text[random() % text.size()] = static_cast<char>(random() % 256);
            if (const auto a = store::parseSetCsv(text))
                for (const auto& [key, value] : a->values) { // whatever is taken lies in its range
                    const ObjectEntry* e = ObjectDictionary::shipped().find(key);
                    QVERIFY(e && e->stored() && value >= e->least() && value <= e->most());
                    ++taken;
                }
            if (const auto b = store::parseDcf(text))
                for (const auto& [key, value] : b->values)
                    QVERIFY(ObjectDictionary::shipped().find(key)->least() <= value);
        }
        QVERIFY(taken > 0);
    }
};

QTEST_GUILESS_MAIN(TestSets)
#include "tst_sets.moc"
