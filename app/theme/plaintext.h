#pragma once
#include <QApplication>
#include <QEvent>
#include <QLabel>

namespace ridge::app {

/// Labels, message boxes and tool tips show what they are given as it is: a name from a file is text, whatever looks
/// like markup in it. A label that means markup says so itself and escapes what it is given.
class PlainText : public QObject {
public:
    static void rule(QApplication& application)
    {
        static const QString name = QStringLiteral("plain text");
        if (application.findChild<QObject*>(name))
            return;
        auto* rule = new PlainText(&application);
        rule->setObjectName(name);
        application.installEventFilter(rule);
    }
    bool eventFilter(QObject* object, QEvent* event) override
    {
        if (event->type()
            == QEvent::Polish) // before it is shown for the first time; of a tool tip before it has a text
            if (auto* label = qobject_cast<QLabel*>(object); label && label->textFormat() == Qt::AutoText)
                label->setTextFormat(Qt::PlainText);
        return QObject::eventFilter(object, event);
    }

private:
    using QObject::QObject;
};

} // namespace ridge::app
