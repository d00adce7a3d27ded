#include "window.h"

#include "app/shell/mainwindow.h"
#include "app/theme/theme.h"
#include "store/machinejson.h"

#include <QApplication>
#include <QPixmap>
#include <QTemporaryDir>

namespace bench {

using namespace ridge;

namespace {
void open(app::MainWindow& window, const QTemporaryDir& folder, const char* name)
{
    window.document().createAt(folder.filePath(QString::fromLatin1(name)), store::demoMachine());
    window.goTo(0);
}
} // namespace

void firstPaint()
{
    app::loadFonts();
    app::applyTheme(*qobject_cast<QApplication*>(QCoreApplication::instance()), false);
    const QTemporaryDir folder;
    app::MainWindow window;
    open(window, folder, "first.vridge");
    window.show();
    QCoreApplication::processEvents();
    (void)window.grab();
}

struct Dragging::Parts {
    QTemporaryDir folder;
    app::MainWindow window;
    int station = 1, step = 0;
};

Dragging::Dragging(int station)
    : m(std::make_unique<Parts>())
{
    app::applyTheme(*qobject_cast<QApplication*>(QCoreApplication::instance()), false);
    open(m->window, m->folder, "drag.vridge");
    m->station = station;
    m->window.goTo(station);
    m->window.show();
    QCoreApplication::processEvents();
}

Dragging::~Dragging() = default;

void Dragging::step()
{
    const double time = 0.75 + 0.01 * (++m->step % 20);
    m->window.document().edit(QStringLiteral("Stretch"), QStringLiteral("bench"), [&](Axis& a) {
        a.cycle.segments[0].time = time;
        a.cycle.segments[0].speed.reset();
    });
    // what the window does by itself: refresh once, replot once, paint what has changed
    for (int k = 0; k < 3; ++k)
        QCoreApplication::processEvents();
}

std::string Dragging::label() const
{
    return m->station == app::MainWindow::machineView ? "machine"
                                                      : std::string(stationName(static_cast<Station>(m->station)));
}

} // namespace bench
