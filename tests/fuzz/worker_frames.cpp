// SPDX-License-Identifier: GPL-3.0-or-later
//
// Whatever bytes come from a worker's socket: whole frames, or an end, and never a wait beyond the limit.
#include "fuzz.h"
#include "hosting/wire.h"

#include <sys/socket.h>

using namespace hr;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    int pair[2];
    fuzz::must(socketpair(AF_UNIX, SOCK_STREAM, 0, pair) == 0);
    if (size > 60000) // as much as a socket holds without a reader
        size = 60000;
    fuzz::must(send(pair[1], data, size, 0) == static_cast<ssize_t>(size));
    close(pair[1]);
    std::size_t at = 0;
    hosting::Message message;
    while (hosting::receive(pair[0], message, std::chrono::milliseconds(0)) == hosting::Reception::Message) {
        const auto length = hosting::frameLength(data + at, size - at);
        fuzz::must(length.has_value() && *length <= size - at);
        fuzz::must(message.body.size() + 8 == *length);
        at += *length;
    }
    close(pair[0]);
    return 0;
}
