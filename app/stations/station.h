#pragma once
#include "app/document/bench.h"
#include "app/document/document.h"
#include "app/widgets/forms.h"
#include "app/widgets/plotview.h"

#include <QLabel>
#include <QPushButton>
#include <QWidget>

namespace ridge::app {

/// A view on the model: shows what evaluate gives and edits through the document. No computation here.
class StationPage : public QWidget {
    Q_OBJECT

public:
    StationPage(Document& document, Bench& bench, QWidget* parent = nullptr) : QWidget(parent), m_document(document), m_bench(bench) {}
    virtual void refresh() = 0;

Q_SIGNALS:
    void resultWanted(const std::string& id); ///< its working is shown at the right

protected:
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

/// A button with an object name for keyboard, tests and scripts.
[[nodiscard]] QPushButton* button(const char* name, const QString& text);
[[nodiscard]] QLabel* quiet(const QString& text);
[[nodiscard]] QLabel* caution(const QString& text);
/// The figures of a station as a line of links; a click opens the working.
class Figures : public QLabel {
    Q_OBJECT

public:
    explicit Figures(QWidget* parent = nullptr);
    void show(const Evaluation& evaluation, std::initializer_list<const char*> ids);
};
/// Samples at an even step over a span.
[[nodiscard]] QVector<double> evenly(double from, double to, int count);

} // namespace ridge::app
