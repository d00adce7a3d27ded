#pragma once
#include <QString>

namespace ridge::app {
class MainWindow;

/// Walks the real window through the whole job of the selected axis against the simulated drive, pressing its own
/// buttons, and writes one picture of each main view. Returns the number of pictures; 0 when something went wrong.
int walkAndShoot(MainWindow& window, const QString& folder);

/// Presses a button by its object name (holding it for `hold_ms`) and waits until its station is idle again.
bool press(MainWindow& window, const char* name, int hold_ms = 0, int wait_ms = 15000);

} // namespace ridge::app
