#pragma once
#include "app/document/bench.h"
#include "core/stations/parametersets.h"

#include <QWidget>

#include <functional>

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QTableWidget;

namespace ridge::app {

/// Named sets: kept, compared two by two, taken from files and into them, written back whole or row by row.
class SetsPanel : public QWidget {
    Q_OBJECT

public:
    /// @param write  writes values into the drive of the axis in view and records it; says what came of it
    using Write = std::function<void(const DriveValues& values, std::function<void(const QString&)> done)>;
    SetsPanel(Document& document, Bench& bench, Write write, QWidget* parent = nullptr);
    void refresh();
    void say(const QString& words);
    /// Compares what was found in a file with what is in the drive.
    void takeFile(const QString& path);

private:
    [[nodiscard]] const ParameterSet* chosen(const QComboBox& box) const;
    void compare();
    void keep();
    void exportSet(bool dcf);
    void writeBack(bool picked);
    void factory();
    Document& m_document;
    Bench& m_bench;
    Write m_write;
    std::vector<ParameterSet> m_sets;
    std::vector<SetDifference> m_rows;
    QComboBox *m_a, *m_b;
    QLineEdit* m_name;
    QPushButton *m_keep, *m_import, *m_csv, *m_dcf, *m_back, *m_backPicked, *m_factory;
    QLabel *m_count, *m_words;
    QTableWidget* m_table;
};

} // namespace ridge::app
