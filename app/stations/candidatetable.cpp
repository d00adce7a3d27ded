#include "candidatetable.h"

#include "app/theme/sentence.h"
#include "app/theme/theme.h"
#include "app/widgets/figures.h"
#include "app/widgets/flowrow.h"
#include "app/widgets/labels.h"

#include "station.h"

#include <QAbstractItemView>
#include <QCoreApplication>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QPointer>
#include <QThreadPool>
#include <QVBoxLayout>

#include <algorithm>
#include <array>
#include <map>
#include <thread>

namespace ridge::app {

/// A ranking in another thread: what it works on, how far it is, and what came out.
struct CandidateTable::Run {
    Machine machine;
    Axis axis;
    Evaluation evaluation;
    std::shared_ptr<const store::Catalogue> parts;
    std::stop_source stop;
    std::atomic<int> percent{0};
    Ranking ranking;
};

namespace {
/// Above this many combinations a ranking would be felt in the window.
constexpr std::size_t atOnce = 6000;
/// Nobody reads further, and a table of all motors of a large catalogue would be felt.
constexpr std::size_t mostRows = 400;

QString text(std::string_view s) { return QString::fromUtf8(s.data(), static_cast<qsizetype>(s.size())); }
} // namespace

CandidateTable::CandidateTable(Document& document, QWidget* parent)
    : QWidget(parent)
    , m_document(document)
    , m_parts(document.parts().catalogue())
{
    layOut();
    m_later.setSingleShot(true);
    m_later.setInterval(40);
    connect(&m_later, &QTimer::timeout, this, &CandidateTable::rank);
    connect(&m_document.parts(), &Parts::changed, this, [this] {
        m_parts = m_document.parts().catalogue();
        m_marked.clear();
        rank();
    });
    for (QComboBox* box : {m_kind, m_gears})
        connect(box, &QComboBox::activated, this, &CandidateTable::rank);
    for (QComboBox* box : {m_frame, m_voltage, m_brake, m_encoder, m_series})
        connect(box, &QComboBox::activated, this, &CandidateTable::filter);
    connect(m_words, &QLineEdit::textChanged, this, &CandidateTable::filter);
    connect(m_choose, &QPushButton::clicked, this, [this] { chooseRow(m_table->currentRow()); });
    connect(m_compare, &QPushButton::clicked, this, [this] { toggleCompared(m_table->currentRow()); });
    connect(m_cancel, &QPushButton::clicked, this, &CandidateTable::cancel);
    connect(m_table, &QTableWidget::cellDoubleClicked, this, [this](int r, int) { chooseRow(r); });
    m_table->installEventFilter(this);
}

CandidateTable::~CandidateTable() { cancel(); }

QComboBox* CandidateTable::filterBox(const char* name, const QString& accessible)
{
    auto* box = new QComboBox;
    box->setObjectName(QString::fromLatin1(name));
    box->setAccessibleName(accessible);
    box->view()->setMinimumWidth(150); // the list is wider than the closed box
    return box;
}

void CandidateTable::layOut()
{
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(4);
    auto* filters = new FlowRow; // on two lines in a narrow window
    filters->setSpacing(6);
    m_kind = filterBox("match.kind", tr("Kind of motor"));
    m_kind->addItems({tr("Servos"), tr("Steppers")});
    m_gears = filterBox("match.gearboxes", tr("Gearboxes that are tried"));
    m_gears->addItems({tr("this chain"), tr("and gearboxes")});
    m_frame = filterBox("match.frame", tr("Only this frame size"));
    m_voltage = filterBox("match.voltage", tr("Only this winding voltage"));
    m_brake = filterBox("match.brake", tr("Only with a brake"));
    m_brake->addItems({tr("any brake"), tr("with brake")});
    m_encoder = filterBox("match.encoder", tr("Only this feedback"));
    m_series = filterBox("match.series", tr("Only this series"));
    const std::array widths{96, 118, 90, 98, 90, 108, 92};
    std::size_t n = 0;
    for (QComboBox* box : {m_kind, m_gears, m_frame, m_voltage, m_brake, m_encoder, m_series}) {
        box->setFixedWidth(widths[n++]);
        filters->addWidget(box);
    }
    m_words = new QLineEdit;
    m_words->setObjectName(QStringLiteral("match.filter"));
    m_words->setAccessibleName(tr("Show only candidates with these words"));
    m_words->setPlaceholderText(tr("words"));
    m_words->setClearButtonEnabled(true);
    m_words->setFixedWidth(68);
    filters->addWidget(m_words);
    layout->addLayout(filters);
    m_table =
        listTable("candidates", tr("Candidates, best first"),
                  {QString(), tr("Motor"), tr("Gearbox"), tr("Drive"), tr("Tightest"), tr("Ratio"), tr("Reason")});
    layout->addWidget(m_table, 1);
    m_why = quiet({});
    m_why->setAccessibleName(tr("Why not the next smaller motor"));
    layout->addWidget(m_why);
    auto* row = new QHBoxLayout;
    m_choose = button("match.choose", tr("Choose"));
    m_choose->setToolTip(tr("Puts the motor, its drive and its gearbox into the axis. Enter on a row does the same."));
    m_compare = button("match.compare", tr("Compare"));
    m_compare->setToolTip(tr("Marks the row for the comparison, up to four. Space does the same."));
    row->addWidget(m_choose);
    row->addWidget(m_compare);
    m_count = quiet({});
    m_count->setObjectName(QStringLiteral("match.count"));
    row->addWidget(m_count, 1);
    m_progress = new QProgressBar;
    m_progress->setObjectName(QStringLiteral("match.progress"));
    m_progress->setAccessibleName(tr("Progress of the ranking"));
    m_progress->setRange(0, 100);
    m_progress->setFixedWidth(140);
    m_cancel = button("match.cancel", tr("Cancel"));
    m_progress->hide();
    m_cancel->hide();
    row->addWidget(m_progress);
    row->addWidget(m_cancel);
    layout->addLayout(row);
}

void CandidateTable::refresh(bool otherAxis)
{
    const Axis& axis = m_document.axis();
    if (!otherAxis) {
        m_later.start(); // not at every step of a pull with the mouse
        return;
    }
    m_kind->setCurrentIndex(axis.actuator.stepper() ? 1 : 0);
    m_kind->setEnabled(!axis.mechanism.is<LinearDrive>());
    m_gears->setCurrentIndex(0);
    m_marked.clear();
    rank();
}

void CandidateTable::rank()
{
    m_later.stop();
    cancel();
    const bool direct = m_document.axis().mechanism.isOneOf<LinearDrive, DirectMount>();
    m_gears->setEnabled(!steppers() && !direct);
    if (!m_document.evaluation().move.path) { // the last good list stays, greyed, as everything else that is old
        m_table->setEnabled(false);
        return;
    }
    m_table->setEnabled(true);
    if (steppers()) {
        m_steppers = bestPerStepper(rankSteppers(m_document.machine(), m_document.axis(), m_document.evaluation(),
                                                 m_parts->steppers, m_parts->stepperDrives),
                                    m_parts->steppers.size());
        show();
        return;
    }
    const bool gears = m_gears->currentIndex() == 1 && m_gears->isEnabled();
    auto run = std::make_shared<Run>();
    run->machine = m_document.machine();
    run->axis = m_document.axis();
    run->evaluation = m_document.evaluation();
    run->parts = m_parts;
    const auto work = [gears](Run& r, unsigned threads) {
        RankRequest request{r.parts->motors, r.parts->drives};
        if (gears)
            request.gearboxes = r.parts->gearboxes;
        request.bestPerMotor = true;
        request.threads = threads;
        request.stop = r.stop.get_token();
        request.progress = [&r](double share) { r.percent = static_cast<int>(100 * share); };
        r.ranking = ridge::rank(r.machine, r.axis, r.evaluation, request);
    };
    if (m_parts->motors.size() * m_parts->drives.size() * (gears ? m_parts->gearboxes.size() : 1) <= atOnce) {
        work(*run, 1);
        m_running = run;
        done(run);
        return;
    }
    m_running = run;
    QTimer::singleShot(150, this, [this, run] { // quick ones show no bar
        if (m_running == run) {
            m_progress->show();
            m_cancel->show();
        }
    });
    auto* tick = new QTimer(this);
    tick->start(50);
    connect(tick, &QTimer::timeout, this, [this, run, tick] {
        if (m_running == run)
            m_progress->setValue(run->percent);
        else
            tick->deleteLater();
    });
    // the destructor cancels and does not wait: whoever comes late finds nobody
    QThreadPool::globalInstance()->start([self = QPointer<CandidateTable>(this), run, work] {
        work(*run, std::max(1U, std::thread::hardware_concurrency()));
        QMetaObject::invokeMethod(QCoreApplication::instance(), [self, run] {
            if (self)
                self->done(run);
        });
    });
}

void CandidateTable::cancel()
{
    if (!m_running)
        return;
    m_running->stop.request_stop();
    m_running.reset();
    m_progress->hide();
    m_cancel->hide();
}

void CandidateTable::done(const std::shared_ptr<Run>& run)
{
    if (run != m_running)
        return; // a newer one has begun, or it was cancelled: the list stays what it was
    m_running.reset();
    m_progress->hide();
    m_cancel->hide();
    m_servos = std::move(run->ranking.candidates);
    show();
}

std::vector<CandidateTable::Row> CandidateTable::servoRows() const
{
    std::vector<Row> rows;
    const ServoMotor* chosen = m_document.axis().actuator.motor();
    for (const Candidate& c : m_servos) {
        const ServoMotor& m = m_parts->motors[c.motor];
        const ServoDrive& d = m_parts->drives[c.drive];
        Row row{text(m.name),
                c.gearbox == chainAsItIs ? QString() : text(m_parts->gearboxes[c.gearbox].name),
                text(d.name),
                sentence(tightestWords(m, c.result)),
                sentence(candidateReason(m, d, c.result)),
                text(m.series),
                text(m.encoder)};
        row.frame = m.frame;
        row.voltage = m.ratedVoltage;
        row.tightest = c.result.tightest;
        row.ratio = c.result.inertiaRatio;
        row.passes = c.result.passes();
        row.mine = chosen && chosen->name == m.name;
        row.brake = m.brakeTorque > 0;
        row.marked = std::ranges::find(m_marked, c.motor) != m_marked.end();
        rows.push_back(std::move(row));
    }
    return rows;
}

std::vector<CandidateTable::Row> CandidateTable::stepperRows() const
{
    std::vector<Row> rows;
    const StepperMotor* chosen = m_document.axis().actuator.stepperMotor();
    for (const StepperCandidate& c : m_steppers) {
        const StepperMotor& m = m_parts->steppers[c.motor];
        const QString words = sentence(tightestWords(c.result));
        Row row{text(m.name),
                {},
                text(m_parts->stepperDrives[c.drive].name),
                QStringLiteral("%1, %2").arg(said(wordOf(c.connection)), words),
                words,
                text(m.series),
                {}};
        row.frame = m.frame;
        row.tightest = c.result.tightest;
        row.ratio = c.result.inertiaRatio;
        row.passes = c.result.passes();
        row.mine = chosen && chosen->name == m.name;
        rows.push_back(std::move(row));
    }
    return rows;
}

void CandidateTable::show()
{
    m_rows = steppers() ? stepperRows() : servoRows();
    m_table->setColumnHidden(0, steppers());
    m_table->setColumnHidden(2, m_gears->currentIndex() == 0 || steppers());
    const int widths[] = {22, 170, 104, 106, 68, 46};
    for (int c = 0; c < 6; ++c)
        m_table->setColumnWidth(c, widths[c]);
    const QString why =
        steppers() ? QString() : sentence(whyNotSmaller(m_document.axis(), m_parts->motors, m_parts->drives, m_servos));
    setLabel(*m_why, why);
    m_why->setVisible(!why.isEmpty());
    m_compare->setEnabled(!steppers());
    fillFilters();
    filter();
    Q_EMIT ranked();
}

void CandidateTable::fillRow(int at, const Row& row)
{
    const QColor ink = row.passes ? QColor() : theme().soft;
    setCell(*m_table, at, 0, row.marked ? QStringLiteral("◆") : QStringLiteral("◇"),
            row.marked ? theme().accent : theme().line, tr("For the comparison; Space marks it."));
    setCell(*m_table, at, 1, (row.mine ? QStringLiteral("▸ ") : QString()) + row.motor, row.mine ? theme().accent : ink,
            row.reason);
    setCell(*m_table, at, 2, row.gearbox.isEmpty() ? tr("as it is") : row.gearbox, ink, row.reason);
    setCell(*m_table, at, 3, row.drive, ink, row.reason);
    setCell(*m_table, at, 4,
            (row.passes ? QStringLiteral("● %1 %") : QStringLiteral("■ %1 %")).arg(row.tightest * 100, 0, 'f', 0),
            row.passes ? theme().ok : theme().fail, row.reason);
    setCell(*m_table, at, 5, QString::number(row.ratio, 'f', 1), ink, row.reason);
    setCell(*m_table, at, 6, row.words, ink, row.reason);
}

void CandidateTable::fillFilters()
{
    const auto fill = [this](QComboBox* box, const QString& any, const std::function<QVariant(const Row&)>& value,
                             const std::function<QString(const QVariant&)>& words) {
        const QVariant was = box->currentData();
        std::map<std::pair<double, QString>, QVariant> found; // numbers in their order, words in theirs
        for (const Row& row : m_rows) {
            const QVariant v = value(row);
            if (const QString name = words(v); !name.isEmpty())
                found.try_emplace({v.typeId() == QMetaType::Double ? v.toDouble() : 0.0, name}, v);
        }
        box->clear();
        box->addItem(any);
        for (const auto& [key, v] : found)
            box->addItem(key.second, v);
        box->setCurrentIndex(std::max(0, was.isValid() ? box->findData(was) : 0));
        box->setEnabled(found.size() > 1);
    };
    const auto sized = [](Quantity q) {
        return [q](const QVariant& v) { return v.toDouble() > 0 ? shown(v.toDouble(), q, 3) : QString(); };
    };
    const auto plain = [](const QVariant& v) { return v.toString(); };
    fill(
        m_frame, tr("any frame"), [](const Row& r) { return QVariant(r.frame); }, sized(Quantity::Length));
    fill(
        m_voltage, tr("any voltage"), [](const Row& r) { return QVariant(r.voltage); }, sized(Quantity::Voltage));
    fill(
        m_encoder, tr("any feedback"), [](const Row& r) { return QVariant(r.encoder); }, plain);
    fill(
        m_series, tr("any series"), [](const Row& r) { return QVariant(r.series); }, plain);
    m_brake->setEnabled(!steppers());
}

bool CandidateTable::fits(const Row& row) const
{
    const auto is = [](const QComboBox* box, const QVariant& value) {
        return box->currentIndex() <= 0 || box->currentData() == value;
    };
    if (!is(m_frame, row.frame) || !is(m_voltage, row.voltage) || !is(m_encoder, row.encoder)
        || !is(m_series, row.series) || (m_brake->currentIndex() == 1 && !row.brake))
        return false;
    const QStringList words = m_words->text().split(QLatin1Char(' '), Qt::SkipEmptyParts);
    const QString all =
        row.motor + QLatin1Char(' ') + row.gearbox + QLatin1Char(' ') + row.drive + QLatin1Char(' ') + row.words;
    return std::ranges::all_of(words, [&](const QString& w) { return all.contains(w, Qt::CaseInsensitive); });
}

void CandidateTable::filter()
{
    m_shown.clear();
    std::size_t fitting = 0;
    for (std::size_t k = 0; k < m_rows.size(); ++k)
        if (fits(m_rows[k]) && ++fitting <= mostRows)
            m_shown.push_back(k);
    m_table->setRowCount(static_cast<int>(m_shown.size()));
    for (std::size_t r = 0; r < m_shown.size(); ++r)
        fillRow(static_cast<int>(r), m_rows[m_shown[r]]);
    setLabel(*m_count, fitting > m_shown.size()
                           ? tr("The best %1 of %2 motors; filter for more. Enter chooses, Space compares.")
                                 .arg(m_shown.size())
                                 .arg(fitting)
                           : tr("The best of every motor; passing and small first. Enter chooses, Space compares."));
}

int CandidateTable::candidateOf(int row) const
{
    return row >= 0 && row < static_cast<int>(m_shown.size()) ? static_cast<int>(m_shown[static_cast<std::size_t>(row)])
                                                              : -1;
}

std::vector<Candidate> CandidateTable::compared() const
{
    std::vector<Candidate> out;
    for (const std::size_t motor : m_marked)
        if (const auto it = std::ranges::find(m_servos, motor, &Candidate::motor); it != m_servos.end())
            out.push_back(*it);
    return out;
}

void CandidateTable::toggleCompared(int row)
{
    const int at = candidateOf(row);
    if (steppers() || at < 0)
        return;
    const std::size_t motor = m_servos[static_cast<std::size_t>(at)].motor;
    if (const auto it = std::ranges::find(m_marked, motor); it != m_marked.end())
        m_marked.erase(it);
    else
        m_marked.push_back(motor);
    if (m_marked.size() > 4)
        m_marked.erase(m_marked.begin()); // the oldest gives way
    show();
    Q_EMIT comparedChanged();
}

void CandidateTable::chooseRow(int row)
{
    const auto words = [](const std::string& motor, const std::string& drive) {
        return tr("Choose %1 with %2").arg(QString::fromStdString(motor), QString::fromStdString(drive));
    };
    const int at = candidateOf(row);
    if (at < 0)
        return;
    const auto parts = m_parts;
    if (steppers()) {
        const StepperCandidate c = m_steppers[static_cast<std::size_t>(at)];
        const StepperMotor& motor = parts->steppers[c.motor];
        const StepperDrive& drive = parts->stepperDrives[c.drive];
        m_document.edit(words(motor.name, drive.name), {},
                        [&](Axis& a) { chooseStepper(a, motor, drive, c.connection); });
        return;
    }
    const Candidate c = m_servos[static_cast<std::size_t>(at)];
    const ServoMotor& motor = parts->motors[c.motor];
    const ServoDrive& drive = parts->drives[c.drive];
    m_document.edit(words(motor.name, drive.name), {}, [&](Axis& a) {
        chooseServo(a, motor, drive);
        if (c.gearbox != chainAsItIs)
            chooseGearbox(a, parts->gearboxes[c.gearbox]);
    });
}

bool CandidateTable::eventFilter(QObject* object, QEvent* event)
{
    if (object == m_table && event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_Space) {
            toggleCompared(m_table->currentRow());
            return true;
        }
        if (key == Qt::Key_Return || key == Qt::Key_Enter) {
            chooseRow(m_table->currentRow());
            return true;
        }
    }
    return QWidget::eventFilter(object, event);
}

} // namespace ridge::app
