#include "app/theme/sentence.h"
#include "app/theme/theme.h"
#include "app/widgets/forms.h"
#include "app/widgets/instruments.h"
#include "app/widgets/photos.h"
#include "app/widgets/shared.h"
#include "core/model/patterns.h"

#include "station.h"

#include <QComboBox>
#include <QElapsedTimer>
#include <QLineEdit>
#include <QTabWidget>
#include <QTableWidget>
#include <QTimer>
#include <QVBoxLayout>

#include <set>

namespace ridge::app {

namespace {

/// The machine itself: its name, site and policies, its axes, its named versions, and the record of everything that
/// happened.
class MachinePage final : public StationPage {
public:
    MachinePage(Document& document, Bench& bench)
        : StationPage(document, bench)
    {
        auto* layout = new QVBoxLayout(this);
        layout->setContentsMargins(0, 6, 8, 6);
        layout->addLayout(nameRow());
        layout->addWidget(heading(tr("Site and policies")));
        m_form = new FieldForm(siteTarget(document), QStringLiteral("site"), siteFields(), 3);
        layout->addWidget(m_form);
        layout->addWidget(heading(tr("Axes")));
        m_axes = listTable("machine.axes", tr("Axes of the machine"),
                           {tr("Axis"), tr("Mechanism"), tr("Motor"), tr("Drive"), tr("Tightest check")});
        layout->addWidget(m_axes);
        connect(&m_judging, &QTimer::timeout, this, &MachinePage::judgeSome);
        layout->addLayout(axisRow());
        m_words = quiet({});
        m_words->setObjectName(QStringLiteral("machine.words"));
        m_words->hide();
        layout->addWidget(m_words);
        auto* tabs = new QTabWidget;
        tabs->setObjectName(QStringLiteral("machine.tabs"));
        tabs->addTab(recordTab(), tr("Record: entries are only added"));
        m_shared = new SharedList(document);
        tabs->addTab(m_shared, tr("What axes share"));
        tabs->addTab(versionTab(), tr("Named versions"));
        tabs->addTab(photoTab(), tr("Photos"));
        m_instruments = new InstrumentList(document);
        tabs->addTab(m_instruments, tr("Instruments"));
        tabs->setMinimumHeight(190);
        tabs->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Ignored);
        layout->addWidget(tabs, 4);
        connect(m_axes, &QTableWidget::cellActivated, this, [this](int row, int) {
            m_document.selectAxis(static_cast<std::size_t>(row));
            Q_EMIT stationWanted(0);
        });
        connect(m_axes, &QTableWidget::currentCellChanged, this, [this](int row) { enableRow(row); });
    }

    void refresh() override
    {
        const Machine& m = m_document.machine();
        if (!m_name->hasFocus())
            m_name->setText(QString::fromStdString(m.name));
        if (!m_note->hasFocus())
            m_note->setText(QString::fromStdString(m.note));
        m_form->refresh();
        fillAxes(m);
        sizeAxes();
        fillRecord();
        fillVersions();
        m_instruments->refresh();
        m_shared->refresh();
        m_photos->setOf(m_document.hasAxis() ? m_photoOf->currentText().trimmed() : QString());
        m_allPhotos->setOf({});
        m_photosOf->setText(
            m_document.hasAxis()
                ? tr("of axis %1").arg(QString::fromStdString(m_document.axis().id + " " + m_document.axis().name))
                : tr("Add an axis first."));
        enableRow(m_axes->currentRow());
    }

protected:
    void resizeEvent(QResizeEvent* event) override
    {
        StationPage::resizeEvent(event);
        sizeAxes();
    }

private:
    /// Up to eight axes are seen whole where there is room; in a low window some four.
    void sizeAxes()
    {
        const int most = height() < 640 ? 4 : 8;
        m_axes->setFixedHeight(30 + 22 * std::clamp(m_axes->rowCount(), 2, most));
    }

