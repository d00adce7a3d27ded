#include "app/document/recording.h"
#include "app/instruments/boardview.h"
#include "app/instruments/connectionview.h"
#include "app/instruments/wiringmap.h"
#include "app/theme/theme.h"
#include "app/widgets/figures.h"
#include "app/widgets/forms.h"
#include "app/widgets/labels.h"
#include "app/widgets/metertable.h"
#include "app/widgets/photos.h"
#include "app/widgets/questionlist.h"
#include "app/widgets/safetytable.h"
#include "store/report.h"

#include "plandialog.h"
#include "station.h"

#include <QCheckBox>
#include <QDateTime>
#include <QFileDialog>
#include <QMenu>
#include <QScrollArea>
#include <QTabBar>
#include <QTabWidget>
#include <QTimer>
#include <QVBoxLayout>

#include <map>

namespace ridge::app {

namespace {

class WirePage final : public StationPage {
public:
    WirePage(Document& document, Bench& bench)
        : StationPage(document, bench)
    {
        auto* layout = new QVBoxLayout(this);
        layout->setContentsMargins(0, 6, 0, 6);
        layout->addWidget(caution(tr("Supply off and locked, meter proved, bus measured under 1 V before anything is "
                                     "touched; measure again after the work. Size conductors by the local code.")));
        auto* follow = new QWidget;
        auto* columns = new QHBoxLayout(follow);
        columns->setContentsMargins({});
        m_view = new ConnectionView;
        m_map = new WiringMap;
        auto* scroll = new QScrollArea;
        scroll->setWidget(m_view);
        scroll->setWidgetResizable(true);
        scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
        layout->addWidget(m_map);
        m_tabs = new QTabWidget;
        m_tabs->setObjectName(QStringLiteral("wire.tabs"));
        m_tabs->setDocumentMode(true);
        m_tabs->tabBar()->setDrawBase(false);
        m_meter = new MeterTable(m_document);
        m_questions = new QuestionList(m_document);
        columns->addWidget(scroll, 1);
        columns->addWidget(sidePanel(), 1);
        m_tabs->addTab(follow, tr("Conductors"));
        m_tabs->addTab(m_meter, {});
        auto* asked = new QScrollArea;
        asked->setWidget(m_questions);
        asked->setWidgetResizable(true);
        asked->setFrameShape(QFrame::NoFrame);
        asked->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
        m_tabs->addTab(asked, {});
        m_safety = new SafetyTable(m_document);
        m_tabs->addTab(m_safety, tr("Stops"));
        m_tabs->addTab(installation(), tr("Installation"));
        m_tabs->setCornerWidget(planButtons());
        m_boards = new BoardView;
        m_boardScroll = new QScrollArea;
        m_boardScroll->setWidget(m_boards);
        m_boardScroll->setWidgetResizable(true);
        m_boardScroll->setFrameShape(QFrame::NoFrame);
        m_tabs->addTab(m_boardScroll, tr("Boards"));
        layout->addWidget(m_tabs, 1);
        m_listed = quiet({});
        m_listed->setObjectName(QStringLiteral("wire.listed"));
        m_listed->hide();
        layout->addWidget(m_listed);
        connect(m_view, &ConnectionView::conductorChosen, this, [this] { show(); });
        connect(m_view, &ConnectionView::tickWanted, this, [this] {
            if (m_tick->isEnabled())
                m_tick->click();
        });
        connect(m_map, &WiringMap::cableChosen, m_view, &ConnectionView::setCable);
        connect(m_view, &ConnectionView::doubtWanted, this, [this] {
            if (m_doubt->isEnabled())
                m_doubt->click();
        });
        connect(m_view, &ConnectionView::readingWanted, this, [this] {
            if (!m_reading->isEnabled())
                return;
            // a conductor with a limit of its own is read in the table that judges it
            const auto& meter = m_document.evaluation().wire.meter;
            const std::string id = m_view->chosen().toStdString();
            if (std::ranges::any_of(meter, [&](const MeterState& s) { return s.point->conductor == id; })) {
                m_tabs->setCurrentWidget(m_meter);
                m_meter->choose(id);
                return;
            }
            m_reading->setFocus(Qt::ShortcutFocusReason);
        });
        connect(m_reading, &QLineEdit::returnPressed, m_view, [this] { m_view->setFocus(Qt::OtherFocusReason); });
        connect(m_tick, &QCheckBox::clicked, this,
                [this](bool on) { change([on](ConductorSeen& t) { t.ticked = on; }); });
        connect(m_doubt, &QCheckBox::clicked, this, [this](bool on) {
            if (on && m_why->text().trimmed().isEmpty()) {
                m_why->setVisible(true);
                m_why->setFocus(Qt::OtherFocusReason);
                setLabel(*m_seenWords, tr("A doubt needs its reason: what is it that is not sure?"));
                return;
            }
            doubt(on);
        });
        connect(m_why, &QLineEdit::returnPressed, this, [this] {
            if (m_doubt->isChecked() && !m_why->text().trimmed().isEmpty()) {
                doubt(true);
                m_view->setFocus(Qt::OtherFocusReason);
            }
        });
        connect(m_off, &QPushButton::clicked, this, [this] { switched(false); });
        connect(m_on, &QPushButton::clicked, this, [this] { switched(true); });
        connect(&m_second, &QTimer::timeout, this, &WirePage::showClock);
        m_second.setInterval(1000);
        connect(m_reading, &QLineEdit::editingFinished, this, [this] {
            const std::string text = m_reading->text().toStdString();
            change([&](ConductorSeen& t) { t.reading = text; });
        });
        connect(m_all, &QPushButton::clicked, this, &WirePage::tickCable);
    }

