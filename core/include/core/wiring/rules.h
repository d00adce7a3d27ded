#pragma once
#include "core/wiring/plan.h"

#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace ridge {

enum class Severity { Refuse, Error, Warning, Note };

/// A rule as data: words, reason and source (data/wiring_rules.json). Its condition is in the evaluator, by id.
struct WireRule {
    /// What a rule has to know of a device; without it the rule does not speak, and that is told.
    struct Need {
        std::string kind, property;
        std::string role; ///< only where the device has a terminal of this role; empty: always
        std::string key;  ///< only where this property has one of the words
        std::vector<std::string> words;
    };
    std::string id, severityWord, message, reason, source;
    std::vector<Need> needs;
    Severity severity = Severity::Error;
    bool asked = false; ///< put to a person instead of being decided from the plan
};
[[nodiscard]] std::span<const WireRule> wireRules();
[[nodiscard]] const WireRule* wireRule(std::string_view id);

/// What a property of a device is called, "largest fuse" for fuse_max_a; the key itself where it has no words.
[[nodiscard]] std::string_view propertyWords(std::string_view key);

struct Finding {
    std::string rule, subject, detail;
    bool operator==(const Finding&) const = default;
};
/// What the rules say of a plan.
struct WireJudgement {
    std::vector<Finding> findings; ///< each rule and subject once, in the order of the rules' groups
    std::vector<Finding> unable;   ///< rule and device of what could not be decided; detail: the property that lacks
    bool operator==(const WireJudgement&) const = default;
};
/// A clean plan gives no finding. Rules outside the plan's scope say nothing.
[[nodiscard]] WireJudgement judgeWires(const WirePlan& plan);
[[nodiscard]] std::vector<Finding> wireFindings(const WirePlan& plan); ///< those of judgeWires

/// Does a finding speak of this conductor: of it, of an end of it, of its cable?
[[nodiscard]] bool concerns(const Finding& finding, const Conductor& conductor);

/// Resistance of one conductor: r20/1000·L·(1 + 0.00393·(T - 20)); r20 of IEC 60228 class 5, from memory. @error
/// off-table
[[nodiscard]] Result<double> conductorResistance(double mm2, double length, double celsius);
/// Advisory ampacity, copper PVC, method B2 (IEC 60204-1 table 6, from memory); 0 when the size is not listed.
[[nodiscard]] double ampacityB2(double mm2, double ambient_C) noexcept;
[[nodiscard]] double earthConductor(double lineMm2) noexcept; ///< IEC 60204-1 table 1, from memory
/// Time for a bus to fall to a voltage through its bleeder [s].
[[nodiscard]] double dischargeTime(double resistance, double capacitance, double from, double to) noexcept;

} // namespace ridge
