#include "excitation.h"

#include "core/mechanics/stage.h"

#include <algorithm>
#include <cmath>

namespace ridge::sim {

namespace {
constexpr int mostLines = 60;
}

void Excitation::begin(const Setup& setup)
{
    m_setup = setup;
    m_phases.clear();
    m_crest = 1;
    if (setup.kind != ExcitationKind::Multisine)
        return;
    const double step = 1 / setup.duration;
    const int lines = std::clamp(static_cast<int>((setup.to - setup.from) / step) + 1, 1, mostLines);
    for (int k = 0; k < lines; ++k) // Schroeder's phases: a low crest
        m_phases.push_back(-pi * k * (k - 1) / lines);
    double most = 0;
    for (int n = 0; n < 4000; ++n) {
        m_crest = 1;
        m_setup.amplitude = 1;
        most = std::max(most, std::abs(at(setup.duration * n / 4000)));
    }
    m_crest = most > 0 ? most : 1;
    m_setup.amplitude = setup.amplitude;
}

double Excitation::at(double time)
{
    if (!running())
        return 0;
    if (time >= m_setup.duration) {
        stop();
        return 0;
    }
    if (m_setup.kind == ExcitationKind::Chirp) {
        const double rate = (m_setup.to - m_setup.from) / m_setup.duration;
        return m_setup.amplitude * std::sin(2 * pi * (m_setup.from * time + rate * time * time / 2));
    }
    // whole periods of the duration, spread over the band
    const double base = std::max(1.0, std::round(m_setup.from * m_setup.duration)),
                 end = std::max(base, std::round(m_setup.to * m_setup.duration));
    const auto lines = static_cast<double>(m_phases.size());
    double sum = 0;
    for (std::size_t k = 0; k < m_phases.size(); ++k) {
        const double periods =
            lines > 1 ? std::round(base + (end - base) * static_cast<double>(k) / (lines - 1)) : base;
        sum += std::cos(2 * pi * periods * time / m_setup.duration + m_phases[k]);
    }
    return m_setup.amplitude * sum / m_crest;
}

} // namespace ridge::sim
