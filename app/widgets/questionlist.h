#pragma once
#include "app/document/document.h"

#include <QWidget>

#include <vector>

class QComboBox;
class QGridLayout;
class QLabel;
class QLineEdit;

namespace ridge::app {

/// What no plan tells, asked of the person who works: each question with its answer, who gave it and when.
class QuestionList : public QWidget {
    Q_OBJECT

public:
    static constexpr int whenLost = -1; ///< only those of an encoder that lost its turns
    /// @param step  only those asked at this step of the work; 0: all
    explicit QuestionList(Document& document, int step = 0, QWidget* parent = nullptr);
    void refresh();
    [[nodiscard]] int count() const { return static_cast<int>(m_rows.size()); }

private:
    struct Row {
        std::string id;
        QLabel *mark = nullptr, *text = nullptr, *who = nullptr;
        QComboBox* answer = nullptr;
        QLineEdit* words = nullptr;
    };
    void build();
    void give(const Row& row);
    Document& m_document;
    int m_step;
    std::vector<Row> m_rows;
    QWidget* m_body = nullptr;
};

} // namespace ridge::app
