#include "app/set/driveacts.h"
#include "app/set/handpanel.h"
#include "app/set/iopanel.h"
#include "app/set/setspanel.h"
#include "app/set/sheetpanel.h"
#include "app/set/valuetable.h"
#include "app/theme/sentence.h"
#include "app/theme/theme.h"
#include "app/widgets/forms.h"
#include "app/widgets/labels.h"
#include "app/widgets/noteson.h"

#include "station.h"

#include <QLineEdit>
#include <QProgressBar>
#include <QScrollArea>
#include <QTabWidget>
#include <QTimer>
#include <QVBoxLayout>

namespace ridge::app {

namespace {

class SetPage final : public StationPage {
public:
    SetPage(Document& document, Bench& bench)
        : StationPage(document, bench)
    {
        auto* layout = new QVBoxLayout(this);
        layout->setContentsMargins(0, 6, 0, 6);
        layout->addLayout(identityRow());
        layout->addLayout(actionRow());
        m_words = quiet({});
        m_words->setProperty("station", QStringLiteral("set"));
        layout->addWidget(m_words);
        m_tabs = new QTabWidget;
        m_tabs->setObjectName(QStringLiteral("set.tabs"));
        m_tabs->setDocumentMode(true);
        m_values = new ValueTable(m_document, m_bench);
        m_sets = new SetsPanel(m_document, m_bench,
                               [this](const DriveValues& values, std::function<void(const QString&)> done) {
                                   writeValues(values, std::move(done));
                               });
        m_io = new IoPanel(m_document, m_bench);
        m_hand = new HandPanel(m_document, m_bench);
        m_sheet = new SheetPanel(m_document);
        m_plan = new QScrollArea;
        m_plan->setWidgetResizable(true);
        m_plan->setFrameShape(QFrame::NoFrame);
        m_tabs->addTab(m_values, tr("Values"));
        m_tabs->addTab(m_sets, tr("Sets"));
        m_tabs->addTab(m_plan, tr("Command and plan"));
        m_tabs->addTab(m_io, tr("Terminals"));
        m_tabs->addTab(m_hand, tr("By hand"));
        m_tabs->addTab(m_sheet, tr("For the controller"));
        layout->addWidget(m_tabs, 1);
        connect(m_tabs, &QTabWidget::currentChanged, this, &SetPage::refreshTab);
        connect(&m_bench, &Bench::changed, this, [this] {
            enableButtons();
            if (m_document.hasAxis() && m_tabs->currentWidget() == m_io)
                m_io->live();
        });
    }

    [[nodiscard]] const char* mainFigure() const override { return "tune.velocity_gain"; }
    [[nodiscard]] bool busy() const override { return m_busy; }

    void refresh() override
    {
        refreshTab();
        enableButtons();
        m_notes->refresh();
    }

    bool takeFile(const QString& path) override
    {
        if (!path.endsWith(QLatin1String(".dcf"), Qt::CaseInsensitive)
            && !path.endsWith(QLatin1String(".csv"), Qt::CaseInsensitive))
            return false;
        m_tabs->setCurrentWidget(m_sets);
        m_sets->takeFile(path);
        return true;
    }

private:
    /// Who answers, and whether it is the drive of this axis.
    QHBoxLayout* identityRow()
    {
        auto* row = new QHBoxLayout;
        m_identity = new QLabel;
        m_identity->setObjectName(QStringLiteral("set.identity"));
        m_reason = new QLineEdit;
        m_reason->setObjectName(QStringLiteral("set.replaceReason"));
        m_reason->setAccessibleName(tr("Why the drive was replaced"));
        m_reason->setPlaceholderText(tr("why it was replaced"));
        m_reason->setMaximumWidth(220);
        m_bind = button("set.bind", tr("This is the drive of this axis"));
        row->addWidget(m_identity);
        row->addWidget(m_reason);
        row->addWidget(m_bind);
        row->addStretch();
        m_notes = new NotesButton(m_document);
        m_acts = new DriveActs(m_document, m_bench, [this](const QString& words) { say(words); });
        row->addWidget(m_notes);
        row->addWidget(m_acts);
        m_progress = new QProgressBar;
        m_progress->setTextVisible(false);
        m_progress->setFixedSize(140, 6);
        m_progress->hide(); // only while something is under way
        row->addWidget(m_progress);
        connect(m_bind, &QPushButton::clicked, this, [this] {
            const DriveIdentity bound = m_bench.linkState().bound;
            if (bound.known() && m_reason->text().trimmed().isEmpty()) {
                say(tr("Say why the drive was replaced; what was proved on %1 falls.")
                        .arg(QString::fromStdString(bound.serial)));
                return;
            }
            m_bench.bind(bound.serial, m_reason->text().trimmed());
            m_reason->clear();
        });
        return row;
    }

