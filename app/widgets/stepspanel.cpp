#include "stepspanel.h"

#include "app/document/recording.h"
#include "app/theme/sentence.h"
#include "app/theme/theme.h"
#include "core/stations/planfacts.h"

#include <QPushButton>
#include <QVBoxLayout>

namespace ridge::app {

QString stepMark(const StepStatus& s)
{
    if (s.practised)
        return QStringLiteral("◎");
    switch (s.state) {
    case StepState::Locked: return QStringLiteral("·");
    case StepState::Open: return QStringLiteral("○");
    case StepState::Running: return QStringLiteral("▶");
    case StepState::Passed: return QStringLiteral("●");
    case StepState::Failed: return QStringLiteral("■");
    case StepState::Waived: return QStringLiteral("◆");
    case StepState::NotApplicable: return QStringLiteral("–");
    case StepState::Stale: return QStringLiteral("▲");
    }
    return {};
}

QString stepWord(const StepStatus& s) { return s.practised ? QObject::tr("practised") : said(stepStateWord(s.state)); }

namespace {
constexpr int rowHeight = 20;

QColor stepColour(const StepStatus& s)
{
    if (s.practised)
        return theme().accent;
    switch (s.state) {
    case StepState::Passed: return theme().ok;
    case StepState::Failed: return theme().fail;
    case StepState::Waived:
    case StepState::Stale: return theme().watch;
    case StepState::Open:
    case StepState::Running: return theme().ink;
    default: return theme().soft;
    }
}

QLabel* paragraph(const QString& text, const char* name = "quiet")
{
    auto* label = new QLabel(text);
    label->setObjectName(QString::fromLatin1(name));
    label->setWordWrap(true);
    return label;
}
} // namespace

StepList::StepList(Document& document, QWidget* parent)
    : QListWidget(parent)
    , m_document(document)
{
    setObjectName(QStringLiteral("steps"));
    setAccessibleName(tr("Steps of the work at this station"));
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setMinimumHeight(66);
    connect(this, &QListWidget::currentRowChanged, this, [this](int row) {
        if (!m_filling && row >= 0)
            Q_EMIT chosen(item(row)->data(Qt::UserRole).toInt());
    });
    connect(this, &QListWidget::itemClicked, this,
            [this](QListWidgetItem* item) { Q_EMIT chosen(item->data(Qt::UserRole).toInt()); });
}

void StepList::show(Station station)
{
    m_filling = true;
    const int kept = currentItem() ? currentItem()->data(Qt::UserRole).toInt() : 0;
    clear();
    for (const StepStatus& s : m_document.evaluation().steps) {
        if (s.step->station != station)
            continue;
        auto* item = new QListWidgetItem(
            QStringLiteral("%1 %2 %3 – %4").arg(stepMark(s), said(s.step->id), said(s.step->title), stepWord(s)), this);
        item->setForeground(stepColour(s));
        item->setSizeHint(QSize(10, rowHeight));
        item->setToolTip(s.reason.empty() ? said(s.step->work) : sentence(s.reason));
        item->setData(Qt::UserRole, s.step->number);
        if (s.step->number == kept)
            setCurrentItem(item);
    }
    setVisible(count() > 0);
    setMaximumHeight(count() * rowHeight + 6);
    m_filling = false;
}

StepCard::StepCard(Document& document, QWidget* parent)
    : QScrollArea(parent)
    , m_document(document)
{
    setObjectName(QStringLiteral("step"));
    setWidgetResizable(true);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
}

void StepCard::show(int number)
{
    const std::string axis = m_document.hasAxis() ? m_document.axis().id : std::string{};
    if (number != m_number || axis != m_axis) {
        m_number = number;
        m_axis = axis;
        build();
    }
    refresh();
}

void StepCard::build()
{
    m_rows.clear();
    m_cautions.clear();
    m_body = new QWidget;
    auto* column = new QVBoxLayout(m_body);
    column->setContentsMargins(6, 4, 8, 4);
    column->setSpacing(4);
    m_built = &stepOf(m_number, m_document.axis());
    const WorkStep& step = *m_built;
    column->addWidget(paragraph(QStringLiteral("%1 %2").arg(said(step.id), said(step.title)), "head"));
    m_state = paragraph({}, "step.state");
    column->addWidget(m_state);
    column->addWidget(paragraph(said(step.work)));
    column->addWidget(paragraph(tr("Passes: %1").arg(said(step.pass))));
    for (const StepEntry& e : step.entries) {
        Row row;
        row.entry = &e;
        const QString name =
            QStringLiteral("step.%1").arg(QString::fromUtf8(e.key.data(), static_cast<qsizetype>(e.key.size())));
        const QString label = said(e.label) + (e.optional ? tr(" (if any)") : QString());
        if (e.kind == StepEntry::Kind::Confirm) {
            row.confirm = new QCheckBox;
            row.confirm->setObjectName(name);
            row.confirm->setAccessibleName(said(e.label));
            auto* line = new QHBoxLayout;
            line->addWidget(row.confirm, 0, Qt::AlignTop);
            auto* words = paragraph(label, "plain");
            line->addWidget(words, 1);
            column->addLayout(line);
        } else {
            column->addWidget(paragraph(label, "plain"));
            if (e.kind == StepEntry::Kind::Number) {
                Field field;
                field.key = e.key;
                field.label = e.label;
                field.quantity = e.quantity;
                field.optional = true;
                row.number = new QuantityEdit(field, m_document.axis().mechanism.rotary());
                row.number->line().setObjectName(name);
                column->addWidget(row.number);
            } else {
                row.words = new QLineEdit;
                row.words->setObjectName(name);
                row.words->setAccessibleName(said(e.label));
                column->addWidget(row.words);
            }
        }
        m_rows.push_back(row);
    }
    for (Row& row : m_rows)
        if (row.number)
            connect(row.number, &QuantityEdit::entered, this, [&row](std::optional<double> v) { row.value = v; });
    for (const std::string_view caution : step.cautions) {
        auto* box = new QCheckBox;
        box->setObjectName(QStringLiteral("step.%1").arg(said(caution)));
        box->setAccessibleName(said(cautionText(caution)));
        auto* line = new QHBoxLayout;
        line->addWidget(box, 0, Qt::AlignTop);
        line->addWidget(paragraph(QStringLiteral("▲ ") + said(cautionText(caution)), "caution"), 1);
        column->addLayout(line);
        m_cautions.emplace_back(caution, box);
    }
    m_instrument = nullptr;
    m_method = nullptr;
    if (isMeasured(step)) {
        column->addWidget(paragraph(tr("Measured with, and how"), "plain"));
        m_instrument = new InstrumentRow(m_document);
        column->addWidget(m_instrument);
        m_method = new QLineEdit;
        m_method->setObjectName(QStringLiteral("step.method"));
        m_method->setAccessibleName(tr("How it was measured"));
        m_method->setPlaceholderText(tr("how it was measured, if not the usual way"));
        column->addWidget(m_method);
    }
    m_questions = new QuestionList(m_document, m_number);
    m_questions->setObjectName(QStringLiteral("step.questions"));
    column->addWidget(m_questions);
    auto* photos = new PhotoRow(m_document);
    photos->setOf(said(step.id));
    column->addWidget(photos);
    m_words = paragraph({}, "sentence");
    column->addWidget(m_words);
    m_reason = nullptr;
    if (!step.entries.empty()) {
        auto* enter = new QPushButton(tr("Enter"));
        enter->setObjectName(QStringLiteral("step.enter"));
        column->addWidget(enter);
        connect(enter, &QPushButton::clicked, this, &StepCard::enter);
    }
    if (step.byHand) {
        m_reason = new QLineEdit;
        m_reason->setObjectName(QStringLiteral("step.reason"));
        m_reason->setPlaceholderText(tr("why it does not apply"));
        m_reason->setAccessibleName(tr("Why this step does not apply"));
        auto* out = new QPushButton(tr("Does not apply"));
        out->setObjectName(QStringLiteral("step.out"));
        column->addWidget(m_reason);
        column->addWidget(out);
        connect(out, &QPushButton::clicked, this, &StepCard::leaveOut);
    }
    column->addStretch();
    setWidget(m_body);
}

void StepCard::refresh()
{
    if (m_number == 0 || !m_document.hasAxis())
        return;
    if (m_document.axis().id != m_axis || m_built != &stepOf(m_number, m_document.axis())) {
        m_axis = m_document.axis().id;
        build(); // another axis, or another kind of motor on it
    }
    const Evaluation& e = m_document.evaluation();
    if (e.steps.size() < static_cast<std::size_t>(m_number))
        return;
    const StepStatus& s = e.steps[static_cast<std::size_t>(m_number - 1)];
    QString text = QStringLiteral("%1 %2").arg(stepMark(s), stepWord(s));
    if (!s.reason.empty())
        text += QStringLiteral(": ") + sentence(s.reason);
    if (s.fact)
        text += QStringLiteral("\n")
                + tr("%1, %2, %3")
                      .arg(QString::fromStdString(s.fact->person.name), localTime(s.fact->time),
                           said(originWord(s.fact->origin)));
    m_state->setText(text);
    m_questions->refresh();
    m_questions->setVisible(m_questions->count() > 0);
    const auto open = openCautions(*s.step, m_document.evidence(), loadHangs(m_document.axis()));
    for (auto& [caution, box] : m_cautions) {
        const bool asked = std::ranges::find(open, caution) != open.end();
        box->setEnabled(asked);
        if (!asked)
            box->setChecked(true);
    }
}

void StepCard::say(const QString& words) { m_words->setText(words); }

bool StepCard::acknowledge(const WorkStep& step)
{
    for (const std::string_view caution : openCautions(step, m_document.evidence(), loadHangs(m_document.axis()))) {
        const auto it = std::ranges::find(m_cautions, caution, &std::pair<std::string, QCheckBox*>::first);
        if (it == m_cautions.end() || !it->second->isChecked()) {
            say(tr("Acknowledge first: %1").arg(said(cautionText(caution))));
            return false;
        }
    }
    // openCautions looks at the record: it is asked anew for each
    while (true) {
        const auto open = openCautions(step, m_document.evidence(), loadHangs(m_document.axis()));
        if (open.empty())
            return true;
        if (!m_document.append(m_document.typedSource(),
                               Acknowledged{std::string(open.front()), std::string(cautionText(open.front()))}))
            return false;
    }
}

void StepCard::record(const StepDone& done)
{
    const Message no = recordTyped(m_document, done, m_instrument ? m_instrument->instrument() : Instrument{});
    if (!no.empty()) {
        say(sentence(no));
        return;
    }
    say({});
    for (Row& row : m_rows) { // the next time is a new one
        if (row.confirm)
            row.confirm->setChecked(false);
        if (row.number)
            row.number->setValue({});
        if (row.words)
            row.words->clear();
        row.value.reset();
    }
    for (auto& [caution, box] : m_cautions)
        box->setChecked(false);
    if (m_method)
        m_method->clear();
    refresh();
}

void StepCard::enter()
{
    const WorkStep& step = stepOf(m_number, m_document.axis());
    if (!m_document.person().named()) {
        say(QString::fromStdString(messageFor({"no-person", {}, {}, {}})));
        return;
    }
    StepDone done;
    done.step = step.id;
    for (const Row& row : m_rows) {
        const std::string key(row.entry->key);
        if (row.confirm)
            done.values[key] = row.confirm->isChecked() ? 1 : 0;
        else if (row.words && !row.words->text().trimmed().isEmpty())
            done.words[key] = row.words->text().trimmed().toStdString();
        else if (row.number && !row.number->sentence().isEmpty()) {
            say(row.number->sentence());
            return;
        } else if (row.value)
            done.values[key] = *row.value;
    }
    if (m_method && !m_method->text().trimmed().isEmpty())
        done.words["method"] = m_method->text().trimmed().toStdString();
    const auto judged = judgeStep(step, m_document.machine(), m_document.axis(), done);
    if (!judged) {
        const auto entry = std::ranges::find(step.entries, std::string_view(judged.error().subject), &StepEntry::key);
        say(tr("%1: %2").arg(entry == step.entries.end() ? QString() : said(entry->label),
                             QString::fromStdString(messageFor(judged.error()))));
        return;
    }
    done.outcome = judged->passed ? "passed" : "failed";
    done.reason = plain(judged->reason);
    const StepStatus& status = m_document.evaluation().steps[static_cast<std::size_t>(m_number - 1)];
    if (status.state == StepState::Locked) {
        say(sentence(status.reason));
        return;
    }
    if (acknowledge(step))
        record(done);
}

void StepCard::leaveOut()
{
    const WorkStep& step = stepOf(m_number, m_document.axis());
    if (m_reason->text().trimmed().isEmpty()) {
        say(tr("Leaving a step out needs a reason."));
        return;
    }
    record({std::string(step.id), "not-applicable", m_reason->text().trimmed().toStdString(), {}, {}});
    m_reason->clear();
}

} // namespace ridge::app
