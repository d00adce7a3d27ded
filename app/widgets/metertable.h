#pragma once
#include "app/document/document.h"
#include "app/widgets/instruments.h"

#include <QWidget>

class QLabel;
class QTableWidget;

namespace ridge::app {

/// The readings that the plan of an axis asks for: where the meter is put, what it has to show, what it showed. A
/// reading is typed into its row and is a fact at once.
class MeterTable : public QWidget {
    Q_OBJECT

public:
    explicit MeterTable(Document& document, QWidget* parent = nullptr);
    void refresh();
    void choose(const std::string& conductor); ///< the row of a conductor, ready to be typed into; if it has one

private:
    void typed(int row, int column);
    Document& m_document;
    InstrumentRow* m_instrument;
    QTableWidget* m_table;
    QLabel* m_words;
    std::map<std::string, double> m_warm; ///< temperatures typed before their reading, by place [K]
    bool m_filling = false;
};

} // namespace ridge::app