    QHBoxLayout* actionRow()
    {
        auto* row = new QHBoxLayout;
        m_read = button("set.read", tr("Read from drive"));
        m_write = button("set.write", tr("Write differences to drive"));
        m_save = button("set.save", tr("Save in drive"));
        m_cycle = button("set.cycle", tr("Power-cycle (simulated)"));
        m_cycled = button("set.cycled", tr("The supply was off and on"));
        m_saw = new QLineEdit;
        m_saw->setObjectName(QStringLiteral("set.saw"));
        m_saw->setAccessibleName(tr("Who saw the control supply off, and when"));
        m_saw->setPlaceholderText(tr("who saw it off, and when"));
        m_saw->setMaximumWidth(180);
        m_accept = button("set.acceptLimits", tr("Accept the raised limits"));
        QPushButton* reset = resetButton("set.reset", [this](const QString& words) { say(words); });
        for (QWidget* w :
             std::initializer_list<QWidget*>{m_read, m_write, m_accept, m_save, m_cycle, m_saw, m_cycled, reset})
            row->addWidget(w);
        row->addStretch();
        connect(m_read, &QPushButton::clicked, this, &SetPage::readDrive);
        connect(m_write, &QPushButton::clicked, this, &SetPage::writeDrive);
        connect(m_accept, &QPushButton::clicked, this, [this] {
            const auto raised = m_document.evaluation().set.raised; // each by itself: the list changes with the entries
            for (const RaisedLimit& r : raised)
                m_document.append(m_document.typedSource(), Acknowledged{r.what, plain(r.words)});
        });
        connect(m_save, &QPushButton::clicked, this, &SetPage::save);
        connect(m_cycle, &QPushButton::clicked, this, &SetPage::cycle);
        connect(m_cycled, &QPushButton::clicked, this, &SetPage::wasCycled);
        return row;
    }

    /// Only what is looked at is filled.
    void refreshTab()
    {
        if (!m_document.hasAxis())
            return;
        QWidget* shown = m_tabs->currentWidget();
        if (shown == m_values)
            m_values->refresh();
        else if (shown == m_sets)
            m_sets->refresh();
        else if (shown == m_io)
            m_io->refresh();
        else if (shown == m_hand)
            m_hand->refresh();
        else if (shown == m_sheet)
            m_sheet->refresh();
        else
            fillPlan();
    }

    void fillPlan()
    {
        if (m_built != axisKey()) {
            m_built = axisKey();
            auto* inner = new QWidget;
            auto* layout = new QVBoxLayout(inner);
            layout->setContentsMargins(8, 6, 8, 6);
            m_loops = quiet({});
            m_loops->setObjectName(QStringLiteral("set.loops"));
            const auto form = [&](const QString& title, const char* prefix, std::span<const Field> fields,
                                  std::function<void*(Axis&)> find) {
                layout->addWidget(heading(title));
                auto* f =
                    new FieldForm(axisTarget(m_document, std::move(find)), QString::fromLatin1(prefix), fields, 3);
                layout->addWidget(f);
                return f;
            };
            m_command = form(tr("How the axis is commanded"), "command", commandFields(),
                             [](Axis& a) -> void* { return &a.command; });
            layout->addWidget(m_loops);
            m_parameters = form(tr("What the drive is told beside it"), "parameters", parameterFields(),
                                [](Axis& a) -> void* { return &a.parameters; });
            layout->addStretch();
            m_plan->setWidget(inner); // the one before goes with it
        }
        m_command->refresh();
        m_parameters->refresh();
        QStringList words;
        for (const char* id : {"command.loops", "command.pulse_gear", "command.pulse_rate", "command.analog"})
            if (const Check* c = m_document.evaluation().check(id))
                words += QStringLiteral("%1 %2").arg(verdictMark(c->verdict), sentence(c->reason));
        setLabel(*m_loops, words.join(QLatin1Char('\n')));
    }

