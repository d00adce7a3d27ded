#include "station.h"

namespace ridge::app {

void StationPage::noteInterrupted(const FactSource& source, const char* step, const Error& error)
{
    if (error.code == "connection-lost" || error.code == "stop-not-proved")
        m_document.append(source, StepDone{step, "interrupted", messageFor(error), {}, {}});
}

std::string StationPage::drive()
{
    const link::Session& session = m_bench.session();
    return m_document.axis().id + " " + session.identity().serial + " " + std::to_string(session.connections());
}

void StationPage::runWhileHeld(HoldButton& button, std::function<void()> begin)
{
    connect(&button, &HoldButton::held, this, [this, begin = std::move(begin)] {
        m_held = &m_bench.here();
        begin();
    });
    connect(&button, &HoldButton::released, this, [this] {
        if (m_held)
            m_held->runs.release();
    });
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
