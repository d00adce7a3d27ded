#include "forms.h"

#include "app/theme/theme.h"
#include "core/units/parse.h"
#include "core/units/print.h"

#include <QAction>
#include <QIcon>
#include <QKeyEvent>
#include <QPainter>
#include <QPixmap>
#include <QStyle>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

namespace ridge::app {

namespace {
constexpr int editorWidth = 118, leastEditor = 96, spacing = 8, betweenColumns = 14;

/// Stable, never translated: tests, scripts and the finder look widgets up by it.
QString objectNameOf(const QString& prefix, const Field& field)
{
    return prefix + QLatin1Char('.') + QString::fromUtf8(field.key.data(), static_cast<qsizetype>(field.key.size()));
}
/// A small cylinder beside its axis.
QIcon builderIcon()
{
    QPixmap picture(32, 32);
    picture.fill(Qt::transparent);
    QPainter p(&picture);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(theme().soft, 2));
    p.setBrush(theme().accentSoft);
    p.drawRoundedRect(QRectF(5, 10, 22, 14), 3, 3);
    p.setPen(QPen(theme().soft, 2, Qt::DashLine));
    p.drawLine(QPointF(1, 17), QPointF(31, 17));
    return QIcon(picture);
}
} // namespace

QuantityEdit::QuantityEdit(const Field& field, bool rotary, QWidget* parent)
    : QWidget(parent)
    , m_field(field)
    , m_rotary(rotary)
{
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(1);
    m_line = new QLineEdit;
    m_line->setAccessibleName(said(field.label));
    m_line->setToolTip(helpOf(field, rotary));
    m_line->installEventFilter(this);
    m_sentence = new QLabel;
    m_sentence->setObjectName(QStringLiteral("sentence"));
    m_sentence->setWordWrap(true);
    m_sentence->hide();
    layout->addWidget(m_line);
    layout->addWidget(m_sentence);
    setFocusProxy(m_line);
    connect(m_line, &QLineEdit::editingFinished, this, &QuantityEdit::accept);
}

QuantityEdit::~QuantityEdit()
{
    m_line->disconnect(this); // a line that loses the focus while it goes tells nobody any more
    m_line->removeEventFilter(this);
}

void QuantityEdit::setValue(std::optional<double> si)
{
    if (m_line->hasFocus() && m_line->isModified())
        return;
    m_si = si;
    m_shown = si ? QString::fromStdString(print(*si, resolve(m_field.quantity, m_rotary), unitSystem(), 6)) : QString();
    m_line->setText(m_shown);
    m_line->setCursorPosition(0);
    markGood();
}

bool QuantityEdit::eventFilter(QObject* object, QEvent* event)
{
    if (event->type() != QEvent::KeyPress || m_line->isModified() || !m_si)
        return QWidget::eventFilter(object, event);
    const auto* key = static_cast<QKeyEvent*>(event);
    const int way = key->key() == Qt::Key_Up ? 1 : key->key() == Qt::Key_Down ? -1 : 0;
    if (way == 0 || m_field.quantity == Quantity::Count)
        return QWidget::eventFilter(object, event);
    const double factor = key->modifiers() & Qt::ShiftModifier ? 0.01 : 0.05;
    const double value = *m_si + way * factor * std::abs(*m_si);
    if (*m_si != 0 && !problemOf(m_field, value))
        Q_EMIT entered(value);
    return true;
}

void QuantityEdit::markGood()
{
    m_line->setModified(false);
    m_line->setProperty("wrong", false);
    m_line->style()->polish(m_line);
    m_sentence->hide();
}

Result<std::optional<double>> readEntry(const QString& text, const Field& field, bool rotary)
{
    std::optional<double> value;
    if (const QString trimmed = text.trimmed(); !trimmed.isEmpty()) {
        const Quantity q = resolve(field.quantity, rotary);
        const auto parsed = parseQuantity(trimmed.toStdString(), q, displayUnit(q, unitSystem()));
        if (!parsed)
            return tl::make_unexpected(parsed.error());
        value = *parsed;
    }
    if (const auto problem = problemOf(field, value))
        return tl::make_unexpected(*problem);
    return value;
}

void QuantityEdit::accept()
{
    const QString text = m_line->text().trimmed();
    if (text == m_shown.trimmed()) { // nothing new: a wrong text before it is forgotten
        m_line->setText(m_shown);
        markGood();
        return;
    }
    const auto value = readEntry(text, m_field, m_rotary);
    if (!value) { // the text stays, the last good value stays in the document
        m_line->setProperty("wrong", true);
        m_line->style()->polish(m_line);
        m_sentence->setText(QString::fromStdString(messageFor(value.error(), m_rotary, unitSystem())));
        m_sentence->show();
        return;
    }
    markGood();
    Q_EMIT entered(*value);
}

