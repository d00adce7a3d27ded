#pragma once
#include "app/document/bench.h"

#include <QWidget>

class QLabel;
class QTableWidget;

namespace ridge::app {

/// Inputs and outputs of the drive: what each does, on which level, and how it stands now.
class IoPanel : public QWidget {
    Q_OBJECT

public:
    IoPanel(Document& document, Bench& bench, QWidget* parent = nullptr);
    void refresh();
    void live();

private:
    enum Column { Place, Function, Level, Now, Held, columnCount };
    void typed(int row, int column);
    Document& m_document;
    Bench& m_bench;
    QTableWidget* m_table;
    QLabel* m_words;
    bool m_filling = false;
};

} // namespace ridge::app
