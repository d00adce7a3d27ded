#pragma once
#include "app/document/document.h"

#include <QDialog>

class QCheckBox;
class QLabel;
class QLineEdit;
class QTableWidget;

namespace ridge::app {

/// Inertia, friction, gravity and travel as they were measured, beside what is planned. Adopting one into the plan is
/// an act of its own, undone like any edit; what it was before stands in the logbook.
class MeasuredDialog : public QDialog {
    Q_OBJECT

public:
    explicit MeasuredDialog(Document& document, QWidget* parent = nullptr);

private:
    void fill();
    void record();
    void adopt(int row);
    Document& m_document;
    QTableWidget* m_table;
    QLineEdit* m_how;
    QCheckBox* m_bare;
    QLabel* m_words;
};

} // namespace ridge::app
