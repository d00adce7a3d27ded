#pragma once
#include "app/document/document.h"

#include <QDialog>
#include <QElapsedTimer>
#include <QTimer>

class QLabel;
class QLineEdit;
class QPushButton;

namespace ridge::app {

class QuestionList;

/// Turns of a multi-turn encoder that lost its battery: what has to stand before two of its pins are joined, how long
/// the control power was on, how long the pins are joined, and what to do after each try. The short is a bridge of the
/// register while it is in.
class TurnsDialog : public QDialog {
    Q_OBJECT

public:
    explicit TurnsDialog(Document& document, QWidget* parent = nullptr);
    void refresh();

private:
    void say(const QString& words);
    void shortIn();
    void shortOut();
    void result(bool cleared);
    void clocks();
    [[nodiscard]] double typed(const QLineEdit& line) const; ///< seconds; 0: none
    Document& m_document;
    QuestionList* m_before;
    QPushButton *m_lost, *m_power, *m_in, *m_out, *m_yes, *m_no;
    QLineEdit *m_pins, *m_need, *m_sheet;
    QLabel *m_charge, *m_short, *m_next, *m_words;
    QTimer m_tick;
    QElapsedTimer m_charging, m_joining;
    double m_charged = 0, m_joined = 0; ///< of this try [s]
};

} // namespace ridge::app
