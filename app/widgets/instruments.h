#pragma once
#include "app/document/document.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QLineEdit;
class QTableWidget;

namespace ridge::app {

/// The instrument of a reading: one of those kept, or typed; the one of last time stands there again.
class InstrumentRow : public QWidget {
    Q_OBJECT

public:
    explicit InstrumentRow(Document& document, QWidget* parent = nullptr);
    /// As entered, with the rate of the kept one; remembered for the next time.
    [[nodiscard]] Instrument instrument() const;

private:
    Document& m_document;
    QComboBox* m_kept;
    QLineEdit *m_kind, *m_serial, *m_calibrated;
};

/// The instruments of the machine: kind, serial number, calibration, rate. A newer entry of the same takes its place.
class InstrumentList : public QWidget {
    Q_OBJECT

public:
    explicit InstrumentList(Document& document, QWidget* parent = nullptr);
    void refresh();

private:
    void keep();
    Document& m_document;
    QTableWidget* m_table;
    QLineEdit *m_kind, *m_serial, *m_calibrated, *m_rate;
    QLabel* m_words;
};

} // namespace ridge::app
