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
    enum class Fault { None, Drops, Twice, Garbage, Cuts, Drips };
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
                        if (!m_pulled)
                            carry(m_master[m_bridged ? k : 1 - k], buffer.data(), static_cast<std::size_t>(n));
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
    /// What goes over it is spoiled from now on, in both directions.
    void spoil(Fault fault) { m_fault = fault; }

private:
    void carry(int to, const char* data, std::size_t n)
    {
        const auto put = [to](const char* bytes, std::size_t count) {
            [[maybe_unused]] const auto sent = ::write(to, bytes, count);
        };
        m_seed = m_seed * 1103515245 + 12345;
        const unsigned dice = m_seed >> 16 & 7;
        switch (m_fault.load()) {
        case Fault::None: put(data, n); break;
        case Fault::Drops:
            if (dice > 1)
                put(data, n);
            break;
        case Fault::Twice:
            put(data, n);
            if (dice < 4)
                put(data, n);
            break;
        case Fault::Garbage:
            if (dice < 3) {
                const char noise[] = {static_cast<char>(m_seed), static_cast<char>(m_seed >> 8), 0x55};
                put(noise, sizeof noise);
            }
            put(data, n);
            break;
        case Fault::Cuts: put(data, dice < 3 ? n / 2 : n); break;
        case Fault::Drips: // a byte now and then
            for (std::size_t k = 0; k < n && !m_over && m_fault == Fault::Drips; ++k) {
                put(data + k, 1);
                std::this_thread::sleep_for(std::chrono::milliseconds(200));
            }
            break;
        }
    }
    std::array<int, 2> m_master{-1, -1}, m_slave{-1, -1};
    std::array<QString, 2> m_names;
    std::thread m_thread;
    std::atomic<bool> m_over = false, m_pulled = false, m_bridged = false;
    std::atomic<long> m_bytes = 0;
    std::atomic<Fault> m_fault = Fault::None;
    unsigned m_seed = 1; ///< of the thread alone
};
