#include "recordeddialog.h"

#include "app/theme/theme.h"
#include "app/widgets/figures.h"
#include "core/units/print.h"

#include "station.h"

#include <QDialogButtonBox>
#include <QVBoxLayout>

#include <algorithm>

namespace ridge::app {

namespace {
struct Permitted {
    double deviation = 0;
};
constexpr Field permittedField =
    number<&Permitted::deviation>("permitted", "Permitted deviation", Quantity::Travel, {0, 1e3, true, "not-positive"},
                                  "Of the spline from every sample. Larger is smoother.");
} // namespace

RecordedDialog::RecordedDialog(store::RecordedMotion motion, bool rotary, QWidget* parent)
    : QDialog(parent)
    , m_motion(std::move(motion))
    , m_rotary(rotary)
{
    setWindowTitle(tr("A recorded motion"));
    setObjectName(QStringLiteral("recorded"));
    m_permitted = std::max(1e-9, proposedDeviation(m_motion.times, m_motion.positions));
    auto* layout = new QVBoxLayout(this);
    const auto unit = [&](Quantity q) {
        return QString::fromStdString(prettyUnit(displayUnit(resolve(q, rotary), unitSystem())));
    };
    m_plot =
        new PlotView({tr("position, %1").arg(unit(Quantity::Travel)), tr("left out, %1").arg(unit(Quantity::Travel)),
                      tr("acceleration, %1").arg(unit(Quantity::TravelAcceleration))},
                     tr("time, s"));
    m_plot->setAccessibleName(tr("Samples, spline and what lies between them"));
    layout->addWidget(m_plot, 1);
    auto* row = new QHBoxLayout;
    auto* label = new QLabel(tr("Permitted deviation"));
    m_edit = new QuantityEdit(permittedField, rotary);
    m_edit->line().setObjectName(QStringLiteral("recorded.permitted"));
    m_edit->setFixedWidth(120);
    m_edit->setValue(m_permitted);
    label->setBuddy(m_edit);
    row->addWidget(label);
    row->addWidget(m_edit);
    m_words = new QLabel;
    m_words->setObjectName(QStringLiteral("recorded.words"));
    m_words->setWordWrap(true);
    row->addWidget(m_words, 1);
    layout->addLayout(row);
    auto* buttons = new QDialogButtonBox;
    m_take = button("recorded.take", tr("Add to the cycle"));
    buttons->addButton(m_take, QDialogButtonBox::AcceptRole);
    buttons->addButton(button("recorded.cancel", tr("Cancel")), QDialogButtonBox::RejectRole);
    layout->addWidget(buttons);
    connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(m_edit, &QuantityEdit::entered, this, [this](std::optional<double> value) {
        if (!value)
            return;
        m_permitted = *value;
        m_edit->setValue(value);
        fit();
    });
    resize(860, 600);
    fit();
}

void RecordedDialog::fit()
{
    const auto fitted = fitRecorded(m_motion.times, m_motion.positions, m_permitted);
    m_take->setEnabled(fitted.has_value());
    if (!fitted) {
        m_fit.reset();
        m_words->setText(QStringLiteral("■ ")
                         + QString::fromStdString(messageFor(fitted.error(), m_rotary, unitSystem())));
        return;
    }
    m_fit = *fitted;
    const Quantity travel = resolve(Quantity::Travel, m_rotary);
    m_words->setText(
        (m_fit->kept ? QStringLiteral("● ") : QStringLiteral("▲ "))
        + tr("%1 samples in %2 pieces. Largest deviation %3 at %4, rms %5. Peak %6, %7.")
              .arg(m_motion.times.size())
              .arg(m_fit->positions.size() - 1)
              .arg(shown(m_fit->largestDeviation, travel, 3), shown(m_fit->largestAt, Quantity::Time, 3),
                   shown(m_fit->rmsDeviation, travel, 3),
                   shown(m_fit->peakSpeed, resolve(Quantity::TravelSpeed, m_rotary), 3),
                   shown(m_fit->peakAcceleration, resolve(Quantity::TravelAcceleration, m_rotary), 3))
        + (m_fit->kept ? QString()
                       : tr(" Even the finest spline misses what is permitted: the recording is noisy, or it jumps.")));
    draw();
}

void RecordedDialog::draw()
{
    const Quantity travel = resolve(Quantity::Travel, m_rotary),
                   acceleration = resolve(Quantity::TravelAcceleration, m_rotary);
    PlotView::Curve samples{{}, {}, 0, 1, Qt::SolidLine, 1.2}, spline{{}, {}, 0, 0, Qt::SolidLine, 1.8},
        off{{}, {}, 1, 2}, a{{}, {}, 2, 0};
    samples.label = tr("samples");
    spline.label = tr("spline");
    const double start = m_motion.times.front(), zero = m_motion.positions.front();
    const auto pieces = clampedSpline(m_fit->positions, m_fit->time);
    for (std::size_t k = 0; k < m_motion.times.size(); ++k) {
        const double t = m_motion.times[k] - start, x = m_motion.positions[k] - zero;
        samples.x.append(t);
        samples.y.append(toDisplay(x, travel, unitSystem()));
        off.x.append(t);
        off.y.append(toDisplay(x - splineAt(pieces, t).x, travel, unitSystem()));
    }
    for (const double t : evenly(0, m_fit->time, 400)) {
        const auto [x, acc] = splineAt(pieces, t);
        spline.x.append(t);
        spline.y.append(toDisplay(x, travel, unitSystem()));
        a.x.append(t);
        a.y.append(toDisplay(acc, acceleration, unitSystem()));
    }
    m_plot->setCurves({samples, spline, off, a});
}

std::optional<Segment> RecordedDialog::segment() const
{
    if (!m_fit)
        return {};
    Segment s;
    s.kind = SegmentKind::Recorded;
    s.time = m_fit->time;
    s.recorded = m_fit->positions;
    return s;
}

} // namespace ridge::app
