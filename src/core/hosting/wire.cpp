// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/wire.h"

#include <algorithm>
#include <cerrno>
#include <cstring>
#include <poll.h>
#include <sys/socket.h>
#include <sys/uio.h>
#include <unistd.h>

namespace hr::hosting {

namespace {

using Clock = std::chrono::steady_clock;

struct Head {
    std::uint32_t length = 0; // of the body
    std::uint32_t kind = 0;
};

bool validKind(std::uint32_t kind)
{
    return (kind >= static_cast<std::uint32_t>(Kind::Describe) &&
            kind <= static_cast<std::uint32_t>(Kind::State)) ||
           (kind >= static_cast<std::uint32_t>(Kind::Done) && kind <= static_cast<std::uint32_t>(Kind::Told));
}

using Deadline = std::optional<Clock::time_point>; // empty: none

Reception readAll(int fd, void* to, std::size_t size, const Deadline& deadline)
{
    auto* at = static_cast<char*>(to);
    while (size > 0) {
        std::int64_t left_ms = -1; // for ever, as poll() has it
        if (deadline)
            left_ms = std::max<std::int64_t>(
                0, std::chrono::duration_cast<std::chrono::milliseconds>(*deadline - Clock::now()).count());
        pollfd waiting{fd, POLLIN, 0};
        const int ready = poll(&waiting, 1, static_cast<int>(left_ms));
        if (ready < 0 && errno == EINTR)
            continue;
        if (ready == 0)
            return Reception::Timeout;
        const ssize_t got = recv(fd, at, size, 0);
        if (got < 0 && (errno == EINTR || errno == EAGAIN))
            continue;
        if (got <= 0)
            return Reception::Closed;
        at += got;
        size -= static_cast<std::size_t>(got);
    }
    return Reception::Message;
}

} // namespace

bool send(int fd, Kind kind, const void* body, std::size_t size)
{
    Head head{static_cast<std::uint32_t>(size), static_cast<std::uint32_t>(kind)};
    std::array<iovec, 2> parts{{{&head, sizeof head}, {const_cast<void*>(body), size}}};
    std::size_t left = sizeof head + size;
    while (left > 0) {
        msghdr message{};
        message.msg_iov = parts.data();
        message.msg_iovlen = parts.size();
        const ssize_t put = sendmsg(fd, &message, MSG_NOSIGNAL);
        if (put < 0 && errno == EINTR)
            continue;
        if (put <= 0)
            return false;
        left -= static_cast<std::size_t>(put);
        auto gone = static_cast<std::size_t>(put);
        for (iovec& part : parts) {
            const std::size_t step = std::min(gone, part.iov_len);
            part.iov_base = static_cast<char*>(part.iov_base) + step;
            part.iov_len -= step;
            gone -= step;
        }
    }
    return true;
}

bool send(int fd, const Message& message)
{
    return send(fd, message.kind, message.body.data(), message.body.size());
}

Reception receive(int fd, Message& message, std::optional<std::chrono::milliseconds> limit)
{
    const Deadline deadline = limit ? Deadline(Clock::now() + *limit) : std::nullopt;
    Head head;
    if (const auto got = readAll(fd, &head, sizeof head, deadline); got != Reception::Message)
        return got;
    if (!frameLength(reinterpret_cast<const std::uint8_t*>(&head), sizeof head))
        return Reception::Rubbish;
    message.kind = static_cast<Kind>(head.kind);
    message.body.resize(head.length);
    // Once a frame has begun the rest is on its way: a second is plenty even on a busy machine.
    const auto soon = Clock::now() + std::chrono::seconds(1);
    return readAll(fd, message.body.data(), head.length, std::max(deadline.value_or(soon), soon));
}

std::optional<std::size_t> frameLength(const std::uint8_t* data, std::size_t size)
{
    Head head;
    if (size < sizeof head)
        return std::nullopt;
    std::memcpy(&head, data, sizeof head);
    if (head.length > longest_message || !validKind(head.kind))
        return std::nullopt;
    return sizeof head + head.length;
}

} // namespace hr::hosting
