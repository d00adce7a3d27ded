#include "forms.h"

#include "app/theme/theme.h"
#include "core/units/parse.h"
#include "core/units/print.h"

#include <QSettings>
#include <QStyle>
#include <QVBoxLayout>

namespace ridge::app {

namespace {
UnitSystem system_ = UnitSystem::Metric;
}

UnitSystem unitSystem() { return system_; }
void setUnitSystem(UnitSystem system) { system_ = system; }

QuantityEdit::QuantityEdit(const Field& field, bool rotary, QWidget* parent) : QWidget(parent), m_field(field), m_rotary(rotary)
{
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(1);
    m_line = new QLineEdit;
    m_line->setAccessibleName(said(field.label));
    m_line->setToolTip(said(field.help));
    m_sentence = new QLabel;
    m_sentence->setObjectName(QStringLiteral("sentence"));
    m_sentence->setWordWrap(true);
    m_sentence->hide();
    layout->addWidget(m_line);
    layout->addWidget(m_sentence);
    setFocusProxy(m_line);
    connect(m_line, &QLineEdit::editingFinished, this, &QuantityEdit::accept);
}

void QuantityEdit::setValue(std::optional<double> si)
{
    if (m_line->hasFocus() && m_line->isModified())
        return;
    m_shown = si ? QString::fromStdString(print(*si, resolve(m_field.quantity, m_rotary), unitSystem(), 6)) : QString();
    m_line->setText(m_shown);
    m_line->setModified(false);
    m_line->setCursorPosition(0);
    m_line->setProperty("wrong", false);
    m_line->style()->polish(m_line);
    m_sentence->hide();
}

void QuantityEdit::accept()
{
    const QString text = m_line->text().trimmed();
    if (text == m_shown.trimmed()) {
        m_line->setText(m_shown); // nothing new: a wrong text before it is forgotten
        m_line->setModified(false);
        m_line->setProperty("wrong", false);
        m_line->style()->polish(m_line);
        m_sentence->hide();
        return;
    }
    const Quantity q = resolve(m_field.quantity, m_rotary);
    std::optional<double> value;
    std::optional<Error> problem;
    if (!text.isEmpty()) {
        const auto parsed = parseQuantity(text.toStdString(), q, displayUnit(q, unitSystem()));
        if (parsed)
            value = *parsed;
        else
            problem = parsed.error();
    }
    if (!problem)
        problem = problemOf(m_field, value);
    m_line->setProperty("wrong", problem.has_value());
    m_line->style()->polish(m_line);
    if (problem) {
        m_sentence->setText(QString::fromStdString(messageFor(*problem, m_rotary, unitSystem())));
        m_sentence->show();
        return; // the text stays, the last good value stays in the document
    }
    m_sentence->hide();
    m_line->setModified(false);
    Q_EMIT entered(value);
}

FieldForm::FieldForm(Document& document, const QString& prefix, std::span<const Field> fields, Find find, QWidget* parent)
    : QWidget(parent), m_document(document), m_prefix(prefix), m_find(std::move(find))
{
    auto* layout = new QFormLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setVerticalSpacing(4);
    layout->setLabelAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    for (const Field& f : fields)
        addRow(f, *layout);
    refresh();
}

QString FieldForm::commandText(const Field& field) const { return tr("Change %1").arg(said(field.label)); }

void FieldForm::addRow(const Field& f, QFormLayout& layout)
{
    Row row{f};
    const QString name = m_prefix + QLatin1Char('.') + QString::fromUtf8(f.key.data(), static_cast<qsizetype>(f.key.size()));
    QWidget* editor = nullptr;
    if (f.kind == FieldKind::Number) {
        row.number = new QuantityEdit(f, m_document.axis().mechanism.rotary());
        row.number->line().setObjectName(name);
        connect(row.number, &QuantityEdit::entered, this, [this, f](std::optional<double> v) {
            m_document.edit(commandText(f), {}, [&](Axis& a) {
                if (void* object = m_find(a))
                    f.set(object, v);
            });
        });
        editor = row.number;
    } else if (f.kind == FieldKind::Text) {
        row.text = new QLineEdit;
        row.text->setObjectName(name);
        connect(row.text, &QLineEdit::editingFinished, this, [this, f, edit = row.text] {
            m_document.edit(commandText(f), {}, [&](Axis& a) {
                if (void* object = m_find(a))
                    f.setText(object, edit->text().toStdString());
            });
        });
        editor = row.text;
    } else {
        row.choice = new QComboBox;
        row.choice->setObjectName(name);
        if (f.kind == FieldKind::Flag)
            row.choice->addItems({tr("no"), tr("yes")});
        else
            for (const auto c : f.choices)
                row.choice->addItem(c.empty() ? tr("not looked at") : said(c), QString::fromUtf8(c.data(), static_cast<qsizetype>(c.size())));
        connect(row.choice, &QComboBox::currentIndexChanged, this, [this, f, box = row.choice](int index) {
            if (m_filling)
                return;
            m_document.edit(commandText(f), {}, [&](Axis& a) {
                void* object = m_find(a);
                if (!object)
                    return;
                if (f.kind == FieldKind::Flag)
                    f.set(object, index);
                else
                    f.setText(object, box->itemData(index).toString().toStdString());
            });
        });
        editor = row.choice;
    }
    editor->setAccessibleName(said(f.label));
    auto* label = new QLabel(said(f.label));
    label->setToolTip(said(f.help));
    label->setBuddy(editor);
    layout.addRow(label, editor);
    m_rows.push_back(row);
}

void FieldForm::refresh()
{
    if (!m_document.hasAxis())
        return;
    Axis copy = m_document.axis();
    void* object = m_find(copy);
    if (!object)
        return;
    m_filling = true;
    for (Row& row : m_rows) {
        if (row.number)
            row.number->setValue(row.field.get(object));
        else if (row.text && !row.text->hasFocus())
            row.text->setText(QString::fromStdString(row.field.getText(object)));
        else if (row.choice && row.field.kind == FieldKind::Flag)
            row.choice->setCurrentIndex(row.field.get(object).value_or(0) != 0 ? 1 : 0);
        else if (row.choice)
            row.choice->setCurrentIndex(row.choice->findData(QString::fromStdString(row.field.getText(object))));
    }
    m_filling = false;
}

} // namespace ridge::app
