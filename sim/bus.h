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
    /// @param chopper  voltage at which the drive is set to use it; 0: as it left the works
    void step(double time, double supply, bool resistor, double chopper = 0)
    {
        const double from = m_truth.nominal * supply;
        if (m_truth.capacitance <= 0) {
            m_voltage = from;
            m_power = 0;
            return;
        }
        const double on = chopper > 0 ? chopper : m_truth.chopperOn,
                     off = chopper > 0 ? chopper - (m_truth.chopperOn - m_truth.chopperOff) : m_truth.chopperOff;
        if (m_truth.chopperOn > 0 && m_truth.resistor > 0 && resistor)
            m_chops = m_voltage >= on || (m_chops && m_voltage > off);
        else
            m_chops = false;
        // what hangs on the voltage is taken at the end of the step, so that no step is too long
        const double v = std::max(1.0, m_voltage), c = m_truth.capacitance / time;
        const double feeds = from > m_voltage ? 1 / m_truth.source : 0, burns = m_chops ? 1 / m_truth.resistor : 0;
        m_voltage = (c * m_voltage + feeds * from - (m_power + m_truth.standby) / v) / (c + feeds + burns);
        m_voltage = std::max(0.0, m_voltage);
        if (m_truth.resistorPower > 0) {
            const double power = burns * m_voltage * m_voltage;
            m_resistorFull += time / resistorWarms * (power / m_truth.resistorPower - m_resistorFull);
        }
        m_power = 0;
    }
    [[nodiscard]] double voltage() const { return m_voltage; }
    [[nodiscard]] double nominal() const { return m_truth.nominal; }
    /// Heat of the resistor against what it stands for ever.
    [[nodiscard]] double resistorFull() const { return m_resistorFull; }
    [[nodiscard]] bool chops() const { return m_chops; }
    [[nodiscard]] const BusTruth& truth() const { return m_truth; }

private:
    static constexpr double resistorWarms = 60; ///< [s], a wire-wound one, common practice
    BusTruth m_truth;
    double m_voltage, m_power = 0, m_resistorFull = 0;
    bool m_chops = false;
};

} // namespace ridge::sim
