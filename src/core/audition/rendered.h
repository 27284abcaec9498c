// SPDX-License-Identifier: GPL-3.0-or-later
//
// A sound that was rendered before, in the place of a treatment: an audio file that begins where its source
// begins, heard in step with it.
#pragma once

#include "audition/source.h"
#include "hosting/fault.h"
#include "hosting/location.h"

namespace hr::audition {

/// Stands for the file among the places of processors and chains.
hosting::Location renderedAt(const std::filesystem::path& file);
bool isRendered(const hosting::Location& location);

class RenderedSound {
public:
    /// At this rate. A Fault where the file cannot be read, with the reason.
    static hosting::FaultOr<std::unique_ptr<const RenderedSound>> open(const hosting::Location& location,
                                                                       double rate_hz);

    /// What belongs to `count` frames of the endless repetition of `loop`, a section of its source, from its
    /// frame `at` on; silent where the file has ended. The level of the section does not apply.
    void read(const Section& loop, std::size_t at, float* left, float* right, std::size_t count) const;

private:
    explicit RenderedSound(std::shared_ptr<const Source> sound) : m_sound(std::move(sound)) {}

    const std::shared_ptr<const Source> m_sound;
};

} // namespace hr::audition
