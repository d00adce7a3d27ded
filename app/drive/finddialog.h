#pragma once
#include "app/document/bench.h"
#include "link/linehelp.h"

#include <QDialog>

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QProgressBar;
class QPushButton;
class QTableWidget;

namespace ridge::app {

/// Looks for drives on a line, by reading alone, and finds out why nothing answers. What was found is connected, or
/// looked at, from here.
class FindDialog : public QDialog {
    Q_OBJECT

public:
    FindDialog(Document& document, Bench& bench, QWidget* parent);

private:
    QLayout* whereRow();
    QLayout* foundPart();
    QLayout* helpPart();
    [[nodiscard]] link::Line line() const;
    [[nodiscard]] link::Search search() const;
    [[nodiscard]] QString typedAddress() const; ///< the first place, as one types it
    [[nodiscard]] ObjectDictionary map() const;
    void offerNames();
    void begin();
    void findOut();
    void stop();
    void showFound(const link::Found& found);
    void showSteps();
    void enable();
    void link(bool lookOn);
    void tell(bool good);
    void note();
    void say(const QString& words);

    Document& m_document;
    Bench& m_bench;
    link::Finder m_finder;
    link::LineHelp m_help;
    std::vector<link::Found> m_found;
    QComboBox *m_line = nullptr, *m_name = nullptr;
    QLineEdit *m_numbers = nullptr, *m_units = nullptr, *m_seen = nullptr;
    QPushButton *m_search = nullptr, *m_stop = nullptr, *m_connect = nullptr, *m_lookOn = nullptr, *m_why = nullptr,
                *m_loop = nullptr, *m_yes = nullptr, *m_no = nullptr, *m_note = nullptr;
    QCheckBox* m_keep = nullptr;
    QProgressBar* m_progress = nullptr;
    QTableWidget *m_list = nullptr, *m_steps = nullptr;
    QLabel* m_words = nullptr;
};

} // namespace ridge::app