    void enableButtons()
    {
        if (!m_document.hasAxis())
            return;
        const LinkState link = m_bench.linkState();
        const bool idle = link.identified && !m_bench.runs().running() && !m_busy;
        const QString refused = m_bench.refusal(Act::Write);
        m_read->setEnabled(idle);
        m_write->setEnabled(idle && refused.isEmpty() && !m_document.evaluation().set.parameters.empty());
        const auto& raised = m_document.evaluation().set.raised;
        m_accept->setVisible(idle && !link.identity.simulated && !raised.empty());
        m_accept->setEnabled(m_document.person().named());
        QStringList limits;
        for (const RaisedLimit& r : raised)
            limits += sentence(r.words);
        m_accept->setToolTip(limits.join(QLatin1Char('\n')));
        m_save->setEnabled(idle && m_bench.refusal(Act::Save).isEmpty());
        m_cycle->setEnabled(idle && link.identity.simulated);
        m_cycle->setVisible(!link.identified || link.identity.simulated);
        const bool real = link.identified && !link.identity.simulated;
        m_cycled->setVisible(real);
        m_cycled->setEnabled(idle && m_document.person().named());
        m_saw->setVisible(real && !link.restarts);
        showIdentity(link);
        m_acts->refresh();
        if (m_busy || m_said)
            return;
        setLabel(*m_words, link.identified && !refused.isEmpty()
                               ? QStringLiteral("%1. %2").arg(m_bench.words(), refused)
                               : m_bench.words());
    }

    void showIdentity(const LinkState& link)
    {
        const bool real = link.identified && !link.identity.simulated;
        const bool same = real && link.identity.sameDevice(link.bound);
        QString text;
        if (link.identified)
            text =
                tr("%1 %2, serial number %3, firmware %4%5")
                    .arg(QString::fromStdString(link.identity.maker), QString::fromStdString(link.identity.type),
                         QString::fromStdString(link.identity.serial), QString::fromStdString(link.identity.firmware),
                         link.identity.simulated ? tr(" – practice") : QString());
        else if (link.bound.known())
            text = tr("The drive of this axis: %1, serial number %2")
                       .arg(QString::fromStdString(link.bound.type), QString::fromStdString(link.bound.serial));
        else
            text = tr("No drive belongs to this axis yet.");
        if (const auto& in = m_bench.session().logOn(); in && link.identified && in->level < 2)
            text += in->defaultPassword ? tr(" · ▲ default password") : tr(" · not logged on");
        else if (in && link.identified && in->window > 0)
            text += tr(" · logged on for %1 s").arg(in->window);
        setLabel(*m_identity, text);
        const link::Session& session = m_bench.session();
        m_identity->setToolTip(
            !link.identified
                ? QString()
                : tr("Safety part %1\nName in the drive: %2\nRunning time %3 h, %4 restarts")
                      .arg(link.identity.safety.empty() ? tr("not told") : QString::fromStdString(link.identity.safety),
                           session.name().empty() ? tr("none") : QString::fromStdString(session.name()))
                      .arg(session.runningTime() / 3600)
                      .arg(session.restarts() ? QString::number(*session.restarts()) : tr("not counted")));
        m_bind->setVisible(real && !same && link.identity.known());
        m_reason->setVisible(real && !same && link.bound.known());
        m_bind->setText(link.bound.known() ? tr("It replaces %1").arg(QString::fromStdString(link.bound.serial))
                                           : tr("This is the drive of this axis"));
        m_bind->setEnabled(m_document.person().named());
    }

    void say(const QString& words)
    {
        m_said = true;
        setLabel(*m_words, words);
        QTimer::singleShot(6000, this, [this] {
            m_said = false;
            enableButtons();
        });
    }
    void busyNow(bool on)
    {
        m_busy = on;
        m_progress->setValue(0);
        m_progress->setVisible(on);
        enableButtons();
    }
    void failed(const Error& e)
    {
        busyNow(false);
        say(QString::fromStdString(messageFor(e)));
    }
    auto progress()
    {
        return [this](int done, int total) {
            m_progress->setMaximum(total);
            m_progress->setValue(done);
        };
    }
    /// Why a page does nothing; the same sentence for button, key and script.
    [[nodiscard]] bool refused(Act act)
    {
        const QString why = m_bench.refusal(act);
        if (!why.isEmpty())
            say(why);
        return !why.isEmpty();
    }

    void readDrive()
    {
        if (!m_document.person().named()) {
            say(QString::fromStdString(messageFor({"no-person", {}, {}, {}})));
            return;
        }
        busyNow(true);
        AxisLink* link = &m_bench.here(); // the values belong to this axis, whatever is looked at when they arrive
        const FactSource source = m_bench.source();
        link->session.readAll(
            [this, link, source](const Result<link::Values>& v) {
                if (!v)
                    return failed(v.error());
                link->valuesKnown = true;
                m_document.append(source, DriveRead{*v});
                busyNow(false);
            },
            progress());
    }

