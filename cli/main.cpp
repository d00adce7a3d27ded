#include "commands.h"

#include <QByteArray>
#include <QGuiApplication>

#include <algorithm>
#include <cstdio>
#include <memory>
#include <string>
#include <vector>

int main(int argc, char** argv)
{
    const std::vector<std::string> arguments(argv + 1, argv + argc);
    std::unique_ptr<QGuiApplication> gui; // only the PDF needs fonts; no window is opened
    const bool prints = !arguments.empty()
                        && (arguments[0] == "report"
                            || ((arguments[0] == "wire" || arguments[0] == "controller")
                                && std::find(arguments.begin(), arguments.end(), "--list") != arguments.end()));
    if (prints) {
        qputenv("QT_QPA_PLATFORM", "offscreen");
        qInstallMessageHandler(
            [](QtMsgType, const QMessageLogContext&, const QString&) {}); // the program's own words only
        gui = std::make_unique<QGuiApplication>(argc, argv);
    }
    const auto outcome = ridge::cli::run(arguments);
    std::fputs(outcome.out.c_str(), stdout);
    std::fputs(outcome.error.c_str(), stderr);
    return outcome.code;
}
