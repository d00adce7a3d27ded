#include "runpanel.h"

#include "app/document/bench.h"
#include "app/theme/theme.h"

#include "flowrow.h"
#include "labels.h"

#include <QApplication>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPointer>
#include <QVBoxLayout>

namespace ridge::app {

HoldButton::HoldButton(const QString& text, QWidget* parent)
    : QPushButton(text, parent)
{
    setAccessibleName(text);
    setAutoRepeat(false);
    setFocusPolicy(Qt::StrongFocus);
    connect(qApp, &QGuiApplication::applicationStateChanged, this, [this](Qt::ApplicationState state) {
        if (state != Qt::ApplicationActive)
            letGo();
    });
}

HoldButton::~HoldButton()
{
    m_held = false; // nobody listens any more; the drive's own watchdog stops the axis
}

void HoldButton::hold()
{
    if (m_held || !isEnabled())
        return;
    m_held = true;
    setDown(true);
    Q_EMIT held();
}

void HoldButton::letGo()
{
    if (!m_held)
        return;
    m_held = false;
    setDown(false);
    Q_EMIT released();
}

void HoldButton::mousePressEvent(QMouseEvent* event)
{
    setFocus(Qt::MouseFocusReason);
    if (event->button() == Qt::LeftButton)
        hold();
}
void HoldButton::mouseReleaseEvent(QMouseEvent* event)
{
    if (event->button() == Qt::LeftButton)
        letGo();
}
void HoldButton::mouseMoveEvent(QMouseEvent* event)
{
    if (m_held && !rect().contains(event->position().toPoint()))
        letGo(); // a hand that slid off the button no longer holds it
}
void HoldButton::keyPressEvent(QKeyEvent* event)
{
    if (event->key() != Qt::Key_Space) {
        QPushButton::keyPressEvent(event);
        return;
    }
    if (!event->isAutoRepeat())
        hold();
}
void HoldButton::keyReleaseEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Space && !event->isAutoRepeat())
        letGo();
}
void HoldButton::focusOutEvent(QFocusEvent* event)
{
    letGo();
    QWidget::focusOutEvent(event);
}
void HoldButton::hideEvent(QHideEvent* event)
{
    letGo();
    QPushButton::hideEvent(event);
}
void HoldButton::changeEvent(QEvent* event)
{
    if (event->type() == QEvent::EnabledChange && !isEnabled())
        letGo();
    QPushButton::changeEvent(event);
}

void connectHeld(HoldButton& button, Bench& bench, std::function<void()> begin)
{
    const auto held = std::make_shared<QPointer<AxisLink>>();
    QObject::connect(&button, &HoldButton::held, &button, [&bench, held, begin = std::move(begin)] {
        *held = &bench.here();
        begin();
    });
    QObject::connect(&button, &HoldButton::released, &button, [held] {
        if (*held)
            (*held)->runs.release();
    });
}

RunPanel::RunPanel(QWidget* parent)
    : QWidget(parent)
{
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(3);
    m_row = new FlowRow;
    m_progress = new QProgressBar;
    m_progress->setTextVisible(false);
    m_progress->setFixedHeight(4);
    QSizePolicy kept = m_progress->sizePolicy();
    kept.setRetainSizeWhenHidden(true); // nothing under the hand moves when a run begins
    m_progress->setSizePolicy(kept);
    m_progress->hide();
    layout->addLayout(m_row);
    m_moves = new QLabel;
    m_moves->setObjectName(QStringLiteral("quiet"));
    m_moves->setWordWrap(true);
    layout->addWidget(m_moves);
    layout->addWidget(m_progress);
    m_lead = new QPushButton;
    m_lead->setFlat(true);
    m_lead->setObjectName(QStringLiteral("lead"));
    m_lead->setAccessibleName(tr("To the next step"));
    m_lead->setCursor(Qt::PointingHandCursor);
    m_lead->hide();
    layout->addWidget(m_lead);
    m_result = new QLabel;
    m_result->setObjectName(QStringLiteral("result"));
    m_result->setWordWrap(true);
    layout->addWidget(m_result);
    connect(m_lead, &QPushButton::clicked, this, &RunPanel::leadWanted);
}

HoldButton* RunPanel::addHold(const char* name, const QString& text)
{
    auto* b = new HoldButton(text);
    b->setObjectName(QString::fromLatin1(name));
    m_buttons += b;
    m_row->addWidget(b);
    return b;
}

QPushButton* RunPanel::add(const char* name, const QString& text)
{
    auto* b = new QPushButton(text);
    b->setObjectName(QString::fromLatin1(name));
    b->setAccessibleName(text);
    m_buttons += b;
    m_row->addWidget(b);
    return b;
}

void RunPanel::addWidget(QWidget* widget) { m_row->addWidget(widget); }

void RunPanel::setMoves(const QString& text)
{
    setLabel(*m_moves, text);
    m_moves->setVisible(!text.isEmpty());
}

void RunPanel::setRefusal(const QString& why)
{
    for (QPushButton* b : m_buttons)
        b->setEnabled(why.isEmpty());
    if (why == m_why)
        return;
    m_why = why;
    const QString line = QStringLiteral("▸ ") + why;
    m_lead->setText(m_lead->fontMetrics().elidedText(line, Qt::ElideRight, std::max(200, width() - 20)));
    m_lead->setToolTip(why);
    m_lead->setAccessibleName(why);
    m_lead->setVisible(!why.isEmpty());
}

void RunPanel::say(const QString& result)
{
    setLabel(*m_result, result);
    m_result->setVisible(!result.isEmpty());
}

void RunPanel::progress(int done, int total)
{
    m_progress->show();
    m_progress->setMaximum(total);
    m_progress->setValue(done);
}

void RunPanel::rest() { m_progress->hide(); }

} // namespace ridge::app
