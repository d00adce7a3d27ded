#pragma once
#include "app/document/bench.h"
#include "core/stations/controllersheet.h"

#include <QWidget>

class QLabel;
class QPushButton;
class QTableWidget;

namespace ridge::app {

/// What the controller's programmer gets: one sheet, taken along as a file, ticked once a commanded move was right.
class SheetPanel : public QWidget {
    Q_OBJECT

public:
    explicit SheetPanel(Document& document, QWidget* parent = nullptr);
    void refresh();

private:
    void save();
    void tick();
    Document& m_document;
    std::vector<SheetRow> m_sheet;
    QTableWidget* m_table;
    QPushButton *m_save, *m_tick;
    QLabel* m_words;
};

} // namespace ridge::app
