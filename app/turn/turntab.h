#pragma once
#include "app/document/bench.h"
#include "app/widgets/runpanel.h"
#include "core/model/field.h"

#include <QLineEdit>
#include <QWidget>

namespace ridge::app {

/// One activity of Turn: what is seen follows the record, what is done is a run that a person holds.
class TurnTab : public QWidget {
    Q_OBJECT

public:
    TurnTab(Document& document, Bench& bench);
    virtual void refresh() {} ///< plan or record changed
    /// The connection or its state changed. @param idle  a run may begin
    virtual void live(const LinkState& link, bool idle) = 0;
    /// Whether this activity belongs to the axis in view.
    [[nodiscard]] virtual bool applies() const { return true; }

Q_SIGNALS:
    void leadWanted();

protected:
    [[nodiscard]] RunPanel* runPanel();
    [[nodiscard]] bool rotary() const { return m_document.axis().mechanism.rotary(); }
    [[nodiscard]] Quantity q(Quantity quantity) const { return resolve(quantity, rotary()); }
    [[nodiscard]] std::int64_t jogTorque() const;
    /// A quantity that was typed; tells what is wrong with it at the panel and goes there.
    std::optional<double> typed(QLineEdit& edit, Quantity quantity, RunPanel& panel, const QString& example);
    /// Says what came of a run that ended otherwise; a lost link stands in the record as an interrupted step.
    void failed(RunPanel& panel, const FactSource& source, const char* step, const Error& error);
    [[nodiscard]] const ServoMotor* motor() const { return m_document.axis().actuator.motor(); }
    Document& m_document;
    Bench& m_bench;
};

[[nodiscard]] TurnTab* makeHandTab(Document& document, Bench& bench);
[[nodiscard]] TurnTab* makePhasingTab(Document& document, Bench& bench);
[[nodiscard]] TurnTab* makeSearchTab(Document& document, Bench& bench);
[[nodiscard]] TurnTab* makeElectricalTab(Document& document, Bench& bench);
[[nodiscard]] TurnTab* makeJogTab(Document& document, Bench& bench);
[[nodiscard]] TurnTab* makeTravelTab(Document& document, Bench& bench);
[[nodiscard]] TurnTab* makePointsTab(Document& document, Bench& bench);
[[nodiscard]] TurnTab* makeSignalsTab(Document& document, Bench& bench); ///< analog reference, both encoders

} // namespace ridge::app
