#pragma once
#include <cstdint>

namespace ridge {

/// Two torque-off channels: torque is permitted with both high and no fault. A low shorter than the filter is a test
/// pulse. Channels that differ for the discrepancy time are a fault that only a power cycle clears.
class TorqueOffChannels {
public:
    static constexpr double testPulse = 0.5e-3; ///< longer is a request [s]
    /// @param time  now, rising; @param discrepancy  [s]
    void step(double time, bool a, bool b, double discrepancy)
    {
        filter(time, a, m_lowA);
        filter(time, b, m_lowB);
        m_a = a || m_lowA < 0 || time - m_lowA < testPulse;
        m_b = b || m_lowB < 0 || time - m_lowB < testPulse;
        if (m_a == m_b)
            m_since = -1;
        else if (m_since < 0)
            m_since = time;
        if (m_since >= 0 && time - m_since >= discrepancy * (1 - 1e-12))
            m_fault = true;
    }
    [[nodiscard]] bool permitted() const { return m_a && m_b && !m_fault; }
    [[nodiscard]] bool bothOff() const { return !m_a && !m_b; } ///< the monitor conducts
    [[nodiscard]] bool fault() const { return m_fault; }
    void powerCycle() { *this = {}; }

private:
    static void filter(double time, bool level, double& low)
    {
        if (level)
            low = -1;
        else if (low < 0)
            low = time;
    }
    double m_lowA = -1, m_lowB = -1, m_since = -1;
    bool m_a = true, m_b = true, m_fault = false;
};

} // namespace ridge