    void refresh() override
    {
        const Evaluation& e = m_document.evaluation();
        std::map<std::string, ConductorSeen> seen;
        for (const auto& [id, fact] : ticksOf(e.wire.plan(), m_document.evidence()))
            seen[id] = *fact->as<ConductorSeen>();
        m_seen = seen;
        m_view->setPlan(e.wire.plan(), seen, e.wire.findings);
        m_map->setPlan(e.wire.plan(), seen, e.wire.findings);
        std::vector<BridgeIn> bridges;
        QStringList words;
        for (const Fact* f : openBridges(m_document.evidence())) {
            bridges.push_back(*f->as<BridgeIn>());
            words += QStringLiteral("▲ ") + sentence(lineOf(*f));
        }
        m_view->setBridges(bridges);
        setLabel(*m_bridges, words.isEmpty() ? QString()
                                             : words.join(QLatin1Char('\n')) + QLatin1Char('\n')
                                                   + tr("Better than a bridge: fit the real contact."));
        m_bridges->setVisible(!words.isEmpty());
        const bool dead = terminalsAreDead(e.steps) && m_document.person().named();
        showClock();
        m_meter->refresh();
        m_questions->refresh();
        m_safety->refresh();
        m_boards->setPlan(e.wire.plan());
        m_tabs->setTabVisible(m_tabs->indexOf(m_boardScroll), !m_boards->empty());
        const auto done = [](const auto& states, const auto& isDone) {
            return tr("%1/%2").arg(std::ranges::count_if(states, isDone)).arg(states.size());
        };
        m_tabs->setTabText(
            1, tr("Meter %1").arg(done(e.wire.meter, [](const MeterState& s) { return s.fact != nullptr; })));
        m_tabs->setTabText(2, tr("Questions %1").arg(done(e.wire.questions, [](const QuestionState& s) {
            return s.good.has_value();
        })));
        for (QWidget* w : {static_cast<QWidget*>(m_tick), static_cast<QWidget*>(m_doubt),
                           static_cast<QWidget*>(m_reading), static_cast<QWidget*>(m_all)})
            w->setEnabled(dead);
        const QString text = findingsText(e.wire);
        m_waive->setVisible(!unanswered(Severity::Error).empty());
        m_reason->setVisible(m_waive->isVisibleTo(this));
        m_known->setVisible(!unanswered(Severity::Warning).empty());
        setLabel(*m_findings, text);
        if (m_built != axisKey()) {
            m_built = axisKey();
            delete m_form;
            m_form = new FieldForm(axisTarget(m_document, [](Axis& a) -> void* { return &a.wiring; }),
                                   QStringLiteral("wiring"), wiringFields(), 3);
            m_holder->addWidget(m_form);
        }
        m_form->refresh();
        m_own->setVisible(!m_document.axis().wiring.own.empty());
        m_change->setEnabled(m_document.hasAxis());
        show();
    }

private:
    QWidget* sidePanel()
    {
        auto* side = new QWidget;
        auto* column = new QVBoxLayout(side);
        column->setContentsMargins(6, 0, 8, 0);
        column->setSpacing(5);
        m_locked = quiet({});
        m_locked->setObjectName(QStringLiteral("wire.clock"));
        m_name = heading({});
        m_tick = new QCheckBox(tr("followed from end to end (Space)"));
        m_tick->setObjectName(QStringLiteral("wire.tick"));
        m_doubt = new QCheckBox(tr("in doubt, to be measured (D)"));
        m_doubt->setObjectName(QStringLiteral("wire.doubt"));
        m_why = shortEntry("wire.why", tr("Why this conductor is in doubt"), tr("what is not sure"));
        m_why->setMaximumWidth(QWIDGETSIZE_MAX);
        m_seenWords = quiet({});
        m_seenWords->setObjectName(QStringLiteral("wire.seenWords"));
        m_off = button("wire.off", tr("Switched off now"));
        m_on = button("wire.on", tr("Switched on"));
        m_reading = new QLineEdit;
        m_reading->setObjectName(QStringLiteral("wire.reading"));
        m_reading->setPlaceholderText(tr("reading, e.g. 0.3 ohm (Enter)"));
        m_reading->setAccessibleName(tr("Reading of this conductor"));
        m_all = button("wire.tickAll", tr("Tick the rest of this cable"));
        m_findings = new QLabel;
        m_findings->setWordWrap(true);
        m_findings->setTextFormat(Qt::RichText); // what it is given is escaped
        m_findings->setObjectName(QStringLiteral("wire.findings"));
        column->addWidget(heading(tr("Conductors")));
        column->addWidget(m_locked);
        auto* supply = new QHBoxLayout;
        supply->addWidget(m_off);
        supply->addWidget(m_on);
        column->addLayout(supply);
        column->addWidget(m_name);
        for (QWidget* w :
             {static_cast<QWidget*>(m_tick), static_cast<QWidget*>(m_doubt), static_cast<QWidget*>(m_why),
              static_cast<QWidget*>(m_reading), static_cast<QWidget*>(m_all), static_cast<QWidget*>(m_seenWords)})
            column->addWidget(w);
        m_photos = new PhotoRow(m_document);
        column->addWidget(m_photos);
        m_bridges = quiet({});
        m_bridges->setObjectName(QStringLiteral("wire.bridges"));
        column->addWidget(m_bridges);
        column->addWidget(heading(tr("Rules of the plan")));
        column->addWidget(m_findings);
        m_reason = new QLineEdit;
        m_reason->setObjectName(QStringLiteral("wire.waiveReason"));
        m_reason->setAccessibleName(tr("Why the error is waived"));
        m_reason->setPlaceholderText(tr("why it is waived (competent person)"));
        m_waive = button("wire.waive", tr("Waive the first error"));
        m_known = button("wire.acknowledge", tr("Acknowledge the warnings"));
        column->addWidget(m_reason);
        auto* buttons = new QHBoxLayout;
        buttons->addWidget(m_waive);
        buttons->addWidget(m_known);
        column->addLayout(buttons);
        m_said = quiet({});
        column->addWidget(m_said);
        connect(m_waive, &QPushButton::clicked, this, &WirePage::waive);
        connect(m_known, &QPushButton::clicked, this, &WirePage::acknowledge);
        column->addStretch();
        auto* scroll = new QScrollArea;
        scroll->setWidget(side);
        scroll->setWidgetResizable(true);
        scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
        scroll->setMinimumWidth(300);
        scroll->setMaximumWidth(390);
        return scroll;
    }

