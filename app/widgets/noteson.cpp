#include "noteson.h"

#include "basics.h"
#include "labels.h"

#include <QComboBox>
#include <QDialogButtonBox>
#include <QFileDialog>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QVBoxLayout>

namespace ridge::app {

std::vector<std::string> partTypes(const Axis& axis)
{
    std::vector<std::string> types;
    const Actuator& a = axis.actuator;
    const auto add = [&types](const std::string& name) {
        if (!name.empty())
            types.push_back(name);
    };
    if (a.drive())
        add(a.drive()->name);
    if (a.stepperDrive())
        add(a.stepperDrive()->name);
    if (a.motor())
        add(a.motor()->name);
    if (a.stepperMotor())
        add(a.stepperMotor()->name);
    if (a.feedback)
        add(a.feedback->name);
    if (a.loadFeedback)
        add(a.loadFeedback->name);
    if (a.resistor())
        add(a.resistor()->name);
    return types;
}

NotesButton::NotesButton(Document& document, QWidget* parent)
    : QPushButton(parent)
    , m_document(document)
{
    setObjectName(QStringLiteral("notes"));
    connect(&m_document.notes(), &PartNotes::changed, this, &NotesButton::refresh);
    connect(this, &QPushButton::clicked, this, [this] { NotesDialog(m_document, window()).exec(); });
}

void NotesButton::refresh()
{
    if (!m_document.hasAxis())
        return;
    int count = 0;
    QStringList tips;
    for (const std::string& type : partTypes(m_document.axis()))
        for (const auto& n : m_document.notes().of(type)) {
            ++count;
            tips += tr("%1: %2 (%3, %4)")
                        .arg(QString::fromStdString(n.part), QString::fromStdString(n.text),
                             QString::fromStdString(n.author), QString::fromStdString(n.date));
        }
    setText(count > 0 ? tr("✎ %n note(s) on these parts", nullptr, count) : tr("Notes on these parts"));
    setAccessibleName(text());
    setToolTip(tips.join(QLatin1Char('\n')));
}

NotesDialog::NotesDialog(Document& document, QWidget* parent)
    : QDialog(parent)
    , m_document(document)
{
    setObjectName(QStringLiteral("notesDialog"));
    setWindowTitle(tr("Notes on parts"));
    resize(560, 420);
    auto* layout = new QVBoxLayout(this);
    layout->addWidget(quiet(tr("What a manual says wrong, the way that works, what a lamp meant. They are kept on this "
                               "laptop, outside the machine, and come back whenever the type is chosen.")));
    m_part = new QComboBox;
    m_part->setObjectName(QStringLiteral("notes.part"));
    m_part->setAccessibleName(tr("Type of part"));
    for (const std::string& type : partTypes(document.axis()))
        m_part->addItem(QString::fromStdString(type));
    layout->addWidget(m_part);
    m_list = new QListWidget;
    m_list->setObjectName(QStringLiteral("notes.list"));
    m_list->setAccessibleName(tr("Notes"));
    m_list->setWordWrap(true);
    layout->addWidget(m_list, 1);
    const auto line = [](const char* name, const QString& words) {
        auto* edit = new QLineEdit;
        edit->setObjectName(QString::fromLatin1(name));
        edit->setAccessibleName(words);
        edit->setPlaceholderText(words);
        return edit;
    };
    m_lamp = line("notes.lamp", tr("a lamp or display pattern, where it is about one"));
    m_text = line("notes.text", tr("what is worth knowing next time"));
    layout->addWidget(m_lamp);
    layout->addWidget(m_text);
    auto* row = new QHBoxLayout;
    auto* take = button("notes.add", tr("Keep it"));
    auto* gone = button("notes.remove", tr("Remove"));
    auto* in = button("notes.import", tr("Import …"));
    auto* out = button("notes.export", tr("Export …"));
    for (QWidget* w : {take, gone, in, out})
        row->addWidget(w);
    row->addStretch();
    layout->addLayout(row);
    m_words = quiet({});
    layout->addWidget(m_words);
    auto* close = new QDialogButtonBox(QDialogButtonBox::Close);
    layout->addWidget(close);
    connect(close, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(take, &QPushButton::clicked, this, &NotesDialog::add);
    connect(m_text, &QLineEdit::returnPressed, this, &NotesDialog::add);
    connect(gone, &QPushButton::clicked, this, [this] {
        const auto notes = m_document.notes().of(m_part->currentText().toStdString());
        if (const int at = m_list->currentRow(); at >= 0 && at < static_cast<int>(notes.size()))
            m_document.notes().remove(notes[static_cast<std::size_t>(at)]);
    });
    connect(in, &QPushButton::clicked, this, [this] {
        const QString path = QFileDialog::getOpenFileName(this, tr("Notes on parts"), {}, tr("Notes (*.json)"));
        if (!path.isEmpty())
            setLabel(*m_words, m_document.notes().import(path));
    });
    connect(out, &QPushButton::clicked, this, [this] {
        const QString path = QFileDialog::getSaveFileName(this, tr("Notes on parts"), QStringLiteral("notes.json"));
        if (!path.isEmpty())
            setLabel(*m_words, m_document.notes().exportTo(path));
    });
    connect(m_part, &QComboBox::currentIndexChanged, this, &NotesDialog::refresh);
    connect(&m_document.notes(), &PartNotes::changed, this, &NotesDialog::refresh);
    enterStays(*this);
    refresh();
}

void NotesDialog::refresh()
{
    m_list->clear();
    for (const auto& n : m_document.notes().of(m_part->currentText().toStdString()))
        m_list->addItem((n.lamp.empty() ? QString() : tr("Lamp or display: %1. ").arg(QString::fromStdString(n.lamp)))
                        + tr("%1\n%2, %3")
                              .arg(QString::fromStdString(n.text), QString::fromStdString(n.author),
                                   QString::fromStdString(n.date)));
}

void NotesDialog::add()
{
    if (!m_document.person().named()) {
        setLabel(*m_words, tr("Say who works first: a note has its author."));
        return;
    }
    const store::PartNote note{m_part->currentText().toStdString(), m_text->text().trimmed().toStdString(),
                               m_document.person().name, now().substr(0, 10), m_lamp->text().trimmed().toStdString()};
    const QString words = m_document.notes().add(note);
    setLabel(*m_words, words);
    if (!words.isEmpty())
        return;
    if (!note.lamp.empty())
        m_document.append(m_document.typedSource(), LampSeen{note.lamp, note.text});
    m_text->clear();
    m_lamp->clear();
}

} // namespace ridge::app
