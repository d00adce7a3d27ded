#pragma once
#include "nets.h"

#include <functional>
#include <string>
#include <utility>

namespace ridge::detail {

/// Takes what the rules find, and what they could not decide.
class Report {
public:
    using Told = std::function<void(std::string rule, std::string subject, std::string detail)>;
    Report(Told found, Told lacking)
        : m_found(std::move(found))
        , m_lacking(std::move(lacking))
    {}
    void operator()(std::string rule, std::string subject, std::string detail) const
    {
        m_found(std::move(rule), std::move(subject), std::move(detail));
    }
    /// The rule is silent on the subject for want of a property.
    void lacks(std::string rule, std::string subject, std::string property) const
    {
        m_lacking(std::move(rule), std::move(subject), std::move(property));
    }

private:
    Told m_found, m_lacking;
};

void netRules(const Nets& nets, const Report& report);
void mainsRules(const Nets& nets, const Report& report);
void supplyRules(const Nets& nets, const Report& report);
void controlRules(const Nets& nets, const Report& report);
void motorRules(const Nets& nets, const Report& report);
void brakeRules(const Nets& nets, const Report& report);
void resistorRules(const Nets& nets, const Report& report);
void feedbackRules(const Nets& nets, const Report& report);
void encoderRules(const Nets& nets, const Report& report);
void limitRules(const Nets& nets, const Report& report);
void analogRules(const Nets& nets, const Report& report);
void pulseRules(const Nets& nets, const Report& report);
void torqueOffRules(const Nets& nets, const Report& report);
void safetyRules(const Nets& nets, const Report& report);
void temperatureRules(const Nets& nets, const Report& report);
void busRules(const Nets& nets, const Report& report);
void shieldRules(const Nets& nets, const Report& report);
void separationRules(const Nets& nets, const Report& report);
void alarmRules(const Nets& nets, const Report& report);
/// What the rules of the table need to know and the plan does not tell.
void lackingProperties(const Nets& nets, const Report& report);

} // namespace ridge::detail
