#include "margins.h"

#include "app/theme/theme.h"
#include "app/widgets/labels.h"
#include "core/units/print.h"

#include "widgets/forms.h"

#include <QKeyEvent>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QScrollArea>
#include <QSplitter>
#include <QVBoxLayout>

namespace ridge::app {

namespace {
constexpr int checkRow = 46;
}

MarginBars::MarginBars(QWidget* parent)
    : QWidget(parent)
{
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Margins of this station"));
}

void MarginBars::setChecks(std::vector<Check> checks)
{
    m_checks = std::move(checks);
    m_current = std::min(m_current, static_cast<int>(m_checks.size()) - 1);
    setMinimumHeight(static_cast<int>(m_checks.size()) * checkRow + 4);
    update();
}

QRect MarginBars::rowRect(int row) const { return {0, row * checkRow, width(), checkRow}; }

void MarginBars::choose(int row)
{
    m_current = row;
    update();
    Q_EMIT chosen(row);
}

void MarginBars::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.fillRect(rect(), theme().paper);
    for (int k = 0; k < static_cast<int>(m_checks.size()); ++k) {
        const Check& c = m_checks[static_cast<std::size_t>(k)];
        const QRect row = rowRect(k);
        if (k == m_current)
            p.fillRect(row.adjusted(0, 0, 0, -2), theme().accentSoft);
        paintVerdict(p, QPointF(14, row.top() + 13), 10, c.verdict);
        p.setPen(theme().ink);
        const QString margin =
            c.margin ? QStringLiteral("%1 %").arg(*c.margin * 100, 0, 'f', 0) : said(verdictWord(c.verdict));
        const int w = p.fontMetrics().horizontalAdvance(margin) + 6;
        p.drawText(QRect(28, row.top() + 3, row.width() - 36 - w, 20), Qt::AlignLeft | Qt::AlignVCenter,
                   p.fontMetrics().elidedText(said(c.title), Qt::ElideRight, row.width() - 36 - w));
        p.drawText(QRect(row.width() - w - 8, row.top() + 3, w, 20), Qt::AlignRight | Qt::AlignVCenter, margin);
        // bar: what is used, with the limit at four fifths of the width
        const QRectF track(28, row.top() + 27, row.width() - 38, 8);
        p.setPen(Qt::NoPen);
        p.setBrush(theme().panel);
        p.drawRect(track);
        const double limit = track.left() + track.width() * 0.8;
        if (c.margin) {
            p.setBrush(theme().verdict(c.verdict));
            p.drawRect(QRectF(track.left(), track.top(),
                              std::clamp((1 - *c.margin) * track.width() * 0.8, 1.0, track.width()), track.height()));
        }
        p.setPen(QPen(theme().ink, 1.4));
        p.drawLine(QPointF(limit, track.top() - 2), QPointF(limit, track.bottom() + 2));
    }
}

void MarginBars::mousePressEvent(QMouseEvent* event)
{
    const int k = static_cast<int>(event->position().y()) / checkRow;
    if (k >= 0 && k < static_cast<int>(m_checks.size()))
        choose(k);
}

void MarginBars::keyPressEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Down && m_current + 1 < static_cast<int>(m_checks.size()))
        choose(m_current + 1);
    else if (event->key() == Qt::Key_Up && m_current > 0)
        choose(m_current - 1);
    else
        QWidget::keyPressEvent(event);
}

QString workingHtml(const Working& working)
{
    QString out;
    for (const Step& s : working) {
        out +=
            QStringLiteral("<p style='margin:5px 0'><span style='color:%1'>%2</span><br>%3<br>= %4<br>= <b>%5 %6</b>")
                .arg(theme().soft.name(), said(s.result.quantity).toHtmlEscaped(),
                     QString::fromStdString(symbolicLine(s)).toHtmlEscaped(),
                     QString::fromStdString(substitutedLine(s)).toHtmlEscaped(),
                     QString::fromStdString(printNumber(s.result.value, 6)),
                     QString::fromStdString(s.result.unit == "1" ? std::string{} : prettyUnit(s.result.unit)));
        out += QStringLiteral("<br><span style='color:%1;font-size:8pt'>%2</span></p>")
                   .arg(theme().soft.name(), said(s.source).toHtmlEscaped());
    }
    return out;
}

MarginsPanel::MarginsPanel(Document& document, QWidget* parent)
    : QWidget(parent)
    , m_document(document)
{
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 6, 6, 6);
    auto* head = new QLabel(tr("Margins"));
    head->setObjectName(QStringLiteral("head"));
    layout->addWidget(head);
    m_old = new QLabel;
    m_old->setObjectName(QStringLiteral("sentence"));
    m_old->setAccessibleName(tr("Why the figures are those of before"));
    m_old->setWordWrap(true);
    m_old->hide();
    layout->addWidget(m_old);
    auto* split = new QSplitter(Qt::Vertical);
    m_bars = new MarginBars;
    auto* scroll = new QScrollArea;
    scroll->setWidget(m_bars);
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_working = new QTextBrowser;
    m_working->setObjectName(QStringLiteral("working"));
    m_working->setAccessibleName(tr("Working of the chosen margin"));
    m_steps = new StepList(m_document);
    m_card = new StepCard(m_document);
    m_below = new QStackedWidget;
    m_below->addWidget(m_working);
    m_below->addWidget(m_card);
    split->addWidget(scroll);
    split->addWidget(m_steps);
    split->addWidget(m_below);
    split->setSizes({260, 120, 250});
    split->setChildrenCollapsible(false);
    connect(m_steps, &StepList::chosen, this, &MarginsPanel::showStep);
    layout->addWidget(split);
    setFixedWidth(288);
    m_later.setSingleShot(true);
    m_later.setInterval(60);
    connect(&m_later, &QTimer::timeout, this, &MarginsPanel::setWorkingNow);
    connect(m_bars, &MarginBars::chosen, this, &MarginsPanel::showRow);
}

