#include "laying.h"

namespace ridge::detail {

namespace {

/// A device with two contacts, each on a test output of its own, in front of two inputs of the safety unit.
void twoContacts(Laying& draft, const std::string& id, const char* kind, const char* cable,
                 const std::pair<const char*, const char*>& inputs)
{
    draft.device(id, kind);
    draft.cable(cable, "control", 10);
    draft.wire("SL1.T1", id + ".11", cable, signalWire);
    draft.wire(id + ".12", std::string("SL1.") + inputs.first, cable, signalWire);
    draft.wire("SL1.T2", id + ".21", cable, signalWire);
    draft.wire(id + ".22", std::string("SL1.") + inputs.second, cable, signalWire);
}

void torqueOff(Laying& draft, const WirePlanInput& in)
{
    const WiringPlan& w = in.wiring;
    if (draft.at("D1", "sto.1p").empty())
        return;
    if (w.torqueOff == TorqueOffWiring::Bypass) {
        for (const char* to : {"D1.S1+", "D1.S2+"})
            draft.wire("U1.P", to, "control", signalWire);
        for (const char* to : {"D1.S1-", "D1.S2-"})
            draft.wire("U1.M", to, "control", signalWire);
        return;
    }
    std::set<std::string> parts;
    if (w.monitorWired)
        parts.insert("monitor");
    if (w.guardSwitch)
        parts.insert("guard");
    draft.device("SL1", "safety-unit", parts);
    draft.cable("safety cable", "control", 6, {{"outer", "", {"D1.SH2"}}});
    draft.wire("SL1.O1", "D1.S1+", "safety cable", signalWire);
    draft.wire("SL1.OM", "D1.S1-", "safety cable", signalWire);
    if (w.twoChannels)
        draft.wire("SL1.O2", "D1.S2+", "safety cable", signalWire);
    else
        draft.wire("D1.S1+", "D1.S2+", "safety cable", signalWire);
    draft.wire("SL1.OM", "D1.S2-", "safety cable", signalWire);
    if (w.monitorWired && !draft.at("D1", "edm.p").empty()) {
        if (draft.has("K4")) {
            draft.wire("U1.P", "K4.31", "control", signalWire);
            draft.wire("K4.32", "D1.M+", "control", signalWire);
        } else {
            draft.wire("U1.P", "D1.M+", "control", signalWire);
        }
        draft.wire("D1.M-", "SL1.FBK", "safety cable", signalWire);
    }
    draft.wire("U1.P", "SL1.24P", "control", controlWire);
    draft.wire("U1.M", "SL1.24N", "control", controlWire);
    twoContacts(draft, "ES1", "emergency-stop", "emergency stop cable", {"I1", "I2"});
    if (w.guardSwitch)
        twoContacts(draft, "GS1", "guard-switch", "guard cable", {"I3", "I4"});
}

/// Pulse, direction and enable, each with its way back; the enable alone where no pulses are taken.
void outputs(Laying& draft, const WirePlanInput& in)
{
    const bool sinking = in.wiring.outputs == OutputKind::Sinking, pulses = !draft.at("D1", "pul.p").empty();
    draft.cable("command cable", "control", 5, {{"outer", "", {draft.at("D1", "shield")}}});
    const auto channel = [&](const char* output, const char* plus, const char* minus) {
        const std::string p = draft.at("D1", plus), n = draft.at("D1", minus);
        draft.wire(sinking ? "U1.P" : std::string("K1.") + output, p, "command cable", 0.25);
        draft.wire(sinking ? std::string("K1.") + output : "K1.QM", n, "command cable", 0.25);
    };
    if (pulses) {
        channel("Q0", "pul.p", "pul.n");
        channel("Q1", "dir.p", "dir.n");
    }
    channel("Q2", "ena.p", "ena.n");
    draft.wire("U1.M", "K1.QM", "control", signalWire);
}

void controllerSide(Laying& draft, const WirePlanInput& in)
{
    std::set<std::string> parts{"alarm"};
    const bool pulses = !draft.at("D1", "pul.p").empty(), enable = !draft.at("D1", "ena.p").empty(),
               analog = !draft.at("D1", "ai.+").empty();
    if (pulses)
        parts.insert("pulse");
    if (enable)
        parts.insert({"enable", "outputs"});
    if (analog)
        parts.insert("analog");
    const bool status = !draft.at("D1", "dcom").empty(), thermal = !draft.at("RB1", "x").empty();
    if (status)
        parts.insert("status");
    if (thermal)
        parts.insert("thermal");
    draft.device("K1", in.wiring.outputs == OutputKind::Sinking ? "controller-sinking" : "controller", parts);
    draft.wire("U1.P", "K1.24P", "control", controlWire);
    draft.wire("U1.M", "K1.24N", "control", controlWire);
    draft.wire(draft.at("D1", "alm.out"), "K1.ALM", "control", signalWire);
    if (status) {
        draft.wire("D1.STAT", "K1.I1", "control", signalWire);
        draft.wire("U1.M", "D1.SCOM", "control", signalWire);
    }
    if (thermal)
        draft.wire("RB1.T2", "K1.I2", "thermal cable", signalWire);
    if (enable)
        outputs(draft, in);
    if (analog) {
        draft.cable("reference cable", "analog", 5, {{"outer", "", {"D1.SH2"}}});
        draft.wire("K1.AO+", draft.at("D1", "ai.+"), "reference cable", 0.25, "", "reference");
        draft.wire("K1.AO-", draft.at("D1", "ai.-"), "reference cable", 0.25, "", "reference");
        draft.wire("K1.AM", draft.at("D1", "acom"), "reference cable", 0.25);
    }
    if (draft.has("K3")) { // the relay of a brake that the drive has no output for
        draft.wire("U1.P", "K3.A1", "control", controlWire);
        draft.wire("U1.M", "K3.A2", "control", controlWire);
    }
}

void switches(Laying& draft, const WirePlanInput& in)
{
    if (!in.endless)
        for (const auto& [id, end, input] : {std::tuple{"SW1", "+", "D1.LIM+"}, std::tuple{"SW2", "-", "D1.LIM-"}}) {
            if (draft.at("D1", "di").empty())
                continue;
            auto& limit = draft.device(id, "limit-switch");
            limit.words["end"] = end;
            limit.name += std::string(" ") + end;
            draft.wire("U1.P", std::string(id) + ".1", "control", signalWire);
            draft.wire(std::string(id) + ".2", input, "control", signalWire);
        }
    if (in.homeSwitch && !draft.at("D1", "di").empty()) {
        draft.device("SW3", "home-switch");
        draft.wire("U1.P", "SW3.+", "control", signalWire);
        draft.wire("U1.M", "SW3.-", "control", signalWire);
        draft.wire("U1.M", "SW3.M", "control", signalWire);
        draft.wire("SW3.Q", "D1.HOME", "control", signalWire);
    }
}

} // namespace

void layControl(Laying& draft, const WirePlanInput& in)
{
    torqueOff(draft, in);
    if (const std::string plus = draft.at("D1", "v24.p"); !plus.empty()) {
        draft.wire("U1.P", plus, "control", heavyWire);
        draft.wire("U1.M", draft.at("D1", "v24.n"), "control", heavyWire);
    }
    controllerSide(draft, in);
    switches(draft, in);
}

} // namespace ridge::detail
