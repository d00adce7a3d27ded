#include "core/wiring/questions.h"

#include "core/wiring/rules.h"

#include <algorithm>
#include <initializer_list>

namespace ridge {

namespace {

const std::vector<std::string_view> yesNo{"yes", "no"}, link{"fitted", "removed", "kept aside"},
    halls{"1-2-3", "U-V-W"}, lid{"closed", "none fitted", "open"};

class Questions {
public:
    explicit Questions(const WirePlan& plan)
        : m_plan(plan)
    {}

    std::vector<Question> all()
    {
        deadWork();
        for (const WireDevice& d : m_plan.devices) {
            if (d.kind == "encoder")
                encoder(d);
            if (d.kind == "motor")
                motor(d);
            if (d.kind == "drive")
                drive(d);
            if (d.kind == "safety_logic")
                spareInputs(d);
            if (d.kind == "switch" || d.kind == "guard_switch" || d.kind == "estop")
                acts(d);
        }
        for (const Cable& c : m_plan.cables)
            plug(c);
        if (m_supplied)
            beforeMains();
        if (m_encoders > 1)
            add("W-LIN-03", "", 19, "The feedback of the motor and that of the load were shown to count the same way.",
                yesNo, "yes", "A wrong sign runs away as soon as the outer loop is closed.");
        std::ranges::stable_sort(m_all, {}, &Question::step);
        return std::move(m_all);
    }

private:
    Question& add(const char* rule, const std::string& subject, int step, Message text,
                  const std::vector<std::string_view>& answers, std::string_view good, Message effect = {})
    {
        Question q;
        q.id = subject.empty() ? rule : std::string(rule) + " " + subject;
        if (std::string_view(rule).starts_with("W-"))
            q.rule = rule;
        q.step = step;
        q.subject = subject;
        q.text = std::move(text);
        q.answers = answers;
        q.good = good;
        q.effect = std::move(effect);
        m_all.push_back(std::move(q));
        return m_all.back();
    }

    [[nodiscard]] static bool has(const WireDevice& d, std::string_view role)
    {
        return std::ranges::any_of(d.terminals, [&](const auto& t) { return t.second.role == role; });
    }
    /// Where the first terminal of a role is wired to; empty: nowhere.
    [[nodiscard]] std::string wiredTo(const WireDevice& d, std::string_view role) const
    {
        for (const auto& [name, t] : d.terminals) {
            if (t.role != role)
                continue;
            const std::string end = d.id + "." + name;
            for (const Conductor& c : m_plan.conductors)
                if ((c.a == end || c.b == end) && !(c.jumper && c.jumper->removed))
                    return c.a == end ? c.b : c.a;
        }
        return {};
    }

    void deadWork()
    {
        add("locked off", "", 3, "Switched off, locked off and tagged. Who has the key?", yesNo, "yes",
            "Somebody else can switch it on while hands are at the terminals.")
            .wantsWords = true;
        add("W-MNS-19", "", 3, "The bus, the lines and the earth were measured under 1 V.", yesNo, "yes").byStep = 3;
        add("covered", "", 3, "Loose ends that could come alive are covered, each by itself.", yesNo, "yes",
            "A loose end touches what it likes.");
        for (const WireDevice& d : m_plan.devices)
            m_supplied = m_supplied || d.kind == "mains_source" || d.kind == "dc_supply";
    }

    void beforeMains()
    {
        add("tools", "", 16, "No tool, screw or strand is left in drive and cabinet.", yesNo, "yes",
            "A strand across the bus burns at the first closing.");
        add("covers", "", 16, "Covers of drive, terminals and resistor are on.", yesNo, "yes",
            "Live parts can be touched.");
        add("lid", "", 16, "The contact of the cabinet's lid, where there is one.", lid, "",
            "With the lid's contact open the main switch does not close, or nobody knows why.");
    }

