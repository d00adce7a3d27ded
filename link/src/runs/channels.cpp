#include "link/runs.h"

#include "runobjects.h"

namespace ridge::link {

using namespace detail;

void Runs::openChannel(Channel channel, std::function<void(const Result<bool>&)> done)
{
    const auto gone = std::make_shared<bool>(false);
    const bool free = begin([this, gone, done = std::move(done)](const Error* error) {
        m_session.urgentWrite(torqueOffInputs, 3);
        done(error ? Result<bool>(tl::make_unexpected(*error)) : Result<bool>(*gone));
    });
    if (!free)
        return;
    enable(profileVelocity, [this, channel, gone] {
        m_session.write(torqueOffInputs, channel == Channel::A ? 2 : 1);
        later(120, [this, gone] {
            m_session.read({statusword, powerBits}, [this, gone, run = m_run](const Result<Values>& v) {
                if (run != m_run)
                    return;
                if (v)
                    *gone =
                        (v->at(powerBits) & 2) == 0
                        && driveState(static_cast<std::uint16_t>(v->at(statusword))) != DriveState::OperationEnabled;
                end(v ? nullptr : &v.error());
            });
        });
    });
}

void Runs::proveNoRestart(std::function<void(const Result<bool>&)> done)
{
    const auto stayed = std::make_shared<bool>(false);
    const bool free = begin([this, stayed, done = std::move(done)](const Error* error) {
        m_session.urgentWrite(torqueOffInputs, 3);
        done(error ? Result<bool>(tl::make_unexpected(*error)) : Result<bool>(*stayed));
    });
    if (!free)
        return;
    enable(profileVelocity, [this, stayed] {
        m_session.write(torqueOffInputs, 0);
        later(100, [this, stayed] {
            m_session.write(torqueOffInputs, 3);
            later(300, [this, stayed] {
                m_session.read({statusword}, [this, stayed, run = m_run](const Result<Values>& v) {
                    if (run != m_run)
                        return;
                    if (v)
                        *stayed =
                            driveState(static_cast<std::uint16_t>(v->at(statusword))) == DriveState::SwitchOnDisabled;
                    end(v ? nullptr : &v.error());
                });
            });
        });
    });
}

} // namespace ridge::link