    void tell(const QString& words)
    {
        m_words->setText(words);
        m_words->setVisible(!words.isEmpty());
    }

    QHBoxLayout* nameRow()
    {
        auto* row = new QHBoxLayout;
        m_name = new QLineEdit;
        m_name->setObjectName(QStringLiteral("machine.name"));
        m_name->setAccessibleName(tr("Name of the machine"));
        m_note = new QLineEdit;
        m_note->setObjectName(QStringLiteral("machine.note"));
        m_note->setAccessibleName(tr("Note on the machine"));
        m_note->setPlaceholderText(tr("what it does"));
        row->addWidget(heading(tr("Machine")));
        row->addWidget(m_name, 1);
        row->addWidget(m_note, 2);
        connect(m_name, &QLineEdit::editingFinished, this, [this] {
            if (m_name->text().trimmed().isEmpty()) {
                tell(tr("A machine needs a name."));
                m_name->setText(QString::fromStdString(m_document.machine().name));
                return;
            }
            m_document.editMachine(tr("Rename the machine"),
                                   [&](Machine& m) { m.name = m_name->text().trimmed().toStdString(); });
        });
        connect(m_note, &QLineEdit::editingFinished, this, [this] {
            m_document.editMachine(tr("Change the note"), [&](Machine& m) { m.note = m_note->text().toStdString(); });
        });
        return row;
    }

    QHBoxLayout* axisRow()
    {
        auto* row = new QHBoxLayout;
        m_axisName = new QLineEdit;
        m_axisName->setObjectName(QStringLiteral("axis.name"));
        m_axisName->setAccessibleName(tr("Name of the axis"));
        m_axisName->setPlaceholderText(tr("name of the axis"));
        m_axisName->setMaximumWidth(200);
        m_pattern = new QComboBox;
        m_pattern->setObjectName(QStringLiteral("axis.pattern"));
        m_pattern->setAccessibleName(tr("Pattern of a new axis"));
        for (const Pattern& p : patterns())
            m_pattern->addItem(said(p.title), QString::fromUtf8(p.key.data(), static_cast<qsizetype>(p.key.size())));
        auto* add = button("axis.add", tr("Add axis"));
        m_copy = button("axis.copy", tr("Copy"));
        m_rename = button("axis.rename", tr("Rename"));
        m_renumber = button("axis.renumber", tr("Renumber"));
        m_renumber->setToolTip(tr("The word in the field becomes the number of the chosen axis; its record follows."));
        m_up = button("axis.up", tr("Up"));
        m_down = button("axis.down", tr("Down"));
        m_remove = button("axis.remove", tr("Remove"));
        for (QWidget* w :
             {static_cast<QWidget*>(m_axisName), static_cast<QWidget*>(m_pattern), static_cast<QWidget*>(add),
              static_cast<QWidget*>(m_copy), static_cast<QWidget*>(m_rename), static_cast<QWidget*>(m_renumber),
              static_cast<QWidget*>(m_up), static_cast<QWidget*>(m_down), static_cast<QWidget*>(m_remove)})
            row->addWidget(w);
        row->addStretch();
        connect(add, &QPushButton::clicked, this, &MachinePage::addAxis);
        connect(m_copy, &QPushButton::clicked, this, [this] {
            const QString name = m_axisName->text().trimmed();
            if (refusedName(name.isEmpty() ? QString::fromStdString(freeAxisName("copy", m_document.machine())) : name))
                return;
            withChosen(tr("Copy axis %1"), [this](Machine& m, std::size_t k) {
                m.axes.push_back(copyOfAxis(m, m.axes[k], m_axisName->text().trimmed().toStdString(),
                                            numbersUsed(m_document.facts())));
            });
            m_axisName->clear();
        });
        connect(m_rename, &QPushButton::clicked, this, [this] {
            const std::string name = m_axisName->text().trimmed().toStdString();
            if (name.empty()) {
                tell(tr("Write the new name in the field at the left first."));
                return;
            }
            const std::size_t row = static_cast<std::size_t>(std::max(0, m_axes->currentRow()));
            const auto& axes = m_document.machine().axes;
            if (refusedName(QString::fromStdString(name), row < axes.size() ? axes[row].id : std::string{}))
                return;
            withChosen(tr("Rename axis %1"), [&](Machine& m, std::size_t k) { m.axes[k].name = name; });
            m_axisName->clear();
        });
        connect(m_renumber, &QPushButton::clicked, this, &MachinePage::renumber);
        connect(m_up, &QPushButton::clicked, this, [this] { shift(-1); });
        connect(m_down, &QPushButton::clicked, this, [this] { shift(1); });
        connect(m_remove, &QPushButton::clicked, this, [this] {
            withChosen(tr("Remove axis %1"), [](Machine& m, std::size_t k) {
                m.shared = afterRenaming(std::move(m.shared), m.axes[k].id, {});
                m.axes.erase(m.axes.begin() + static_cast<std::ptrdiff_t>(k));
            });
            tell(tr("Removed. Its record stays; Ctrl+Z brings the axis back."));
        });
        return row;
    }