QString helpOf(const Field& f, bool rotary)
{
    QStringList parts;
    if (!f.help.empty())
        parts += said(f.help);
    if (f.kind == FieldKind::Number) {
        const Quantity q = resolve(f.quantity, rotary);
        const auto bound = [&](double v) { return QString::fromStdString(print(v, q, unitSystem(), 4)); };
        const bool low = std::isfinite(f.limits.low) && std::abs(f.limits.low) < 1e8,
                   high = std::isfinite(f.limits.high) && std::abs(f.limits.high) < 1e8;
        if (low && high)
            parts += QObject::tr("Accepted: %1%2 to %3.")
                         .arg(f.limits.lowOpen ? QObject::tr("more than ") : QString(), bound(f.limits.low),
                              bound(f.limits.high));
        else if (low)
            parts += f.limits.lowOpen ? QObject::tr("Accepted: more than %1.").arg(bound(f.limits.low))
                                      : QObject::tr("Accepted: %1 or more.").arg(bound(f.limits.low));
        parts += f.optional ? QObject::tr("May stay empty. Units and arithmetic are read: 3 in, =2*18.4.")
                            : QObject::tr("Units and arithmetic are read: 3 in, =2*18.4.");
    }
    return parts.join(QLatin1Char(' '));
}

FormTarget axisTarget(Document& document, std::function<void*(Axis&)> find)
{
    FormTarget t;
    t.read = [&document, find](const std::function<void(void*)>& look) {
        if (!document.hasAxis())
            return;
        Axis copy = document.axis();
        if (void* object = find(copy))
            look(object);
    };
    t.edit = [&document, find](const QString& text, const std::function<void(void*)>& change) {
        document.edit(text, {}, [&](Axis& a) {
            if (void* object = find(a))
                change(object);
        });
    };
    t.rotary = document.hasAxis() && document.axis().mechanism.rotary();
    return t;
}

FormTarget siteTarget(Document& document)
{
    FormTarget t;
    t.read = [&document](const std::function<void(void*)>& look) {
        Site copy = document.machine().site;
        look(&copy);
    };
    t.edit = [&document](const QString& text, const std::function<void(void*)>& change) {
        document.editSite(text, [&](Site& s) { change(&s); });
    };
    return t;
}

FieldForm::FieldForm(FormTarget target, const QString& prefix, std::span<const Field> fields, int columns,
                     QWidget* parent)
    : QWidget(parent)
    , m_target(std::move(target))
    , m_prefix(prefix)
    , m_wanted(columns)
{
    m_rows.reserve(fields.size());
    for (const Field& f : fields) {
        Row& row = m_rows.emplace_back(Row{f});
        row.editor = f.kind == FieldKind::Number ? numberEditor(row)
                     : f.kind == FieldKind::Text ? textEditor(row)
                                                 : choiceEditor(row);
        row.editor->setAccessibleName(said(f.label));
        row.editor->setAccessibleDescription(said(f.help));
        row.label = new QLabel(said(f.label));
        row.label->setToolTip(helpOf(f, m_target.rotary));
        row.label->setBuddy(row.editor);
        row.label->setMinimumHeight(24);
    }
    layOut(columns);
    refresh();
}

int FieldForm::widthOf(int columns) const
{
    const std::size_t perColumn =
        (m_rows.size() + static_cast<std::size_t>(columns) - 1) / static_cast<std::size_t>(columns);
    int all = 0, label = 0, editor = 0;
    for (std::size_t n = 0; n < m_rows.size(); ++n) {
        label = std::max(label, m_rows[n].label->sizeHint().width());
        editor = std::max(editor, m_rows[n].editor->minimumSizeHint().width());
        editor = std::max(editor, m_rows[n].editor->minimumWidth());
        if ((n + 1) % perColumn == 0 || n + 1 == m_rows.size()) {
            all += label + spacing + editor + (all > 0 ? 2 * spacing + betweenColumns : 0);
            label = editor = 0;
        }
    }
    return all;
}

QSize FieldForm::minimumSizeHint() const { return {widthOf(1), QWidget::minimumSizeHint().height()}; }

void FieldForm::resizeEvent(QResizeEvent* event)
{
    QWidget::resizeEvent(event);
    if (fitting() != m_columns) // not in the middle of the layout that asks
        QMetaObject::invokeMethod(
            this,
            [this] {
                if (const int columns = fitting(); columns != m_columns) {
                    layOut(columns);
                    Q_EMIT relaid();
                }
            },
            Qt::QueuedConnection);
}

int FieldForm::fitting() const
{
    int columns = m_wanted;
    while (columns > 1 && widthOf(columns) > width())
        --columns;
    return columns;
}

