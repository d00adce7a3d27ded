#pragma once
#include "app/document/bench.h"

#include <QDialog>
#include <QTimer>

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;

namespace ridge::app {

/// What hands do at a machine, done to the simulated drive: turn, push, pull a plug, bridge, press, put a meter on. Of
/// a real drive there is nothing of it here.
class HandsDialog : public QDialog {
    Q_OBJECT

public:
    HandsDialog(Bench& bench, QWidget* parent);

private:
    QLayout* shaftPart();
    QLayout* plugsPart();
    QLayout* terminalsPart();
    QLayout* meterPart();
    QCheckBox* bit(const char* name, const QString& text, ObjectKey object, int bit);
    void put(ObjectKey object, std::int64_t value);
    void push();
    void analog();
    void readMeter();
    void enable();
    void refresh();
    void say(const QString& words);

    Bench& m_bench;
    QWidget* m_all = nullptr;
    QLineEdit *m_turn = nullptr, *m_push = nullptr, *m_analog = nullptr;
    QComboBox *m_from = nullptr, *m_to = nullptr, *m_kind = nullptr;
    QLabel *m_reading = nullptr, *m_words = nullptr;
    struct Bit {
        QCheckBox* box;
        ObjectKey object;
        int bit;
    };
    std::vector<Bit> m_bits;
    std::map<ObjectKey, std::int64_t> m_held; ///< bits as they stand
    QTimer m_meter;
    std::uint64_t m_connection = 0;
};

} // namespace ridge::app
