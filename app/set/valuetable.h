#pragma once
#include "app/document/bench.h"
#include "core/stations/parametersets.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QLineEdit;
class QTableWidget;

namespace ridge::app {

/// Every object of the drive: planned, in the drive, saved, factory; only differences shout. What is planned is edited
/// in place.
class ValueTable : public QWidget {
    Q_OBJECT

public:
    ValueTable(Document& document, Bench& bench, QWidget* parent = nullptr);
    void refresh();

private:
    enum Column { Object, Name, Planned, Held, Saved, Factory, Range, Acts, Why, columnCount };
    void fill(int row, const ParameterRow& r);
    void typed(int row, int column);
    [[nodiscard]] bool wanted(const ParameterRow& r) const;
    Document& m_document;
    Bench& m_bench;
    QLineEdit* m_search;
    QComboBox* m_filter;
    QLabel *m_count, *m_words;
    QTableWidget* m_table;
    std::vector<ObjectKey> m_keys; ///< of the rows
    bool m_filling = false;
};

} // namespace ridge::app
