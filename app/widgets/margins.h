#pragma once
#include "app/document/document.h"
#include "app/widgets/stepspanel.h"

#include <QLabel>
#include <QStackedWidget>
#include <QTextBrowser>
#include <QTimer>
#include <QWidget>

namespace ridge::app {

/// The checks of one station, tightest first, as bars with the limit marked.
class MarginBars : public QWidget {
    Q_OBJECT

public:
    explicit MarginBars(QWidget* parent = nullptr);
    void setChecks(std::vector<Check> checks);
    [[nodiscard]] const std::vector<Check>& checks() const { return m_checks; }
    void choose(int row);

Q_SIGNALS:
    void chosen(int row);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] QRect rowRect(int row) const;
    std::vector<Check> m_checks;
    int m_current = -1;
};

/// Margins at the right of the window, with the working of the chosen one under them.
class MarginsPanel : public QWidget {
    Q_OBJECT

public:
    explicit MarginsPanel(Document& document, QWidget* parent = nullptr);
    void show(Station station);
    void showResult(const std::string& id);
    void showHelp(const QString& title, const QString& text);
    void showStep(int number);             ///< its card, to be filled in
    void showCheck(const std::string& id); ///< chooses it when it belongs to the shown station
    [[nodiscard]] QString workingText() const { return m_working->toPlainText(); }

private:
    void showRow(int row);
    void setWorking(const QString& html);
    void setWorkingNow();
    [[nodiscard]] QString whatIsMissing();
    Document& m_document;
    MarginBars* m_bars;
    StepList* m_steps;
    StepCard* m_card;
    QStackedWidget* m_below; ///< working of a margin, or the card of a step
    QLabel* m_old;           ///< why the figures are those of before
    QTextBrowser* m_working;
    QString m_chosen, m_html;
    bool m_refreshing = false;
    QTimer m_later; ///< a working that changes with every step of a pull is laid out when the pull rests
};

/// Steps of a working as rich text: symbols, numbers put in, result.
[[nodiscard]] QString workingHtml(const Working& working);

} // namespace ridge::app