void MarginsPanel::show(Station station)
{
    std::vector<Check> mine;
    QString why;
    const bool old = (station == Station::Load || station == Station::Match) && m_document.stale(&why);
    setLabel(*m_old, why);
    m_old->setVisible(old);
    for (const Check& c : (old ? m_document.lastGood() : m_document.evaluation()).checks)
        if (c.station == station)
            mine.push_back(c);
    m_bars->setChecks(std::move(mine));
    m_steps->show(station);
    if (m_below->currentWidget() == m_card) {
        const int number = m_card->number();
        if (number > 0 && workSteps()[static_cast<std::size_t>(number - 1)].station == station)
            m_card->refresh();
        else
            m_below->setCurrentWidget(m_working); // its step is worked elsewhere
    }
    int row = 0;
    for (int k = 0; k < static_cast<int>(m_bars->checks().size()); ++k)
        if (QString::fromStdString(m_bars->checks()[static_cast<std::size_t>(k)].id) == m_chosen)
            row = k;
    m_refreshing = true;
    if (!m_bars->checks().empty())
        m_bars->choose(row);
    else
        setWorking(whatIsMissing());
    m_refreshing = false;
}

/// A page without a judgement says why there is none yet.
QString MarginsPanel::whatIsMissing()
{
    const auto& problems = m_document.evaluation().problems;
    if (problems.empty())
        return {};
    QString html = QStringLiteral("<p><b>%1</b></p>").arg(tr("Nothing can be judged here yet").toHtmlEscaped());
    const auto most = std::min<std::size_t>(problems.size(), 6);
    for (std::size_t k = 0; k < most; ++k)
        html +=
            QStringLiteral("<p>%1<br><span style='color:%2'>%3</span></p>")
                .arg(said(fieldWords(m_document.axis(), problems[k].subject)).toHtmlEscaped(), theme().soft.name(),
                     QString::fromStdString(messageFor(problems[k], m_document.axis().mechanism.rotary(), unitSystem()))
                         .toHtmlEscaped());
    return html;
}

void MarginsPanel::setWorking(const QString& html)
{
    if (!m_refreshing)
        m_below->setCurrentWidget(m_working);
    if (html == m_html)
        return; // laying out rich text is slow, and most edits leave it as it is
    m_html = html;
    if (m_refreshing) {
        m_later.start();
    } else {
        m_below->setCurrentWidget(m_working); // asked for: the card gives way
        setWorkingNow();
    }
}

void MarginsPanel::showStep(int number)
{
    m_card->show(number);
    m_below->setCurrentWidget(m_card);
}

void MarginsPanel::setWorkingNow()
{
    m_later.stop();
    m_working->setHtml(m_html);
}

void MarginsPanel::showRow(int row)
{
    if (row < 0 || row >= static_cast<int>(m_bars->checks().size()))
        return;
    const Check& c = m_bars->checks()[static_cast<std::size_t>(row)];
    m_chosen = QString::fromStdString(c.id);
    QString html = QStringLiteral("<p><b>%1</b> – <span style='color:%2'>%3</span><br>%4</p>")
                       .arg(said(c.title).toHtmlEscaped(), theme().verdict(c.verdict).name(),
                            said(verdictWord(c.verdict)), sentence(c.reason).toHtmlEscaped());
    if (!c.help.empty())
        html += QStringLiteral("<p><i>%1</i></p>").arg(sentence(c.help).toHtmlEscaped());
    html += workingHtml(c.working);
    setWorking(html);
}

void MarginsPanel::showResult(const std::string& id)
{
    if (const ResultValue* r = m_document.evaluation().result(id))
        setWorking(QStringLiteral("<p><b>%1: %2</b></p>")
                       .arg(said(r->label).toHtmlEscaped(),
                            QString::fromStdString(print(r->value, r->quantity, unitSystem(), 5)))
                   + workingHtml(r->working));
}

void MarginsPanel::showHelp(const QString& title, const QString& text)
{
    setWorking(QStringLiteral("<p><b>%1</b></p><p>%2</p>").arg(title.toHtmlEscaped(), text.toHtmlEscaped()));
}

void MarginsPanel::showCheck(const std::string& id)
{
    for (std::size_t k = 0; k < m_bars->checks().size(); ++k)
        if (m_bars->checks()[k].id == id)
            m_bars->choose(static_cast<int>(k));
}

} // namespace ridge::app