    QWidget* recordTab()
    {
        auto* tab = new QWidget;
        auto* column = new QVBoxLayout(tab);
        column->setContentsMargins(0, 4, 0, 0);
        auto* row = new QHBoxLayout;
        m_filterAxis = new QComboBox;
        m_filterAxis->setObjectName(QStringLiteral("record.axis"));
        m_filterAxis->setAccessibleName(tr("Axis of the entries"));
        m_filter = new QLineEdit;
        m_filter->setObjectName(QStringLiteral("record.filter"));
        m_filter->setAccessibleName(tr("Words in the entries"));
        m_filter->setPlaceholderText(tr("words: person, day, station, kind, text"));
        m_strikeReason = new QLineEdit;
        m_strikeReason->setObjectName(QStringLiteral("record.reason"));
        m_strikeReason->setAccessibleName(tr("Why an entry is struck out"));
        m_strikeReason->setPlaceholderText(tr("why it is struck out"));
        auto* strike = button("record.strike", tr("Strike out the chosen entry"));
        m_chain = quiet({});
        row->addWidget(m_filterAxis);
        row->addWidget(m_filter, 1);
        row->addWidget(m_strikeReason, 1);
        row->addWidget(strike);
        column->addLayout(row);
        m_log = listTable("machine.logbook", tr("Record"),
                          {tr("No."), tr("Time"), tr("Axis"), tr("By"), tr("How"), tr("Drive"), tr("Entry")});
        column->addWidget(m_log, 1);
        column->addWidget(m_chain);
        connect(m_filter, &QLineEdit::textChanged, this, [this] { fillRecord(); });
        connect(m_filterAxis, &QComboBox::activated, this, [this] { fillRecord(); });
        connect(strike, &QPushButton::clicked, this, &MachinePage::strikeOut);
        return tab;
    }

    /// Of devices, switches and name plates of the axis in view; those of steps, conductors and bridges are taken
    /// there.
    QWidget* photoTab()
    {
        auto* tab = new QWidget;
        auto* column = new QVBoxLayout(tab);
        column->setContentsMargins(0, 4, 0, 0);
        auto* row = new QHBoxLayout;
        m_photoOf = new QComboBox;
        m_photoOf->setObjectName(QStringLiteral("photo.of"));
        m_photoOf->setAccessibleName(tr("What the photo is of"));
        m_photoOf->setEditable(true);
        m_photoOf->lineEdit()->setObjectName(QStringLiteral("photo.ofText"));
        m_photoOf->lineEdit()->setAccessibleName(tr("What the photo is of"));
        m_photoOf->setMinimumWidth(280);
        for (const QString& of : {tr("name plate of the motor"), tr("name plate of the drive"),
                                  tr("name plate of the brake"), tr("name plate of the encoder"),
                                  tr("limit switch, low end"), tr("limit switch, high end"), tr("cabinet")})
            m_photoOf->addItem(of);
        m_photosOf = quiet({});
        row->addWidget(m_photoOf);
        row->addWidget(m_photosOf, 1);
        column->addLayout(row);
        m_photos = new PhotoRow(m_document);
        column->addWidget(m_photos);
        column->addWidget(heading(tr("All photos of the axis")));
        m_allPhotos = new PhotoRow(m_document);
        column->addWidget(m_allPhotos);
        column->addStretch();
        connect(m_photoOf, &QComboBox::currentTextChanged, this,
                [this](const QString& of) { m_photos->setOf(of.trimmed()); });
        return tab;
    }

