#pragma once
#include "app/document/bench.h"

#include <QCheckBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

#include <map>

namespace ridge::app {

/// The drive of the axis in view, on every station: connect, who it is, who commands it, its state and live values with
/// their age, stop. One place for all of it; a simulated drive is marked as practice.
class ConnectionStrip : public QFrame {
    Q_OBJECT

public:
    ConnectionStrip(Document& document, Bench& bench);
    void refresh();
    /// Room of the window: a narrow one gets narrower values, a low one no captions; tips tell the whole.
    void fit(int width, bool captions);

Q_SIGNALS:
    void spoken(const QString& sentence);
    void findAsked();

private:
    enum class Live { State, Mode, Owner, Position, Speed, Current, Bus, Inputs, Warnings, Age };
    QLabel* value(Live which, const QString& name, int characters);
    void put(Live which, const QString& text, bool doubtful = false);
    void showValues();
    void spread();
    int m_room = 1250; ///< width of the window
    void askOwner();

    Document& m_document;
    Bench& m_bench;
    QLabel* m_identity = nullptr;
    QWidget *m_values = nullptr, *m_offer = nullptr;
    std::map<Live, QLabel*> m_live, m_names;
    std::map<Live, int> m_characters;
    QLineEdit* m_address = nullptr;
    QPushButton *m_simulate = nullptr, *m_link = nullptr, *m_leave = nullptr, *m_command = nullptr, *m_lookOn = nullptr,
                *m_stop = nullptr;
    QCheckBox* m_present = nullptr;
};

} // namespace ridge::app
