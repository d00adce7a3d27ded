#include "window.h"

#include "app/shell/mainwindow.h"
#include "app/theme/theme.h"
#include "store/machinejson.h"

#include <QApplication>
#include <QPixmap>
#include <QTemporaryDir>

#include <stdexcept>

namespace ridge::bench {

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

struct LargeMachine::Parts {
    QTemporaryDir folder;
    QString path;
    app::MainWindow window;
};

LargeMachine::LargeMachine(int axes, int entries)
    : m(std::make_unique<Parts>())
{
    app::applyTheme(*qobject_cast<QApplication*>(QCoreApplication::instance()), false);
    m->path = m->folder.filePath(QStringLiteral("large.vridge"));
    Machine machine = store::demoMachine();
    const std::vector<Axis> kinds = machine.axes;
    machine.axes.clear();
    for (std::size_t k = 0; k < static_cast<std::size_t>(axes); ++k) {
        Axis& a = machine.axes.emplace_back(kinds[k % kinds.size()]);
        a.id = "A" + std::to_string(k + 1);
        a.name += " " + std::to_string(k + 1);
    }
    m->window.show();
    auto file = store::MachineFile::create(m->path.toStdString(), machine);
    store::Change change;
    for (int k = 0; k < entries; ++k) {
        Fact& f = change.facts.emplace_back();
        f.time = "2026-11-24T14:05:33Z";
        f.axis = machine.axes[static_cast<std::size_t>(k) % machine.axes.size()].id;
        f.person = {"R. Sorrel", "technician"};
        f.prints = fingerprintOf(machine, machine.axes.front());
        f.payload = PlanChanged{"Entry " + std::to_string(k)};
    }
    if (!file || !file->commit(change))
        m->path.clear();
}

LargeMachine::~LargeMachine() = default;

void LargeMachine::open()
{
    if (!m->window.openPath(m->path))
        throw std::runtime_error("it does not open");
    m->window.goTo(0);
    QCoreApplication::processEvents();
    (void)m->window.grab();
}

} // namespace ridge::bench
