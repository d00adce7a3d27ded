#pragma once
#include <cstddef>
#include <vector>

namespace ridge {

/// Moving average over a whole number of samples: of a trapezoid of speed it makes an S-curve that lasts n samples
/// longer; the mean lags by (n - 1)/2 samples.
class MovingAverage {
public:
    /// @param samples  0 and 1: none
    void set(std::size_t samples, double value)
    {
        m_values.assign(samples > 1 ? samples : 0, value);
        m_sum = value * static_cast<double>(m_values.size());
        m_at = 0;
    }
    [[nodiscard]] std::size_t samples() const { return m_values.size(); }
    double pass(double value)
    {
        if (m_values.empty())
            return value;
        m_sum += value - m_values[m_at];
        m_values[m_at] = value;
        m_at = (m_at + 1) % m_values.size();
        if (m_at == 0) { // what rounding left over goes once a round
            m_sum = 0;
            for (const double v : m_values)
                m_sum += v;
        }
        return m_sum / static_cast<double>(m_values.size());
    }

private:
    std::vector<double> m_values;
    double m_sum = 0;
    std::size_t m_at = 0;
};

} // namespace ridge
