#pragma once
#include "app/document/document.h"

#include <QDialog>
#include <QPushButton>

class QLineEdit;
class QListWidget;
class QComboBox;

namespace ridge::app {

/// Opens the notes on the parts of the axis in view; says how many there are, so that they come back when a type is
/// chosen again.
class NotesButton : public QPushButton {
    Q_OBJECT

public:
    explicit NotesButton(Document& document, QWidget* parent = nullptr);
    void refresh();

private:
    Document& m_document;
};

/// Notes on a part type: read, added, taken along.
class NotesDialog : public QDialog {
    Q_OBJECT

public:
    NotesDialog(Document& document, QWidget* parent);

private:
    void refresh();
    void add();
    Document& m_document;
    QComboBox* m_part;
    QListWidget* m_list;
    QLineEdit *m_text, *m_lamp;
    class QLabel* m_words;
};

/// Types of the parts that are chosen for an axis.
[[nodiscard]] std::vector<std::string> partTypes(const Axis& axis);

} // namespace ridge::app