    void encoder(const WireDevice& d)
    {
        const std::string type = d.word("type");
        m_encoders += type != "hall" && type != "tach";
        add("W-FBG-01", d.id, 10,
            say("{}: key aligned, plug fully home, click felt, screws tight, pins compared by number, the cable that "
                "belongs to this series and voltage.",
                nameOf(d)),
            yesNo, "yes", "Half a turn of a screw looks like a bad encoder for days.");
        if (d.flag("battery"))
            turns(d);
        if (type == "incremental")
            add("W-INC-08", d.id, 12, say("{}: one turn by hand rolled the count over exactly once.", nameOf(d)), yesNo,
                "yes")
                .byStep = 12;
        if (has(d, "fb.h1")) {
            add("hall names", d.id, 12,
                say("{}: how are the halls named on it? Nothing is concluded from a name before the sweep.", nameOf(d)),
                halls, "");
            add("W-HAL-05", d.id, 12,
                say("{}: were all three seen low, or all three high, while it was turned by hand?", nameOf(d)), yesNo,
                "no", "Halls at 120° never stand so: one is dead, or the supply is.");
        }
        if (type == "linear_incremental" || d.name.starts_with("scale"))
            add("W-LIN-02", d.id, 12,
                say("{}: gap and parallelism of the head were checked over the whole travel.", nameOf(d)), yesNo, "yes",
                "A head that is too far off at one end loses counts there and only there.");
    }

    /// Before the turns of a multi-turn encoder are cleared by joining two of its pins.
    void turns(const WireDevice& d)
    {
        const auto before = [&](const char* id, Message text, Message effect) -> Question& {
            Question& q = add(id, d.id, 12, std::move(text), yesNo, "yes", std::move(effect));
            q.whenLost = true;
            return q;
        };
        before("torque impossible",
               say("{}: no torque is possible: torque-off inputs open, or mains locked off.", nameOf(d)),
               "The axis could move on a position that is no longer true.");
        before("load secured", say("{}: the load is propped or lowered.", nameOf(d)),
               "It can fall while nobody knows where it is.");
        before("position marked", say("{}: where the axis stands is marked on the machine.", nameOf(d)),
               "The new offset is found from this mark.");
        before("pins known", say("{}: which two pins are joined, by which page of the encoder's own sheet?", nameOf(d)),
               "A wrong pair of pins destroys the encoder.")
            .wantsWords = true;
    }

    void motor(const WireDevice& d)
    {
        if (has(d, "mot.u"))
            add("W-MOT-16", d.id, 6, say("{}: the three windings are within 5 % of their mean.", nameOf(d)), yesNo,
                "yes")
                .byStep = 6;
        if (!d.word("temp_type").empty() && has(d, "tmp.1"))
            add("W-TMP-04", d.id, 8,
                say("{}: the sensor is insulated from the winding as the drive's input needs it.", nameOf(d)), yesNo,
                "yes", "A fault of the winding would reach the drive's signal inputs.");
        if (d.brake) {
            add("W-BRK-09", d.id, 21,
                say("{}: does the stopping plan use the holding brake to stop motion in normal service?", nameOf(d)),
                yesNo, "no", "A holding brake wears in a few stops.");
            const bool own = std::ranges::any_of(m_plan.devices, [](const WireDevice& s) { return s.kind == "psu24"; });
            if (own)
                add("W-CTL-11", d.id, 10,
                    say("{}: the peak of the 24 V supply was compared with the brakes that lift together.", nameOf(d)),
                    yesNo, "yes", "The supply sags when they lift, and the drives reset.");
        }
    }

