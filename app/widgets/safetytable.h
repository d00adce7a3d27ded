#pragma once
#include "app/document/document.h"

#include <QWidget>

class QLabel;
class QTableWidget;

namespace ridge::app {

/// The safety circuit of a plan: each contact with its way to the input it opens, and what each output removes and
/// leaves live.
class SafetyTable : public QWidget {
    Q_OBJECT

public:
    explicit SafetyTable(Document& document, QWidget* parent = nullptr);
    void refresh();

private:
    Document& m_document;
    QTableWidget *m_inputs, *m_outputs;
    QLabel* m_spare;
    std::shared_ptr<const WirePlan> m_shown;
};

} // namespace ridge::app
