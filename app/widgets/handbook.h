#pragma once
#include "core/handbook/handbook.h"

#include <QDialog>

class QHBoxLayout;
class QLabel;
class QLineEdit;
class QListWidget;
class QTextBrowser;

namespace ridge::app {

/// Formulas of the trade that stand alone: chosen at the left, entered in any unit, answered with their working.
/// Nothing entered here touches a machine.
class Handbook : public QDialog {
    Q_OBJECT

public:
    explicit Handbook(QWidget* parent = nullptr);
    /// Shows an entry; unknown ids change nothing.
    void show(std::string_view id);
    using QDialog::show;

private:
    void list(const QString& words);
    void build(const HandbookEntry& entry);
    void answer();
    QLineEdit* m_search;
    QListWidget* m_list;
    QLabel *m_title, *m_source, *m_sentence;
    QWidget* m_form = nullptr;
    QWidget* m_right;
    QHBoxLayout* m_halves;
    QTextBrowser* m_working;
    const HandbookEntry* m_entry = nullptr;
    std::vector<double> m_inputs;
};

} // namespace ridge::app
