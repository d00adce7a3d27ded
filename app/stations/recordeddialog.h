#pragma once
#include "app/widgets/forms.h"
#include "app/widgets/plotview.h"
#include "core/motion/cycle.h"
#include "core/motion/recorded.h"
#include "store/tables.h"

#include <QDialog>
#include <QPushButton>

#include <optional>

namespace ridge::app {

/// A recorded motion before it becomes a segment: its samples, the spline that stays within a permitted deviation, what
/// is left out, and whether that is little enough.
class RecordedDialog : public QDialog {
    Q_OBJECT

public:
    RecordedDialog(store::RecordedMotion motion, bool rotary, QWidget* parent = nullptr);
    [[nodiscard]] std::optional<Segment> segment() const; ///< nothing while it cannot be used

private:
    void fit();
    void draw();
    store::RecordedMotion m_motion;
    bool m_rotary;
    double m_permitted;
    std::optional<RecordedFit> m_fit;
    PlotView* m_plot;
    QuantityEdit* m_edit;
    QLabel* m_words;
    QPushButton* m_take;
};

} // namespace ridge::app
