// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/before_or_behind.h"

#include "chain/edit.h"

#include <algorithm>

namespace hr::audition {

namespace {

using hosting::FaultOr;

/// Each part is played once; the first that cannot be ends it.
class Plays {
public:
    Plays(const OpenPart& open, const std::filesystem::path& file, const std::stop_token& cancel)
        : m_open(open), m_file(file), m_cancel(cancel)
    {
    }
    void put(const Result<chain::Chain>& part, std::optional<double>& lufs)
    {
        if (m_error || m_fault)
            return;
        if (!part) {
            m_error = part.error();
            return;
        }
        auto played = playedThrough(*part, m_open, m_file, m_cancel);
        if (!played)
            m_error = played.error();
        else if (!*played)
            m_fault = played->error();
        else
            lufs = (*played)->loudness.integrated_lufs;
    }
    template<class Found>
    Result<FaultOr<Found>> result(Found found) const
    {
        if (m_error)
            return tl::make_unexpected(*m_error);
        return m_fault ? FaultOr<Found>(tl::make_unexpected(*m_fault)) : FaultOr<Found>(std::move(found));
    }

private:
    const OpenPart& m_open;
    const std::filesystem::path& m_file;
    const std::stop_token& m_cancel;
    std::optional<Error> m_error;
    std::optional<hosting::Fault> m_fault;
};

} // namespace

Result<FaultOr<BeforeOrBehind>> equaliserBeforeOrBehind(const chain::Chain& chain,
                                                        const chain::EqualiserAndCompressor& which,
                                                        const OpenPart& open, const std::filesystem::path& file,
                                                        const std::stop_token& cancel)
{
    auto built = chain::movable(chain, {which.equaliser, which.compressor});
    if (!built)
        return tl::make_unexpected(built.error());
    BeforeOrBehind found;
    Plays plays(open, file, cancel);
    for (const bool before : {true, false}) {
        const std::vector<std::string> order = before ? std::vector{which.equaliser, which.compressor}
                                                      : std::vector{which.compressor, which.equaliser};
        auto other = chain::reordered(chain, *built, order);
        if (!other)
            return tl::make_unexpected(other.error());
        BeforeOrBehind::Side& side = before ? found.before : found.behind;
        auto to_compressor = chain::upTo(*other, which.compressor);
        plays.put(to_compressor, side.left_lufs);
        if (to_compressor)
            to_compressor->node(which.compressor)->on = false;
        plays.put(to_compressor, side.met_lufs);
        plays.put(*other, side.end_lufs);
    }
    plays.put(chain::remove(chain, {which.equaliser}), found.without_lufs);
    return plays.result(found);
}

} // namespace hr::audition
