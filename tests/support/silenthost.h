#pragma once
#include <arpa/inet.h>
#include <fcntl.h>
#include <poll.h>
#include <sys/socket.h>
#include <unistd.h>

#include <vector>

/// An address where nobody says anything: neither that he listens nor that he does not. The queue of a listening socket
/// is filled, and the kernel then leaves every further attempt without an answer, as a host that is off does.
class SilentHost {
public:
    SilentHost()
    {
        sockaddr_in at{};
        at.sin_family = AF_INET;
        at.sin_addr.s_addr = htonl(INADDR_LOOPBACK);
        m_listener = ::socket(AF_INET, SOCK_STREAM, 0);
        socklen_t size = sizeof at;
        if (::bind(m_listener, reinterpret_cast<sockaddr*>(&at), size) != 0 || ::listen(m_listener, 0) != 0
            || ::getsockname(m_listener, reinterpret_cast<sockaddr*>(&at), &size) != 0)
            return;
        for (int k = 0; k < 8; ++k) {
            const int guest = ::socket(AF_INET, SOCK_STREAM | SOCK_NONBLOCK, 0);
            m_guests.push_back(guest);
            (void)::connect(guest, reinterpret_cast<sockaddr*>(&at), size);
            pollfd answered{guest, POLLOUT, 0};
            if (::poll(&answered, 1, 200) == 0) { // this one gets no answer any more
                m_port = ntohs(at.sin_port);
                return;
            }
        }
    }
    ~SilentHost()
    {
        for (const int guest : m_guests)
            ::close(guest);
        ::close(m_listener);
    }
    SilentHost(const SilentHost&) = delete;
    SilentHost& operator=(const SilentHost&) = delete;
    [[nodiscard]] int port() const { return m_port; } ///< 0: this machine does not let it be silent

private:
    int m_listener = -1, m_port = 0;
    std::vector<int> m_guests;
};
