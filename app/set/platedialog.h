#pragma once
#include "app/document/document.h"
#include "core/record/turnfacts.h"

#include <QDialog>

class QTableWidget;

namespace ridge::app {

/// The plate in the memory of the encoder beside the plan: row by row old, new, keep or not.
class PlateDialog : public QDialog {
    Q_OBJECT

public:
    PlateDialog(Document& document, const PlateRead& plate, QWidget* parent);

private:
    void take();
    Document& m_document;
    struct Row {
        QString name;
        double plan = 0, plate = 0; ///< SI
        Quantity quantity = Quantity::Number;
        std::function<void(ServoMotor&, double)> set;
    };
    std::vector<Row> m_rows;
    QTableWidget* m_table;
};

} // namespace ridge::app
