#include "cases.h"

#include <algorithm>
#include <cmath>

namespace cases {

namespace {
double limitFor(const json& tolerance, const std::string& key, double want)
{
    // {"rel","abs"} for the whole case, or a table by key with "default"
    json t = tolerance;
    if (t.is_object() && t.contains(key))
        t = t.at(key);
    else if (t.is_object() && t.contains("default"))
        t = t.at("default");
    if (!t.is_object() || (!t.contains("rel") && !t.contains("abs")))
        return 1e-9 * std::abs(want);
    return t.value("rel", 0.0) * std::abs(want) + t.value("abs", 0.0);
}
/// A wiring plan: everything of must_find at the subjects that are named, nothing outside must_find and may_also_find.
/// @param found  pairs of rule and subject
Verdict judgePlan(const json& found, const json& expected)
{
    std::vector<std::string> must = expected.at("must_find"), allowed = must;
    for (const json& rule : expected.value("may_also_find", json::array()))
        allowed.push_back(rule);
    for (const std::string& rule : must)
        if (std::ranges::none_of(found, [&](const json& f) { return f.at(0) == rule; }))
            return {Outcome::Failed, rule + " was not found"};
    for (const json& f : found)
        if (std::ranges::find(allowed, f.at(0).get<std::string>()) == allowed.end())
            return {Outcome::Failed, f.dump() + " is a false alarm"};
    const json named = expected.value("subjects", json::object());
    for (const auto& [rule, subjects] : named.items())
        for (const json& subject : subjects)
            if (std::ranges::find(found, json{rule, subject}) == found.end())
                return {Outcome::Failed, rule + " was not found at " + subject.dump()};
    return {Outcome::Passed, {}};
}
} // namespace

std::string difference(const json& got, const json& want, const json& tolerance, const std::string& path)
{
    if (want.is_object()) {
        if (!got.is_object())
            return path + ": not a group";
        for (const auto& [key, value] : want.items()) {
            if (!got.contains(key))
                return path + "/" + key + ": absent";
            if (auto d = difference(got.at(key), value, tolerance, path + "/" + key); !d.empty())
                return d;
        }
        return {};
    }
    if (want.is_array()) {
        if (!got.is_array() || got.size() != want.size())
            return path + ": length";
        for (std::size_t k = 0; k < want.size(); ++k)
            if (auto d = difference(got[k], want[k], tolerance, path + "[" + std::to_string(k) + "]"); !d.empty())
                return d;
        return {};
    }
    if (want.is_string() && want == "inf")
        return got.is_number() && std::isinf(got.get<double>()) ? std::string{} : path + ": not infinite";
    if (!want.is_number())
        return got == want ? std::string{} : path + ": " + got.dump() + " is not " + want.dump();
    if (!got.is_number())
        return path + ": " + got.dump() + " is not a number";
    const double g = got.get<double>(), w = want.get<double>();
    std::string key = path.substr(path.rfind('/') + 1);
    key = key.substr(0, key.find('['));
    if (std::isfinite(g) && std::abs(g - w) <= limitFor(tolerance, key, w))
        return {};
    return path + ": " + got.dump() + " is not " + want.dump();
}

Verdict run(const json& item, const Table& table)
{
    const auto found = table.find(item.at("fn").get<std::string>());
    if (found == table.end())
        return {};
    json got;
    try {
        got = found->second(item.at("inputs"));
    } catch (const Refused& refused) {
        got = json{{"error", refused.code}, {"refused", refused.code}};
    } catch (const json::exception& e) {
        return {Outcome::Failed, std::string("inputs: ") + e.what()};
    }
    if (item.at("fn") == "plan" && got.contains("refused"))
        return {Outcome::Failed, "refused: " + got.at("refused").get<std::string>()};
    if (got.is_object() && got.contains("found"))
        return judgePlan(got.at("found"), item.at("expected"));
    if (got.is_null())
        return {}; // the adapter knows the name but not this form of it
    const std::string why = difference(got, item.at("expected"), item.value("tolerance", json::object()));
    return {why.empty() ? Outcome::Passed : Outcome::Failed, why};
}

} // namespace cases
