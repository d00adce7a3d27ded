#pragma once
#include "app/shell/mainwindow.h"
#include "app/shell/shots.h"

#include <QTemporaryDir>

/// The real window on a fresh copy of the demo machine, with settings of its own.
class WindowFixture {
public:
    WindowFixture();
    [[nodiscard]] ridge::app::MainWindow& window() { return *m_window; }
    [[nodiscard]] ridge::app::Document& document() { return m_window->document(); }
    [[nodiscard]] QString path(const char* name) const { return m_folder.filePath(QString::fromLatin1(name)); }
    template <class T>
    [[nodiscard]] T* find(const char* name)
    {
        T* here = m_window->page()->findChild<T*>(QString::fromLatin1(name));
        if (!here) // or of the strip at the foot
            here = m_window->findChild<T*>(QString::fromLatin1(name));
        if (here)
            ridge::app::bringUp(*here); // as a person does who looks for it
        return here;
    }
    /// Types into a line edit as a person does and presses Enter.
    void type(const char* name, const char* text);
    void settle(); ///< runs what is queued

private:
    QTemporaryDir m_folder;
    std::unique_ptr<ridge::app::MainWindow> m_window;
};
