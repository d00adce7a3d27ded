#include "finder.h"

#include <QKeyEvent>
#include <QLineEdit>
#include <QListWidget>
#include <QVBoxLayout>

#include <algorithm>

namespace ridge::app {

Finder::Finder(QWidget* parent)
    : QFrame(parent)
{
    setObjectName(QStringLiteral("finder"));
    setFrameShape(QFrame::StyledPanel);
    setAutoFillBackground(true);
    auto* layout = new QVBoxLayout(this);
    m_line = new QLineEdit;
    m_line->setObjectName(QStringLiteral("finder.line"));
    m_line->setAccessibleName(tr("Find by name"));
    m_line->setPlaceholderText(tr("Find a quantity, check, field or action"));
    m_list = new QListWidget;
    m_list->setObjectName(QStringLiteral("finder.list"));
    m_list->setFocusPolicy(Qt::NoFocus);
    layout->addWidget(m_line);
    layout->addWidget(m_list);
    m_line->installEventFilter(this);
    connect(m_line, &QLineEdit::textChanged, this, &Finder::filter);
    connect(m_line, &QLineEdit::returnPressed, this, &Finder::accept);
    connect(m_list, &QListWidget::itemClicked, this, &Finder::accept);
    hide();
}

void Finder::open(std::vector<Entry> entries)
{
    m_entries = std::move(entries);
    setGeometry(parentWidget()->width() / 2 - 280, 60, 560, 380);
    m_line->clear();
    filter({});
    show();
    raise();
    m_line->setFocus();
}

void Finder::filter(const QString& words)
{
    const QStringList wanted = words.split(QLatin1Char(' '), Qt::SkipEmptyParts);
    m_list->clear();
    m_shown.clear();
    for (std::size_t k = 0; k < m_entries.size() && m_shown.size() < 200; ++k) {
        const Entry& e = m_entries[k];
        if (!std::ranges::all_of(wanted, [&](const QString& w) {
                return e.text.contains(w, Qt::CaseInsensitive) || e.kind.contains(w, Qt::CaseInsensitive);
            }))
            continue;
        m_shown.push_back(k);
        m_list->addItem(tr("%1    %2").arg(e.text, e.kind));
    }
    m_list->setCurrentRow(0);
}

void Finder::accept()
{
    const int row = m_list->currentRow();
    hide();
    if (row >= 0 && row < static_cast<int>(m_shown.size()))
        m_entries[m_shown[static_cast<std::size_t>(row)]].go();
}

bool Finder::eventFilter(QObject* object, QEvent* event)
{
    if (event->type() == QEvent::FocusOut)
        hide();
    if (event->type() != QEvent::KeyPress)
        return QFrame::eventFilter(object, event);
    const int key = static_cast<QKeyEvent*>(event)->key();
    const int row = m_list->currentRow();
    if (key == Qt::Key_Escape)
        hide();
    else if (key == Qt::Key_Down)
        m_list->setCurrentRow(std::min(row + 1, m_list->count() - 1));
    else if (key == Qt::Key_Up)
        m_list->setCurrentRow(std::max(row - 1, 0));
    else
        return QFrame::eventFilter(object, event);
    return true;
}

} // namespace ridge::app
