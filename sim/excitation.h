#pragma once
#include <cstdint>
#include <vector>

namespace ridge::sim {

enum class ExcitationKind : std::uint8_t { None, Multisine, Chirp };

/// A torque at the rate of the velocity loop, for measuring the frequency response.
class Excitation {
public:
    struct Setup {
        ExcitationKind kind = ExcitationKind::None;
        double amplitude = 0;    ///< largest [N·m]
        double from = 0, to = 0; ///< [Hz]
        double duration = 0;     ///< also the period of a multisine [s]
    };
    void begin(const Setup& setup);
    void stop() { m_setup.kind = ExcitationKind::None; }
    [[nodiscard]] bool running() const { return m_setup.kind != ExcitationKind::None; }
    /// @return the torque; it stops by itself at the end
    [[nodiscard]] double at(double time);

private:
    Setup m_setup;
    std::vector<double> m_phases;
    double m_crest = 1;
};

} // namespace ridge::sim
