#include "turntab.h"

#include "app/theme/sentence.h"
#include "core/units/parse.h"

#include <cmath>

namespace ridge::app {

TurnTab::TurnTab(Document& document, Bench& bench)
    : m_document(document)
    , m_bench(bench)
{}

RunPanel* TurnTab::runPanel()
{
    auto* panel = new RunPanel;
    connect(panel, &RunPanel::leadWanted, this, &TurnTab::leadWanted);
    return panel;
}

std::int64_t TurnTab::jogTorque() const
{
    return static_cast<std::int64_t>(std::lround(m_document.axis().turn.jogTorqueShare * 1000));
}

std::optional<double> TurnTab::typed(QLineEdit& edit, Quantity quantity, RunPanel& panel, const QString& example)
{
    const auto value = parseQuantity(edit.text().toStdString(), resolve(quantity, rotary()),
                                     displayUnit(resolve(quantity, rotary()), unitSystem()));
    if (value && std::isfinite(*value))
        return *value;
    panel.say(tr("■ “%1” cannot be read; such as %2.").arg(edit.text(), example));
    edit.setFocus();
    return {};
}

void TurnTab::failed(RunPanel& panel, const FactSource& source, const char* step, const Error& error)
{
    if (error.code == "connection-lost" || error.code == "stop-not-proved")
        m_document.append(source, StepDone{step, "interrupted", messageFor(error), {}, {}});
    panel.say(QString::fromStdString(messageFor(error)));
}

} // namespace ridge::app
