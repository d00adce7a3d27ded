#pragma once
#include "core/wiring/plan.h"
#include "core/working/message.h"

#include <string>
#include <string_view>
#include <vector>

namespace ridge {

/// Something no plan decides: a person looks, and says it with name and date.
struct Question {
    std::string id;      ///< "W-FBG-01 E1", "covers on"; stays while its device does
    int step = 0;        ///< of the work at which it is asked
    std::string rule;    ///< of the wiring rules that a wrong answer breaks; empty: none
    std::string subject; ///< device
    Message text;
    std::vector<std::string_view> answers; ///< words to choose from
    std::string_view good;                 ///< the answer that is wanted; empty: any is an answer
    bool wantsWords = false;               ///< the good answer says more: who has the key
    bool whenLost = false;                 ///< asked only once the encoder lost its turns
    int byStep = 0;                        ///< this step of the work answers it with a reading; 0: none does
    Message effect;                        ///< what it means when it is otherwise
};
/// An answer that every question takes, with its reason.
inline constexpr std::string_view notApplying = "does not apply";
/// The questions of a plan in the order of the work.
[[nodiscard]] std::vector<Question> planQuestions(const WirePlan& plan);

} // namespace ridge
