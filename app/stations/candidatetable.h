#pragma once
#include "app/document/document.h"
#include "core/stations/candidates.h"

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QProgressBar>
#include <QPushButton>
#include <QTableWidget>
#include <QTimer>
#include <QWidget>

#include <atomic>
#include <memory>
#include <stop_token>

namespace ridge::app {

/// The catalogue ranked for the selected axis: filters, the candidates with their tightest margin, and the marks for a
/// comparison. Large rankings run in a thread of their own, with their progress and a way to cancel them.
class CandidateTable : public QWidget {
    Q_OBJECT

public:
    explicit CandidateTable(Document& document, QWidget* parent = nullptr);
    ~CandidateTable() override;

    /// The axis changed: ranked at once for another axis, and a moment later while a pull goes on.
    void refresh(bool otherAxis);
    [[nodiscard]] bool busy() const { return m_running != nullptr; }
    [[nodiscard]] bool steppers() const { return m_kind->currentIndex() == 1; }
    /// Up to four candidates that are marked for comparison, by row; servos only.
    [[nodiscard]] std::vector<Candidate> compared() const;
    [[nodiscard]] const std::vector<Candidate>& servos() const { return m_servos; }
    [[nodiscard]] const std::shared_ptr<const store::Catalogue>& parts() const { return m_parts; }
    void chooseRow(int row);
    void toggleCompared(int row);

Q_SIGNALS:
    void ranked();
    void comparedChanged();

protected:
    bool eventFilter(QObject* object, QEvent* event) override;

private:
    /// A candidate in words, and what the filters ask for.
    struct Row {
        QString motor, gearbox, drive, words, reason, series, encoder;
        double frame = 0, voltage = 0, tightest = 0, ratio = 0;
        bool passes = false, mine = false, brake = false, marked = false;
    };
    struct Run;
    void layOut();
    void rank();
    void cancel();
    void done(const std::shared_ptr<Run>& run);
    void fillFilters();
    void show();
    [[nodiscard]] std::vector<Row> servoRows() const;
    [[nodiscard]] std::vector<Row> stepperRows() const;
    void filter();
    [[nodiscard]] bool fits(const Row& row) const;
    void fillRow(int at, const Row& row);
    /// The candidate that a row of the table shows. -1: none
    [[nodiscard]] int candidateOf(int row) const;
    [[nodiscard]] QComboBox* filterBox(const char* name, const QString& accessible);
    Document& m_document;
    QComboBox *m_kind, *m_gears, *m_frame, *m_voltage, *m_brake, *m_encoder, *m_series;
    QLineEdit* m_words;
    QTableWidget* m_table;
    QProgressBar* m_progress;
    QPushButton *m_cancel, *m_choose, *m_compare;
    QLabel *m_why, *m_count;
    QTimer m_later;
    std::shared_ptr<const store::Catalogue> m_parts;
    std::vector<Candidate> m_servos;
    std::vector<StepperCandidate> m_steppers;
    std::vector<Row> m_rows;           ///< of all candidates, in the order of the ranking
    std::vector<std::size_t> m_shown;  ///< those that pass the filters, as many as a person reads
    std::vector<std::size_t> m_marked; ///< motors marked for comparison, oldest first
    std::shared_ptr<Run> m_running;
};

} // namespace ridge::app
