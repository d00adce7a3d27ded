#pragma once
#include "app/document/document.h"

#include <QDialog>

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;

namespace ridge::app {

/// A drive, a motor or an encoder is replaced: what falls is listed before, what carries over is said, and it is an act
/// of its own in the record.
class ReplaceDialog : public QDialog {
    Q_OBJECT

public:
    ReplaceDialog(Document& document, QWidget* parent);

private:
    void refresh();
    void replace();
    Document& m_document;
    QComboBox* m_part;
    QCheckBox* m_same;
    QLineEdit *m_before, *m_after, *m_words;
    QLabel *m_falls, *m_stays, *m_said;
};

} // namespace ridge::app