    /// What the plan leaves to choose, as long as nobody drew it otherwise.
    QWidget* installation()
    {
        auto* page = new QWidget;
        auto* column = new QVBoxLayout(page);
        column->setContentsMargins(8, 6, 8, 4);
        m_own = quiet(tr("This plan was drawn by a person. What stands below counts again when you go back to the plan "
                         "of the parts."));
        column->addWidget(m_own);
        m_holder = new QVBoxLayout;
        column->addLayout(m_holder);
        column->addStretch();
        auto* scroll = new QScrollArea;
        scroll->setWidget(page);
        scroll->setWidgetResizable(true);
        scroll->setFrameShape(QFrame::NoFrame);
        scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
        return scroll;
    }

    /// The plan changed and printed, from every tab.
    QWidget* planButtons()
    {
        auto* corner = new QWidget;
        auto* row = new QHBoxLayout(corner);
        row->setContentsMargins(0, 0, 4, 0);
        row->setSpacing(4);
        auto* list = button("wire.list", tr("List …"));
        list->setToolTip(tr("The wiring as a PDF to take along: as the record stands, or blank with room to write."));
        auto* lists = new QMenu(list);
        lists->addAction(tr("As the record stands"), this, [this] { printList(false); });
        lists->addAction(tr("Blank, to be filled in by hand"), this, [this] { printList(true); });
        list->setMenu(lists);
        m_change = button("wire.plan", tr("Plan …"));
        m_change->setToolTip(tr("Change devices, conductors, cables, buses and runs; the plan is then your own."));
        connect(m_change, &QPushButton::clicked, this, &WirePage::changePlan);
        row->addWidget(list);
        row->addWidget(m_change);
        return corner;
    }

