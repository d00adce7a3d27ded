#include "core/model/fields.h"
#include "core/stations/evaluate.h"
#include "store/catalogue.h"
#include "store/machinefile.h"
#include "store/machinejson.h"
#include "store/tables.h"

#include <QTemporaryDir>
#include <QTest>

#include <nlohmann/json.hpp>

#include <cmath>
#include <random>

using namespace ridge;
using namespace ridge::store;
using nlohmann::json;

namespace {

/// A machine as nobody would build it: every field anywhere inside its limits, often at their very end.
class Chance {
public:
    explicit Chance(unsigned seed)
        : m_random(seed)
    {}
    int below(int n) { return static_cast<int>(m_random() % static_cast<unsigned>(n)); }
    double inside(const Limits& l, bool whole)
    {
        const double low = std::isfinite(l.low) ? l.low : -1e6, high = std::isfinite(l.high) ? l.high : 1e6;
        double x = low + (high - low) * std::uniform_real_distribution(0.0, 1.0)(m_random);
        switch (below(6)) {
        case 0: x = l.lowOpen ? std::nextafter(low, high) : low; break;
        case 1: x = high; break;
        case 2: x = low + (high - low) * std::pow(10.0, -below(12)); break;
        default: break;
        }
        if (l.lowOpen && x <= low)
            x = std::nextafter(low, high);
        return whole ? std::clamp(std::round(x), std::ceil(low), std::floor(high)) : x;
    }
    void fill(std::span<const Field> fields, void* object)
    {
        for (const Field& f : fields)
            switch (f.kind) {
            case FieldKind::Number:
                if (f.optional && below(4) == 0)
                    f.set(object, {});
                else
                    f.set(object, inside(f.limits, f.quantity == Quantity::Count));
                break;
            case FieldKind::Flag: f.set(object, below(2)); break;
            case FieldKind::Choice:
                f.setText(object,
                          std::string(f.choices[static_cast<std::size_t>(below(static_cast<int>(f.choices.size())))]));
                break;
            case FieldKind::Text: f.setText(object, text()); break;
            }
    }
    std::string text()
    {
        static const std::vector<std::string> words{
            "",   "plain", "µ ° ² Ω", "<b>no</b>",          "a\"b\\c", "\t\n", "../../etc", "'; DROP TABLE",
            "€𝄞", "0",     "null",    std::string(60, 'x'), "%s %n",   "{}"};
        return words[static_cast<std::size_t>(below(static_cast<int>(words.size())))];
    }
    Machine machine()
    {
        Machine m = demoMachine();
        m.name = "n" + text();
        m.note = text();
        fill(siteFields(), &m.site);
        for (Axis& a : m.axes) {
            const auto types = mechanismTypes();
            a.mechanism = *mechanismOf(types[static_cast<std::size_t>(below(static_cast<int>(types.size())))]);
            for (const FieldGroup& g : fieldGroups(a))
                fill(g.fields, g.object);
        }
        return m;
    }

private:
    std::mt19937 m_random;
};

/// The first field in which two machines differ, bit for bit; empty: they are the same.
std::string difference(Machine a, Machine b)
{
    if (a.name != b.name || a.note != b.note || a.axes.size() != b.axes.size())
        return "name, note or number of axes";
    const auto fields = [](std::span<const Field> all, const void* x, const void* y) -> std::string {
        for (const Field& f : all)
            if (f.kind == FieldKind::Number || f.kind == FieldKind::Flag ? f.get(x) != f.get(y)
                                                                         : f.getText(x) != f.getText(y))
                return std::string(f.key);
        return {};
    };
    if (std::string site = fields(siteFields(), &a.site, &b.site); !site.empty())
        return "site." + site;
    for (std::size_t k = 0; k < a.axes.size(); ++k) {
        const auto mine = fieldGroups(a.axes[k]), theirs = fieldGroups(b.axes[k]);
        if (mine.size() != theirs.size())
            return a.axes[k].id + ": groups";
        for (std::size_t g = 0; g < mine.size(); ++g)
            if (std::string field = fields(mine[g].fields, mine[g].object, theirs[g].object); !field.empty())
                return a.axes[k].id + " " + mine[g].key + "." + field;
    }
    return {};
}

/// Every place of a document, as JSON pointers.
void placesOf(const json& j, const json::json_pointer& at, std::vector<json::json_pointer>& out)
{
    out.push_back(at);
    if (j.is_object())
        for (const auto& [key, value] : j.items())
            placesOf(value, at / key, out);
    else if (j.is_array())
        for (std::size_t k = 0; k < j.size() && k < 3; ++k)
            placesOf(j[k], at / k, out);
}

} // namespace

