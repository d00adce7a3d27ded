#pragma once
#include "truth.h"

#include <algorithm>

namespace ridge::sim {

/// The d.c. bus of one drive, or of all drives of one housing: capacitor, rectifier behind the supply, chopper with its
/// resistor. The supply feeds and takes nothing back.
class Bus {
public:
    explicit Bus(const BusTruth& truth)
        : m_truth(truth)
        , m_voltage(truth.nominal)
    {}
    /// Power that drives take from it in this step [W]; less than nothing comes back.
    void draw(double power) { m_power += power; }
    /// @param supply  share of the nominal voltage that is there; @param resistor  it is connected
    void step(double time, double supply, bool resistor)
    {
        const double from = m_truth.nominal * supply;
        if (m_truth.capacitance <= 0) {
            m_voltage = from;
            m_power = 0;
            return;
        }
        if (m_truth.chopperOn > 0 && m_truth.resistor > 0 && resistor)
            m_chops = m_voltage >= m_truth.chopperOn || (m_chops && m_voltage > m_truth.chopperOff);
        else
            m_chops = false;
        // what hangs on the voltage is taken at the end of the step, so that no step is too long
        const double v = std::max(1.0, m_voltage), c = m_truth.capacitance / time;
        const double feeds = from > m_voltage ? 1 / m_truth.source : 0, burns = m_chops ? 1 / m_truth.resistor : 0;
        m_voltage = (c * m_voltage + feeds * from - (m_power + m_truth.standby) / v) / (c + feeds + burns);
        m_voltage = std::max(0.0, m_voltage);
        m_power = 0;
    }
    [[nodiscard]] double voltage() const { return m_voltage; }
    [[nodiscard]] double nominal() const { return m_truth.nominal; }
    [[nodiscard]] bool chops() const { return m_chops; }
    [[nodiscard]] const BusTruth& truth() const { return m_truth; }

private:
    BusTruth m_truth;
    double m_voltage, m_power = 0;
    bool m_chops = false;
};

} // namespace ridge::sim
