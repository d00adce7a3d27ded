#include "station.h"

namespace ridge::app {

void StationPage::noteInterrupted(const FactSource& source, const char* step, const Error& error)
{
    if (error.code == "connection-lost" || error.code == "stop-not-proved")
        m_document.append(source, StepDone{step, "interrupted", messageFor(error), {}, {}});
}

std::string StationPage::drive() { return m_bench.whose(); }

void StationPage::runWhileHeld(HoldButton& button, std::function<void()> begin)
{
    connectHeld(button, m_bench, std::move(begin));
}

QPushButton* StationPage::resetButton(const char* name, std::function<void(const QString&)> say)
{
    QPushButton* b = button(name, tr("Reset the fault"));
    b->hide();
    connect(b, &QPushButton::clicked, this, [this, say = std::move(say)] { m_bench.resetFault(say); });
    connect(&m_bench, &Bench::changed, b, [this, b] {
        const LinkState link = m_document.hasAxis() ? m_bench.linkState() : LinkState{};
        b->setVisible(link.identified && link.error != 0);
        b->setEnabled(!m_bench.runs().running());
    });
    return b;
}

} // namespace ridge::app