    void drive(const WireDevice& d)
    {
        if (has(d, "sto.1p")) {
            add("W-STO-11", d.id, 13,
                say("{}: is the torque-off meant to serve as the switching off for work at its power terminals?",
                    nameOf(d)),
                yesNo, "no", "The terminals stay live: mains and bus are there as before.");
            add("plug lock", d.id, 13, say("{}: the plug of the torque-off inputs is locked or screwed.", nameOf(d)),
                yesNo, "yes",
                "A plug that works loose stops the machine, or is bridged by somebody who wants it to run.");
            // fed straight from a supply, the inputs are bypassed and the plug of the bag stands for the safety circuit
            const WireDevice* feeds = m_plan.device(ownerOf(wiredTo(d, "sto.1p")));
            const bool bypassed = feeds && feeds->kind == "psu24";
            add("bypass plug", d.id, 13, say("{}: the bypass plug of the torque-off inputs.", nameOf(d)), link,
                bypassed ? "fitted" : "",
                bypassed ? "Without it the drive stays off." : "Left in, no stop takes the torque off.");
        }
        if (has(d, "dbr.i")) {
            const bool wanted = !wiredTo(d, "dbr.i").empty();
            add("resistor link", d.id, 10, say("{}: the link of its inner brake resistor.", nameOf(d)), link,
                wanted ? "fitted" : "removed",
                wanted ? "Without it nothing takes the energy of a stop: the bus trips at the first hard one."
                       : "Left in, two resistors are side by side: less than the drive's least resistance.");
        }
        if (d.flag("control_link")) {
            const bool fed = !wiredTo(d, "v24.p").empty();
            add("control link", d.id, 10,
                say("{}: the link that feeds its control part from its own mains.", nameOf(d)), link,
                fed ? "removed" : "fitted",
                fed ? "Left in, two supplies feed one control part." : "Without it the display stays dark.");
        }
        if (has(d, "ena.p"))
            add("W-ENA-02", d.id, 13, say("{}: is its enable active low, enabled with no current?", nameOf(d)), yesNo,
                "no", "Then a broken wire enables the drive.");
        if (d.word("plate") == "none") {
            add("photographed", d.id, 1, say("{}: each board was photographed before a wire was taken off.", nameOf(d)),
                yesNo, "yes", "What was plugged where is known to nobody any more.");
            add("straight over", d.id, 5, say("{}: every wire sits on the same number as before.", nameOf(d)), yesNo,
                "yes", "What is unsure is marked as a doubt, never guessed.");
        }
    }

    /// A stop input nothing is wired to keeps its jumper, which has to conduct.
    void spareInputs(const WireDevice& d)
    {
        for (const auto& [name, t] : d.terminals) {
            const std::string end = d.id + "." + name;
            const bool wired =
                std::ranges::any_of(m_plan.conductors, [&](const Conductor& c) { return c.a == end || c.b == end; });
            if (t.role == "si" && !wired)
                add("jumper", end, 13,
                    say("{}: the jumper of its unused stop input {}; it has to conduct.", nameOf(d), name), link,
                    "fitted", "Without it the unit stays off.");
        }
    }

    /// Each contact is worked by hand before anything moves by power, and seen at its input.
    void acts(const WireDevice& d)
    {
        add("acts", d.id, 11,
            d.kind == "switch" ? say("{}: worked by hand, and its input was seen to change.", nameOf(d))
                               : say("{}: worked by hand, and both its channels were seen to open.", nameOf(d)),
            yesNo, "yes", "It is found out by the axis at the end of its travel.");
    }

    void plug(const Cable& c)
    {
        if (c.use != "motor_power")
            return;
        add("plug", c.id, 10,
            say("{}: key aligned, fully home, latched, screws tight, pins by number; wires inside the drive left "
                "alone.",
                c.id),
            yesNo, "yes", "A power plug that is not home burns.");
    }

    const WirePlan& m_plan;
    std::vector<Question> m_all;
    bool m_supplied = false;
    int m_encoders = 0;
};

} // namespace

std::vector<Question> planQuestions(const WirePlan& plan)
{
    return plan.devices.empty() ? std::vector<Question>{} : Questions(plan).all();
}

} // namespace ridge
