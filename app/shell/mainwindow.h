#pragma once
#include "app/document/bench.h"
#include "app/document/document.h"
#include "app/instruments/ridgebar.h"
#include "app/stations/station.h"
#include "app/widgets/axislist.h"
#include "app/widgets/finder.h"
#include "app/widgets/margins.h"

#include "connectionstrip.h"

#include <QLabel>
#include <QLineEdit>
#include <QMainWindow>
#include <QPushButton>
#include <QStackedWidget>
#include <QTimer>

namespace ridge::app {

class MainWindow : public QMainWindow {
    Q_OBJECT

public:
    /// Behind the nine stations: the machine itself.
    static constexpr int machineView = stationCount;

    explicit MainWindow(QWidget* parent = nullptr);
    ~MainWindow() override;
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
    /// An empty machine in a file of its own. Gives a sentence when it cannot be made.
    QString newMachine(const QString& path, const QString& name, const std::string& pattern);
    void showStep(int number) { m_margins->showStep(number); }
    void showNext(); ///< goes to the next step and opens its card
    void say(const QString& sentence);
    [[nodiscard]] QString lastSaid() const { return m_logLine->toolTip(); }

protected:
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void closeEvent(QCloseEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    void layOut();
    void buildMenus();
    void machineMenu();
    void refresh();
    void refreshLine();
    void rememberRecent(const QString& path);
    void showRecent();
    void exportJson();
    void keepVersion();
    void askNewMachine();
    bool askCopy(); ///< true: a copy is there
    /// Whether the open file may be left: nothing waits to be written, or the person has said what becomes of it.
    [[nodiscard]] bool mayLeaveFile();
    void driveMenu();
    void findDrive();
    void askMap();
    void helpMenu();
    void showText(const QString& title, const QString& text);
    void openVersion(const QString& name);
    QWidget* personBar();
    void tellFelled(QWidget* focus);
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
    QLabel *m_logLine, *m_readOnly;
    QPushButton* m_next;
    ConnectionStrip* m_strip;
    QWidget* m_person = nullptr;
    QLineEdit *m_personName = nullptr, *m_personRole = nullptr;
    QTimer m_saying; ///< a sentence stays long enough to be read
    QLineEdit* m_note;
    QMenu* m_recent = nullptr;
    std::vector<StationPage*> m_pages;
    bool m_pending = false;
};

} // namespace ridge::app
