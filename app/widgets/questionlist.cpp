#include "questionlist.h"

#include "app/document/recording.h"
#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "app/widgets/figures.h"
#include "app/widgets/labels.h"

#include <QComboBox>
#include <QGridLayout>
#include <QLineEdit>
#include <QVBoxLayout>

namespace ridge::app {

QuestionList::QuestionList(Document& document, int step, QWidget* parent)
    : QWidget(parent)
    , m_document(document)
    , m_step(step)
{
    setObjectName(QStringLiteral("questions"));
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins({});
}

namespace {
/// The questions of the list, by its step.
std::vector<const QuestionState*> asked(Document& document, int step)
{
    std::vector<const QuestionState*> out;
    for (const QuestionState& s : document.evaluation().wire.questions)
        if (step == 0 || s.question->step == step || (step == QuestionList::whenLost && s.question->whenLost))
            out.push_back(&s);
    return out;
}
} // namespace

void QuestionList::build()
{
    m_rows.clear();
    if (m_body) {
        m_body->setParent(nullptr);
        m_body->deleteLater(); // it may be its own signal that led here
    }
    m_body = new QWidget;
    auto* grid = new QGridLayout(m_body);
    grid->setContentsMargins(8, 4, 8, 4);
    grid->setHorizontalSpacing(8);
    grid->setVerticalSpacing(6);
    const bool narrow = m_step != 0;
    grid->setColumnStretch(1, 1);
    int line = 0;
    for (const QuestionState* s : asked(m_document, m_step)) {
        const Question& q = *s->question;
        Row row;
        row.id = q.id;
        row.mark = new QLabel;
        row.text = new QLabel(narrow ? sentence(q.text)
                                     : QStringLiteral("%1  %2").arg(
                                         said(workSteps()[static_cast<std::size_t>(q.step - 1)].id), sentence(q.text)));
        row.text->setWordWrap(true);
        row.text->setToolTip(sentence(q.effect));
        row.who = quiet({});
        grid->addWidget(row.mark, line, 0, narrow ? Qt::AlignTop : Qt::AlignVCenter);
        grid->addWidget(row.text, line, 1, 1, narrow ? 2 : 1);
        if (q.byStep == 0) {
            row.answer = new QComboBox;
            row.answer->setObjectName(QStringLiteral("answer.%1").arg(QString::fromStdString(q.id)));
            row.answer->setAccessibleName(sentence(q.text));
            row.answer->addItem(QStringLiteral("–"));
            for (const std::string_view a : q.answers)
                row.answer->addItem(said(a), said(a));
            row.answer->addItem(tr("does not apply"), said(notApplying));
            for (std::size_t k = 0; k < q.answers.size(); ++k)
                row.answer->setItemData(
                    static_cast<int>(k) + 1,
                    QString::fromUtf8(q.answers[k].data(), static_cast<qsizetype>(q.answers[k].size())));
            row.answer->setItemData(row.answer->count() - 1,
                                    QString::fromUtf8(notApplying.data(), static_cast<qsizetype>(notApplying.size())));
            row.words = new QLineEdit;
            row.words->setObjectName(QStringLiteral("words.%1").arg(QString::fromStdString(q.id)));
            row.words->setAccessibleName(tr("In words: %1").arg(sentence(q.text)));
            row.words->setPlaceholderText(q.wantsWords ? tr("who, which") : tr("note, if any"));
            if (narrow)
                ++line;
            row.answer->setFixedWidth(120);
            row.words->setMinimumWidth(narrow ? 80 : 150);
            grid->addWidget(row.answer, line, narrow ? 1 : 2, narrow ? Qt::AlignRight : Qt::AlignVCenter);
            grid->addWidget(row.words, line, narrow ? 2 : 3);
        }
        ++line;
        grid->addWidget(row.who, line, 1, 1, narrow ? 2 : 3);
        ++line;
        m_rows.push_back(row);
    }
    grid->setRowStretch(line, 1);
    for (const Row& row : m_rows)
        if (row.answer) {
            connect(row.answer, &QComboBox::activated, this, [this, &row] { give(row); });
            connect(row.words, &QLineEdit::returnPressed, this, [this, &row] { give(row); });
        }
    layout()->addWidget(m_body);
}

void QuestionList::refresh()
{
    const auto states = asked(m_document, m_step);
    bool same = states.size() == m_rows.size() && m_body;
    for (std::size_t k = 0; same && k < states.size(); ++k)
        same = states[k]->question->id == m_rows[k].id;
    if (!same)
        build();
    for (std::size_t k = 0; k < m_rows.size(); ++k) {
        const QuestionState& s = *states[k];
        Row& row = m_rows[k];
        const bool good = s.good == true;
        row.mark->setText(!s.good ? QStringLiteral("○") : good ? QStringLiteral("●") : QStringLiteral("■"));
        row.mark->setAccessibleName(!s.good ? tr("not answered") : good ? tr("good") : tr("not good"));
        QPalette ink = row.mark->palette();
        ink.setColor(QPalette::WindowText, !s.good ? theme().soft : good ? theme().ok : theme().fail);
        row.mark->setPalette(ink);
        QString who = sentence(s.said);
        if (s.fact)
            who = tr("%1 – %2, %3").arg(who, QString::fromStdString(s.fact->person.name), localTime(s.fact->time));
        if (s.good && !good)
            who += QLatin1Char('\n') + sentence(s.question->effect);
        setLabel(*row.who, who);
        row.who->setVisible(!who.isEmpty());
        if (row.answer && !row.answer->hasFocus()) {
            const auto* a = s.fact ? s.fact->as<Answered>() : nullptr;
            row.answer->setCurrentIndex(a ? std::max(0, row.answer->findData(QString::fromStdString(a->answer))) : 0);
            if (a && !row.words->hasFocus())
                row.words->setText(QString::fromStdString(a->words));
        }
    }
}

void QuestionList::give(const Row& row)
{
    if (row.answer->currentIndex() <= 0)
        return;
    const Answered a{row.id, row.answer->currentData().toString().toStdString(),
                     row.words->text().trimmed().toStdString()};
    const Message no = recordTyped(m_document, a);
    if (no.empty())
        return; // the document has told everybody
    row.who->setVisible(true);
    setLabel(*row.who, sentence(no));
    row.words->setFocus(Qt::OtherFocusReason);
}

} // namespace ridge::app
