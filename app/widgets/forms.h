#pragma once
#include "app/document/document.h"

#include <QComboBox>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QWidget>

namespace ridge::app {

/// One entry for a quantity: takes units and arithmetic, shows the reader's unit. A wrong text stays, with its sentence below.
class QuantityEdit : public QWidget {
    Q_OBJECT

public:
    QuantityEdit(const Field& field, bool rotary, QWidget* parent = nullptr);
    void setValue(std::optional<double> si);
    [[nodiscard]] QLineEdit& line() { return *m_line; }
    [[nodiscard]] QString sentence() const { return m_sentence->text(); }

Q_SIGNALS:
    void entered(std::optional<double> si);

private:
    void accept();
    Field m_field;
    bool m_rotary;
    QString m_shown;
    QLineEdit* m_line;
    QLabel* m_sentence;
};

[[nodiscard]] UnitSystem unitSystem();
void setUnitSystem(UnitSystem system);

/// A form built from a table of fields. `find` gives the struct inside an axis, so that undo and redo always hit the
/// right one.
class FieldForm : public QWidget {
    Q_OBJECT

public:
    using Find = std::function<void*(Axis&)>;
    /// @param prefix  group key, e.g. "load": object names are prefix.key
    FieldForm(Document& document, const QString& prefix, std::span<const Field> fields, Find find, QWidget* parent = nullptr);
    void refresh();

private:
    struct Row {
        Field field;
        QuantityEdit* number = nullptr;
        QLineEdit* text = nullptr;
        QComboBox* choice = nullptr;
    };
    void addRow(const Field& field, QFormLayout& layout);
    [[nodiscard]] QString commandText(const Field& field) const;
    Document& m_document;
    QString m_prefix;
    Find m_find;
    std::vector<Row> m_rows;
    bool m_filling = false;
};

} // namespace ridge::app