    void changePlan()
    {
        PlanDialog dialog(m_document.evaluation().wire.plan(), !m_document.axis().wiring.own.empty(), this);
        if (dialog.exec() == QDialog::Accepted)
            m_document.edit(tr("Connection plan"), {}, [&](Axis& a) { a.wiring.own = dialog.taken(); });
    }

    void printList(bool blank)
    {
        QString path = property("listPath").toString(); // set by scripts and tests; a person is asked
        if (path.isEmpty())
            path = QFileDialog::getSaveFileName(
                this, tr("Write the list"),
                QStringLiteral("%1-wiring.pdf").arg(QString::fromStdString(m_document.axis().id)),
                tr("PDF (*.pdf);;HTML (*.html)"));
        if (path.isEmpty())
            return;
        const std::string html = store::wireSheetHtml(m_document.machine(), m_document.axis(), m_document.evaluation(),
                                                      m_document.evidence(), blank);
        const auto done = path.endsWith(QStringLiteral(".html"), Qt::CaseInsensitive)
                              ? store::writeText(path.toStdString(), html)
                              : store::writePdf(path.toStdString(), html);
        setLabel(*m_listed, done ? tr("Written: %1").arg(path) : QString::fromStdString(messageFor(done.error())));
        m_listed->show();
    }

    /// Findings of a severity that nobody has answered yet.
    [[nodiscard]] std::vector<const Finding*> unanswered(Severity severity)
    {
        std::vector<const Finding*> out;
        const Evidence& evidence = m_document.evidence();
        for (const Finding& f : m_document.evaluation().wire.findings) {
            const WireRule* rule = wireRule(f.rule);
            const std::string what = f.rule + " " + f.subject;
            if (rule && rule->severity == severity
                && !evidence.newest<Waived>([&](const Waived& w) { return w.what == what; })
                && !evidence.newest<Acknowledged>([&](const Acknowledged& a) { return a.what == what; }))
                out.push_back(&f);
        }
        return out;
    }

    void waive()
    {
        const auto open = unanswered(Severity::Error);
        if (open.empty())
            return;
        const Waived waived{open.front()->rule + " " + open.front()->subject, m_reason->text().trimmed().toStdString()};
        const Message no = recordTyped(m_document, waived);
        m_said->setText(sentence(no));
        if (no.empty())
            m_reason->clear();
    }

    void acknowledge()
    {
        if (!m_document.person().named()) {
            m_said->setText(QString::fromStdString(messageFor({"no-person", {}, {}, {}})));
            return;
        }
        std::vector<Acknowledged> all;
        for (const Finding* f : unanswered(Severity::Warning))
            all.push_back({f->rule + " " + f->subject, wireRule(f->rule)->message});
        for (const Acknowledged& a : all)
            m_document.append(m_document.typedSource(), a);
    }

