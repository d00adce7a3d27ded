#pragma once
#include "app/widgets/forms.h"
#include "core/model/solids.h"

#include <QDialog>
#include <QPushButton>
#include <QScrollArea>
#include <QTextBrowser>

#include <optional>
#include <vector>

class QListWidget;

namespace ridge::app {

/// Builds a mass or a moment of inertia from solids about one axis; the sum and its working stand beside them.
class BodyDialog : public QDialog {
    Q_OBJECT

public:
    /// @param wanted  Mass or Inertia: what goes into the field
    BodyDialog(const QString& title, std::vector<Solid> solids, Quantity wanted, QWidget* parent = nullptr);
    [[nodiscard]] const std::vector<Solid>& solids() const { return m_solids; }
    [[nodiscard]] std::optional<double> value() const
    {
        return m_value;
    } ///< [kg] or [kg·m²]; nothing while a solid is wrong

private:
    void select(int row);
    void recount();
    [[nodiscard]] QString rowWords(const Solid& solid) const;
    std::vector<Solid> m_solids;
    Quantity m_wanted;
    std::optional<double> m_value;
    QListWidget* m_list;
    QScrollArea* m_scroll;
    QWidget* m_picture;
    FieldForm* m_form = nullptr;
    QTextBrowser* m_working;
    QLabel* m_sentence;
    QPushButton *m_take, *m_remove;
};

} // namespace ridge::app
