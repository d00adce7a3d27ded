#pragma once
#include "app/document/document.h"

#include <QScrollArea>
#include <QWidget>

namespace ridge::app {

class FieldForm;
class TravelRuler;

/// Where the axis ends and how it is stopped there: the ruler above the entries.
class TravelPanel : public QWidget {
    Q_OBJECT

public:
    explicit TravelPanel(Document& document, QWidget* parent = nullptr);
    void fill();

private:
    Document& m_document;
    TravelRuler* m_ruler;
    QScrollArea* m_scroll;
    FieldForm* m_form = nullptr;
    bool m_rotary = false;
};

} // namespace ridge::app
