#pragma once
#include "nets.h"

#include <array>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace ridge::detail {

inline constexpr std::array<std::string_view, 16> signalPairs{
    "fb.a+",   "fb.a-",   "fb.b+",   "fb.b-",   "fb.z+",   "fb.z-",   "fb.sin+", "fb.sin-",
    "fb.cos+", "fb.cos-", "fb.exc+", "fb.exc-", "fb.dat+", "fb.dat-", "fb.clk+", "fb.clk-"};
inline constexpr std::array<std::string_view, 3> hallRoles{"fb.h1", "fb.h2", "fb.h3"};

[[nodiscard]] bool isFeedbackSignal(std::string_view role);
/// "fb.a" of "fb.a+", "fb.h" of a hall.
[[nodiscard]] std::string_view channelOf(std::string_view role);

/// A feedback device and where its signals arrive.
class FeedbackLinks {
public:
    FeedbackLinks(const Nets& nets, const WireDevice& encoder);

    const WireDevice& encoder;
    const WireDevice* drive = nullptr; ///< that its signals reach, else the one its data name; null: neither
    Properties side;                   ///< of the drive, or of the port of it that the signals reach

    /// Drive terminals that a signal of the device reaches; empty too where the device lacks the signal.
    [[nodiscard]] const std::vector<int>& at(std::string_view role) const;
    [[nodiscard]] bool reaches(std::string_view role) const { return !at(role).empty(); }
    /// A signal of this role lands on the other half of its own channel.
    [[nodiscard]] bool crossed(std::string_view role) const;
    /// Does a signal land on a channel? @param channel  "fb.b"
    [[nodiscard]] bool lands(std::string_view role, std::string_view channel) const;
    [[nodiscard]] bool any() const { return m_any; }
    [[nodiscard]] int own(std::string_view role) const; ///< terminal of the device; -1: none
    /// The first cable that a signal of the device lies in; null: none.
    [[nodiscard]] const Cable* cable() const;
    /// Every signal role of the device with the terminals it reaches.
    [[nodiscard]] const std::vector<std::pair<std::string_view, std::vector<int>>>& all() const { return m_links; }

private:
    const Nets& m_nets;
    std::vector<std::pair<std::string_view, std::vector<int>>> m_links;
    bool m_any = false;
};

} // namespace ridge::detail
