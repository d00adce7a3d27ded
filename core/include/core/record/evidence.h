#pragma once
#include "core/record/fact.h"
#include "core/working/message.h"

#include <map>
#include <optional>
#include <string>
#include <vector>

namespace ridge {

/// For whom the record is read: which drive is looked at, and when it is.
struct View {
    DriveIdentity
        identity;    ///< of the connected drive, else of the one the axis is bound to; unknown when there is none
    std::string now; ///< UTC; empty: ages are not judged
    Person person;   ///< who works now; empty: nobody was named
    int running = 0; ///< number of the step whose run is under way; 0: none
    Message altered; ///< in what way the record was changed from outside; empty: it stands as it was written
    /// Simulated facts answer checks only while no real drive is looked at.
    [[nodiscard]] bool practice() const { return identity.simulated || !identity.known(); }
    bool operator==(const View&) const = default;
};

/// Why a fact does not count, or that it does.
enum class Standing { Counts, Struck, OtherDrive, Practice, Open };

/// The facts of one axis that count in a view, newest last. Struck facts, those of another drive, and simulated ones
/// beside a real drive stay readable and answer nothing.
class Evidence {
public:
    Evidence() = default;
    /// @param facts  the whole record, by number; must outlive this
    Evidence(const Facts& facts, std::string_view axis, View view, const Fingerprint& prints = {});

    [[nodiscard]] const View& view() const { return m_view; }
    [[nodiscard]] const Fingerprint& prints() const { return m_prints; }
    [[nodiscard]] const std::vector<const Fact*>& counting() const { return m_counting; }
    [[nodiscard]] const std::vector<const Fact*>& all() const { return m_all; }
    [[nodiscard]] Standing standing(const Fact& fact) const;
    /// In words, for the reader of a fact that does not count; empty when it does.
    [[nodiscard]] Message whyNot(const Fact& fact) const;

    template <class P>
    [[nodiscard]] const Fact* newest() const
    {
        for (auto it = m_counting.rbegin(); it != m_counting.rend(); ++it)
            if ((*it)->template as<P>())
                return *it;
        return nullptr;
    }
    template <class P, class Pred>
    [[nodiscard]] const Fact* newest(Pred pred) const
    {
        for (auto it = m_counting.rbegin(); it != m_counting.rend(); ++it)
            if (const P* p = (*it)->template as<P>(); p && pred(*p))
                return *it;
        return nullptr;
    }
    template <class P>
    [[nodiscard]] std::vector<const Fact*> every() const
    {
        std::vector<const Fact*> out;
        for (const Fact* f : m_counting)
            if (f->template as<P>())
                out.push_back(f);
        return out;
    }
    /// The first fact behind another one after which a part of the plan was no longer as then: who changed it, and
    /// when.
    [[nodiscard]] const Fact* changeAfter(const Fact& fact, PlanPart part) const;

private:
    [[nodiscard]] bool struck(std::int64_t number) const;
    View m_view;
    Fingerprint m_prints;
    std::vector<const Fact*> m_all, m_counting; ///< of this axis
    std::vector<std::int64_t> m_struck;
};

/// The facts of an axis by number, under every number it ever had. What another axis did under a number that this one
/// has now is not its own.
[[nodiscard]] std::vector<const Fact*> factsOf(const Facts& facts, std::string_view axis);

/// Numbers that axes have or had: a new axis takes none of them.
[[nodiscard]] std::vector<std::string> numbersUsed(const Facts& facts);

/// The drive an axis is bound to: the newest binding that was not struck out. Unknown when there is none.
[[nodiscard]] DriveIdentity boundDrive(const Facts& facts, std::string_view axis);

/// The bridges that are in and not out again, oldest first.
[[nodiscard]] std::vector<const Fact*> openBridges(const Evidence& evidence);

/// The instruments of the machine, the newest word on each, in the order of their first entry.
[[nodiscard]] std::vector<Instrument> instrumentsKept(const Facts& facts);
/// Its calibration had run out on that day (ISO date or time); without a date nothing is judged.
[[nodiscard]] bool outOfDate(const Instrument& instrument, std::string_view day);

/// The newest word on each conductor.
[[nodiscard]] std::map<std::string, const Fact*> conductorsSeen(const Evidence& evidence);

/// What is known of a drive's memory from reads, writes, saves and power cycles.
struct DriveMemory {
    const Fact* backup = nullptr; ///< first read of this drive, before any write
    const Fact* lastRead = nullptr;
    const Fact* lastWrite = nullptr;
    const Fact* lastSave = nullptr;
    const Fact* lastCycle = nullptr;
    DriveValues held;  ///< last known values
    DriveValues saved; ///< last known in permanent memory
    [[nodiscard]] bool cycledSinceSave() const;
};
[[nodiscard]] DriveMemory memoryOf(const Evidence& evidence);

/// Numbers of the facts that were struck out, rising.
[[nodiscard]] std::vector<std::int64_t> struckNumbers(const Facts& facts);

/// The line of the logbook that a person reads.
[[nodiscard]] Message lineOf(const Fact& fact);

/// Seconds between two times as facts carry them; nothing when one of them is none.
[[nodiscard]] std::optional<double> secondsBetween(std::string_view earlier, std::string_view later);

} // namespace ridge
