#pragma once
#include <QCoreApplication>
#include <QEventLoop>
#include <QProgressDialog>
#include <QThread>

#include <memory>
#include <optional>
#include <stop_token>
#include <type_traits>

namespace ridge::app {

/// Runs `work` beside the window and gives what it gives. What is done at once shows nothing; what takes longer is
/// told, can be cancelled by way of the token, and the window goes on painting; nothing else of it can be used
/// meanwhile.
template <class Work>
[[nodiscard]] auto whileWaiting(QWidget& window, const QString& what, Work work)
{
    using Given = std::invoke_result_t<Work, std::stop_token>;
    constexpr int atOnce = 250; // ms; nobody feels it
    std::optional<Given> given;
    std::stop_source stop;
    const std::unique_ptr<QThread> thread(QThread::create([&] { given = work(stop.get_token()); }));
    thread->start();
    if (!thread->wait(atOnce)) {
        QEventLoop loop;
        QProgressDialog dialog(what, QCoreApplication::translate("ridge::app", "Cancel"), 0, 0, &window);
        dialog.setObjectName(QStringLiteral("waiting"));
        dialog.setWindowModality(Qt::ApplicationModal);
        dialog.setAutoClose(false);
        QObject::connect(&dialog, &QProgressDialog::canceled, &dialog, [&] { stop.request_stop(); });
        QObject::connect(thread.get(), &QThread::finished, &loop, &QEventLoop::quit);
        dialog.show();
        if (!thread->isFinished())
            loop.exec();
        thread->wait();
    }
    return std::move(*given);
}

} // namespace ridge::app
