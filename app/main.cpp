#include "store/machinejson.h"

#include "shell/leaving.h"
#include "shell/mainwindow.h"
#include "shell/shots.h"
#include "theme/theme.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QDateTime>
#include <QDir>
#include <QFileInfo>
#include <QScreen>
#include <QSettings>
#include <QStandardPaths>
#include <QTimer>

#include <clocale>
#include <cstdio>

using namespace ridge;

int main(int argc, char** argv)
{
    QApplication qt(argc, argv);
    std::setlocale(LC_ALL, "C"); // numbers in files never follow the desktop's decimal comma
    QApplication::setApplicationName(QStringLiteral("Vortex Ridge"));
    QApplication::setOrganizationName(QStringLiteral("vortex-ridge"));
    QCommandLineParser options;
    options.addHelpOption();
    options.addPositionalArgument(
        QStringLiteral("file"),
        QStringLiteral("Machine to open (.vridge or .json); without one, a fresh copy of the demo machine."));
    options.addOption({QStringLiteral("shots"),
                       QStringLiteral("Walk through every main view, write one PNG each, and end."),
                       QStringLiteral("folder")});
    options.addOption({QStringLiteral("dark"), QStringLiteral("Dark theme.")});
    options.addOption({QStringLiteral("size"), QStringLiteral("Size of the window, WIDTHxHEIGHT."),
                       QStringLiteral("size"), QStringLiteral("1280x800")});
    options.addOption({QStringLiteral("imperial"), QStringLiteral("Imperial units.")});
    options.process(qt);
    app::loadFonts();
    app::applyTheme(
        qt, options.isSet(QStringLiteral("dark"))
                || (!options.isSet(QStringLiteral("shots")) && QSettings().value(QStringLiteral("dark")).toBool()));
    app::MainWindow window;
    const QStringList files = options.positionalArguments();
    if (!files.isEmpty()) {
        if (!window.openPath(files.first())) { // and nothing else is shown in its place
            std::fprintf(stderr, "%s could not be opened: %s\n", qPrintable(files.first()),
                         qPrintable(window.lastSaid()));
            window.document().showOnly(
                {},
                QObject::tr("%1 could not be opened. %2").arg(QFileInfo(files.first()).fileName(), window.lastSaid()));
        }
    }
    if (!window.document().isOpen()) {
        const QString folder = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation);
        QDir().mkpath(folder);
        const QString path =
            QStringLiteral("%1/fernhollow-%2.vridge")
                .arg(folder, QDateTime::currentDateTime().toString(QStringLiteral("yyyyMMdd-HHmmss-zzz")));
        if (const QString wrong = window.document().createAt(path, store::demoMachine()); !wrong.isEmpty())
            std::fprintf(stderr, "%s\n", qPrintable(wrong));
        else
            window.say(
                QObject::tr("This is a copy of the demo machine, in %1. Machine, New begins your own.").arg(path));
    }
    const QStringList sides = options.value(QStringLiteral("size")).split(QLatin1Char('x'));
    const QSize size(std::max(800, sides.value(0).toInt()), std::max(600, sides.value(1).toInt()));
    window.resize(size);
    if (options.isSet(QStringLiteral("imperial")))
        app::setUnitSystem(UnitSystem::Imperial);
    const app::Leaving leaving(window);
    // with its frame it has to fit the screen, or its foot is out of reach
    if (const QSize room = window.screen()->availableSize();
        !options.isSet(QStringLiteral("shots")) && (room.width() < size.width() || room.height() < size.height() + 40))
        window.showMaximized();
    else
        window.show();
    window.goTo(0);
    if (options.isSet(QStringLiteral("shots"))) {
        int made = 0;
        QTimer::singleShot(0, &window, [&] {
            made = app::walkAndShoot(window, options.value(QStringLiteral("shots")), size);
            QApplication::quit();
        });
        QApplication::exec();
        std::printf("%d pictures\n", made);
        return made > 0 ? 0 : 1;
    }
    if (files.isEmpty())
        window.bench().startSimulated();
    return QApplication::exec();
}
