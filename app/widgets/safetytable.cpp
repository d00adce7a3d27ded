#include "safetytable.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "app/widgets/figures.h"
#include "app/widgets/labels.h"
#include "core/wiring/safetynet.h"

#include <QHeaderView>
#include <QTableWidget>
#include <QVBoxLayout>

#include <algorithm>

namespace ridge::app {

SafetyTable::SafetyTable(Document& document, QWidget* parent)
    : QWidget(parent)
    , m_document(document)
{
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(8, 4, 8, 4);
    m_inputs = listTable("stopInputs", tr("Contacts of the safety circuit"),
                         {tr("Device"), tr("Contact"), tr("Fed from"), tr("Opens"), tr("Asks for"), tr("Reset"),
                          tr("Broken wire"), tr("Lamp"), tr("Leaves")});
    m_inputs->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    m_inputs->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    layout->addWidget(m_inputs, 1);
    m_spare = quiet({});
    layout->addWidget(m_spare);
    m_outputs = listTable("stopOutputs", tr("What each output removes"),
                          {tr("When it drops"), tr("Removes"), tr("Stays live")});
    m_outputs->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    m_outputs->setWordWrap(true);
    layout->addWidget(m_outputs, 1);
}

void SafetyTable::refresh()
{
    const auto& laid = m_document.evaluation().wire.laid;
    if (!laid || laid == m_shown)
        return;
    m_shown = laid;
    const SafetyNet net = safetyNet(*laid);
    m_inputs->setRowCount(static_cast<int>(net.inputs.size()));
    for (int row = 0; row < m_inputs->rowCount(); ++row) {
        const StopInput& in = net.inputs[static_cast<std::size_t>(row)];
        const auto or_ = [](const std::string& s) { return s.empty() ? QStringLiteral("–") : said(s); };
        setCell(*m_inputs, row, 0, said(in.device));
        setCell(*m_inputs, row, 1, said(in.pins));
        setCell(*m_inputs, row, 2, or_(in.feed));
        setCell(*m_inputs, row, 3, in.input.empty() ? tr("■ nothing") : said(in.input),
                in.input.empty() ? theme().fail : QColor());
        setCell(*m_inputs, row, 4,
                in.trip.empty()
                    ? QStringLiteral("–")
                    : tr("%1, category %2")
                          .arg(said(in.trip), in.stopCategory ? QString::number(*in.stopCategory) : tr("not said")));
        setCell(*m_inputs, row, 5, or_(in.reset));
        setCell(*m_inputs, row, 6,
                !in.jumper.empty()  ? tr("▲ bridged: %1").arg(said(in.jumper))
                : in.brokenWireActs ? tr("● acts")
                                    : tr("■ does not act"),
                !in.jumper.empty()  ? theme().watch
                : in.brokenWireActs ? theme().ok
                                    : theme().fail);
        setCell(*m_inputs, row, 7, in.lamp ? tr("yes") : QStringLiteral("–"));
        setCell(*m_inputs, row, 8, in.leaves ? tr("yes: filter") : QStringLiteral("–"), {},
                in.leaves
                    ? tr("Its wires leave the cabinet: shield or filter, and a test pulse shorter than the filter.")
                    : QString());
    }
    QStringList spare;
    for (const std::string& s : net.spare)
        spare += said(s);
    setLabel(*m_spare, spare.isEmpty()
                           ? tr("No stop input is left open.")
                           : tr("Open stop inputs, each wants its jumper: %1").arg(spare.join(QStringLiteral(", "))));
    m_outputs->setRowCount(static_cast<int>(net.outputs.size()));
    for (int row = 0; row < m_outputs->rowCount(); ++row) {
        const StopOutput& o = net.outputs[static_cast<std::size_t>(row)];
        const auto lines = [](const std::vector<std::string>& all) {
            QStringList out;
            for (const std::string& one : all)
                out += said(one);
            return out.isEmpty() ? QStringLiteral("–") : out.join(QLatin1Char('\n'));
        };
        setCell(*m_outputs, row, 0, said(o.output));
        setCell(*m_outputs, row, 1, lines(o.removes));
        setCell(*m_outputs, row, 2, lines(o.live), o.live.empty() ? QColor() : theme().watch);
    }
    m_outputs->resizeRowsToContents();
    for (int row = 0; row < m_outputs->rowCount(); ++row)
        m_outputs->setRowHeight(row, std::max(22, m_outputs->rowHeight(row) + 6));
}

} // namespace ridge::app
