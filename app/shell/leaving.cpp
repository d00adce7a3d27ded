#include "leaving.h"

#include "mainwindow.h"

#include <QApplication>
#include <QSocketNotifier>

#include <fcntl.h>
#include <unistd.h>

#include <array>
#include <csignal>
#include <cstdlib>

namespace ridge::app {

namespace {
constexpr std::array signals{SIGTERM, SIGINT, SIGHUP};
std::array<int, 2> wakeUp{-1, -1}; ///< a handler may do no more than write into a pipe
MainWindow* window = nullptr;

void arrived(int signal)
{
    std::signal(signal, SIG_DFL); // who means it twice is not kept waiting
    const auto number = static_cast<unsigned char>(signal);
    [[maybe_unused]] const auto written = ::write(wakeUp[1], &number, 1);
}

void onTheWayOut()
{
    if (window)
        window->bench().lastWords();
}
} // namespace

Leaving::Leaving(MainWindow& w)
    : m_window(w)
{
    if (wakeUp[0] < 0 && ::pipe2(wakeUp.data(), O_CLOEXEC | O_NONBLOCK) == 0)
        std::atexit(onTheWayOut);
    m_notifier = new QSocketNotifier(wakeUp[0], QSocketNotifier::Read, this);
    connect(m_notifier, &QSocketNotifier::activated, this, &Leaving::leave);
    window = &w;
    for (const int signal : signals)
        std::signal(signal, arrived);
}

Leaving::~Leaving()
{
    for (const int signal : signals)
        std::signal(signal, SIG_DFL);
    window = nullptr;
}

void Leaving::leave()
{
    unsigned char signal = 0;
    if (::read(wakeUp[0], &signal, 1) != 1)
        return;
    if (QWidget* focus = QApplication::focusWidget())
        focus->clearFocus(); // what is half typed is taken or refused, what is held is let go
    m_window.bench().leave(4000);
    m_window.document().writeWaiting(); // nobody is there to be asked
    QApplication::exit(128 + signal);
}

} // namespace ridge::app