    QWidget* versionTab()
    {
        auto* tab = new QWidget;
        auto* column = new QHBoxLayout(tab);
        column->setContentsMargins(0, 4, 0, 0);
        auto* left = new QVBoxLayout;
        m_versions = listTable("versions", tr("Named versions"), {tr("Version"), tr("Kept on")});
        left->addWidget(m_versions, 1);
        auto* row = new QHBoxLayout;
        m_open = button("version.open", tr("Open to read"));
        m_take = button("version.take", tr("Take it back"));
        m_take->setToolTip(tr("The plan becomes that of the version, as one edit that can be undone; what happened "
                              "since stays in the record."));
        row->addWidget(m_open);
        row->addWidget(m_take);
        row->addStretch();
        left->addLayout(row);
        column->addLayout(left, 2);
        m_differences = listTable("differences", tr("What differs from the present plan"),
                                  {tr("Axis"), tr("Part"), tr("Field"), tr("In the version"), tr("Now")});
        column->addWidget(m_differences, 3);
        connect(m_versions, &QTableWidget::currentCellChanged, this, [this] { compare(); });
        connect(m_open, &QPushButton::clicked, this, [this] { Q_EMIT versionWanted(chosenVersion()); });
        connect(m_take, &QPushButton::clicked, this, [this] {
            const QString name = chosenVersion();
            if (const auto machine = m_document.version(name.toStdString()))
                m_document.editMachine(tr("Take back version “%1”").arg(name), [&](Machine& m) { m = *machine; });
        });
        return tab;
    }

    [[nodiscard]] QString chosenVersion() const
    {
        const auto* item = m_versions->item(m_versions->currentRow(), 0);
        return item ? item->text() : QString();
    }

    void addAxis()
    {
        auto axis = axisFromPattern(m_pattern->currentData().toString().toStdString());
        if (!axis)
            return;
        axis->id = freeAxisId(m_document.machine(), numbersUsed(m_document.facts()));
        const QString name = m_axisName->text().trimmed();
        axis->name = name.isEmpty() ? freeAxisName(m_pattern->currentText().toStdString(), m_document.machine())
                                    : name.toStdString();
        if (refusedName(QString::fromStdString(axis->name)))
            return;
        m_document.editMachine(tr("Add axis %1").arg(QString::fromStdString(axis->id)),
                               [&](Machine& m) { m.axes.push_back(*axis); });
        m_axisName->clear();
        const int last = static_cast<int>(m_document.machine().axes.size()) - 1;
        m_document.selectAxis(static_cast<std::size_t>(last));
        refresh();
        m_axes->setCurrentCell(last, 0);
        tell(tr("Added. Enter opens it in Load."));
    }

    /// Tells what is wrong with a name that is to be given to an axis.
    bool refusedName(const QString& name, const std::string& self = {})
    {
        const auto wrong = wrongAxisName(name.toStdString(), m_document.machine(), self);
        if (!wrong.empty())
            tell(said(wrong));
        return !wrong.empty();
    }

