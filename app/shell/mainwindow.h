#pragma once
#include "app/document/bench.h"
#include "app/document/document.h"
#include "app/instruments/ridgebar.h"
#include "app/stations/station.h"
#include "app/widgets/axislist.h"
#include "app/widgets/finder.h"
#include "app/widgets/margins.h"

#include <QLabel>
#include <QLineEdit>
#include <QMainWindow>
#include <QStackedWidget>

namespace ridge::app {

class MainWindow : public QMainWindow {
    Q_OBJECT

public:
    /// Behind the nine stations: the machine itself.
    static constexpr int machineView = stationCount;

    explicit MainWindow(QWidget* parent = nullptr);
    [[nodiscard]] Document& document() { return m_document; }
    [[nodiscard]] Bench& bench() { return m_bench; }
    void goTo(int station);
    [[nodiscard]] int station() const { return m_stack->currentIndex(); }
    [[nodiscard]] StationPage* page() const { return m_pages[static_cast<std::size_t>(m_stack->currentIndex())]; }
    /// True while a station runs something on the drive or calculates.
    [[nodiscard]] bool busy() const;
    /// Opens a .vridge, or imports a JSON beside it. Says what is wrong and keeps what was open.
    bool openPath(const QString& path);
    void setDark(bool dark);

protected:
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void layOut();
    void buildMenus();
    void machineMenu();
    void refresh();
    void refreshLine();
    void say(const QString& sentence);
    void rememberRecent(const QString& path);
    void showRecent();
    void exportJson();
    void keepVersion();
    void addParts(const QString& path);
    [[nodiscard]] std::vector<Finder::Entry> findable();
    void addFields(std::vector<Finder::Entry>& entries);
    QAction* addAction(QMenu* menu, const QString& text, const QKeySequence& keys, std::function<void()> slot);
    Document m_document;
    Bench m_bench;
    RidgeBar* m_ridge;
    AxisList* m_axes;
    QStackedWidget* m_stack;
    MarginsPanel* m_margins;
    Finder* m_finder;
    QLabel *m_logLine, *m_connection;
    QLineEdit* m_note;
    QMenu* m_recent = nullptr;
    std::vector<StationPage*> m_pages;
    bool m_pending = false;
};

} // namespace ridge::app
