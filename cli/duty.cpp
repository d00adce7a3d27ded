#include "duty.h"

#include "core/mechanics/stage.h"
#include "core/units/parse.h"
#include "core/working/jsontext.h"

#include "arguments.h"
#include "outcomes.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>
#include <optional>

namespace ridge::cli {

namespace {

/// A number that has to be there, or one that may be left out.
Result<double> number(const json& o, const char* key, const std::string& where, std::optional<double> otherwise = {})
{
    const auto it = o.find(key);
    if (it == o.end())
        return otherwise ? Result<double>(*otherwise) : refuse("missing", where + "/" + key);
    if (!it->is_number() || !std::isfinite(it->get<double>()))
        return refuse("not-a-number", where + "/" + key, it->dump());
    return it->get<double>();
}

Result<void> onlyKnown(const json& o, std::initializer_list<std::string_view> keys, const std::string& where)
{
    for (const auto& [key, value] : o.items())
        if (std::ranges::find(keys, std::string_view(key)) == keys.end())
            return refuse("unknown-key", fmt::format("{}/{}", where, key));
    return {};
}

/// One segment: speeds at both ends and a torque that stays.
Result<void> addSegment(GivenDuty& d, const json& s, double before, const std::string& where)
{
    if (!s.is_object())
        return refuse("not-a-number", where);
    if (auto known = onlyKnown(s, {"duration_s", "speed0_rad_s", "speed1_rad_s", "torque_Nm"}, where); !known)
        return known;
    const auto dt = number(s, "duration_s", where), w0 = number(s, "speed0_rad_s", where, before),
               w1 = number(s, "speed1_rad_s", where, w0.value_or(0)), t = number(s, "torque_Nm", where);
    for (const auto* value : {&dt, &w0, &w1, &t})
        if (!*value)
            return tl::make_unexpected(value->error());
    if (!(*dt > 0))
        return refuse("not-positive", where + "/duration_s");
    if (*w0 * *w1 < 0)
        return refuse("segment-crosses-zero", where);
    if (!d.path.pieces.empty() && std::abs(*w0 - before) > 1e-6 * std::max(std::abs(*w0), std::abs(before)))
        return refuse("speed-jump", where + "/speed0_rad_s", fmt::format("{:.6g}", *w0), fmt::format("{:.6g}", before));
    const double a = (*w1 - *w0) / *dt;
    const int way = sign(*w0 + *w1);
    DutyPath& p = d.path;
    const std::size_t first = p.nodes.size();
    for (const double at : {0.21132486540518713, 0.7886751345948129}) // two-point Gauss: torque and a are constant
        p.nodes.push_back({*dt / 2, *t, *w0 + (*w1 - *w0) * at, a});
    p.pieces.push_back({p.period, *dt, *t, *t, *w0, *w1, a, a, 0, way, false, first, 2});
    p.extremes.push_back({0, *t, *w0, a, p.period});
    p.extremes.push_back({0, *t, *w1, a, p.period + *dt});
    p.torqueSquares += *dt * *t * *t;
    p.torqueAcceleration += *dt * *t * a;
    p.accelerationSquares += *dt * a * a;
    p.period += *dt;
    d.phases.push_back({*dt, *t, *t, *w0, *w1});
    d.segments.push_back({*dt, a, *t - d.reflected * a, static_cast<double>(way)});
    return {};
}

} // namespace

Result<GivenDuty> dutyFrom(const std::string& text)
{
    const json j = json::parse(text, nullptr, false);
    if (!j.is_object())
        return refuse("file-damaged", "duty");
    const auto duty = j.find("duty");
    if (duty == j.end() || !duty->is_object())
        return refuse("missing", "duty");
    if (auto known = onlyKnown(*duty, {"reflectedInertia_kgm2", "segments"}, "duty"); !known)
        return tl::make_unexpected(known.error());
    GivenDuty d;
    const auto reflected = number(*duty, "reflectedInertia_kgm2", "duty");
    if (!reflected)
        return tl::make_unexpected(reflected.error());
    if (*reflected < 0)
        return refuse("negative-inertia", "duty/reflectedInertia_kgm2");
    d.reflected = *reflected;
    const auto segments = duty->find("segments");
    if (segments == duty->end() || !segments->is_array() || segments->empty() || segments->size() > 100000)
        return refuse("no-motion", "duty/segments");
    for (const json& s : *segments)
        if (auto added = addSegment(d, s, d.phases.empty() ? 0 : d.phases.back().speed1,
                                    fmt::format("duty/segments/{}", d.phases.size()));
            !added)
            return tl::make_unexpected(added.error());
    return d;
}

/// The figures of a duty, and with a rotor the ratio of least rms torque for a motor of that rotor.
Outcome dutyCommand(std::span<const std::string> words)
{
    const Arguments a = parse(words, {"--rotor"}, {});
    if (a.plain.size() != 1 || !a.unknown.empty())
        return usage();
    const auto text = textOf(a.plain[0]);
    if (!text)
        return bad(text.error());
    const auto d = dutyFrom(*text);
    if (!d)
        return bad(d.error());
    const auto f = linearDuty(d->phases);
    if (!f)
        return bad(f.error());
    json out{{"period_s", d->path.period},
             {"torque_peak_Nm", f->torquePeak},
             {"torque_rms_Nm", f->torqueRms},
             {"torque_mean_abs_Nm", f->torqueMeanAbs},
             {"speed_max_rad_s", f->speedMax},
             {"speed_mean_abs_rad_s", f->speedMeanAbs},
             {"power_peak_W", f->powerPeak},
             {"power_least_W", f->powerLeast},
             {"energy_motoring_J", f->energyMotoring},
             {"energy_returned_J", f->energyRegenerated}};
    if (a.has("--rotor")) {
        const auto rotor = parseQuantity(a.value("--rotor"), Quantity::Inertia);
        if (!rotor)
            return bad(rotor.error());
        const auto best = bestRatioRms(d->reflected, *rotor, d->segments);
        if (!best)
            return bad(best.error());
        out["least_rms"] = {{"ratio", best->ratio}, {"torque_rms_Nm", best->torque}};
    }
    return {0, jsonText(out, 1) + "\n", {}};
}

} // namespace ridge::cli
