#include "core/wiring/buses.h"
#include "core/wiring/rules.h"

#include <array>
#include <cmath>
#include <utility>

namespace ridge {

namespace {
struct Row {
    double mm2, value;
};
// ohm/km at 20 °C, class 5 plain copper, IEC 60228, from memory; below 0.5 mm² common catalogue figures
constexpr std::array<Row, 18> resistance{{{0.14, 138},
                                          {0.25, 79},
                                          {0.34, 57},
                                          {0.5, 39},
                                          {0.75, 26},
                                          {1, 19.5},
                                          {1.5, 13.3},
                                          {2.5, 7.98},
                                          {4, 4.95},
                                          {6, 3.3},
                                          {10, 1.91},
                                          {16, 1.21},
                                          {25, 0.78},
                                          {35, 0.554},
                                          {50, 0.386},
                                          {70, 0.272},
                                          {95, 0.206},
                                          {120, 0.161}}};
constexpr std::array<Row, 11> ampacity{{{0.75, 8.5},
                                        {1, 10.1},
                                        {1.5, 13.1},
                                        {2.5, 17.4},
                                        {4, 23},
                                        {6, 30},
                                        {10, 40},
                                        {16, 54},
                                        {25, 70},
                                        {35, 86},
                                        {50, 103}}};
constexpr std::array<Row, 7> ambientFactor{
    {{30, 1.15}, {35, 1.08}, {40, 1}, {45, 0.91}, {50, 0.82}, {55, 0.71}, {60, 0.58}}};
} // namespace

Result<double> conductorResistance(double mm2, double length, double celsius)
{
    for (const Row& row : resistance)
        if (std::abs(row.mm2 - mm2) < 1e-9)
            return row.value / 1000 * length * (1 + 0.00393 * (celsius - 20));
    return refuse("off-table", "conductor size");
}

double ampacityB2(double mm2, double ambient) noexcept
{
    double base = 0, factor = 0;
    for (const Row& row : ampacity)
        if (std::abs(row.mm2 - mm2) < 1e-9)
            base = row.value;
    for (const Row& row : ambientFactor)
        if (ambient <= row.mm2) {
            factor = row.value;
            break;
        }
    return base * factor;
}

double earthConductor(double line) noexcept { return line <= 16 ? line : line <= 35 ? 16 : line / 2; }

double dischargeTime(double r, double c, double from, double to) noexcept
{
    return from > to ? r * c * std::log(from / to) : 0;
}

double serialNodes(double unitLoad) noexcept { return std::floor(32 / unitLoad); }

double canLongest(double bitRate) noexcept
{
    constexpr std::array<std::pair<double, double>, 8> rows{
        {{10e3, 5000}, {20e3, 2500}, {50e3, 1000}, {125e3, 500}, {250e3, 250}, {500e3, 100}, {800e3, 50}, {1e6, 25}}};
    for (const auto& [rate, length] : rows)
        if (bitRate <= rate)
            return length;
    return 0;
}

} // namespace ridge
