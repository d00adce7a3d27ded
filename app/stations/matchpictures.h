#pragma once
#include "app/document/document.h"
#include "app/widgets/plotview.h"
#include "core/stations/candidates.h"
#include "core/stations/machineplan.h"
#include "core/stations/ratiosweep.h"

#include <optional>

class QTableWidget;

namespace ridge::app {

/// What Match can show of the choice.
struct MatchPicture {
    enum class Kind { Map, Ratio, Supply, Connections, Supplies, Heat, Bus, Compare } kind = Kind::Map;
    std::size_t stage = 0; ///< of the gearbox whose ratio is swept
    bool operator==(const MatchPicture&) const = default;
};

/// Draws them, and turns a pull on a mark into an edit. What takes long is kept until what it depends on changes.
class MatchPictures {
public:
    MatchPictures(Document& document, PlotView& plot)
        : m_document(document)
        , m_plot(plot)
    {}
    /// @return a sentence that says what is seen; may be empty
    QString draw(const MatchPicture& picture);
    /// The mark of the picture was pulled there.
    void pull(const MatchPicture& picture, double at, const QString& mergeKey);

private:
    void drawMap(const Evaluation& e);
    QString drawSweep(const RatioSweep& sweep, double now, const QString& mark, const QString& best);
    QString drawRatio(std::size_t stage);
    QString drawSupply();
    bool stepperAxes(const Evaluation& e);
    QString drawConnections(const Evaluation& e);
    QString drawSupplies(const Evaluation& e);
    [[nodiscard]] PlotView::Curve cyclePath(const Evaluation& e) const;
    QString drawHeat(const Evaluation& e);
    QString drawBus();
    void axes(const QString& vertical, const QString& horizontal);
    Document& m_document;
    PlotView& m_plot;
    RatioSweep m_sweep;
    std::optional<Axis> m_sweptFor; ///< with the swept value set aside
    Site m_sweptSite;
    MatchPicture m_sweptPicture;
    BusOfMachine m_bus;
    std::optional<Machine> m_busFor;
    std::string m_busAxis;
};

/// Up to four candidates beside each other: a row a test, the tightest of each column marked.
void fillComparison(QTableWidget& table, const std::vector<Candidate>& candidates, const store::Catalogue& parts);

} // namespace ridge::app
