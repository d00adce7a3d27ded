#pragma once
#include "app/document/bench.h"
#include "app/document/document.h"
#include "app/instruments/ridgebar.h"
#include "app/stations/station.h"
#include "app/widgets/panels.h"

#include <QLabel>
#include <QLineEdit>
#include <QMainWindow>
#include <QStackedWidget>

namespace ridge::app {

class MainWindow : public QMainWindow {
    Q_OBJECT

public:
    explicit MainWindow(QWidget* parent = nullptr);
    [[nodiscard]] Document& document() { return m_document; }
    [[nodiscard]] Bench& bench() { return m_bench; }
    void goTo(int station);
    [[nodiscard]] int station() const { return m_stack->currentIndex(); }
    /// Opens a .vridge, or imports a JSON beside it. Says what is wrong and keeps what was open.
    bool openPath(const QString& path);
    void setDark(bool dark);

protected:
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void buildMenus();
    void refresh();
    void refreshLine();
    void say(const QString& sentence);
    void rememberRecent(const QString& path);
    Document m_document;
    Bench m_bench;
    RidgeBar* m_ridge;
    AxisList* m_axes;
    QStackedWidget* m_stack;
    MarginsPanel* m_margins;
    QLabel *m_logLine, *m_connection;
    QLineEdit* m_note;
    QMenu* m_recent = nullptr;
    std::vector<StationPage*> m_pages;
    bool m_pending = false;
};

} // namespace ridge::app