    void tickCable()
    {
        const WirePlan& plan = m_document.evaluation().wire.plan();
        const std::string id = m_view->chosen().toStdString();
        const auto conductor = std::ranges::find(plan.conductors, id, &Conductor::id);
        if (conductor == plan.conductors.end())
            return;
        const std::string cable = conductor->cable;
        std::vector<std::string> rest;
        for (const Conductor& c : plan.conductors)
            if (c.cable == cable && !m_seen[c.id].ticked)
                rest.push_back(c.id);
        for (const std::string& one : rest)
            tell(one, [](ConductorSeen& t) { t.ticked = true; });
    }

    /// What the rules find, the gravest first, each with its reason and its source; then what could not be decided.
    [[nodiscard]] static QString findingsText(const WireFindings& wire)
    {
        QString text;
        for (const Severity severity : {Severity::Refuse, Severity::Error, Severity::Warning, Severity::Note})
            for (const Finding& f : wire.findings)
                if (const WireRule* rule = wireRule(f.rule); rule && rule->severity == severity)
                    text +=
                        QStringLiteral(
                            "<p><span style='color:%1'>■</span> <b>%2</b> %3: %4%5<br><i>%6</i><br>%7 · %8</p>")
                            .arg((severity <= Severity::Error ? theme().fail : theme().watch).name(),
                                 said(rule->severityWord).toHtmlEscaped(), said(f.subject).toHtmlEscaped(),
                                 said(rule->message).toHtmlEscaped(),
                                 f.detail.empty() ? QString()
                                                  : QStringLiteral(" (%1)").arg(said(f.detail).toHtmlEscaped()),
                                 said(rule->reason).toHtmlEscaped(), said(f.rule), said(rule->source).toHtmlEscaped());
        if (wire.plan().devices.empty())
            return QStringLiteral("<p>%1</p>").arg(tr("○ There is no plan yet."));
        if (text.isEmpty())
            text = QStringLiteral("<p>%1</p>").arg(tr("● No rule of the plan has anything to say."));
        if (wire.unable.empty())
            return text;
        // one line to each value: several rules may want the same
        std::map<std::pair<std::string, std::string>, QStringList> lacking;
        for (const Finding& f : wire.unable)
            lacking[{f.subject, f.detail}] += said(f.rule);
        QStringList lines;
        for (const auto& [what, rules] : lacking) {
            const WireDevice* device = wire.plan().device(what.first);
            lines += QStringLiteral("%1: %2 <i>%3</i>")
                         .arg(said(device ? nameOf(*device) : what.first).toHtmlEscaped(),
                              said(propertyWords(what.second)).toHtmlEscaped(), rules.join(QStringLiteral(", ")));
        }
        return text
               + QStringLiteral("<p>○ %1<br>%2</p>")
                     .arg(tr("Not decided, for want of:"), lines.join(QStringLiteral("<br>")));
    }

    /// A conductor as a person would say it.
    [[nodiscard]] QString wayOf(const QString& id)
    {
        const WirePlan& plan = m_document.evaluation().wire.plan();
        const auto c = std::ranges::find(plan.conductors, id.toStdString(), &Conductor::id);
        return c == plan.conductors.end() ? id
                                          : tr("%1 → %2").arg(said(endWords(plan, c->a)), said(endWords(plan, c->b)));
    }

    void show()
    {
        const QString id = m_view->chosen();
        m_photos->setOf(id.isEmpty() ? QString() : tr("conductor %1").arg(id));
        m_name->setText(id.isEmpty() ? tr("No conductor chosen") : wayOf(id));
        const ConductorSeen t = m_seen[id.toStdString()];
        m_tick->setChecked(t.ticked);
        m_doubt->setChecked(t.doubted || (m_why->hasFocus() && m_doubt->isChecked()));
        if (!m_why->hasFocus())
            m_why->setText(QString::fromStdString(t.reason));
        m_why->setVisible(t.doubted || m_why->hasFocus());
        if (!m_reading->hasFocus())
            m_reading->setText(QString::fromStdString(t.reading));
    }

