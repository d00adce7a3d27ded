#include "recording.h"

#include "core/stations/gates.h"

namespace ridge::app {

Message recordTyped(Document& document, const Payload& payload, const Instrument& instrument)
{
    FactSource source = document.typedSource();
    source.instrument = instrument;
    Fact fact;
    fact.axis = source.axis;
    fact.person = document.person();
    fact.identity = source.identity;
    fact.instrument = instrument;
    fact.payload = payload;
    if (Message no =
            refusalToRecord(fact, document.machine(), document.axis(), document.evaluation(), document.evidence());
        !no.empty())
        return no;
    return document.append(source, payload) ? Message{} : Message("It could not be written to the file.");
}

} // namespace ridge::app
