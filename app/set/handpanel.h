#pragma once
#include "app/document/bench.h"
#include "core/stations/handsettings.h"

#include <QWidget>

#include <map>

class QLabel;
class QLineEdit;
class QTableWidget;

namespace ridge::app {

class BoardView;

/// A drive that no link reaches: who it is, its switches as they stood and as they stand, values read off its display.
class HandPanel : public QWidget {
    Q_OBJECT

public:
    HandPanel(Document& document, Bench& bench, QWidget* parent = nullptr);
    void refresh();

private:
    void identify();
    void record();
    void takeValue();
    void say(const QString& words);
    Document& m_document;
    Bench& m_bench;
    QLineEdit *m_maker, *m_type, *m_serial, *m_firmware, *m_object, *m_value;
    QWidget* m_identity;
    QTableWidget* m_table;
    BoardView* m_board;
    QLabel* m_words;
    std::vector<HandSetting> m_settings;
    std::map<std::string, std::pair<QString, QString>> m_typed; ///< by setting, not in the record yet
    std::string m_axis;
    bool m_filling = false;
};

} // namespace ridge::app
