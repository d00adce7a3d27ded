#include "feedbacklinks.h"

#include <algorithm>

namespace ridge::detail {

bool isFeedbackSignal(std::string_view role)
{
    return std::ranges::find(signalPairs, role) != signalPairs.end()
           || std::ranges::find(hallRoles, role) != hallRoles.end();
}

std::string_view channelOf(std::string_view role)
{
    return role.ends_with('+') || role.ends_with('-') ? role.substr(0, role.size() - 1) : role.substr(0, 4);
}

FeedbackLinks::FeedbackLinks(const Nets& nets, const WireDevice& device)
    : encoder(device)
    , m_nets(nets)
{
    std::string port;
    const auto link = [&](std::string_view role) {
        const int t = own(role);
        if (t < 0)
            return;
        std::vector<int> met;
        for (const int m : nets.reachMembers(t))
            if (m != t && nets.owner(m).kind == "drive" && isFeedbackSignal(nets.role(m)))
                met.push_back(m);
        if (!met.empty() && !m_any) {
            m_any = true;
            drive = &nets.owner(met.front());
            port = nets.terminals[static_cast<std::size_t>(met.front())]->port;
        }
        m_links.emplace_back(role, std::move(met));
    };
    std::ranges::for_each(signalPairs, link);
    std::ranges::for_each(hallRoles, link);
    if (!drive)
        drive = nets.plan.device(encoder.word("drive"));
    if (!drive || drive->kind != "drive") {
        drive = nullptr;
        return;
    }
    side = *drive;
    if (const auto p = drive->ports.find(port); p != drive->ports.end())
        side.overlay(p->second);
}

const std::vector<int>& FeedbackLinks::at(std::string_view role) const
{
    static const std::vector<int> none;
    const auto it = std::ranges::find(m_links, role, &std::pair<std::string_view, std::vector<int>>::first);
    return it == m_links.end() ? none : it->second;
}

bool FeedbackLinks::crossed(std::string_view role) const
{
    return std::ranges::any_of(
        at(role), [&](int t) { return channelOf(m_nets.role(t)) == channelOf(role) && m_nets.role(t) != role; });
}

bool FeedbackLinks::lands(std::string_view role, std::string_view channel) const
{
    return std::ranges::any_of(at(role), [&](int t) { return channelOf(m_nets.role(t)) == channel; });
}

int FeedbackLinks::own(std::string_view role) const { return m_nets.one(encoder.id, std::string(role)); }

const Cable* FeedbackLinks::cable() const
{
    for (const auto& [role, met] : m_links)
        for (const Conductor* c : m_nets.at(own(role)))
            if (const Cable* found = m_nets.plan.cable(c->cable))
                return found;
    return nullptr;
}

} // namespace ridge::detail
