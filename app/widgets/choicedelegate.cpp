#include "choicedelegate.h"

#include "app/theme/sentence.h"

#include <QComboBox>

namespace ridge::app {

ChoiceDelegate::ChoiceDelegate(Choices choices, QObject* parent)
    : QStyledItemDelegate(parent)
    , m_choices(std::move(choices))
{}

QWidget* ChoiceDelegate::createEditor(QWidget* parent, const QStyleOptionViewItem& option,
                                      const QModelIndex& index) const
{
    const auto choices = m_choices(index);
    if (choices.empty())
        return QStyledItemDelegate::createEditor(parent, option, index);
    auto* box = new QComboBox(parent);
    for (const auto word : choices)
        box->addItem(word.empty() ? QStringLiteral("–") : said(word),
                     QString::fromUtf8(word.data(), static_cast<qsizetype>(word.size())));
    return box;
}

void ChoiceDelegate::setEditorData(QWidget* editor, const QModelIndex& index) const
{
    if (auto* box = qobject_cast<QComboBox*>(editor))
        box->setCurrentIndex(std::max(0, box->findText(index.data().toString())));
    else
        QStyledItemDelegate::setEditorData(editor, index);
}

void ChoiceDelegate::setModelData(QWidget* editor, QAbstractItemModel* model, const QModelIndex& index) const
{
    if (auto* box = qobject_cast<QComboBox*>(editor))
        model->setData(index, box->currentData());
    else
        QStyledItemDelegate::setModelData(editor, model, index);
}

} // namespace ridge::app
