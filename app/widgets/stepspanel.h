#pragma once
#include "app/document/document.h"
#include "app/widgets/forms.h"
#include "app/widgets/instruments.h"
#include "app/widgets/photos.h"
#include "app/widgets/questionlist.h"

#include <QCheckBox>
#include <QListWidget>
#include <QScrollArea>

class QVBoxLayout;

namespace ridge::app {

/// Mark of a step's state; shape before colour.
[[nodiscard]] QString stepMark(const StepStatus& status);
[[nodiscard]] QString stepWord(const StepStatus& status);

/// The steps that are worked at one station, with their states.
class StepList : public QListWidget {
    Q_OBJECT

public:
    explicit StepList(Document& document, QWidget* parent = nullptr);
    void show(Station station);

Q_SIGNALS:
    void chosen(int number);

private:
    Document& m_document;
    bool m_filling = false;
};

/// One step to be done: what to do, what passes, its cautions, and the entries to type, judged when entered. The way by
/// hand, so that no axis meets a dead end.
class StepCard : public QScrollArea {
    Q_OBJECT

public:
    explicit StepCard(Document& document, QWidget* parent = nullptr);
    void show(int number);
    void refresh();
    [[nodiscard]] int number() const { return m_number; }

private:
    void build();
    void enter();
    void leaveOut();
    [[nodiscard]] bool acknowledge(const WorkStep& step);
    void record(const StepDone& done);
    void say(const QString& words);
    struct Row {
        const StepEntry* entry = nullptr;
        QCheckBox* confirm = nullptr;
        QuantityEdit* number = nullptr;
        QLineEdit* words = nullptr;
        std::optional<double> value;
    };
    Document& m_document;
    int m_number = 0;
    const WorkStep* m_built = nullptr; ///< what the entries are of
    std::string m_axis;
    QLabel *m_state = nullptr, *m_words = nullptr;
    QLineEdit *m_reason = nullptr, *m_method = nullptr;
    InstrumentRow* m_instrument = nullptr;
    QuestionList* m_questions = nullptr;
    QWidget* m_body = nullptr;
    std::vector<Row> m_rows;
    std::vector<std::pair<std::string, QCheckBox*>> m_cautions;
};

} // namespace ridge::app
