// Several values in one act: all or none, read back.
#include "link/session.h"

namespace ridge::link {

/// One after the other; the first that is refused takes back those before it.
struct Session::Writing {
    std::vector<std::pair<ObjectKey, std::int64_t>> values;
    Values before; ///< what stood there
    ValuesDone done;
    Progress progress;
    std::size_t at = 0;
};

void Session::writeReadBack(const Values& values, ValuesDone done, Progress progress)
{
    if (values.empty()) {
        done(Values{});
        return;
    }
    const auto w = std::make_shared<Writing>();
    w->values.assign(values.begin(), values.end());
    w->done = std::move(done);
    w->progress = std::move(progress);
    std::vector<ObjectKey> keys;
    for (const auto& [key, value] : values)
        keys.push_back(key);
    read(keys, [this, w](const Result<Values>& before) {
        if (!before) {
            w->done(tl::make_unexpected(before.error()));
            return;
        }
        w->before = *before;
        writeNext(w);
    });
}

void Session::writeNext(const std::shared_ptr<Writing>& w)
{
    if (w->at == w->values.size()) {
        std::vector<ObjectKey> keys;
        for (const auto& [key, value] : w->values)
            keys.push_back(key);
        read(keys, w->done);
        return;
    }
    const auto [key, value] = w->values[w->at];
    write(key, value, [this, w](const Result<void>& r) {
        if (!r) {
            if (r.error().code == "drive-refused")
                takeBack(w, r.error());
            else
                w->done(tl::make_unexpected(r.error()));
            return;
        }
        ++w->at;
        if (w->progress)
            w->progress(static_cast<int>(w->at), static_cast<int>(w->values.size()));
        writeNext(w);
    });
}

/// All or none: those that were taken get what stood there before, last one first.
void Session::takeBack(const std::shared_ptr<Writing>& w, const Error& why)
{
    const auto [key, wanted] = w->values[w->at];
    const auto held = w->before.find(key);
    const ObjectEntry* e = m_map.find(key);
    const Error told{"write-refused", keyText(key),
                     keyText(key) + (e ? " " + e->name : "") + ": " + std::to_string(wanted) + " wanted, "
                         + (held == w->before.end() ? std::string("what it holds is not told")
                                                    : std::to_string(held->second) + " kept")
                         + " (" + why.actual + ")",
                     std::to_string(w->at)};
    const auto left = std::make_shared<std::size_t>(w->at);
    const auto failed = std::make_shared<bool>(false);
    const auto over = [w, told, failed] {
        w->done(tl::make_unexpected(*failed ? Error{"write-half", told.subject, told.actual, told.allowed} : told));
    };
    if (*left == 0) {
        over();
        return;
    }
    for (std::size_t k = w->at; k-- > 0;) {
        const ObjectKey taken = w->values[k].first;
        const auto before = w->before.find(taken);
        const auto done = [left, failed, over](const Result<void>& r) {
            *failed = *failed || !r;
            if (--*left == 0)
                over();
        };
        if (before == w->before.end())
            done({}); // a command, not a value
        else
            write(taken, before->second, done);
    }
}

} // namespace ridge::link
