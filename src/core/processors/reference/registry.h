// SPDX-License-Identifier: GPL-3.0-or-later
//
// The reference processors: small, exact, their answers known on paper. The bench measures them
// before it is believed about third-party processors.
#pragma once

#include "processors/processor.h"

#include <string>
#include <vector>

namespace hr::processors {

/// The processor of the id "reference:NAME"; null for an unknown one. Not prepared yet.
std::unique_ptr<Processor> makeReference(const std::string& id);

/// Whether the id begins with "reference:".
bool isReferenceId(const std::string& id);

/// Descriptions of all, ids included.
std::vector<ProcessorInfo> referenceInfos();

} // namespace hr::processors
