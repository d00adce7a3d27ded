#pragma once
#include "core/drives/sheet.h"
#include "core/model/axis.h"

#include <QDialog>

#include <optional>

class QLabel;
class QPushButton;

namespace ridge::app {

/// A motor as its name plate or data sheet prints it: every figure with its convention, what is not printed stays
/// empty. Below stands what the figures say of each other.
class SheetDialog : public QDialog {
    Q_OBJECT

public:
    explicit SheetDialog(const Mechanism& mechanism, QWidget* parent = nullptr);
    /// The motor in the catalogue's conventions; nothing while a convention is not said.
    [[nodiscard]] const std::optional<ServoMotor>& motor() const { return m_motor; }

private:
    void judge();
    MotorSheet m_sheet;
    std::optional<ServoMotor> m_motor;
    QLabel* m_words;
    QPushButton* m_take;
};

/// Puts a motor into an axis and leaves its drive.
void takeMotor(Axis& axis, const ServoMotor& motor);

} // namespace ridge::app
