#pragma once
#include "app/document/document.h"

#include <QDialog>

class QComboBox;
class QTableWidget;

namespace ridge::app {

/// The axis with its gearbox, with another one or without, beside each other.
class GearDialog : public QDialog {
    Q_OBJECT

public:
    explicit GearDialog(Document& document, QWidget* parent = nullptr);
    [[nodiscard]] Axis tried() const; ///< the axis of the second column

private:
    void fill();
    Document& m_document;
    QComboBox* m_choice;
    QTableWidget* m_table;
};

} // namespace ridge::app
