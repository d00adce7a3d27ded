#pragma once
#include <algorithm>
#include <atomic>
#include <cstddef>
#include <thread>
#include <vector>

namespace ridge::store {

/// Calls `work(from, to)` for all of 0 to `count`, in pieces, on all cores; returns when everything is done. Few are
/// done at once by the caller.
template <class Work>
void inParallel(std::size_t count, Work work)
{
    constexpr std::size_t piece = 256;
    const std::size_t pieces = (count + piece - 1) / piece,
                      cores = std::min<std::size_t>(std::max(1U, std::thread::hardware_concurrency()), pieces);
    std::atomic<std::size_t> next{0};
    const auto some = [&] {
        for (std::size_t k = next++; k < pieces; k = next++)
            work(k * piece, std::min(count, (k + 1) * piece));
    };
    std::vector<std::jthread> others;
    for (std::size_t k = 1; k < cores; ++k)
        others.emplace_back(some);
    some();
}

} // namespace ridge::store
