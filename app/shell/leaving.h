#pragma once
#include <QObject>

class QSocketNotifier;

namespace ridge::app {

class MainWindow;

/// However the program ends, no axis goes on because of it. A signal (terminate, interrupt, hang-up) ends every run by
/// the full stop, proved by the drive, before the program goes; a second one goes at once. When the display is lost the
/// program is ended by the library that lost it: each drive that may have torque is sent a quick stop on the way out.
/// What gets no chance at all (a kill, a power cut) is the business of the drive's own watchdog.
class Leaving : public QObject {
public:
    explicit Leaving(MainWindow& window);
    ~Leaving() override;
    Leaving(const Leaving&) = delete;
    Leaving& operator=(const Leaving&) = delete;

private:
    void leave();
    MainWindow& m_window;
    QSocketNotifier* m_notifier;
};

} // namespace ridge::app