    void withChosen(const QString& text, const std::function<void(Machine&, std::size_t)>& change)
    {
        const int row = m_axes->currentRow();
        if (row < 0 || row >= static_cast<int>(m_document.machine().axes.size())) {
            tell(tr("Choose an axis in the table first."));
            return;
        }
        const auto k = static_cast<std::size_t>(row);
        m_document.editMachine(text.arg(QString::fromStdString(m_document.machine().axes[k].id)),
                               [&](Machine& m) { change(m, k); });
    }

    void renumber()
    {
        const std::string number = m_axisName->text().trimmed().toStdString();
        const auto used = numbersUsed(m_document.facts());
        if (const auto wrong = wrongAxisNumber(number, m_document.machine(), used); !wrong.empty()) {
            tell(said(wrong));
            return;
        }
        const int row = m_axes->currentRow();
        if (row >= 0 && m_bench.connected(m_document.machine().axes[static_cast<std::size_t>(row)].id)) {
            tell(tr("A drive is connected to this axis: disconnect it first."));
            return;
        }
        withChosen(tr("Renumber axis %1"), [&](Machine& m, std::size_t k) {
            m.shared = afterRenaming(std::move(m.shared), m.axes[k].id, number);
            m.axes[k].id = number;
        });
        m_axisName->clear();
    }

    void shift(int step)
    {
        const int to = m_axes->currentRow() + step;
        if (to < 0 || to >= static_cast<int>(m_document.machine().axes.size()))
            return;
        withChosen(tr("Move axis %1"),
                   [&](Machine& m, std::size_t k) { std::swap(m.axes[k], m.axes[static_cast<std::size_t>(to)]); });
        refresh();
        m_axes->setCurrentCell(to, 0);
    }

    void enableRow(int row)
    {
        const bool any = row >= 0 && row < static_cast<int>(m_document.machine().axes.size());
        for (QPushButton* b : {m_copy, m_rename, m_renumber, m_remove})
            b->setEnabled(any);
        m_up->setEnabled(any && row > 0);
        m_down->setEnabled(any && row + 1 < static_cast<int>(m_document.machine().axes.size()));
    }

    void fillAxes(const Machine& m)
    {
        m_axes->setRowCount(static_cast<int>(m.axes.size()));
        for (std::size_t k = 0; k < m.axes.size(); ++k) {
            const Axis& a = m.axes[k];
            const int r = static_cast<int>(k);
            const std::string motor = a.actuator.motor()          ? a.actuator.motor()->name
                                      : a.actuator.stepperMotor() ? a.actuator.stepperMotor()->name
                                                                  : std::string{};
            const std::string drive = a.actuator.drive()          ? a.actuator.drive()->name
                                      : a.actuator.stepperDrive() ? a.actuator.stepperDrive()->name
                                                                  : std::string{};
            setCell(*m_axes, r, 0, QString::fromStdString(a.id + "  " + a.name), {}, QString::fromStdString(a.note));
            setCell(*m_axes, r, 1, said(mechanismTitle(a.mechanism)), theme().soft);
            setCell(*m_axes, r, 2, motor.empty() ? tr("not chosen") : QString::fromStdString(motor),
                    motor.empty() ? theme().soft : theme().ink);
            setCell(*m_axes, r, 3, drive.empty() ? tr("not chosen") : QString::fromStdString(drive),
                    drive.empty() ? theme().soft : theme().ink);
            if (k < judgedAtOnce)
                judge(k);
            else
                setCell(*m_axes, r, 4, QStringLiteral("…"), theme().soft);
        }
        m_judged = std::min(m.axes.size(), judgedAtOnce);
        if (m_judged < m.axes.size())
            m_judging.start(0);
        else
            m_judging.stop();
        const int widths[] = {150, 120, 176, 90};
        for (int c = 0; c < 4; ++c)
            m_axes->setColumnWidth(c, widths[c]);
    }