    void tell(const std::string& id, const std::function<void(ConductorSeen&)>& f)
    {
        ConductorSeen t = m_seen[id];
        const ConductorSeen before = t;
        t.conductor = id;
        const WirePlan& plan = m_document.evaluation().wire.plan();
        if (const auto c = std::ranges::find(plan.conductors, id, &Conductor::id); c != plan.conductors.end())
            t.drawn = asDrawn(*c);
        f(t);
        if (t.ticked == before.ticked && t.doubted == before.doubted && t.reading == before.reading
            && t.reason == before.reason)
            return;
        const Message no = recordTyped(m_document, t);
        setLabel(*m_seenWords, sentence(no));
        if (!no.empty())
            show();
    }

    void doubt(bool on)
    {
        const std::string why = m_why->text().trimmed().toStdString();
        change([&](ConductorSeen& t) {
            t.doubted = on;
            t.reason = on ? why : std::string();
        });
    }

    void switched(bool on) { setLabel(*m_seenWords, sentence(recordTyped(m_document, SupplySwitched{on}))); }

    /// What is left until the bus is down, and how long a reading still holds; told every second while it runs.
    void showClock()
    {
        if (!m_document.hasAxis())
            return;
        const SupplyClock c = supplyClock(m_document.evaluation(), m_document.axis(), m_document.evidence(),
                                          QDateTime::currentDateTimeUtc().toString(Qt::ISODate).toStdString());
        const auto clock = [](double s) {
            return QStringLiteral("%1:%2")
                .arg(static_cast<int>(s) / 60)
                .arg(static_cast<int>(s) % 60, 2, 10, QLatin1Char('0'));
        };
        QStringList words;
        if (c.off && !c.readingLives) {
            words += tr("Switched off %1 ago.").arg(clock(*c.off));
            for (const auto& [left, what] : {std::pair{c.to60, tr("60 V")}, std::pair{c.to1, tr("1 V")},
                                             std::pair{c.label, tr("time of the label")}})
                if (left)
                    words += *left > 0 ? tr("%1 in %2").arg(what, clock(*left)) : tr("%1: over").arg(what);
            words += tr("Measure, whatever the clock says.");
        }
        if (c.readingLives)
            words +=
                tr("The bus was measured dead: conductors can be touched and ticked for %1 more, by who measured it.")
                    .arg(clock(*c.readingLives));
        else
            words += tr("Ticking opens when step S03 at the right is done: tester proved, every reading under 1 V.");
        setLabel(*m_locked, words.join(QLatin1Char(' ')));
        const bool runs = isVisible() && (c.off || c.readingLives);
        if (runs != m_second.isActive())
            runs ? m_second.start() : m_second.stop();
        if (m_lived && !c.readingLives)
            QTimer::singleShot(0, this, [this] { m_document.timePassed(); }); // the reading has just run out
        m_lived = c.readingLives.has_value();
    }

    void change(const std::function<void(ConductorSeen&)>& f)
    {
        if (const std::string id = m_view->chosen().toStdString(); !id.empty())
            tell(id, f);
    }

    std::map<std::string, ConductorSeen> m_seen;
    QTimer m_second;
    bool m_lived = false;
    QTabWidget* m_tabs;
    MeterTable* m_meter;
    QuestionList* m_questions;
    SafetyTable* m_safety;
    BoardView* m_boards;
    QScrollArea* m_boardScroll;
    QPushButton *m_off, *m_on;
    QLineEdit* m_why;
    QLabel* m_seenWords;
    WiringMap* m_map;
    ConnectionView* m_view;
    QLabel *m_locked, *m_name, *m_findings;
    QCheckBox *m_tick, *m_doubt;
    QLineEdit *m_reading, *m_reason;
    QPushButton *m_all, *m_waive, *m_known, *m_change;
    QLabel *m_said, *m_bridges, *m_own, *m_listed;
    PhotoRow* m_photos;
    FieldForm* m_form = nullptr;
    QVBoxLayout* m_holder;
    std::string m_built;
};

} // namespace

StationPage* makeWire(Document& d, Bench& b) { return new WirePage(d, b); }

} // namespace ridge::app
