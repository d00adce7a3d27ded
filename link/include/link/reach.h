#pragma once
#include <QHostAddress>
#include <QList>
#include <QPair>

namespace ridge::link {

/// Networks of this machine: address and length of the prefix.
using Networks = QList<QPair<QHostAddress, int>>;
[[nodiscard]] Networks ownNetworks();

/// Whether a peer lies beyond the machine itself and its own networks, behind a router: who starts motion there cannot
/// be taken to see the axis.
[[nodiscard]] bool isRemote(const QHostAddress& peer, const Networks& own);

} // namespace ridge::link