    void judge(std::size_t k)
    {
        const Evaluation& e = m_document.evaluationOf(k);
        const QString words =
            e.checks.empty() ? QString()
                             : said(e.checks.front().title) + QStringLiteral(": ") + sentence(e.checks.front().reason);
        setCell(*m_axes, static_cast<int>(k), 4, words,
                e.checks.empty() ? theme().soft : theme().verdict(e.checks.front().verdict), words);
    }
    /// Of a machine with very many axes the rest, a few at a time between what the hands do.
    void judgeSome()
    {
        QElapsedTimer since;
        since.start();
        const std::size_t all = m_document.machine().axes.size();
        while (isVisible() && m_judged < all && since.elapsed() < 12)
            judge(m_judged++);
        if (!isVisible() || m_judged >= all)
            m_judging.stop();
    }

    void fillRecord()
    {
        const QString kept = m_filterAxis->currentData().toString();
        m_filterAxis->clear();
        m_filterAxis->addItem(tr("all axes"), QStringLiteral("*"));
        for (const Axis& a : m_document.machine().axes)
            m_filterAxis->addItem(QString::fromStdString(a.id + " " + a.name), QString::fromStdString(a.id));
        m_filterAxis->setCurrentIndex(std::max(0, m_filterAxis->findData(kept)));
        const QString axis = m_filterAxis->currentData().toString();
        const QStringList words = m_filter->text().split(QLatin1Char(' '), Qt::SkipEmptyParts);
        std::vector<const Fact*> shown;
        const auto own = factsOf(m_document.facts(), axis.toStdString());
        const std::set<const Fact*> ofAxis(own.begin(), own.end());
        const auto struckOut = struckNumbers(m_document.facts());
        constexpr std::size_t most = 2000; // newest first; the rest is reached by the filter
        for (auto it = m_document.facts().rbegin(); it != m_document.facts().rend() && shown.size() < most; ++it) {
            if (axis != QLatin1String("*") && !ofAxis.contains(&*it))
                continue;
            if (!words.isEmpty()) {
                const QString all = textOf(*it);
                if (std::ranges::any_of(words, [&](const QString& w) { return !all.contains(w, Qt::CaseInsensitive); }))
                    continue;
            }
            shown.push_back(&*it);
        }
        m_log->setRowCount(static_cast<int>(shown.size()));
        for (int r = 0; r < m_log->rowCount(); ++r) {
            const Fact& f = *shown[static_cast<std::size_t>(r)];
            const QString text = sentence(lineOf(f));
            const bool struck = std::ranges::binary_search(struckOut, f.number);
            setCell(*m_log, r, 0, QString::number(f.number), theme().soft);
            setCell(*m_log, r, 1, localTime(f.time), theme().soft, QString::fromStdString(f.time));
            setCell(*m_log, r, 2, QString::fromStdString(f.axis));
            setCell(*m_log, r, 3, QString::fromStdString(f.person.name), {}, QString::fromStdString(f.person.role));
            setCell(*m_log, r, 4, said(f.as<PlanChanged>() ? "plan" : originWord(f.origin)), theme().soft);
            setCell(*m_log, r, 5, QString::fromStdString(f.identity.serial), theme().soft,
                    QString::fromStdString(f.identity.type));
            setCell(*m_log, r, 6, struck ? tr("struck out: %1").arg(text) : text, struck ? theme().soft : QColor(),
                    text);
            QFont font = m_log->font();
            font.setStrikeOut(struck);
            m_log->item(r, 6)->setFont(font);
        }
        const int widths[] = {48, 128, 42, 104, 76, 90};
        for (int c = 0; c < 6; ++c)
            m_log->setColumnWidth(c, widths[c]);
        m_chain->setText(
            !m_document.recordAltered().empty() ? QStringLiteral("■ ") + sentence(m_document.recordAltered())
            : m_document.facts().empty()        ? tr("Nothing has happened yet.")
                                                : tr("%1 entries; the chain holds. Hash of the last: %2")
                                               .arg(m_document.facts().size())
                                               .arg(QString::fromStdString(m_document.facts().back().hash).left(16)));
    }

