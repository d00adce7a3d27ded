#pragma once
#include "app/document/document.h"
#include "app/theme/sentence.h"
#include "core/model/fields.h"

#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QWidget>

namespace ridge::app {

/// One entry for a quantity: takes units and arithmetic, shows the reader's unit. A wrong text stays, with its sentence
/// below. Up and Down change the value by 5 %, with Shift by 1 %.
class QuantityEdit : public QWidget {
    Q_OBJECT

public:
    QuantityEdit(const Field& field, bool rotary, QWidget* parent = nullptr);
    ~QuantityEdit() override;
    void setValue(std::optional<double> si);
    [[nodiscard]] QLineEdit& line() { return *m_line; }
    [[nodiscard]] QString sentence() const { return m_sentence->text(); }

Q_SIGNALS:
    void entered(std::optional<double> si);

protected:
    bool eventFilter(QObject* object, QEvent* event) override;

private:
    void accept();
    void markGood();
    Field m_field;
    bool m_rotary;
    QString m_shown;
    std::optional<double> m_si;
    QLineEdit* m_line;
    QLabel* m_sentence;
};

/// What a person typed as a number with a unit, judged by its field. @error as parseQuantity and problemOf
[[nodiscard]] Result<std::optional<double>> readEntry(const QString& text, const Field& field, bool rotary);

/// What a field means and what it accepts, for F1 and tool tips.
[[nodiscard]] QString helpOf(const Field& field, bool rotary);

/// The struct that a form shows and edits, found anew each time so that undo and redo always hit the right one.
struct FormTarget {
    std::function<void(const std::function<void(void*)>& look)> read; ///< calls `look` with a copy, or not at all
    std::function<void(const QString& text, const std::function<void(void*)>& change)> edit;
    bool rotary = false;
};
/// A struct inside the selected axis.
[[nodiscard]] FormTarget axisTarget(Document& document, std::function<void*(Axis&)> find);
/// Site and policies of the machine.
[[nodiscard]] FormTarget siteTarget(Document& document);

/// A form built from a table of fields, in as many columns as were asked for and have room.
class FieldForm : public QWidget {
    Q_OBJECT

public:
    /// @param prefix  group key, e.g. "load": object names are prefix.key
    FieldForm(FormTarget target, const QString& prefix, std::span<const Field> fields, int columns = 1,
              QWidget* parent = nullptr);
    void refresh();
    /// Fields of mass and inertia get a small mark, and F4, that ask for a builder.
    void offerBuilder(const std::function<void(const Field&)>& build);
    [[nodiscard]] QSize minimumSizeHint() const override;

Q_SIGNALS:
    void relaid(); ///< in another number of columns, for another height

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    struct Row {
        Field field;
        QLabel* label = nullptr;
        QWidget* editor = nullptr; ///< one of those below
        QuantityEdit* number = nullptr;
        QLineEdit* text = nullptr;
        QComboBox* choice = nullptr;
    };
    [[nodiscard]] QWidget* numberEditor(Row& row);
    [[nodiscard]] QWidget* textEditor(Row& row);
    [[nodiscard]] QWidget* choiceEditor(Row& row);
    void change(const Field& field, const std::function<void(void*)>& set);
    [[nodiscard]] int widthOf(int columns) const; ///< that so many columns need
    [[nodiscard]] int fitting() const;            ///< columns that have room now
    void layOut(int columns);
    FormTarget m_target;
    QString m_prefix;
    std::vector<Row> m_rows;
    int m_wanted, m_columns = 0; ///< columns
    bool m_filling = false;
};

} // namespace ridge::app
