#pragma once
#include "core/drives/parts.h"
#include "core/sizing/duty.h"
#include "core/working/words.h"

#include "cases.h"

#include <optional>
#include <string>

namespace cases {

/// A number of a case's inputs; none when it is not there or null.
[[nodiscard]] std::optional<double> maybe(const json& inputs, const char* key);
/// The same or another value.
[[nodiscard]] double num(const json& inputs, const char* key, double otherwise = 0);
[[nodiscard]] ridge::ServoMotor motorOf(const json& motor);
[[nodiscard]] ridge::ServoDrive driveOf(const json& drive);

struct Duty {
    ridge::DutyPath path;
    double reflected = 0;
};
/// Duty given as segments of linear speed and constant torque at the load.
[[nodiscard]] Duty dutyOf(const json& duty);

/// A word that is none is refused by the name of its field, as the cases have it.
template <class E>
[[nodiscard]] E wordIn(const json& i, const char* key)
{
    const auto word = ridge::fromWord<E>(i.at(key).get<std::string>());
    return need(word ? ridge::Result<E>(*word) : ridge::refuse(key));
}

} // namespace cases
