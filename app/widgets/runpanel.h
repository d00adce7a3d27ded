#pragma once
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QWidget>

#include <functional>

namespace ridge::app {

class FlowRow;

/// A button that acts while it is held, by mouse or by the space bar. Letting go, losing the focus, another window in
/// front, a locked screen, hiding or closing it all count as letting go.
class HoldButton : public QPushButton {
    Q_OBJECT

public:
    explicit HoldButton(const QString& text, QWidget* parent = nullptr);
    ~HoldButton() override;
    [[nodiscard]] bool isHeld() const { return m_held; }
    void letGo();

Q_SIGNALS:
    void held();
    void released();

protected:
    void mousePressEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void keyReleaseEvent(QKeyEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;
    void hideEvent(QHideEvent* event) override;
    void changeEvent(QEvent* event) override;

private:
    void hold();
    bool m_held = false;
};

class Bench;
/// `begin` while the button is held; letting go ends whatever then runs on the axis it began on, whatever is in view
/// and whatever an earlier run still has to say.
void connectHeld(HoldButton& button, Bench& bench, std::function<void()> begin);

/// Everything around a run on a drive: what will move, how far, what stops it; why it is closed; progress and result.
class RunPanel : public QWidget {
    Q_OBJECT

public:
    explicit RunPanel(QWidget* parent = nullptr);
    HoldButton* addHold(const char* name, const QString& text);
    QPushButton* add(const char* name, const QString& text);
    void addWidget(QWidget* widget);
    /// What will move, how far, and what stops it.
    void setMoves(const QString& text);
    /// Why nothing can be run now; empty opens the buttons that were added as `add` or `addHold`.
    void setRefusal(const QString& why);
    [[nodiscard]] const QString& refusal() const { return m_why; }
    void say(const QString& result);
    [[nodiscard]] QString said() const { return m_result->text(); }
    void progress(int done, int total);
    void rest(); ///< progress back to nothing

Q_SIGNALS:
    void leadWanted(); ///< to what is missing

private:
    void lay();
    FlowRow* m_row;
    QProgressBar* m_progress;
    QLabel *m_moves, *m_result;
    QPushButton* m_lead;
    QList<QPushButton*> m_buttons;
    QString m_why;
};

} // namespace ridge::app