void FieldForm::layOut(int columns)
{
    m_columns = columns;
    delete layout();
    auto* grid = new QGridLayout(this);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setVerticalSpacing(4);
    grid->setHorizontalSpacing(spacing);
    const int perColumn = (static_cast<int>(m_rows.size()) + columns - 1) / columns;
    int n = 0;
    bool texts = false;
    for (const Row& row : m_rows) {
        const int column = n / perColumn * 3;
        grid->addWidget(row.label, n % perColumn, column, Qt::AlignLeft | Qt::AlignTop);
        grid->addWidget(row.editor, n % perColumn, column + 1, Qt::AlignTop);
        texts |= row.field.kind == FieldKind::Text;
        ++n;
    }
    for (int c = 0; c < columns; ++c) {
        grid->setColumnStretch(c * 3 + 1, texts ? 1 : 0);
        if (c > 0)
            grid->setColumnMinimumWidth(c * 3 - 1, betweenColumns);
    }
    if (!texts && columns > 1)
        grid->setColumnStretch(columns * 3, 1);
    else if (!texts)
        grid->setColumnStretch(0, m_wanted > 1 ? 0 : 1); // the editors of a narrow form stand at its right edge
    if (!texts && columns == 1 && m_wanted > 1)
        grid->setColumnStretch(2, 1);
    grid->setRowStretch(perColumn, 1);
    updateGeometry();
}

void FieldForm::offerBuilder(const std::function<void(const Field&)>& build)
{
    for (const Row& row : m_rows) {
        const Quantity q = resolve(row.field.quantity, m_target.rotary);
        if (!row.number || (q != Quantity::Mass && q != Quantity::Inertia))
            continue;
        QLineEdit& line = row.number->line();
        QAction* mark = line.addAction(builderIcon(), QLineEdit::TrailingPosition);
        mark->setObjectName(line.objectName() + QStringLiteral(".build"));
        mark->setText(tr("Build from solids"));
        mark->setToolTip(tr("Build from solids (F4)"));
        mark->setShortcut(QKeySequence(Qt::Key_F4));
        mark->setShortcutContext(Qt::WidgetShortcut);
        connect(mark, &QAction::triggered, this, [build, field = row.field] { build(field); });
    }
}

void FieldForm::change(const Field& field, const std::function<void(void*)>& set)
{
    m_target.edit(tr("Change %1").arg(said(field.label)), set);
}

QWidget* FieldForm::numberEditor(Row& row)
{
    row.number = new QuantityEdit(row.field, m_target.rotary);
    row.number->line().setObjectName(objectNameOf(m_prefix, row.field));
    row.number->setMinimumWidth(leastEditor);
    row.number->setMaximumWidth(editorWidth);
    row.number->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    connect(row.number, &QuantityEdit::entered, this,
            [this, f = row.field](std::optional<double> v) { change(f, [&](void* object) { f.set(object, v); }); });
    return row.number;
}

QWidget* FieldForm::textEditor(Row& row)
{
    row.text = new QLineEdit;
    row.text->setObjectName(objectNameOf(m_prefix, row.field));
    row.text->setToolTip(said(row.field.help));
    if (!row.field.textProblem) {
        connect(row.text, &QLineEdit::editingFinished, this, [this, f = row.field, edit = row.text] {
            change(f, [&](void* object) { f.setText(object, edit->text().toStdString()); });
        });
        return row.text;
    }
    auto* holder = new QWidget; // what cannot be taken stays, with its sentence below
    auto* column = new QVBoxLayout(holder);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(1);
    auto* why = new QLabel;
    why->setObjectName(QStringLiteral("sentence"));
    why->setWordWrap(true);
    why->hide();
    column->addWidget(row.text);
    column->addWidget(why);
    holder->setFocusProxy(row.text);
    connect(row.text, &QLineEdit::editingFinished, this, [this, f = row.field, edit = row.text, why] {
        const std::string typed = edit->text().toStdString();
        const auto problem = f.textProblem(typed);
        why->setVisible(problem.has_value());
        why->setText(problem ? QString::fromStdString(messageFor(*problem, false, unitSystem())) : QString());
        if (!problem)
            change(f, [&](void* object) { f.setText(object, typed); });
    });
    return holder;
}

QWidget* FieldForm::choiceEditor(Row& row)
{
    const Field& f = row.field;
    auto* box = row.choice = new QComboBox;
    box->setObjectName(objectNameOf(m_prefix, f));
    box->setToolTip(said(f.help));
    if (f.kind == FieldKind::Flag)
        box->addItems({tr("no"), tr("yes")});
    else
        for (const auto c : f.choices)
            box->addItem(c.empty() ? tr("not looked at") : said(c),
                         QString::fromUtf8(c.data(), static_cast<qsizetype>(c.size())));
    const int hint = box->sizeHint().width();
    box->setMinimumWidth(std::clamp(hint, leastEditor, editorWidth + 44));
    box->setMaximumWidth(f.kind == FieldKind::Flag ? editorWidth : std::clamp(hint, editorWidth, editorWidth + 44));
    box->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    connect(box, &QComboBox::currentIndexChanged, this, [this, f, box](int index) {
        if (m_filling)
            return;
        change(f, [&](void* object) {
            if (f.kind == FieldKind::Flag)
                f.set(object, index);
            else
                f.setText(object, box->itemData(index).toString().toStdString());
        });
    });
    return box;
}

void FieldForm::refresh()
{
    m_filling = true;
    m_target.read([this](void* object) {
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
    });
    m_filling = false;
}

} // namespace ridge::app
