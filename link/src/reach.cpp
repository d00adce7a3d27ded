#include "link/reach.h"

#include <QNetworkInterface>

#include <algorithm>

namespace ridge::link {

Networks ownNetworks()
{
    Networks own;
    const auto interfaces = QNetworkInterface::allInterfaces();
    for (const QNetworkInterface& i : interfaces)
        for (const QNetworkAddressEntry& entry : i.addressEntries())
            own.append({entry.ip(), entry.prefixLength()});
    return own;
}

bool isRemote(const QHostAddress& peer, const Networks& own)
{
    bool mapped = false; // an IPv4 peer of an IPv6 socket
    const quint32 plain = peer.toIPv4Address(&mapped);
    const QHostAddress address = mapped ? QHostAddress(plain) : peer;
    return !address.isLoopback() && std::ranges::none_of(own, [&](const auto& network) {
        return network.second >= 0 && network.first.protocol() == address.protocol()
               && address.isInSubnet(network.first, network.second);
    });
}

} // namespace ridge::link
