// SPDX-License-Identifier: GPL-3.0-or-later
//
// Which stage of a chain hums, clicks or clips, found by bypassing half of those that may be it and listening:
// four answers find one of eight.
//
//     Halves search({"s1", "s2", "s3"});
//     hear(chain without search.toBypass());       // all of them at first: whether it is in the chain at all
//     search.answer(still_heard);
#pragma once

#include <optional>
#include <string>
#include <vector>

namespace hr::chain {

class Halves {
public:
    explicit Halves(std::vector<std::string> stages);

    /// Those that may still be it, in their order.
    const std::vector<std::string>& suspects() const { return m_steps.back().suspects; }
    /// What is to be bypassed for the next answer; empty: there is nothing left to ask.
    std::vector<std::string> toBypass() const;
    /// Whether what is sought is still heard while those are bypassed.
    void answer(bool still_heard);
    /// The last answer, as if it had not been given.
    void takeBack();
    std::size_t answers() const { return m_steps.size() - 1; }

    std::optional<std::string> found() const;
    /// It is heard with all of them bypassed: it comes from elsewhere.
    bool isElsewhere() const { return answers() > 0 && suspects().empty(); }

private:
    struct Step {
        std::vector<std::string> suspects;
    };
    std::vector<Step> m_steps; // before the first answer, and after each
};

} // namespace hr::chain
