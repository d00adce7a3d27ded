#pragma once
#include <QSize>
#include <QString>

#include <functional>
#include <utility>
#include <vector>

class QWidget;

namespace ridge::app {
class MainWindow;

/// Walks the real window through the whole job of the selected axis against the simulated drive, pressing its own
/// buttons. `look` is called with a name at every main view.
/// @return the name of the button that did not answer; empty when the whole job was done
[[nodiscard]] QString walkThrough(MainWindow& window, const std::function<void(const QString&)>& look);

/// The walk with a picture of each main view as DIR/NAME.png, then the other axes and the dark theme.
/// @return number of pictures; 0 when something did not answer (said on stderr)
/// @param size  of the window
int walkAndShoot(MainWindow& window, const QString& folder, const QSize& size);

/// Turns to the tabs that a widget lies behind.
void bringUp(QWidget& widget);

/// Presses a button by its object name and waits until the window is idle again. With `hold` the button stays down
/// until the run has ended, or for hold_ms when the run ends only by letting go.
bool press(MainWindow& window, const char* name, bool hold = false, int hold_ms = 0, int wait_ms = 40000);

/// Fills the card of a step and enters it as a person does: keys of its entries with texts; "yes" ticks. Empty when it
/// passed, else what failed.
[[nodiscard]] QString typeStep(MainWindow& window, int number,
                               const std::vector<std::pair<const char*, const char*>>& entries);

} // namespace ridge::app
