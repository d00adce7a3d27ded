#pragma once
#include <QFrame>

#include <functional>
#include <vector>

class QLineEdit;
class QListWidget;

namespace ridge::app {

/// Finds any quantity, check, field or action by its name (Ctrl+K). Words may come in any order.
class Finder : public QFrame {
    Q_OBJECT

public:
    struct Entry {
        QString text, kind; ///< shown; the kind in quiet ink behind it
        std::function<void()> go;
    };
    explicit Finder(QWidget* parent);
    void open(std::vector<Entry> entries);

protected:
    bool eventFilter(QObject* object, QEvent* event) override;

private:
    void filter(const QString& words);
    void accept();
    QLineEdit* m_line;
    QListWidget* m_list;
    std::vector<Entry> m_entries;
    std::vector<std::size_t> m_shown;
};

} // namespace ridge::app
