#include "core/working/message.h"

#include "core/units/print.h"

#include <fmt/core.h>

namespace ridge {

namespace {
std::string printed(const MessageTerm& term, const Reader& reader)
{
    return std::visit(
        [&](const auto& t) -> std::string {
            using T = std::decay_t<decltype(t)>;
            if constexpr (std::is_same_v<T, std::string>)
                return t;
            else if constexpr (std::is_same_v<T, std::int64_t>)
                return std::to_string(t);
            else if constexpr (std::is_same_v<T, Amount>)
                return print(t.value, t.quantity, reader.system, t.digits);
            else if constexpr (std::is_same_v<T, Decimal>)
                return fmt::format("{:.{}f}", t.value, t.decimals);
            else
                return t.empty() ? std::string{} : plain(t.front(), reader);
        },
        term);
}
} // namespace

Message& Message::then(Message next)
{
    if (next.empty())
        return *this;
    if (empty())
        return *this = std::move(next);
    Message both("{} {}");
    both.terms.emplace_back(std::vector<Message>{std::move(*this)});
    both.terms.emplace_back(std::vector<Message>{std::move(next)});
    return *this = std::move(both);
}

bool Message::says(std::string_view part) const { return plain(*this).find(part) != std::string::npos; }

Message counted(std::int64_t n, const char* one, const char* many) { return say(n == 1 ? one : many, n); }

std::string plain(const Message& message, const Reader& reader)
{
    const std::string text = reader.translate ? reader.translate(message.text) : message.text;
    if (message.terms.empty())
        return text;
    std::string out;
    std::size_t next = 0;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const std::size_t end = text[i] == '{' ? text.find('}', i) : std::string::npos;
        const bool hole =
            end != std::string::npos && (end == i + 1 || (end == i + 2 && text[i + 1] >= '1' && text[i + 1] <= '9'));
        if (!hole) {
            out += text[i];
            continue;
        }
        const std::size_t which = end == i + 1 ? next++ : static_cast<std::size_t>(text[i + 1] - '1');
        if (which < message.terms.size())
            out += printed(message.terms[which], reader);
        i = end;
    }
    return out;
}

} // namespace ridge
