#pragma once
#include <cstdint>

namespace ridge {

/// splitmix64: the same numbers on every machine for a seed (S. Vigna's published generator, constants from memory).
class SplitMix {
public:
    explicit SplitMix(std::uint64_t seed = 0)
        : m_state(seed)
    {}
    std::uint64_t next()
    {
        std::uint64_t z = m_state += 0x9E3779B97F4A7C15ULL;
        z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9ULL;
        z = (z ^ (z >> 27)) * 0x94D049BB133111EBULL;
        return z ^ (z >> 31);
    }
    double uniform() { return static_cast<double>(next() >> 11) * 0x1p-53; } ///< 0 up to 1, without 1
    /// Near a normal number of deviation 1: twelve uniform ones less six, with no function of a maths library.
    double normal()
    {
        double sum = -6;
        for (int k = 0; k < 12; ++k)
            sum += uniform();
        return sum;
    }

private:
    std::uint64_t m_state;
};

} // namespace ridge
