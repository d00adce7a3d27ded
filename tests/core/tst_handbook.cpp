#include "core/handbook/handbook.h"
#include "core/units/parse.h"
#include "support/formula.h"

#include <QTest>

#include <cmath>
#include <random>
#include <set>

using namespace ridge;

namespace {
std::vector<double> usual(const HandbookEntry& e)
{
    std::vector<double> all;
    for (const HandbookInput& in : e.inputs)
        all.push_back(in.usual);
    return all;
}
HandbookAnswer answer(std::string_view id, const std::vector<double>& inputs)
{
    const auto found = lookUp(*handbookEntry(id), inputs);
    return found ? *found : HandbookAnswer{};
}
bool near(const std::optional<double>& is, double wanted, double relative = 1e-3)
{
    return is && std::abs(*is - wanted) <= relative * std::abs(wanted);
}
} // namespace

/// Formulas that stand alone: each against its printed line, against textbook numbers, and against bad input.
class TestHandbook : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void everyEntryIsWhole()
    {
        std::set<std::string_view> ids;
        QVERIFY(handbook().size() >= 30);
        for (const HandbookEntry& e : handbook()) {
            const std::string id(e.id);
            QVERIFY2(ids.insert(e.id).second, id.c_str());
            QVERIFY2(!e.title.empty() && !e.source.empty() && !e.chapter.empty(), id.c_str());
            std::set<std::string_view> keys;
            for (const HandbookInput& in : e.inputs)
                QVERIFY2(keys.insert(in.key).second && !in.label.empty(), id.c_str());
            for (const HandbookOutput& out : e.outputs)
                QVERIFY2(keys.insert(out.key).second && !out.label.empty(), id.c_str());
            const auto found = lookUp(e, usual(e)); // what stands there at first is an example that works
            QVERIFY2(found, id.c_str());
            QCOMPARE(found->values.size(), e.outputs.size());
            QVERIFY2(e.words || !e.outputs.empty(), id.c_str());
        }
    }

    /// The printed line gives the printed number, at the usual values and at a hundred others.
    void everyLineGivesItsNumber()
    {
        std::mt19937 random(7);
        int compared = 0;
        for (const HandbookEntry& e : handbook())
            for (int n = 0; n < 100; ++n) {
                std::vector<double> inputs = usual(e);
                for (std::size_t k = 0; k < inputs.size() && n > 0; ++k) {
                    const HandbookInput& in = e.inputs[k];
                    if (!in.choices.empty())
                        inputs[k] = static_cast<double>(random() % in.choices.size());
                    else
                        inputs[k] =
                            std::clamp(inputs[k] * std::uniform_real_distribution(0.7, 1.4)(random), in.least, in.most);
                    if (in.quantity == Quantity::Count)
                        inputs[k] = std::round(inputs[k]);
                }
                const auto found = lookUp(e, inputs);
                if (!found)
                    continue; // these do not go together, and it says so
                for (std::size_t k = 0; k < e.outputs.size(); ++k) {
                    if (e.outputs[k].formula.empty() || !found->values[k])
                        continue;
                    const Step& line = found->workings[k].back();
                    const auto printed = evaluateFormula(line);
                    const std::string what = std::string(e.id) + ": " + line.formula;
                    QVERIFY2(printed, what.c_str());
                    QVERIFY2(std::abs(*printed - *found->values[k]) <= 1e-9 * std::max(1e-9, std::abs(*printed)),
                             (what + " " + std::to_string(*printed) + " " + std::to_string(*found->values[k])).c_str());
                    ++compared;
                }
            }
        QVERIFY(compared > 4000);
    }

    void badInputIsRefusedAtItsField()
    {
        for (const HandbookEntry& e : handbook())
            for (std::size_t k = 0; k < e.inputs.size(); ++k) {
                std::vector<double> inputs = usual(e);
                for (const double wrong : {std::nan(""), HUGE_VAL, -1e30}) {
                    inputs[k] = wrong;
                    const auto found = lookUp(e, inputs);
                    QVERIFY2(!found, (std::string(e.id) + "." + std::string(e.inputs[k].key)).c_str());
                    QCOMPARE(found.error().subject, std::string(e.inputs[k].key));
                }
            }
        QVERIFY(!lookUp(handbook().front(), {}));
        QVERIFY(!handbookEntry("perpetual-motion"));
    }

    /// Textbook numbers. Belt: 0.1 kg/m, 0.5 m, 400 N. A string of 2·L·f = √(F/m) = 63.25 m/s sounds at 63.25 Hz.
    /// Time constant: ln 2 of it to half of the squared overload (derived by hand). Free fall of 0.1 s from rest is
    /// 49.03 mm (common table). 30 g/100 mm² of magnet field 1 T pull at most B²/(2·µ0) = 398 kPa; the sine's mean is
    /// half of it.
    void textbookNumbers()
    {
        QVERIFY(near(answer("strand-tone", {0.1, 0.5, 400}).values[0], 63.2456));
        QVERIFY(near(answer("overload", {1000, std::sqrt(2.0), 0}).values[0], 1000 * std::log(2.0)));
        QVERIFY(near(answer("drop", {0.1, 0, 1e9, 1}).values[0], 0.0490333));
        QVERIFY(near(answer("attraction", {1, 0.01}).values[0], 1989.4));
        // rack, module 2, 20 teeth, straight: 40 mm pitch diameter, 125.66 mm a turn, tan 20° parts them
        const auto rack = answer("rack", {2e-3, 20, 0, 20 * M_PI / 180, 1000, 0});
        QVERIFY(near(rack.values[0], 0.040) && near(rack.values[1], 0.125664) && near(rack.values[3], 363.97));
        // 2048 lines in quadrature on a 10 mm lead: 1.2207 µm
        QVERIFY(near(answer("resolution", {2048, 4, 1, 0.01}).values[1], 1.2207e-6));
        // a delta of 3 ohm branches shows 2 ohm between terminals
        QVERIFY(near(answer("delta-star", {3, 9e-3}).values[2], 2));
        // ten times the steps, a tenth of the torque: sin(90°/10) of 2 N·m
        QVERIFY(near(answer("micro-torque", {2, 10}).values[0], 0.31287));
        // a drive that gives 3 times continuous for 2 s gives twice continuous for (9-1)/(4-1) of it
        QVERIFY(near(answer("i2t", {12, 6, 18, 2, 0}).values[0], 16.0 / 3));
        QVERIFY(!answer("i2t", {5, 6, 18, 2, 0}).values[0]); // for ever
        // 60 V/1000 rpm between terminals is 0.573 V·s/rad and √3 of it N·m/A
        QVERIFY(near(answer("torque-constant", {6, 60, 4}).values[0], 60 / (1000 * M_PI / 30) * std::sqrt(3.0), 1e-9));
        // a coasting axis without viscous friction stops after J·ω/T
        QVERIFY(near(answer("coast", {5e-3, 300, 0.3, 1e-9}).values[0], 5.0));
    }

    void judgementsAreSentences()
    {
        const auto words = [](const std::vector<double>& inputs) { return answer("ss1-delay", inputs).words; };
        QCOMPARE(words({0.40, 0.35, 0.3, 0.02}), std::vector<std::string>{"ok"});
        QCOMPARE(words({0.30, 0.35, 0.3, 0.02}), (std::vector<std::string>{"too-short", "ramp-longer-than-delay"}));
        QCOMPARE(words({2, 0.35, 0.3, 0.02}), std::vector<std::string>{"too-long"});
        for (const char* key : {"ok", "too-short", "ramp-longer-than-delay", "too-long", "discrepancy", "edm-mismatch"})
            QVERIFY(plain(handbookSentence(key)).size() > 20);
        QCOMPARE(answer("monitor", {1, 0, 0}).words, std::vector<std::string>{"discrepancy"});
        QCOMPARE(answer("monitor", {1, 1, 1}).words, std::vector<std::string>{"edm-mismatch"});
        QCOMPARE(answer("monitor", {0, 0, 1}).words, std::vector<std::string>{"ok"});
    }
};

QTEST_GUILESS_MAIN(TestHandbook)
#include "tst_handbook.moc"
