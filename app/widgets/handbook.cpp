#include "handbook.h"

#include "app/theme/sentence.h"
#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "app/widgets/figures.h"
#include "app/widgets/forms.h"
#include "app/widgets/margins.h"
#include "core/units/print.h"

#include <QListWidget>
#include <QScrollArea>
#include <QTextBrowser>
#include <QVBoxLayout>

namespace ridge::app {

namespace {
constexpr int entryRole = Qt::UserRole;

/// The field that an input is entered in; its table is the handbook.
Field fieldOf(const HandbookInput& in)
{
    Field f;
    f.key = in.key;
    f.label = in.label;
    f.quantity = in.quantity;
    f.limits = in.least == aboveZero ? Limits{0, in.most, true, "not-positive"}
                                     : Limits{in.least, in.most, false, "out-of-range"};
    return f;
}

QString nameOf(const HandbookEntry& entry, const HandbookInput& in)
{
    return QStringLiteral("handbook.%1.%2")
        .arg(QLatin1String(entry.id.data(), static_cast<qsizetype>(entry.id.size())),
             QLatin1String(in.key.data(), static_cast<qsizetype>(in.key.size())));
}
} // namespace

Handbook::Handbook(QWidget* parent)
    : QDialog(parent)
{
    setWindowTitle(tr("Handbook"));
    setObjectName(QStringLiteral("handbook"));
    auto* columns = new QHBoxLayout(this);
    auto* left = new QVBoxLayout;
    m_search = new QLineEdit;
    m_search->setObjectName(QStringLiteral("handbook.search"));
    m_search->setAccessibleName(tr("Search the handbook"));
    m_search->setPlaceholderText(tr("belt, delay, I²t …"));
    m_search->setClearButtonEnabled(true);
    m_list = new QListWidget;
    m_list->setObjectName(QStringLiteral("handbook.list"));
    m_list->setAccessibleName(tr("Formulas"));
    m_list->setFixedWidth(350);
    m_list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_search->setFixedWidth(350);
    left->addWidget(m_search);
    left->addWidget(m_list, 1);
    columns->addLayout(left);
    m_right = new QWidget;
    auto* right = new QVBoxLayout(m_right);
    right->setContentsMargins(8, 0, 0, 0);
    m_title = heading({});
    m_source = quiet({});
    m_sentence = new QLabel;
    m_sentence->setObjectName(QStringLiteral("handbook.sentence"));
    m_sentence->setWordWrap(true);
    m_working = new QTextBrowser;
    m_working->setObjectName(QStringLiteral("handbook.working"));
    m_working->setAccessibleName(tr("Answer and working"));
    right->addWidget(m_title);
    right->addWidget(m_source);
    right->addWidget(m_sentence);
    m_halves = new QHBoxLayout;
    m_halves->addWidget(m_working, 1);
    right->addLayout(m_halves, 1);
    columns->addWidget(m_right, 1);
    connect(m_search, &QLineEdit::textChanged, this, &Handbook::list);
    connect(m_list, &QListWidget::currentItemChanged, this, [this](QListWidgetItem* item) {
        if (const HandbookEntry* entry = item ? handbookEntry(item->data(entryRole).toString().toStdString()) : nullptr)
            build(*entry);
    });
    list({});
    resize(1080, 640);
}

void Handbook::show(std::string_view id)
{
    const HandbookEntry* wanted = handbookEntry(id);
    if (!wanted)
        return;
    m_search->clear();
    for (int k = 0; k < m_list->count(); ++k)
        if (m_list->item(k)->data(entryRole).toString().toStdString() == id)
            m_list->setCurrentRow(k);
}

/// What the words name, in chapters; the entry in view stays as long as it is among them.
void Handbook::list(const QString& words)
{
    const QString kept = m_entry ? QString::fromStdString(std::string(m_entry->id)) : QString();
    const QSignalBlocker quietly(m_list);
    m_list->clear();
    QString chapter;
    int current = -1;
    for (const HandbookEntry& e : handbook()) {
        QString all = said(e.chapter) + QLatin1Char(' ') + said(e.title);
        for (const HandbookInput& in : e.inputs)
            all += QLatin1Char(' ') + said(in.label);
        bool fits = true;
        for (const QString& word : words.split(QLatin1Char(' '), Qt::SkipEmptyParts))
            fits = fits && all.contains(word, Qt::CaseInsensitive);
        if (!fits)
            continue;
        if (said(e.chapter) != chapter) {
            chapter = said(e.chapter);
            auto* head = new QListWidgetItem(chapter, m_list);
            head->setFlags(Qt::NoItemFlags);
            head->setForeground(theme().accent);
            head->setSizeHint({0, 24});
        }
        auto* item = new QListWidgetItem(QStringLiteral("   ") + said(e.title), m_list);
        item->setData(entryRole, QString::fromStdString(std::string(e.id)));
        item->setToolTip(said(e.title));
        item->setSizeHint({0, 20});
        if (current < 0 || item->data(entryRole).toString() == kept)
            current = m_list->count() - 1;
    }
    m_list->setCurrentRow(current);
    if (current >= 0)
        if (const HandbookEntry* entry = handbookEntry(m_list->item(current)->data(entryRole).toString().toStdString());
            entry && entry != m_entry)
            build(*entry);
}

void Handbook::build(const HandbookEntry& entry)
{
    m_entry = &entry;
    m_inputs.clear();
    m_title->setText(said(entry.title));
    m_source->setText(said(entry.source));
    delete m_form;
    m_form = new QWidget;
    auto* grid = new QGridLayout(m_form);
    grid->setContentsMargins(0, 4, 0, 4);
    grid->setVerticalSpacing(4);
    for (std::size_t k = 0; k < entry.inputs.size(); ++k) {
        const HandbookInput& in = entry.inputs[k];
        m_inputs.push_back(in.usual);
        auto* label = new QLabel(
            QStringLiteral("%1  %2").arg(in.choices.empty() ? said(in.key) : QString(), said(in.label)).trimmed());
        QWidget* editor = nullptr;
        if (in.choices.empty()) {
            auto* number = new QuantityEdit(fieldOf(in), false);
            number->line().setObjectName(nameOf(entry, in));
            number->line().setAccessibleName(said(in.label));
            number->setFixedWidth(150);
            number->setValue(in.usual);
            connect(number, &QuantityEdit::entered, this, [this, k, number](std::optional<double> value) {
                if (!value)
                    return;
                m_inputs[k] = *value;
                number->setValue(value);
                answer();
            });
            editor = number;
        } else {
            auto* box = new QComboBox;
            box->setObjectName(nameOf(entry, in));
            box->setAccessibleName(said(in.label));
            for (const auto choice : in.choices)
                box->addItem(said(choice));
            box->setCurrentIndex(static_cast<int>(in.usual));
            connect(box, &QComboBox::currentIndexChanged, this, [this, k](int index) {
                m_inputs[k] = index;
                answer();
            });
            editor = box;
        }
        label->setBuddy(editor);
        label->setMinimumHeight(24); // in line with the entry, also while a sentence stands below it
        grid->addWidget(label, static_cast<int>(k), 0, Qt::AlignTop);
        grid->addWidget(editor, static_cast<int>(k), 1);
    }
    grid->setRowStretch(static_cast<int>(entry.inputs.size()), 1);
    m_halves->insertWidget(0, m_form);
    answer();
}

void Handbook::answer()
{
    const auto found = lookUp(*m_entry, m_inputs);
    m_sentence->setVisible(!found);
    if (!found) {
        m_sentence->setText(QStringLiteral("■ ")
                            + QString::fromStdString(messageFor(found.error(), false, unitSystem())));
        m_working->clear();
        return;
    }
    QString html;
    for (const std::string& word : found->words)
        html += QStringLiteral("<p><b>%1</b></p>").arg(sentence(handbookSentence(word)).toHtmlEscaped());
    html += QStringLiteral("<table cellspacing=\"2\">");
    for (std::size_t k = 0; k < m_entry->outputs.size(); ++k) {
        const HandbookOutput& out = m_entry->outputs[k];
        const auto value = found->values[k];
        html +=
            QStringLiteral("<tr><td>%1&nbsp;&nbsp;</td><td>%2&nbsp;&nbsp;</td><td align=\"right\"><b>%3</b></td></tr>")
                .arg(said(out.key).toHtmlEscaped(), said(out.label).toHtmlEscaped(),
                     (value ? shown(*value, out.quantity, 5) : tr("without end")).toHtmlEscaped());
    }
    html += QStringLiteral("</table>");
    for (const Working& w : found->workings)
        if (!w.empty() && !w.back().formula.empty()) {
            Step line = w.back();
            line.source.clear(); // it stands above
            html += workingHtml({line});
        }
    m_working->setHtml(html);
}

} // namespace ridge::app
