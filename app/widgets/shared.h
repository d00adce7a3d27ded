#pragma once
#include "app/document/document.h"
#include "core/model/sharedgrid.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QScrollArea;
class QTableWidget;

namespace ridge::app {

class FieldForm;

/// What the axes of the machine share, as one grid: a line for a drive of several axes, a beam, a bus or a safety
/// input, a column for each axis. Beside it what follows: what cannot be, and the judgements of the machine.
class SharedList : public QWidget {
    Q_OBJECT

public:
    explicit SharedList(Document& document, QWidget* parent = nullptr);
    void refresh();

protected:
    void showEvent(QShowEvent* event) override;

private:
    [[nodiscard]] QWidget* gridSide();
    [[nodiscard]] QWidget* followsSide();
    void fillGrid();
    void fillFollows();
    void showEntries();
    void typed(int row, int column);
    void add();
    void remove();
    void change(const QString& text, const Result<SharedParts>& parts);
    void saveWires();
    [[nodiscard]] Result<SharedParts> entered(const SharedRow& row, int column, const QString& text) const;
    Document& m_document;
    std::vector<SharedRow> m_rows;
    QTableWidget *m_grid, *m_follows;
    QComboBox* m_kind;
    QLabel* m_words;
    QScrollArea* m_entries;
    FieldForm* m_form = nullptr;
    std::optional<std::pair<SharedKind, std::size_t>> m_shown; ///< line whose further entries are shown
    bool m_filling = false;
};

} // namespace ridge::app
