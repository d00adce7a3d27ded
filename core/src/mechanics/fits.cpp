#include "core/mechanics/fits.h"

#include "core/mechanics/stage.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <string>

namespace ridge {

namespace {
struct Range {
    double over, upTo;        ///< [mm]
    std::array<int, 4> grade; ///< IT5 to IT8 [µm]
    int g;                    ///< upper deviation of a shaft g [µm]
};
constexpr std::array ranges{Range{0, 3, {4, 6, 10, 14}, -2},        Range{3, 6, {5, 8, 12, 18}, -4},
                            Range{6, 10, {6, 9, 15, 22}, -5},       Range{10, 18, {8, 11, 18, 27}, -6},
                            Range{18, 30, {9, 13, 21, 33}, -7},     Range{30, 50, {11, 16, 25, 39}, -9},
                            Range{50, 80, {13, 19, 30, 46}, -10},   Range{80, 120, {15, 22, 35, 54}, -12},
                            Range{120, 180, {18, 25, 40, 63}, -14}, Range{180, 250, {20, 29, 46, 72}, -15},
                            Range{250, 315, {23, 32, 52, 81}, -17}, Range{315, 400, {25, 36, 57, 89}, -18},
                            Range{400, 500, {27, 40, 63, 97}, -20}};

Result<const Range*> rangeOf(double diameter)
{
    const double mm = diameter * 1e3;
    for (const Range& r : ranges)
        if (mm > r.over && mm <= r.upTo * (1 + 1e-12))
            return &r;
    return refuseBeyond("out-of-range", 0.5, Quantity::Length);
}
} // namespace

Result<double> toleranceGrade(double diameter, int grade)
{
    const auto range = rangeOf(diameter);
    if (!range)
        return tl::make_unexpected(range.error());
    if (grade < 5 || grade > 8)
        return refuse("not-covered");
    return (*range)->grade.at(static_cast<std::size_t>(grade - 5)) * 1e-6;
}

Result<double> toleranceByFormula(double diameter, int grade)
{
    const auto range = rangeOf(diameter);
    if (!range)
        return tl::make_unexpected(range.error());
    if (grade < 5 || grade > 8)
        return refuse("not-covered");
    constexpr std::array units{7.0, 10.0, 16.0, 25.0};
    const double mean = std::sqrt(std::max((*range)->over, 1.0) * (*range)->upTo);
    return units.at(static_cast<std::size_t>(grade - 5)) * (0.45 * std::cbrt(mean) + 0.001 * mean) * 1e-6;
}

Result<Fit> fitOf(double diameter, std::string_view hole, std::string_view shaft)
{
    if (hole.size() != 2 || shaft.size() != 2 || hole[0] != 'H' || (shaft[0] != 'g' && shaft[0] != 'h'))
        return refuse("not-covered", {}, std::string(hole) + "/" + std::string(shaft));
    const auto range = rangeOf(diameter);
    if (!range)
        return tl::make_unexpected(range.error());
    const auto bore = toleranceGrade(diameter, hole[1] - '0'), pin = toleranceGrade(diameter, shaft[1] - '0');
    if (!bore || !pin)
        return refuse("not-covered", {}, std::string(hole) + "/" + std::string(shaft));
    const double top = shaft[0] == 'g' ? (*range)->g * 1e-6 : 0;
    return Fit{0, *bore, top - *pin, top};
}

double fitWarmed(double clearance, double d, double hole, double shaft, double warming) noexcept
{
    return clearance + d * (hole - shaft) * warming;
}

double bondTorque(double strength, double d, double length, double fill) noexcept
{
    return strength * fill * pi * d * d * length / 2;
}

double axialUnstated(double stack) noexcept { return std::min(0.5e-3, 0.02 * stack); }

} // namespace ridge
