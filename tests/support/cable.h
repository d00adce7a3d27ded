#pragma once
#include <QString>

#include <fcntl.h>
#include <pty.h>
#include <termios.h>
#include <unistd.h>

#include <array>
#include <atomic>
#include <chrono>
#include <thread>

/// Two serial lines joined by a cable that can be pulled: what one end writes the other reads.
class Cable {
public:
    Cable()
    {
        for (std::size_t k = 0; k < 2; ++k) {
            std::array<char, 256> name{};
            int slave = -1;
            if (openpty(&m_master[k], &slave, name.data(), nullptr, nullptr) != 0)
                return;
            termios raw{};
            tcgetattr(slave, &raw);
            cfmakeraw(&raw);
            tcsetattr(slave, TCSANOW, &raw);
            m_slave[k] = slave; // stays open, so that a master does not hang up between two users
            m_names[k] = QString::fromLocal8Bit(name.data());
            fcntl(m_master[k], F_SETFL, O_NONBLOCK);
        }
        m_thread = std::thread([this] {
            std::array<char, 512> buffer{};
            while (!m_over) {
                bool idle = true;
                for (std::size_t k = 0; k < 2; ++k)
                    if (const auto n = ::read(m_master[k], buffer.data(), buffer.size()); n > 0) {
                        idle = false;
                        m_bytes += n;
                        if (!m_pulled) [[maybe_unused]]
                            const auto sent =
                                ::write(m_master[m_bridged ? k : 1 - k], buffer.data(), static_cast<std::size_t>(n));
                    }
                if (idle)
                    std::this_thread::sleep_for(std::chrono::microseconds(300));
            }
        });
    }
    ~Cable()
    {
        m_over = true;
        m_thread.join();
        for (const int fd : {m_master[0], m_master[1], m_slave[0], m_slave[1]})
            ::close(fd);
    }
    [[nodiscard]] QString end(std::size_t k) const { return m_names[k]; }
    void pull() { m_pulled = true; }
    /// Send and receive of either end are bridged.
    void bridge() { m_bridged = true; }

private:
    std::array<int, 2> m_master{-1, -1}, m_slave{-1, -1};
    std::array<QString, 2> m_names;
    std::thread m_thread;
    std::atomic<bool> m_over = false, m_pulled = false, m_bridged = false;
    std::atomic<long> m_bytes = 0;
};
