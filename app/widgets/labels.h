#pragma once
#include <QLabel>

namespace ridge::app {

/// Sets a text only when it is another one: a label lays its window out anew even for the same text.
inline void setLabel(QLabel& label, const QString& text)
{
    if (label.text() != text)
        label.setText(text);
}

} // namespace ridge::app
