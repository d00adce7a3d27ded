#pragma once
#include "core/working/result.h"

namespace ridge {

/// A notch (s²+2·ζz·ω·s+ω²)/(s²+2·ζp·ω·s+ω²).
struct LoopNotch {
    double frequency = 0, zero = 0, pole = 0; ///< [Hz], damping of zero and pole; frequency 0: none
    bool operator==(const LoopNotch&) const = default;
};
/// y = b0·x + b1·x1 + b2·x2 - a1·y1 - a2·y2.
struct Biquad {
    double b0 = 1, b1 = 0, b2 = 0, a1 = 0, a2 = 0;
};
/// The notch at a sample rate, pre-warped at its frequency (bilinear transform). @error notch-above-nyquist at 0.45 of
/// the rate and above, out-of-range
[[nodiscard]] Result<Biquad> notchBiquad(const LoopNotch& notch, double rate);

/// A biquad at work.
class Filter {
public:
    void set(const Biquad& b) { m_b = b; }
    /// As if the value had stood for ever; a notch passes it whole.
    void settle(double value) { m_x1 = m_x2 = m_y1 = m_y2 = value; }
    double pass(double x)
    {
        const double y = m_b.b0 * x + m_b.b1 * m_x1 + m_b.b2 * m_x2 - m_b.a1 * m_y1 - m_b.a2 * m_y2;
        m_x2 = m_x1;
        m_x1 = x;
        m_y2 = m_y1;
        m_y1 = y;
        return y;
    }

private:
    Biquad m_b;
    double m_x1 = 0, m_x2 = 0, m_y1 = 0, m_y2 = 0;
};

} // namespace ridge