    [[nodiscard]] static QString textOf(const Fact& f)
    {
        const auto kind = kindOf(f.payload);
        return QStringLiteral("%1 %2 %3 %4 %5 %6 %7 %8")
            .arg(QString::number(f.number), localTime(f.time), QString::fromStdString(f.axis),
                 QString::fromStdString(f.person.name), said(originWord(f.origin)),
                 QString::fromUtf8(kind.data(), static_cast<qsizetype>(kind.size())), sentence(lineOf(f)),
                 stationOf(f) ? said(stationName(*stationOf(f))) : QString());
    }

    void strikeOut()
    {
        const auto* item = m_log->item(m_log->currentRow(), 0);
        const QString reason = m_strikeReason->text().trimmed();
        if (!item || reason.isEmpty() || !m_document.person().named()) {
            tell(!item              ? tr("Choose the entry first.")
                 : reason.isEmpty() ? tr("Striking out needs a reason.")
                                    : QString::fromStdString(messageFor({"no-person", {}, {}, {}})));
            return;
        }
        const std::int64_t number = item->text().toLongLong();
        const auto fact = std::ranges::find(m_document.facts(), number, &Fact::number);
        FactSource source;
        source.axis = fact == m_document.facts().end() ? std::string{} : fact->axis;
        if (m_document.append(source, StruckOut{number, reason.toStdString()}))
            m_strikeReason->clear();
    }

    void fillVersions()
    {
        const auto versions = m_document.versions();
        m_versions->setRowCount(static_cast<int>(versions.size()));
        for (int r = 0; r < m_versions->rowCount(); ++r) {
            const auto& v = versions[versions.size() - 1 - static_cast<std::size_t>(r)];
            setCell(*m_versions, r, 0, QString::fromStdString(v.name));
            setCell(*m_versions, r, 1, localTime(v.time), theme().soft);
        }
        m_versions->setColumnWidth(0, 220);
        compare();
    }

    void compare()
    {
        const auto then = m_document.version(chosenVersion().toStdString());
        m_open->setEnabled(then.has_value());
        m_take->setEnabled(then.has_value());
        const auto all = then ? differences(*then, m_document.machine()) : std::vector<Difference>{};
        m_differences->setRowCount(static_cast<int>(all.size()));
        for (int r = 0; r < m_differences->rowCount(); ++r) {
            const Difference& d = all[static_cast<std::size_t>(r)];
            setCell(*m_differences, r, 0, QString::fromStdString(d.axis));
            setCell(*m_differences, r, 1, said(d.group), theme().soft);
            setCell(*m_differences, r, 2, said(d.field));
            setCell(*m_differences, r, 3, QString::fromStdString(d.before));
            setCell(*m_differences, r, 4, QString::fromStdString(d.after));
        }
        const int widths[] = {44, 110, 170, 120};
        for (int c = 0; c < 4; ++c)
            m_differences->setColumnWidth(c, widths[c]);
    }

    QLineEdit *m_name, *m_note, *m_axisName, *m_filter, *m_strikeReason;
    QComboBox *m_pattern, *m_filterAxis;
    QPushButton *m_copy, *m_rename, *m_renumber, *m_up, *m_down, *m_remove, *m_open, *m_take;
    QLabel *m_words, *m_chain;
    FieldForm* m_form;
    InstrumentList* m_instruments;
    SharedList* m_shared;
    QComboBox* m_photoOf;
    QLabel* m_photosOf;
    PhotoRow *m_photos, *m_allPhotos;
    static constexpr std::size_t judgedAtOnce = 60;
    std::size_t m_judged = 0;
    QTimer m_judging;
    QTableWidget *m_axes, *m_log, *m_versions, *m_differences;
};

} // namespace

StationPage* makeMachine(Document& d, Bench& b) { return new MachinePage(d, b); }

} // namespace ridge::app
