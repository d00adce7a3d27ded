#pragma once
#include <QStyledItemDelegate>

#include <functional>
#include <span>
#include <string_view>

namespace ridge::app {

/// Words of a table that are chosen, not typed; a cell without choices is typed.
class ChoiceDelegate : public QStyledItemDelegate {
    Q_OBJECT

public:
    using Choices = std::function<std::span<const std::string_view>(const QModelIndex&)>;
    explicit ChoiceDelegate(Choices choices, QObject* parent = nullptr);
    QWidget* createEditor(QWidget* parent, const QStyleOptionViewItem& option, const QModelIndex& index) const override;
    void setEditorData(QWidget* editor, const QModelIndex& index) const override;
    void setModelData(QWidget* editor, QAbstractItemModel* model, const QModelIndex& index) const override;

private:
    Choices m_choices;
};

} // namespace ridge::app
