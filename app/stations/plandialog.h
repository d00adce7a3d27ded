#pragma once
#include "core/wiring/devices.h"
#include "core/wiring/plan.h"
#include "core/wiring/rules.h"

#include <QDialog>

#include <array>

class QLabel;
class QTableWidget;
class QTabWidget;

namespace ridge::app {

/// The connection plan as tables: conductors, devices, cables, buses, runs. What is changed is judged at once; taken,
/// it belongs to the axis and no longer follows from its parts.
class PlanDialog : public QDialog {
    Q_OBJECT

public:
    /// @param own  the axis has a plan of its own already
    PlanDialog(const WirePlan& plan, bool own, QWidget* parent);
    /// The plan as it is wanted; empty: back to what follows from the parts.
    [[nodiscard]] const std::string& taken() const { return m_taken; }

    /// A plan (JSON) or a wire list (CSV), by its ending.
    void openFile(const QString& path);
    void exportTo(const QString& path);

private:
    enum Page { Conductors, Devices, Cables, Buses, Runs };
    [[nodiscard]] QTableWidget* table(const char* name, const QString& title, const QStringList& headings);
    void fill(const WirePlan& plan);
    void addRow();
    void removeRow();
    void judge();
    void cellChanged(int page, int row, int column);
    /// Words for what a row cannot be; empty: it is taken.
    QString takeConductor(int row, int column, const QString& text);
    QString takeDevice(int row, int column, const QString& text);
    QString takeCable(int row, int column, const QString& text);
    QString takeBus(int row, int column, const QString& text);
    QString takeRun(int row, int column, const QString& text);
    void addDevice(const DeviceTemplate& of);
    void say(const QString& words);

    WirePlan m_plan;
    std::string m_taken;
    QTabWidget* m_pages;
    std::array<QTableWidget*, 5> m_tables{};
    QLabel *m_words, *m_judged;
    bool m_filling = false;
};

} // namespace ridge::app