    void writeDrive()
    {
        if (refused(Act::Write))
            return;
        link::Values differing;
        const auto& held = m_document.evaluation().set.memory.held;
        for (const PlannedParameter& row : m_document.evaluation().set.parameters) {
            if (!m_bench.session().has(row.key))
                continue; // its map lacks it: by hand, as the table says
            const auto it = held.find(row.key);
            if (it == held.end() || !sameWithinRounding(row.key, row.value, it->second))
                differing[row.key] = row.value;
        }
        writeValues(differing, {});
    }

    /// Into the drive of the axis in view, verified, all or none, and into the record.
    void writeValues(const DriveValues& values, std::function<void(const QString&)> done)
    {
        if (const QString no = m_bench.refusal(Act::Write); !no.isEmpty()) {
            done ? done(no) : say(no);
            return;
        }
        busyNow(true);
        const FactSource source = m_bench.source();
        m_bench.session().writeVerified(
            values,
            [this, source, values, done = std::move(done)](const Result<link::Values>& back) {
                if (!back) {
                    failed(back.error());
                    if (done)
                        done(QString::fromStdString(messageFor(back.error())));
                    return;
                }
                m_document.append(source, DriveWritten{values, *back});
                busyNow(false);
                if (done)
                    done(tr("%n value(s) written and read back.", nullptr, static_cast<int>(values.size())));
            },
            progress());
    }

    void save()
    {
        if (refused(Act::Save))
            return;
        busyNow(true);
        const FactSource source = m_bench.source();
        const DriveValues held = m_document.evaluation().set.memory.held;
        m_bench.session().writeToSame({0x2300, 1}, 0x5AFE, [this, source, held](const Result<void>& r) {
            if (!r)
                return failed(r.error());
            m_document.append(source, DriveSaved{held, m_bench.linkState().restarts.value_or(0)});
            busyNow(false);
        });
    }

    void cycle()
    {
        busyNow(true);
        AxisLink* link = &m_bench.here();
        const FactSource source = m_bench.source();
        link->runs.forgetStart(); // the scale may be another after it
        link->session.write({0x2F00, 7}, 0x5AFE, [this, link, source](const Result<void>& r) {
            if (!r)
                return failed(r.error());
            QTimer::singleShot(150, this, [this, link, source] {
                link->session.readAll(
                    [this, link, source](const Result<link::Values>& v) {
                        if (!v)
                            return failed(v.error());
                        link->valuesKnown = true;
                        m_document.append(source, PowerCycled{*v, 0, {}});
                        busyNow(false);
                    },
                    progress());
            });
        });
    }

    /// Of a real drive: by its identity and restart counter, or by the words of who saw it; then all is read back.
    void wasCycled()
    {
        const std::string words = m_saw->text().trimmed().toStdString();
        const LinkState state = m_bench.linkState();
        if (const QString no = sentence(refusalOfCycle(m_document.evidence(), state, words)); !no.isEmpty()) {
            say(no);
            return;
        }
        busyNow(true);
        AxisLink* link = &m_bench.here();
        const FactSource source = m_bench.source();
        link->runs.forgetStart();
        link->session.readAll(
            [this, link, source, words, restarts = state.restarts.value_or(0)](const Result<link::Values>& v) {
                if (!v)
                    return failed(v.error());
                link->valuesKnown = true;
                m_document.append(source, PowerCycled{*v, restarts, words});
                m_saw->clear();
                busyNow(false);
            },
            progress());
    }

    QPushButton *m_read, *m_write, *m_accept, *m_save, *m_cycle, *m_cycled, *m_bind;
    QLineEdit *m_reason, *m_saw;
    QLabel* m_identity;
    QProgressBar* m_progress;
    QLabel* m_words;
    QTabWidget* m_tabs;
    ValueTable* m_values;
    SetsPanel* m_sets;
    IoPanel* m_io;
    HandPanel* m_hand;
    SheetPanel* m_sheet;
    QScrollArea* m_plan;
    NotesButton* m_notes;
    DriveActs* m_acts;
    FieldForm *m_command = nullptr, *m_parameters = nullptr;
    QLabel* m_loops = nullptr;
    std::string m_built;
    bool m_busy = false, m_said = false;
};

} // namespace

StationPage* makeSet(Document& d, Bench& b) { return new SetPage(d, b); }

} // namespace ridge::app
