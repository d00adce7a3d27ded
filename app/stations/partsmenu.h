#pragma once
#include "app/document/document.h"

#include <QMenu>

#include <functional>

namespace ridge::app {

/// What belongs to motor and drive, for a menu: parts of the catalogue, name plates and data, supply, signals,
/// mounting.
class PartsMenu {
public:
    /// @param measured  asks for a measured torque table
    PartsMenu(Document& document, QWidget& window, std::function<void()> measured)
        : m_document(document)
        , m_window(window)
        , m_measured(std::move(measured))
    {}
    void fill(QMenu& menu, const store::Catalogue& parts);

private:
    template <class T, class Take>
    void offer(QMenu& menu, const QString& title, const std::vector<T>& parts, Take take);
    void add(QMenu& menu, const QString& words, const QString& edit, const std::function<void(Axis&)>& change);
    void resistors(QMenu& menu, const store::Catalogue& parts);
    void ofServo(QMenu& menu, const store::Catalogue& parts);
    void ofStepper(QMenu& menu, const store::Catalogue& parts);
    void plates(QMenu& menu);
    void data(QMenu& menu);
    /// A form over entries of the axis; they act at once.
    void form(const char* name, const QString& title, std::span<const Field> fields, std::function<void*(Axis&)> find);
    Document& m_document;
    QWidget& m_window;
    std::function<void()> m_measured;
};

} // namespace ridge::app
