#include "store/machinejson.h"
#include "store/schema.h"

#include <QTest>

#include <nlohmann/json.hpp>
#include <valijson/adapters/nlohmann_json_adapter.hpp>
#include <valijson/schema.hpp>
#include <valijson/schema_parser.hpp>
#include <valijson/validator.hpp>

using nlohmann::json;

/// The published JSON Schema, read by a validator that knows nothing of this program.
class TestSchema : public QObject {
    Q_OBJECT

    valijson::Schema m_schema;
    bool valid(const json& document, std::string* why = nullptr)
    {
        valijson::Validator validator;
        valijson::ValidationResults results;
        const bool good = validator.validate(m_schema, valijson::adapters::NlohmannJsonAdapter(document), &results);
        valijson::ValidationResults::Error error;
        while (why && results.popError(error)) {
            for (const auto& part : error.context)
                *why += part;
            *why += ": " + error.description + "\n";
        }
        return good;
    }

private Q_SLOTS:
    void initTestCase()
    {
        const json text = json::parse(ridge::store::machineSchema());
        valijson::SchemaParser parser;
        parser.populateSchema(valijson::adapters::NlohmannJsonAdapter(text), m_schema);
    }
    void theDemoMachineFits()
    {
        std::string why;
        QVERIFY2(valid(json::parse(ridge::store::writeMachine(ridge::store::demoMachine())), &why), why.c_str());
    }
    void whatDoesNotFitIsSeen()
    {
        json m = json::parse(ridge::store::writeMachine(ridge::store::demoMachine()));
        m["axes"][0]["load"]["friction"] = -1;
        QVERIFY(!valid(m));
        m["axes"][0]["load"]["friction"] = 0.01;
        QVERIFY(valid(m));
        m["axes"][0]["mechanism"]["type"] = "spring";
        QVERIFY(!valid(m));
        m["axes"][0]["mechanism"]["type"] = "ball-screw";
        m["version"] = 7;
        QVERIFY(!valid(m));
    }
};

QTEST_GUILESS_MAIN(TestSchema)
#include "tst_schema.moc"
