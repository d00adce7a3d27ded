#pragma once
#include "core/objects/objects.h"

#include <QDialog>

#include <optional>

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QTableWidget;

namespace ridge::app {

/// The register map of a type of drive: opened, edited, checked, exported. It says what it closes, so that nobody
/// finds out at the machine.
class MapDialog : public QDialog {
    Q_OBJECT

public:
    /// @param map  JSON of the axis's own map; empty: the one that ships
    MapDialog(const std::string& map, QWidget* parent);
    /// The map as it is wanted for the axis; empty: the one that ships.
    [[nodiscard]] std::string taken() const { return m_taken; }

    void openFile(const QString& path);
    void exportTo(const QString& path);

private:
    QLayout* headRow();
    QLayout* tablePart();
    void showMap(const ObjectDictionary& map);
    void showRow(int row, const ObjectEntry& entry);
    void addRow();
    void removeRow();
    void judge();
    void say(const QString& words);
    /// The entry of a row, or what is wrong with it.
    [[nodiscard]] std::optional<ObjectEntry> entryOf(int row, QString* wrong) const;
    [[nodiscard]] QString cell(int row, int column) const;

    std::vector<ObjectEntry> m_entries; ///< as read; what the table does not show is kept from here
    std::optional<ObjectDictionary> m_map;
    std::string m_taken;
    QLineEdit *m_name = nullptr, *m_maker = nullptr, *m_type = nullptr;
    QComboBox* m_order = nullptr;
    QTableWidget *m_table = nullptr, *m_closed = nullptr;
    QPushButton *m_use = nullptr, *m_export = nullptr, *m_remove = nullptr;
    QLabel* m_words = nullptr;
    bool m_filling = false;
};

} // namespace ridge::app