/// Files that nobody would write and files that somebody spoiled. What is inside the limits goes there and back without
/// losing a bit; what is not is refused with a sentence that names its place; nothing crashes.
class TestFiles : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void anyMachineGoesThereAndBack()
    {
        for (unsigned seed = 1; seed <= 150; ++seed) {
            const Machine m = Chance(seed).machine();
            const std::string text = writeMachine(m);
            const auto back = parseMachine(text);
            const std::string what =
                "seed " + std::to_string(seed) + ": " + (back ? difference(*back, m) : messageFor(back.error()));
            QVERIFY2(back && difference(*back, m).empty(), what.c_str());
            QCOMPARE(writeMachine(*back), text);
        }
    }

    void anyMachineLivesInAFile()
    {
        const QTemporaryDir folder;
        for (unsigned seed = 1; seed <= 25; ++seed) {
            Chance chance(seed);
            const Machine m = chance.machine();
            const std::string path = folder.filePath(QString::number(seed)).toStdString() + ".vridge";
            QVERIFY(MachineFile::create(path, m).has_value());
            Machine edited = m;
            {
                auto file = MachineFile::open(path);
                QVERIFY(file && file->machine());
                QCOMPARE(difference(*file->machine(), m), std::string());
                Axis& a = edited.axes[static_cast<std::size_t>(chance.below(static_cast<int>(m.axes.size())))];
                for (const FieldGroup& g : fieldGroups(a))
                    chance.fill(g.fields, g.object);
                Change change;
                change.axes = {a};
                const auto kept = file->commit(change);
                QVERIFY2(kept.has_value(), kept ? "" : messageFor(kept.error()).c_str());
            }
            const auto again = MachineFile::open(path);
            QVERIFY2(again && again->machine(), path.c_str());
            QCOMPARE(difference(*again->machine(), edited), std::string());
            QVERIFY(again->chain().holds());
        }
    }

    /// What a person may enter is computed or told: no number that is none, no verdict without a reason.
    void anyMachineIsJudged()
    {
        for (unsigned seed = 1; seed <= 60; ++seed) {
            const Machine m = Chance(seed).machine();
            for (const Axis& a : m.axes) {
                const Evaluation e = evaluate(m, a, {.working = seed % 2 == 0});
                const std::string what =
                    "seed " + std::to_string(seed) + ", " + a.id + ", " + std::string(mechanismType(a.mechanism));
                for (const ResultValue& r : e.results)
                    QVERIFY2(std::isfinite(r.value), (what + ": " + r.id).c_str());
                for (const Check& c : e.checks) {
                    QVERIFY2(!c.margin || std::isfinite(*c.margin), (what + ": " + c.id).c_str());
                    QVERIFY2(!c.demand || std::isfinite(*c.demand), (what + ": " + c.id).c_str());
                    QVERIFY2(!plain(c.reason).empty(), (what + ": " + c.id).c_str());
                }
                for (const Error& problem : e.problems)
                    QVERIFY2(messageFor(problem).size() > 10, (what + ": " + problem.code).c_str());
            }
        }
    }

    /// One place of a good file spoiled: another type, nothing, an absurd number. It is refused, told, or taken as what
    /// it then says; it never crashes and never changes another place.
    void oneSpoiledPlace()
    {
        const json good = json::parse(writeMachine(demoMachine()));
        std::vector<json::json_pointer> places;
        placesOf(good, json::json_pointer(), places);
        QVERIFY2(places.size() > 500, qPrintable(QString::number(places.size())));
        const std::vector<json> instead{nullptr,        true, -1,    1e300,   json::array(),
                                        json::object(), "",   "abc", json(7), json::array({1, 2})};
        std::mt19937 random(5);
        int refused = 0, taken = 0;
        for (int n = 0; n < 800; ++n) {
            const auto& place = places[random() % places.size()];
            json spoiled = good;
            const json& put = instead[random() % instead.size()];
            const bool gone = random() % 5 == 0 && !place.empty();
            if (gone) {
                json& parent = spoiled[place.parent_pointer()];
                parent.is_object() ? void(parent.erase(place.back())) : void();
            } else {
                spoiled[place] = put;
            }
            const auto back = parseMachine(spoiled.dump());
            if (!back) {
                ++refused;
                QVERIFY2(messageFor(back.error()).size() > 10, place.to_string().c_str());
                continue;
            }
            ++taken;
            const auto again = parseMachine(writeMachine(*back));
            QVERIFY2(again && *again == *back, (place.to_string() + " := " + (gone ? "gone" : put.dump())).c_str());
        }
        QVERIFY2(refused > 300 && taken > 20, qPrintable(QStringLiteral("%1 %2").arg(refused).arg(taken)));
    }

    /// A file cut or with a byte turned anywhere: refused or whole, never a crash.
    void spoiledBytes()
    {
        const std::string good = writeMachine(demoMachine());
        std::mt19937 random(9);
        for (int n = 0; n < 400; ++n) {
            std::string spoiled = good;
            if (n % 2)
                spoiled.resize(random() % spoiled.size());
            else
                for (int k = 0; k < 1 + n % 5; ++k)
                    spoiled[random() % spoiled.size()] = static_cast<char>(random());
            const auto back = parseMachine(spoiled);
            QVERIFY(back || messageFor(back.error()).size() > 10);
        }
        const QTemporaryDir folder;
        const std::string path = folder.filePath(QStringLiteral("m.vridge")).toStdString();
        QVERIFY(MachineFile::create(path, demoMachine()).has_value());
        QFile whole(QString::fromStdString(path));
        QVERIFY(whole.open(QIODevice::ReadOnly));
        const QByteArray bytes = whole.readAll();
        whole.close();
        for (int n = 0; n < 120; ++n) {
            QByteArray spoiled = bytes;
            if (n % 3 == 0)
                spoiled.truncate(static_cast<qsizetype>(random() % static_cast<unsigned>(bytes.size())));
            else
                for (int k = 0; k < 20; ++k)
                    spoiled[static_cast<qsizetype>(random() % static_cast<unsigned>(bytes.size()))] =
                        static_cast<char>(random());
            const QString at = folder.filePath(QStringLiteral("spoiled.vridge"));
            QFile::remove(at);
            QFile file(at);
            QVERIFY(file.open(QIODevice::WriteOnly) && file.write(spoiled) == spoiled.size());
            file.close();
            const auto opened = MachineFile::open(at.toStdString());
            if (!opened) {
                QVERIFY(messageFor(opened.error()).size() > 10);
                continue;
            }
            const auto machine = opened->machine(); // what can still be read is read or told
            QVERIFY(machine || messageFor(machine.error()).size() > 10);
            (void)opened->facts();
            (void)opened->chain();
            (void)opened->versions();
        }
    }

    /// Parts and motions as tables: any bytes behind a good head.
    void spoiledTables()
    {
        std::mt19937 random(3);
        const std::string head = "name;T0 [N·m];I0 [A]\n";
        for (int n = 0; n < 600; ++n) {
            std::string text = n % 3 ? head : std::string();
            for (int k = 0; k < n % 80; ++k)
                text += n % 2 ? static_cast<char>(random()) : ";,\n\"0129.eE-+ abcµ"[random() % 18];
            for (const char* kind : {"motors", "drives", "gearboxes", "nonsense"}) {
                const auto parts = parseCatalogueCsv(kind, text);
                QVERIFY(parts || messageFor(parts.error()).size() > 10);
            }
            const auto parts = parseCatalogue(text);
            QVERIFY(parts || messageFor(parts.error()).size() > 10);
        }
    }
};

QTEST_GUILESS_MAIN(TestFiles)
#include "tst_files.moc"
