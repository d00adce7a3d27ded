#pragma once
#include "app/document/document.h"

#include <QTableWidget>

namespace ridge::app {

/// What the motor does in every phase of the cycle: read, not typed; a selection is copied as a table.
class PhaseTable : public QTableWidget {
    Q_OBJECT

public:
    explicit PhaseTable(Document& document, QWidget* parent = nullptr);
    void fill();

protected:
    void keyPressEvent(QKeyEvent* event) override;

private:
    Document& m_document;
};

} // namespace ridge::app
