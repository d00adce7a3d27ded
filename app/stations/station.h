#pragma once
#include "app/document/bench.h"
#include "app/document/document.h"
#include "app/widgets/basics.h"
#include "app/widgets/runpanel.h"

#include <QPointer>
#include <QWidget>

namespace ridge::app {

/// A view on the model: shows what evaluate gives and edits through the document. No computation here.
class StationPage : public QWidget {
    Q_OBJECT

public:
    StationPage(Document& document, Bench& bench, QWidget* parent = nullptr)
        : QWidget(parent)
        , m_document(document)
        , m_bench(bench)
    {}
    virtual void refresh() = 0;
    /// The figure whose working F2 shows when nothing else is in focus; may be empty.
    [[nodiscard]] virtual const char* mainFigure() const { return ""; }
    /// True while a run on the drive or a long calculation of this page is under way.
    [[nodiscard]] virtual bool busy() const { return false; }
    /// A file that was dropped or opened while this page is up. True when it belongs here, and was taken or refused
    /// with a sentence.
    virtual bool takeFile(const QString& path)
    {
        Q_UNUSED(path)
        return false;
    }

Q_SIGNALS:
    void resultWanted(const std::string& id); ///< its working is shown at the right
    void stationWanted(int station);
    void versionWanted(const QString& name); ///< opened to be read, in a window of its own
    void nextWanted();                       ///< to the next step and why

protected:
    /// Changes when another axis is chosen or its motion becomes linear or rotary: forms are built anew.
    [[nodiscard]] std::string axisKey() const
    {
        return m_document.axis().id + (m_document.axis().mechanism.rotary() ? " rotary " : " linear ")
               + std::to_string(m_document.axis().actuator.kind.index());
    }
    /// The axis in view, its drive and the connection: what was begun on another belongs to that one.
    [[nodiscard]] std::string drive();
    /// `begin` while the button is held; letting go ends whatever then runs on the axis it began on, whatever is in
    /// view and whatever an earlier run still has to say.
    void runWhileHeld(HoldButton& button, std::function<void()> begin);
    /// A run that the link did not survive: its step failed with the word for it.
    void noteInterrupted(const FactSource& source, const char* step, const Error& error);
    /// The reset of a fault: an act of its own; there while the drive of the axis in view has one.
    [[nodiscard]] QPushButton* resetButton(const char* name, std::function<void(const QString&)> say);
    Document& m_document;
    Bench& m_bench;
};

[[nodiscard]] StationPage* makeLoad(Document& document, Bench& bench);
[[nodiscard]] StationPage* makeMove(Document& document, Bench& bench);
[[nodiscard]] StationPage* makeMatch(Document& document, Bench& bench);
[[nodiscard]] StationPage* makeWire(Document& document, Bench& bench);
[[nodiscard]] StationPage* makeSet(Document& document, Bench& bench);
[[nodiscard]] StationPage* makeTurn(Document& document, Bench& bench);
[[nodiscard]] StationPage* makeTune(Document& document, Bench& bench);
[[nodiscard]] StationPage* makeGuard(Document& document, Bench& bench);
[[nodiscard]] StationPage* makeSign(Document& document, Bench& bench);
[[nodiscard]] StationPage* makeMachine(Document& document, Bench& bench); ///< the machine itself, above its axes

} // namespace ridge::app
