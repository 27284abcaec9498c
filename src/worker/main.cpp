// SPDX-License-Identifier: GPL-3.0-or-later
//
// hrack-worker: the process in which third-party code runs. Not for people: it expects its control
// socket and shared block at the file descriptors of hosting/wire.h. Usage: hrack-worker [IDLE_LIMIT_MS]
#include "hosting/inside/server.h"
#include "hosting/wire.h"

#include <cstdio>
#include <cstdlib>
#include <fcntl.h>

#ifdef HONEST_RACK_SANITIZED
// A plug-in's crash is to end the worker by its signal, as without sanitizers; what third-party code leaks is
// its own.
extern "C" const char* __asan_default_options()
{
    return "handle_segv=0:handle_abort=0:handle_sigbus=0:handle_sigfpe=0:handle_sigill=0:detect_leaks=0";
}
#endif

int main(int argc, char** argv)
{
    if (fcntl(hr::hosting::worker_control_fd, F_GETFD) < 0) {
        std::fputs("hrack-worker is started by honest-rack and hrack, not by hand.\n", stderr);
        return 1;
    }
    using namespace hr::hosting::inside;
    return serve(hostedFormats(), argc > 1 ? std::chrono::milliseconds(std::atoi(argv[1])) : reserve_limit);
}
