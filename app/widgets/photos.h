#pragma once
#include "app/document/document.h"

#include <QWidget>

class QHBoxLayout;
class QLabel;

namespace ridge::app {

/// The photos of one thing: a step, a conductor, a bridge, a device, a name plate. Small pictures that open large, and
/// a button to add one; a picture that is dropped here is added too. Kept in the file with date and person.
class PhotoRow : public QWidget {
    Q_OBJECT

public:
    /// @param axisWide  of the axis in view; else of the machine
    explicit PhotoRow(Document& document, bool axisWide = true, QWidget* parent = nullptr);
    /// What the photos shown are of, and new ones will be; empty: all photos of the axis, none can be added.
    void setOf(const QString& of);
    /// Adds a file; the sentence why not, when it is no picture.
    QString add(const QString& path);

protected:
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;

private:
    void refresh();
    void open(const Fact& fact) const;
    Document& m_document;
    bool m_axisWide;
    QString m_of, m_shown;
    QHBoxLayout* m_pictures;
    QLabel* m_words;
    QWidget* m_add;
};

} // namespace ridge::app
