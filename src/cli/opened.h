// SPDX-License-Identifier: GPL-3.0-or-later
//
// A processor or a chain as the command line names it: described, or opened to play a stereo signal.
#pragma once

#include "audition/orders.h"
#include "command.h"

namespace hr::cli {

/// Why it cannot run: it fails now, or it failed before and is in quarantine.
struct NotOpened {
    hosting::Fault fault;
    std::string sentence; ///< that names it
};

/// An Error of the request; else what was opened, or why the processor cannot be.
template<class T>
using OpenedOr = Result<tl::expected<T, NotOpened>>;

NotOpened notOpened(const hosting::Fault& fault, const std::string& id);

struct Described {
    hosting::Location location;
    processors::ProcessorInfo info; ///< at the rate that was asked for
};

struct Opened {
    hosting::Location location;
    std::unique_ptr<hosting::Instance> instance; ///< as Channels::Stereo, but where one channel was asked for
    processors::ProcessorInfo info;              ///< at the rate that was asked for
    std::vector<double> values;
    bool mono = false; ///< the processor itself has one channel
};

/// How the user asked for it.
struct Request {
    std::string id; ///< or a chain file
    std::string preset = {};
    std::vector<std::string> settings = {}; ///< "KEY=VALUE"
    bool again = false;                     ///< even though it is in quarantine
    double rate_hz = processors::described_rate_hz;
    bool may_be_mono = false; ///< a processor of one channel is opened as it is, for a file of one
};

/// Where an id may stand, a chain file may, too: it is known by its ending.
bool isChainFile(const std::string& name);
OpenedOr<Described> describe(const Context& context, const Request& request);
OpenedOr<Opened> open(const Context& context, const Request& request);

/// Opens one chain after another of the same processors; says once what is missing.
class ChainOpener {
public:
    /// `name` is what a failure is told of.
    ChainOpener(const Context& context, std::string name, bool again, double rate_hz)
        : m_context(context), m_name(std::move(name)), m_again(again), m_rate_hz(rate_hz)
    {
    }
    /// An Error where its settings do not fit.
    OpenedOr<Opened> open(const chain::Chain& chain);
    /// The same for what plays one chain after another.
    Result<hosting::FaultOr<audition::OpenedChain>> openToPlay(const chain::Chain& chain);
    /// A failure while it played, as a document or a line; the exit status.
    int reportFailure(const hosting::Fault& fault, bool json) const;

private:
    const Context& m_context;
    std::string m_name;
    bool m_again;
    double m_rate_hz;
    std::map<std::string, Result<hosting::Location>> m_found;
};

/// {"stage", "cause", "detail"} with the words of the scan.
nlohmann::ordered_json faultJson(const hosting::Fault& fault);

} // namespace hr::cli
