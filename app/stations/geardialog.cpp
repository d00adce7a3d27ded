#include "geardialog.h"

#include "app/theme/sentence.h"
#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "app/widgets/figures.h"
#include "core/stations/candidates.h"
#include "core/stations/gearcompare.h"

#include <QComboBox>
#include <QDialogButtonBox>
#include <QHeaderView>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>

namespace ridge::app {

GearDialog::GearDialog(Document& document, QWidget* parent)
    : QDialog(parent)
    , m_document(document)
{
    setObjectName(QStringLiteral("load.gears"));
    setWindowTitle(tr("Gearbox in or out"));
    auto* layout = new QVBoxLayout(this);
    layout->addWidget(quiet(tr("Its inertia counts at the motor side. A stiffness or a backlash that is not entered "
                               "leaves its line open.")));
    m_choice = new QComboBox;
    m_choice->setObjectName(QStringLiteral("load.gears.choice"));
    m_choice->setAccessibleName(tr("Compared with"));
    m_choice->addItem(tr("Without any gearbox"));
    for (const Gearbox& g : m_document.parts().catalogue()->gearboxes)
        m_choice->addItem(QString::fromStdString(g.name));
    const bool has = std::ranges::any_of(m_document.axis().stages,
                                         [](const StageElement& e) { return e.type == StageKind::Gearbox; });
    m_choice->setCurrentIndex(has ? 0 : std::min(1, m_choice->count() - 1));
    layout->addWidget(m_choice);
    m_table = listTable("load.gears.rows", tr("Before and after"), {tr("Quantity"), tr("As it is"), tr("Then")});
    m_table->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    layout->addWidget(m_table, 1);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Close);
    buttons->button(QDialogButtonBox::Ok)->setText(tr("Take it"));
    connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    layout->addWidget(buttons);
    connect(m_choice, &QComboBox::currentIndexChanged, this, &GearDialog::fill);
    resize(560, 400);
    fill();
}

Axis GearDialog::tried() const
{
    if (m_choice->currentIndex() == 0)
        return withoutGearbox(m_document.axis());
    Axis axis = m_document.axis();
    chooseGearbox(axis,
                  m_document.parts().catalogue()->gearboxes[static_cast<std::size_t>(m_choice->currentIndex() - 1)]);
    return axis;
}

void GearDialog::fill()
{
    const auto lines = compareGears(m_document.machine(), m_document.axis(), tried());
    m_table->setRowCount(static_cast<int>(lines.size()));
    for (int r = 0; r < m_table->rowCount(); ++r) {
        const GearLine& l = lines[static_cast<std::size_t>(r)];
        const auto value = [&](const std::optional<double>& x) {
            return x ? shown(*x, l.quantity, 4) : tr("not known");
        };
        setCell(*m_table, r, 0, said(l.label), theme().soft);
        setCell(*m_table, r, 1, value(l.before));
        setCell(*m_table, r, 2, value(l.after));
        for (const int c : {1, 2})
            m_table->item(r, c)->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    }
}

} // namespace ridge::app
